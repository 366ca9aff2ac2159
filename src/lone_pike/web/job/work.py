"""A job with its bike sized, and the gear, count and travel that are shown. Views are built from it."""

import json
from collections.abc import Callable, Iterable
from dataclasses import dataclass, replace
from functools import cached_property
from typing import TypeVar
from zlib import crc32

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import Fault
from lone_pike.core.chain.cutting import Cut
from lone_pike.core.count.answer import Answer
from lone_pike.core.count.sizing import Sizing, size_at
from lone_pike.core.messages import Message, number
from lone_pike.core.take_up.protocol import Gear, Safety
from lone_pike.core.wear.replacing import WearPart, percent
from lone_pike.formats.records.shop import Shop
from lone_pike.formats.typed.form_faults import faults_by_field
from lone_pike.formats.typed.measure_form import Form, Readings, form_fields, form_of, reading_at, readings_of
from lone_pike.formats.typed.writing import format_reading
from lone_pike.store.bikes import Document
from lone_pike.store.chains import chain_on
from lone_pike.store.database import Database
from lone_pike.store.jobs import JobRow
from lone_pike.web.chains.view import ChainLine, chain_line
from lone_pike.web.thing import JobRequest
from lone_pike.web.view_state import ViewState, gear_in, neighbour
from lone_pike.workshop.answers import Answered, answer_in_shop, count_of, cuts_or_fault, faults_of, shown_cut
from lone_pike.workshop.clock import today
from lone_pike.workshop.due import jump_on, standing_rows


@dataclass(frozen=True)
class Work:
    """A job with the document to show: the stored one, or the one that is being typed."""

    job: JobRow
    state: ViewState
    shop: Shop
    document: Document
    messages: tuple[Message, ...] = ()
    typed: tuple[tuple[str, str], ...] = ()
    trouble: tuple[Fault, ...] = ()

    @cached_property
    def _answered(self) -> Answered:
        if self.trouble:
            return Answered(None, self.trouble)
        return answer_in_shop(self.document, self.shop)

    def in_trouble(self, error: Exception) -> "Work":
        """The job without a count, for pages that failed to show the answer and say so."""
        return replace(self, trouble=faults_of(error))

    @property
    def answer(self) -> Answer | None:
        """The answer, or None if something is missing or wrong."""
        return self._answered.answer

    @cached_property
    def faults(self) -> dict[str, Fault]:
        """Everything that is missing or wrong, by form field."""
        return faults_by_field(self._answered.faults)

    @cached_property
    def readings(self) -> Readings:
        """Every field's value."""
        return readings_of(self.document)

    @cached_property
    def form(self) -> Form:
        """Every field's text; what is being typed stays as it was typed."""
        return form_of(self.readings, self.shop.unit) | dict(self.typed)

    def text(self, path: str) -> str:
        """One field's text; what is being typed stays as it was typed."""
        typed = dict(self.typed)
        if path in typed:
            return typed[path]
        return format_reading(form_fields()[path], reading_at(self.document, path), self.shop.unit)

    @property
    def key(self) -> str:
        """Changes with the document."""
        return f"{crc32(json.dumps(self.document).encode()):x}"

    def at(self, stage: str, **changes: int | None) -> str:
        """The address of a stage of this job, after some changes of the view state."""
        return self.state.url(f"/jobs/{self.job.id}/{stage}", **changes)

    def each(self, stage: str, names: tuple[str, ...], rows: Iterable[tuple[int, ...]]) -> tuple[str, ...]:
        """Addresses of a stage that differ only in some entries of the view state."""
        return self.state.urls(f"/jobs/{self.job.id}/{stage}", names, rows)

    @property
    def sized_or_error(self) -> "SizedWork":
        """The sized job, for views that need one. Raises: ValueError if the bike cannot be sized."""
        if self.sized is None:
            raise ValueError("this bike cannot be sized")
        return self.sized

    @cached_property
    def sized(self) -> "SizedWork | None":
        """The job with its answer; None if the bike cannot be sized."""
        return SizedWork(self, self.answer) if self.answer else None


