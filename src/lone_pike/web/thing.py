"""A request about a thing: what it is, what the page showed of it, and the answer after a change or a refusal.

Each place and each job has its own kind; they share what a form sends.
"""

from collections.abc import AsyncIterator, Callable
from contextlib import suppress
from dataclasses import dataclass, replace
from time import monotonic
from typing import Annotated, Self, TypeVar

from fastapi import Depends
from starlette.datastructures import FormData, UploadFile
from starlette.exceptions import HTTPException
from starlette.requests import ClientDisconnect, Request
from starlette.responses import HTMLResponse, Response

from lone_pike.core.bike.faults import Fault, InvalidInput
from lone_pike.core.bike.fields import Kind
from lone_pike.core.messages import LengthUnit, Message
from lone_pike.devices.counter import ticks_of
from lone_pike.devices.hub import Hub
from lone_pike.formats.files.ride_files import MOST_FILES, File
from lone_pike.formats.records.shop import Shop
from lone_pike.formats.typed.measure_form import form_fields
from lone_pike.formats.typed.parsing import whole_number
from lone_pike.store.access import SessionRow
from lone_pike.store.database import Database
from lone_pike.store.jobs import JobRow
from lone_pike.store.paging import RowId
from lone_pike.web.dear import dear_work
from lone_pike.web.live import Live
from lone_pike.web.pages import redirect
from lone_pike.web.view_state import ViewState, view_state_of
from lone_pike.workshop.edits import job_there
from lone_pike.workshop.settings import shop_of

TypedForm = dict[str, str]
Outcome = TypeVar("Outcome")
LARGEST_PART_BYTES = 256 * 1024
TICK_LISTS = {
    "steps": "by_hand",
    "led": "is_led",
    "threaded": "threading",
    "joined": "joining",
} | {
    "causes": "finding",
    "replaced": "replacing",
    "tools": "laying_out",
}
"""The lists of tick boxes that a form may contain, and the field that says that it contains one."""

SAW = "saw"
"""The form field that holds the revision from which the page was made."""


async def database_of(request: Request) -> Database:
    """The workshop's data file."""
    database: Database = request.app.state.database
    return database


async def shop_in_force(database: "Data") -> Shop:
    """The shop's settings."""
    return shop_of(database)


@dataclass(frozen=True)
class Sent:
    """What a form sent: its texts, and its file if there is one."""

    fields: TypedForm
    file: bytes | None


async def sent_form(request: Request) -> Sent:
    """The form. If the whole form was sent, boxes that are not ticked are added as empty."""
    async with request.form(max_part_size=LARGEST_PART_BYTES) as form:
        return await _sent(request, form)


async def sent_photo(request: Request) -> AsyncIterator[Sent]:
    """The form with a photo. The photo has arrived completely, and is read into memory only when its turn has come."""
    async with request.form(max_part_size=LARGEST_PART_BYTES) as form, dear_work(request).queues["photo"].slot():
        yield await _sent(request, form)


@dataclass(frozen=True)
class SentFiles:
    """What a form with several files sent."""

    fields: TypedForm
    files: tuple[File, ...]


async def sent_rides(request: Request) -> AsyncIterator[SentFiles]:
    """The form with its files. They have arrived completely, and are read into memory only when their turn has come."""
    form_read = request.form(max_part_size=LARGEST_PART_BYTES, max_files=MOST_FILES)
    async with form_read as form, dear_work(request).queues["rides"].slot():
        uploads = [one for one in form.getlist("file") if isinstance(one, UploadFile) and one.filename]
        files = tuple([File(str(one.filename), await one.read()) for one in uploads])
        request.state.sent = _texts(form)
        yield SentFiles(request.state.sent, files)


def _texts(form: FormData) -> TypedForm:
    return {name: value for name, value in form.items() if isinstance(value, str)}


async def _sent(request: Request, form: FormData) -> Sent:
    fields = _texts(form)
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


async def sent_again(request: Request) -> tuple[tuple[str, str], ...]:
    """The fields of a request's form, for a page that offers to send it again.

    The form may not have been read yet, because opening the data file comes first and may fail.
    """
    if not hasattr(request.state, "sent"):
        request.state.sent = {}
        with suppress(HTTPException, ClientDisconnect):
            async with request.form(max_part_size=LARGEST_PART_BYTES) as form:
                request.state.sent = _texts(form)
    sent: TypedForm = request.state.sent
    return tuple(sent.items())


