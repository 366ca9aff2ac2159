"""All that the job page shows, made from a job, what is looked at, and what was typed."""

import json
from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import Fault, InvalidInput
from lone_pike.core.bike.measures import KINDS
from lone_pike.core.chain.cutting import Cut, plan_cut
from lone_pike.core.judging.answer import Answer, answer
from lone_pike.core.judging.schools import Vote, verdict_at
from lone_pike.core.judging.sensitivity import ValidRange
from lone_pike.core.judging.sizing import Gear, Sizing, size_at
from lone_pike.drawing.dials import Dials, dials
from lone_pike.drawing.growth import GrowthPlot, growth_plot, step_mm
from lone_pike.drawing.rail import Rail, ground_of, rail
from lone_pike.drawing.side_view import SideView, chain_line, side_view
from lone_pike.drawing.strip import Strip, close_up, strip
from lone_pike.formats.bike_file import bike_from_document
from lone_pike.formats.measure_form import SPREADS, Form, apply_form, faults_by_field, form_of
from lone_pike.formats.shop import Shop
from lone_pike.formats.words import Words
from lone_pike.store.bikes import Document
from lone_pike.store.jobs import JobRow
from lone_pike.web.requests import JobRequest
from lone_pike.web.view_state import WHAT_IF, ViewState, gear_in, neighbour

STAGES = {"measure": "Measure", "size": "Size", "cut": "Cut", "book": "Book"}

FIELD_OF = {key: field for field, (key, _) in SPREADS.items()}
"""The form field of each measure, by the name of its spread."""


