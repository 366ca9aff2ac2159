"""What routes take from a request: the data file, the typed form, what it saw, the time."""

from dataclasses import dataclass, replace
from datetime import UTC, datetime
from time import monotonic
from typing import Annotated

from fastapi import Depends, HTTPException
from starlette.datastructures import UploadFile
from starlette.requests import Request

from lone_pike.core.bike.fields import Kind
from lone_pike.core.messages import LengthUnit
from lone_pike.devices.counter import ticks_of
from lone_pike.devices.hub import Hub
from lone_pike.formats.measure_form import form_fields
from lone_pike.formats.parsing import whole_number
from lone_pike.formats.shop import Shop, shop_from
from lone_pike.store.database import Database
from lone_pike.store.jobs import JobRow, job_by_id
from lone_pike.store.shop import shop_now
from lone_pike.web.view_state import ViewState, view_state_of

TypedForm = dict[str, str]
LARGEST_ID = 2**63
TICK_LISTS = {"steps": "by_hand", "led": "is_led", "threaded": "threading", "joined": "joining", "proved": "proving"}
"""Lists of ticks that a form may carry, and the mark by which it says that it does."""

SAW = "saw"
"""The field in which every form names the revision it was made from."""


async def database_of(request: Request) -> Database:
    """The workshop's data file."""
    database: Database = request.app.state.database
    return database


async def shop_in_force(database: "Data") -> Shop:
    """The shop's settings: one short read."""
    return shop_of(database)


def shop_of(database: Database) -> Shop:
    """The settings that hold."""
    return shop_from(shop_now(database).settings)


@dataclass(frozen=True)
class Sent:
    """What a form sent: its texts, and the file that came along, if one did."""

    fields: TypedForm
    file: bytes | None


async def sent_form(request: Request) -> Sent:
    """The form; boxes that are not ticked are said to be so where the whole form was sent."""
    async with request.form(max_part_size=256 * 1024) as form:
        fields = {name: value for name, value in form.items() if isinstance(value, str)}
        is_whole = fields.pop("whole", "") == "1"
        lists = [f"observed.{name}" for name, mark in TICK_LISTS.items() if fields.pop(mark, "")]
        if is_whole:
            lists += [path for path, spec in form_fields().items() if spec.kind is Kind.CHOICES]
        for name in lists:
            fields[name] = ", ".join(value for value in form.getlist(name) if isinstance(value, str))
        if is_whole:
            ticks = [path for path, spec in form_fields().items() if spec.kind is Kind.FLAG]
            fields |= {path: fields.get(path, "") for path in ticks}
        upload = form.get("file")
        file = await upload.read() if isinstance(upload, UploadFile) and upload.filename else None
    request.state.sent = fields
    return Sent(fields, file)


def sent_again(request: Request) -> tuple[tuple[str, str], ...]:
    """What the form of a request sent, field by field, for a page that offers to send it again."""
    sent: TypedForm = getattr(request.state, "sent", {})
    return tuple(sent.items())


def hub_of(request: Request) -> Hub:
    """The devices of this workshop."""
    hub: Hub = request.app.state.devices
    return hub


def wheel_ticks(request: Request) -> int:
    """What the counter wheel has counted; 0 where it is switched off."""
    return ticks_of(hub_of(request).said("counter", monotonic()))


async def typed_fields(sent: "SentForm") -> TypedForm:
    """The form's texts."""
    return sent.fields


def now() -> str:
    """The time, as it is kept."""
    return datetime.now(UTC).isoformat(timespec="seconds")


def seen_by(form: TypedForm) -> int | None:
    """The revision that a form was made from; None where it does not say, or says nonsense."""
    return whole_number(form.get(SAW, ""), 18)


@dataclass(frozen=True)
class JobRequest:
    """What a request about a job stands on: the data file, the job, what is looked at, the shop's settings."""

    data: Database
    job: JobRow
    state: ViewState
    shop: Shop

    def open_job(self) -> JobRow:
        """The job, where it may still be changed. Raises: 409."""
        if self.job.booked_at:
            raise HTTPException(409, "This job is booked. Take the booking back first; nothing was changed.")
        if self.job.closed_at:
            raise HTTPException(409, "This job is closed. Open it again on its bike's page; nothing was changed.")
        return self.job

    def as_typed(self, form: TypedForm) -> "JobRequest":
        """The same in the unit of the page that a form was typed on.

        What is still being typed there stays as it is, so its page must stay in its unit until it is opened anew.
        """
        unit = form.get("unit", "")
        units = [one for one in LengthUnit if one == unit]
        return replace(self, shop=self.shop.model_copy(update={"unit": units[0]})) if units else self

    def newest(self) -> JobRow:
        """The job as it stands by now."""
        return job_by_id(self.data, self.job.id) or self.job

    def at_newest(self) -> "JobRequest":
        """The same on the job as it stands by now."""
        return replace(self, job=self.newest())


async def job_request(request: Request, job_id: int) -> JobRequest:
    """The request for the job in the address: short reads, shorter than a change of thread. Raises: 404."""
    data: Database = request.app.state.database
    job = job_by_id(data, job_id) if 0 < job_id < LARGEST_ID else None
    if job is None:
        raise HTTPException(404, "There is no such job. It may have been another workshop's; the Stand lists yours.")
    return JobRequest(data, job, view_state_of(request.query_params), shop_of(data))


Data = Annotated[Database, Depends(database_of)]
SentForm = Annotated[Sent, Depends(sent_form)]
Fields = Annotated[TypedForm, Depends(typed_fields)]
InShop = Annotated[Shop, Depends(shop_in_force)]
ForJob = Annotated[JobRequest, Depends(job_request)]