async def listed_fields(request: Request) -> dict[str, list[str]]:
    """The form's texts: for each name, everything that was sent under it."""
    async with request.form(max_part_size=LARGEST_PART_BYTES) as form:
        texts = {name: [one for one in form.getlist(name) if isinstance(one, str)] for name in form}
    request.state.sent = {name: ", ".join(values) for name, values in texts.items()}
    return texts


def hub_of(request: Request) -> Hub:
    """The devices of this workshop."""
    hub: Hub = request.app.state.devices
    return hub


def live_of(request: Request) -> Live:
    """All listening tablets."""
    hub: Live = request.app.state.live
    return hub


def session_of(request: Request) -> SessionRow | None:
    """The session of a request; None on loopback, where nobody signs in."""
    session: SessionRow | None = getattr(request.state, "session", None)
    return session


def said_here(request: Request, device: str) -> list[str]:
    """What a device sent last for the bench of this request."""
    session = session_of(request)
    return hub_of(request).said(device, monotonic(), session.name if session else "")


def wheel_ticks(request: Request) -> int:
    """The links that the counter wheel has counted; 0 if it is switched off."""
    return ticks_of(said_here(request, "counter"))


async def typed_fields(request: Request) -> TypedForm:
    """The form's texts."""
    return (await sent_form(request)).fields


def seen_by(form: TypedForm) -> int | None:
    """The revision from which the page of a form was made; None if the form does not name one."""
    return whole_number(form.get(SAW, ""), 18)


@dataclass(frozen=True)
class Refused:
    """What a form sent that could not be stored, with the reason; for the same page, shown again."""

    typed: TypedForm
    faults: tuple[Fault, ...]


NOT_REFUSED = Refused({}, ())


@dataclass(frozen=True)
class Thing:
    """A request about a thing of the workshop, with the shop's settings. What is shown after a change is the thing as
    it is then."""

    request: Request
    data: Database
    shop: Shop

    @property
    def url(self) -> str:
        """The address of its page."""
        raise NotImplementedError

    def shown(
        self, refused: Refused = NOT_REFUSED, notices: tuple[Message, ...] = (), status: int = 200
    ) -> HTMLResponse:
        """Its page as it is now, with what could not be stored, and with notices of what was done."""
        raise NotImplementedError

    def at_newest(self) -> Self:
        """This request with the thing as it is now."""
        return self

    def done(self, notices: tuple[Message, ...] = ()) -> Response:
        """The answer after a change: the page in place, or a redirect to it."""
        if self.request.headers.get("HX-Request"):
            return self.at_newest().shown(notices=notices)
        return redirect(self.url)

    def changed(
        self, form: TypedForm, change: Callable[[], Outcome], then: Callable[[Outcome], Response] | None = None
    ) -> Response:
        """Makes a change. Returns: what follows from it, else the page; refused, the same page with what was typed."""
        try:
            made = change()
        except InvalidInput as error:
            return self.shown(Refused(form, error.faults), status=422)
        return then(made) if then else self.done()


@dataclass(frozen=True)
class JobRequest(Thing):
    """A request about a job, with the view state of the address."""

    job: JobRow
    state: ViewState

    @property
    def url(self) -> str:
        """The address of the job."""
        return f"/jobs/{self.job.id}"

    def as_typed(self, form: TypedForm) -> "JobRequest":
        """This request in the unit of the page on which a form was typed. Texts that are still being typed there stay
        as they are, so the page has to keep its unit until it is loaded again."""
        unit = form.get("unit", "")
        units = [one for one in LengthUnit if one == unit]
        return replace(self, shop=self.shop.model_copy(update={"unit": units[0]})) if units else self

    def at_newest(self) -> Self:
        """This request with the job as it is now."""
        return replace(self, job=job_there(self.data, self.job.id))


async def job_request(request: Request, job_id: RowId) -> JobRequest:
    """The request for the job in the address. It reads so little that changing threads would take longer. Raises:
    NotThere."""
    data: Database = request.app.state.database
    return JobRequest(request, data, shop_of(data), job_there(data, job_id), view_state_of(request.query_params))


Data = Annotated[Database, Depends(database_of)]
SentForm = Annotated[Sent, Depends(sent_form)]
SentRides = Annotated[SentFiles, Depends(sent_rides)]
SentPhoto = Annotated[Sent, Depends(sent_photo)]
Listed = Annotated[dict[str, list[str]], Depends(listed_fields)]
Fields = Annotated[TypedForm, Depends(typed_fields)]
InShop = Annotated[Shop, Depends(shop_in_force)]
ForJob = Annotated[JobRequest, Depends(job_request)]