@dataclass(frozen=True)
class JobPage:
    """One view of a job; the document may be what is being typed, not yet kept."""

    job: JobRow
    stage: str
    look: ViewState
    shop: Shop
    document: Document
    form: Form
    said: tuple[str, ...]
    swapped: bool = False

    @property
    def stands_at(self) -> str:
        """The stage this belongs to: a photo is a way of measuring."""
        return "measure" if self.stage == "photo" else self.stage

    @cached_property
    def late(self) -> bool:
        """Whether the doubt follows in an answer of its own, because working it out would keep the page waiting."""
        return self.swapped and self.answer is not None and not self.answer.doubt_is_known

    @property
    def document_key(self) -> str:
        """Changes with the document."""
        return f"{hash(json.dumps(self.document)) & 0xFFFFFFFF:x}"

    @cached_property
    def _sized(self) -> tuple[Answer | None, tuple[Fault, ...]]:
        try:
            return answer(bike_from_document(self.shop.under_rules(self.document))), ()
        except InvalidInput as refused:
            return None, refused.faults

    @property
    def answer(self) -> Answer | None:
        """The answer, or None while something is missing or wrong."""
        return self._sized[0]

    @property
    def bike(self) -> Bike | None:
        """The bike, where it can be sized."""
        return self.answer.sizing.bike if self.answer else None

    @cached_property
    def faults(self) -> dict[str, Fault]:
        """What is wrong, by form field; a field that is only still empty is no fault but a thing to do."""
        found = faults_by_field(self._sized[1])
        return {field: fault for field, fault in found.items() if fault.read != "nothing"}

    @cached_property
    def to_do(self) -> list[str]:
        """Fields that are still empty and needed."""
        return [field for field, fault in faults_by_field(self._sized[1]).items() if fault.read == "nothing"]

    @property
    def links(self) -> int:
        """The count under test: the address's, else the chosen one, else the recommended."""
        recommended = self.answer.links if self.answer else 0
        return self.look.links or self.job.chosen_links or recommended

    @property
    def travel_mm(self) -> float:
        """The travel looked at, mm; at rest where the address says nothing."""
        return min(float(self.look.travel or 0), self.bike.travel_mm) if self.bike else 0.0

    @cached_property
    def standing(self) -> Sizing:
        """The bike held at the travel looked at."""
        assert self.answer
        sizing = self.answer.sizing
        return size_at(sizing.bike, self.travel_mm) if sizing.bike.suspension else sizing

    @cached_property
    def gears(self) -> tuple[Gear, ...]:
        """Every gear at the count under test: the worst of the travel, or at the travel looked at."""
        assert self.answer
        if self.look.travel is not None and self.answer.sizing.bike.suspension:
            return self.standing.gears(self.links)
        return self.answer.gears if self.links == self.answer.links else self.answer.sizing.gears(self.links)

    @cached_property
    def gear(self) -> Gear:
        """The gear looked at."""
        assert self.answer
        shown = gear_in(self.look, self.answer.sizing)
        gears = self.standing.gears(self.links) if self.answer.sizing.bike.suspension else self.gears
        return next(gear for gear in gears if (gear.ring, gear.cog) == shown)

    @cached_property
    def side(self) -> SideView:
        """The side view."""
        assert self.answer
        return side_view(self.standing, self.gear, self.links, lettered=self.stage == "measure")

    @property
    def picture(self) -> SideView:
        """The side view without letters: a bike in a list."""
        assert self.answer
        return side_view(self.standing, self.gear, self.links)

    @cached_property
    def _other(self) -> tuple[Answer | None, tuple[Fault, ...]]:
        """The bike with what is asked of it changed, nothing of it kept."""
        if not self.look.what_if or self.stage != "size":
            return None, ()
        changed = {WHAT_IF[name]: text for name, text in self.look.what_if}
        if "cogs" in changed:
            changed["chain.speeds"] = self.form["chain.speeds"] or str(len(self.document.get("cogs", [])))
        try:
            other, _ = apply_form(self.document, changed, self.look.unit)
            return answer(bike_from_document(self.shop.under_rules(other))), ()
        except InvalidInput as refused:
            return None, refused.faults

    @property
    def other(self) -> Answer | None:
        """The answer to what is asked, beside today's bike."""
        return self._other[0]

    @property
    def other_faults(self) -> tuple[Fault, ...]:
        """What is wrong with what is asked."""
        return self._other[1]

    @cached_property
    def ghost(self) -> str:
        """The other bike's chain in its biggest gear, as a line over the side view."""
        return chain_line(self.other.sizing, self.other.gears[0], self.other.links) if self.other else ""

    @cached_property
    def rail(self) -> Rail:
        """The count rail, with the other bike's window where one is asked."""
        assert self.answer
        return rail(self.answer, self.links, self.other)

    @cached_property
    def dials(self) -> Dials:
        """The cage dials."""
        return dials(self.gears, (self.gear.ring, self.gear.cog))

    @cached_property
    def growth(self) -> GrowthPlot | None:
        """The growth plot of a bike with suspension."""
        if not self.answer or not self.answer.sizing.bike.suspension:
            return None
        return growth_plot(self.answer.sizing, self.links, self.travel_mm)

    def travel_url(self, steps: int) -> str:
        """Address of a travel some steps on."""
        assert self.bike
        moved = self.travel_mm + steps * step_mm(self.bike.travel_mm)
        return self.at(travel=round(min(max(moved, 0), self.bike.travel_mm)))

    @cached_property
    def cut(self) -> Cut | None:
        """The cut for the count under test."""
        return plan_cut(self.bike, self.links) if self.bike else None

    @cached_property
    def strip(self) -> Strip | None:
        """The strip of that cut."""
        return strip(self.cut) if self.cut else None

    @cached_property
    def close_up(self) -> Strip | None:
        """The links round the rivet to push."""
        return close_up(self.cut) if self.cut else None

    @cached_property
    def ground(self) -> str:
        """Whether the count under test is safe, too short or too long."""
        assert self.answer
        return ground_of(self.answer.sizing.ends_for([self.links]), 0)

    @cached_property
    def verdict(self) -> str:
        """What the count under test does at both ends."""
        assert self.answer
        return verdict_at(self.answer.sizing, self.links)

    @cached_property
    def supporters(self) -> list[Vote]:
        """Schools that vote for the count under test."""
        return [vote for vote in self.answer.votes if vote.links == self.links] if self.answer else []

    @cached_property
    def costs(self) -> dict[str, str]:
        """What an error in a measure costs right now, by form field."""
        if not self.answer:
            return {}
        by_nearest = sorted(self.answer.valid_ranges.values(), key=lambda hold: -(hold.nearest or 1e9))
        found = {FIELD_OF[KINDS[hold.measure].about]: cost_words(hold) for hold in by_nearest}
        found["take_up.class"] = found["take_up.cage_mm"]
        doubt = self.answer.doubt
        for field, counts in (("rings", doubt.ring_miscounted), ("cogs", doubt.cog_miscounted)):
            others = sorted({links for links in counts if links != self.answer.links})
            found[field] = "one tooth off " + (
                f"makes it {' or '.join(map(str, others))} links" if others else "changes nothing"
            )
        return found

    @property
    def counts(self) -> dict[str, str]:
        """What stands under a typed count, by form field: its word, links whatever the shop says first, and pairs."""
        found = {field: self.form[field] for field in ("chain.box_links", "old_chain.links", "sheet_links")}
        return {field: Words().rest(int(text)) for field, text in found.items() if text.isdecimal() and len(text) < 4}

    def at(self, stage: str | None = None, **changes: int | None) -> str:
        """Address of this job at a stage, with some of the look changed."""
        return self.look.url(f"/jobs/{self.job.id}/{stage or self.stage}", **changes)

    def each(self, *names: str) -> Callable[..., str]:
        """Addresses of this stage that differ in the values of some names of the look alone."""
        return self.look.each(f"/jobs/{self.job.id}/{self.stage}", *names)

    def step_url(self, what: str, step: int) -> str:
        """Address of the next ring or cog up or down."""
        assert self.bike
        if what == "ring":
            return self.at(ring=neighbour(self.bike.rings, self.gear.ring, step))
        return self.at(cog=neighbour(self.bike.cogs, self.gear.cog, step))

    def count_url(self, steps: int) -> str:
        """Address of the next count up or down."""
        assert self.answer
        return self.at(links=self.links + steps * self.answer.sizing.step_links)


def cost_words(hold: ValidRange) -> str:
    """What an error in a measure costs right now.

    >>> cost_words(ValidRange("chainstay_mm", 432.0, 3.1, 1.2))
    '1.2 mm more and it is another pair'
    >>> cost_words(ValidRange("cage_mm", 92.0, None, None))
    'the count stands whatever it is'
    """
    less, more, unit = hold.less, hold.more, KINDS[hold.measure].unit
    if less is None and more is None:
        return "the count stands whatever it is"
    if more is not None and (less is None or more <= less):
        return f"{more:.1f}{unit} more and it is another pair"
    return f"{less:.1f}{unit} less and it is another pair"


def kept_page(job: JobRow, stage: str, look: ViewState, shop: Shop) -> JobPage:
    """The job as it is kept."""
    return JobPage(job, stage, look, shop, job.document, form_of(job.document, shop.unit), ())


def page_at(desk: JobRequest, stage: str) -> JobPage:
    """The job on the desk as it is kept."""
    return kept_page(desk.job, stage, desk.look, desk.shop)
