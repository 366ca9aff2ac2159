"""What the photo page shows: the photo, its marks, the measures they give, and the computed chain over it."""

from dataclasses import dataclass
from functools import cached_property
from math import atan2, degrees
from typing import TypeGuard

from pydantic import ValidationError

from lone_pike.core.bike.document import About
from lone_pike.core.bike.faults import Fault, InvalidInput
from lone_pike.core.bike.limits import limit
from lone_pike.core.bike.measures import unit_behind
from lone_pike.core.bike.photo import MARKS, Mark, Photo, Read, Taken, Wheels, taken_from
from lone_pike.drawing.side_view import SideView, side_view
from lone_pike.formats.measure_form import LABELS, form_of
from lone_pike.formats.photo_notes import WORDS, PhotoNotes
from lone_pike.store.photos import PhotoRow
from lone_pike.web.job_page import FIELD_OF, JobPage

SHOWN_WITHIN_PX = (772, 536)
LOUPE_PX = 90
GAP_MM = (1.0, 30.0)


@dataclass(frozen=True)
class Offer:
    """A measure off the photo as it may be taken: its field, its text there and its unit, what stands there now."""

    field: str
    label: str
    text: str
    unit: str
    now: str
    wanted: bool
    trouble: str


@dataclass(frozen=True)
class Step:
    """A mark to set, with its words and whether it is set or in hand."""

    mark: Mark
    word: str
    set: bool
    in_hand: bool


@dataclass(frozen=True)
class PhotoPage:
    """One job's photo; asked is the mark that the address wants in hand."""

    view: JobPage
    notes: PhotoNotes
    row: PhotoRow
    asked: str

    @property
    def address(self) -> str:
        """Where the picture itself is."""
        return f"/jobs/{self.row.job_id}/photo/{self.row.id}.jpg"

    def url(self, then: str = "", mark: str = "") -> str:
        """Address of this page, or of something done on it, a mark kept in hand."""
        found = self.view.look.url(f"/jobs/{self.row.job_id}/photo{then}")
        return found + (f"{'&' if '?' in found else '?'}mark={mark}" if mark else "")

    @cached_property
    def shown_px(self) -> tuple[int, int]:
        """How large the photo stands on the page: always so, for a press tells its place in these px."""
        share = min(most / size for most, size in zip(SHOWN_WITHIN_PX, (self.row.width, self.row.height), strict=True))
        return round(self.row.width * share), round(self.row.height * share)

    @property
    def needed(self) -> tuple[Mark, ...]:
        """The marks asked for; the pivot where the bike has one."""
        return tuple(mark for mark in MARKS if mark != "pivot" or self.view.form["suspension.type"] == "pivot")

    @cached_property
    def hand(self) -> Mark | None:
        """The mark in hand: the one asked for, else the first that is not set."""
        asked = next((mark for mark in self.needed if mark == self.asked), None)
        return asked or next((mark for mark in self.needed if mark not in self.notes.marks), None)

    @property
    def steps(self) -> tuple[Step, ...]:
        """All marks."""
        return tuple(Step(mark, WORDS[mark], mark in self.notes.marks, mark == self.hand) for mark in self.needed)

    @property
    def photo(self) -> Photo:
        """The marks as the core measures them."""
        return self.notes.photo(self.row.width)

    @cached_property
    def gear(self) -> tuple[int, int] | None:
        """The gear in the photo: the one told, else big/big."""
        document = self.view.document
        rings, cogs = document.get("rings"), document.get("cogs")
        if not (_teeth(rings) and _teeth(cogs)):
            return None
        told = self.notes.gear
        return told if told and told[0] in rings and told[1] in cogs else (max(rings), max(cogs))

    @property
    def gears(self) -> list[tuple[int, int]]:
        """Gears to choose from, biggest first."""
        if not self.gear:
            return []
        document = self.view.document
        return [(r, c) for r in sorted(document["rings"])[::-1] for c in sorted(document["cogs"])[::-1]]

    @cached_property
    def _taken(self) -> tuple[dict[Read, Taken], Fault | None]:
        guide = self.view.document.get("take_up", {}).get("guide_teeth", int(limit("pulley")))
        wheels = Wheels(guide, self.gear[1], self.gears[0][1]) if self.gear and isinstance(guide, int) else None
        try:
            return taken_from(self.photo, wheels), None
        except InvalidInput as refused:
            return {}, refused.faults[0]

    @property
    def fault(self) -> Fault | None:
        """What is wrong with the marks."""
        return self._taken[1]

    @cached_property
    def offers(self) -> tuple[Offer, ...]:
        """The measures, each with its doubt, ticked where the bike has no caliper's figure for it."""
        now = form_of(self.view.document)
        return tuple(
            self._offer(read, taken, now)
            for read, taken in self._taken[0].items()
            if read != "pivot_mm" or self.view.form["suspension.type"] == "pivot"
        )

    def _offer(self, read: Read, taken: Taken, now: dict[str, str]) -> Offer:
        field = FIELD_OF[read]
        spread = max(taken.spread, 0.1)
        text = f"{', '.join(f'{value:.1f}' for value in taken.values)} ± {spread:.1f}"
        trouble = ""
        if read == "b_gap_mm" and not GAP_MM[0] <= taken.values[0] <= GAP_MM[1]:
            trouble = "no gap is like that; is it this gear?"
        elif not _may_be(read, spread):
            trouble = "too rough to use; take a longer scale"
        stands = now[field]
        wanted = not trouble and stands != text and (not stands or "±" in stands)
        return Offer(field, LABELS[field], text, unit_behind(read), stands, wanted, trouble)

    @cached_property
    def over(self) -> SideView | None:
        """The computed chain in the photo's gear; None while the bike or the scale is not known."""
        if not (self.view.answer and self.gear and "crank" in self.notes.marks and self._scale):
            return None
        sizing = self.view.standing
        gear = next(one for one in sizing.gears(self.view.links) if (one.ring, one.cog) == self.gear)
        return side_view(sizing, gear, self.view.links)

    @cached_property
    def _scale(self) -> float | None:
        try:
            scale = self.photo.scale
        except InvalidInput:
            return None
        return scale.mm_per_px if scale else None

    @property
    def placed(self) -> str:
        """How the computed chain, in mm about the crank, comes to lie on the photo; its axle on the marked one."""
        crank, scale = self.notes.marks["crank"], self._scale or 1.0
        turn = 0.0
        if "axle" in self.notes.marks and self.view.bike:
            axle, (x_mm, y_mm) = self.notes.marks["axle"], self.view.bike.axle_xy_mm
            turn = degrees(atan2(axle[1] - crank[1], axle[0] - crank[0]) - atan2(-y_mm, x_mm))
        return f"translate({crank[0]:.1f} {crank[1]:.1f}) rotate({turn:.2f}) scale({1 / scale:.4f})"

    @property
    def loupe(self) -> str:
        """The part of the photo round the mark in hand; empty where none is set there."""
        place = self.notes.marks.get(self.hand) if self.hand else None
        return f"{place[0] - LOUPE_PX / 2} {place[1] - LOUPE_PX / 2} {LOUPE_PX} {LOUPE_PX}" if place else ""


def _may_be(read: Read, spread: float) -> bool:
    """Whether a measure may be that much in doubt at all."""
    try:
        About.model_validate({read: spread})
    except ValidationError:
        return False
    return True


def _teeth(sizes: object) -> TypeGuard[list[int]]:
    return isinstance(sizes, list) and bool(sizes) and all(isinstance(size, int) for size in sizes)