@dataclass(frozen=True)
class SizedWork:
    """A job whose bike is sized."""

    work: Work
    answer: Answer

    @property
    def bike(self) -> Bike:
        """The bike."""
        return self.answer.bike

    @cached_property
    def links(self) -> int:
        """The count under test: the address's, else the chosen one, else the advised."""
        return count_of(self.work.job, self.answer, self.work.state.links)

    @property
    def safety(self) -> Safety:
        """The safety of the count under test."""
        return self.answer.safety(self.links)

    @property
    def travel_mm(self) -> float:
        """The travel shown, mm; at rest if the address names none."""
        return min(float(self.work.state.travel or 0), self.bike.travel_mm)

    @cached_property
    def standing(self) -> Sizing:
        """The bike at the travel shown."""
        sizing = self.answer.sizing
        return replace(size_at(self.bike, self.travel_mm), troubles=sizing.troubles) if self.bike.suspension else sizing

    @cached_property
    def gears(self) -> tuple[Gear, ...]:
        """Every gear at the count under test: the worst of the travel, or at the travel in the address."""
        if self.work.state.travel is not None and self.bike.suspension:
            return self.standing.take_up.gears(self.links)
        return self.answer.gears_at(self.links)

    @cached_property
    def gear(self) -> Gear:
        """The gear shown, at the travel shown."""
        shown = gear_in(self.work.state, self.bike)
        gears = self.standing.take_up.gears(self.links) if self.bike.suspension else self.gears
        return next(gear for gear in gears if (gear.ring, gear.cog) == shown)

    def step_url(self, stage: str, wheel: str, step: int) -> str:
        """Address of the next ring or cog up or down."""
        if wheel == "ring":
            return self.work.at(stage, ring=neighbour(self.bike.rings, self.gear.ring, step))
        return self.work.at(stage, cog=neighbour(self.bike.cogs, self.gear.cog, step))


def cuts_of(work: Work) -> tuple[tuple[Cut, ...], Fault | None]:
    """The cuts for the count under test, one for each piece of the loop, or why there are none."""
    if work.sized is None:
        return (), None
    return cuts_or_fault(work.sized.bike, work.sized.links)


def cut_of(work: Work) -> tuple[Cut | None, Fault | None]:
    """The cut to show: that of the piece in the address, else the first one with a rivet to push, else the first
    one."""
    cuts, fault = cuts_of(work)
    return shown_cut(cuts, work.state.piece), fault


Shown = TypeVar("Shown")


def view_or_trouble(work: Work, view: Callable[[Work], Shown]) -> Shown:
    """Builds a view of a job; if that fails on the answer, builds it without the count, and the page says so."""
    try:
        return view(work)
    except Exception as error:
        return view(work.in_trouble(error))


def kept_work(job: JobRow, state: ViewState, shop: Shop) -> Work:
    """The stored job."""
    return Work(job, state, shop, job.document)


def work_of(request: JobRequest) -> Work:
    """The stored job of a request."""
    return kept_work(request.job, request.state, request.shop)


def chain_known(database: Database, work: Work) -> ChainLine | None:
    """The chain that is on the bike, with its wear; None if none is known."""
    row = chain_on(database.connection, work.job.bike_id)
    if row is None:
        return None
    return chain_line(standing_rows(database, [row], work.shop, today())[0], today())


def jump_messages(database: Database, work: Work) -> tuple[Message, ...]:
    """Whether a new chain may jump on the cassette, how far past its limit one ran there, and which cogs to look at;
    None if a new cassette goes on too."""
    observed, sized = work.job.observed, work.sized
    if sized is None or WearPart.CASSETTE in observed.replaced:
        return ()
    jump = jump_on(database.connection, work.job.bike_id, sized.bike.cogs, work.shop, observed.gauged)
    if jump is None:
        return ()
    jump_message = Message(
        "jump_likely" if jump.is_likely else "jump_may",
        worn=percent(jump.worn_percent),
        past=percent(jump.past_percent),
        cogs=tuple(number(cog) for cog in jump.cogs),
    )
    return (jump_message, Message("jump_used" if jump.by_use else "jump_smallest"))
