"""What judging knows of a take-up, whatever it is: counts in reach, what each keeps at its two ends, what it means.

Two families keep this: what turns (a cage) and what stands (a slot). A count is too short where nothing is kept at
the short end, too long where nothing is kept at the long end.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from lone_pike.core.bike.clock import clock_of
from lone_pike.core.bike.measures import Measure
from lone_pike.core.bike.teeth import Array, Number
from lone_pike.core.chain.path import Path
from lone_pike.core.messages import Message, number
from lone_pike.core.take_up.sights import Sights


class Safety(StrEnum):
    """What a count stands on."""

    SAFE = "safe"
    SHORT = "short"
    LOOSE = "loose"


class GearState(StrEnum):
    """How one gear is with the chain at a count."""

    SAFE = "safe"
    TIGHT = "tight"
    TOUCHING = "touching"
    SHORT = "short"
    LOOSE = "loose"


@dataclass(frozen=True)
class Gear:
    """One gear with the chain at a count, the worst of its travel; degrees, links and mm, None where there is none.

    rest_deg is the cage at the first travel, as it is seen in the stand.
    """

    ring: int
    cog: int
    cage_deg: float | None
    reserve_deg: float | None
    spare_links: float | None
    clearance_mm: float | None
    state: GearState
    rest_deg: float | None

    @property
    def clock(self) -> str | None:
        """The cage as a clock hand."""
        return None if self.cage_deg is None else clock_of(self.cage_deg)

    @property
    def rest_clock(self) -> str | None:
        """The same at the first travel."""
        return None if self.rest_deg is None else clock_of(self.rest_deg)


@dataclass(frozen=True)
class Fit:
    """A count on a standing take-up: where the axle then stands, and what is left behind it for wear."""

    links: int
    offset_link: bool
    centre_mm: float
    room_mm: float
    wear_room_percent: float


@dataclass(frozen=True)
class GearPlace:
    """Where axle or crank stands in one gear with the chain taut, mm: the centre distance, the room before the near end
    and before the far one; crank_deg on an eccentric, forward of straight down."""

    ring: int
    cog: int
    centre_mm: float
    ahead_mm: float
    room_mm: float
    crank_deg: float | None


@dataclass(frozen=True)
class Capacity:
    """Teeth the take-up must serve, and what its papers say; None where not given."""

    needed: int
    rated: int | None
    largest_cog: int
    rated_largest_cog: int | None


@dataclass(frozen=True)
class Trial:
    """The bike with one thing changed: what that is, the end sizes of its wheels then, and errors in its measures."""

    change: str | int
    rings: tuple[int, int]
    cogs: tuple[int, int]
    errors: Mapping[Measure, float]


@dataclass(frozen=True)
class Margins:
    """What K counts keep at their two ends beyond what they must, in the take-up's own unit, (V, K) for V variants.

    -inf where the chain cannot run at all at that end, +inf where it is far from it. wanted is how much of it is
    best kept at the short end.
    """

    counts: tuple[int, ...]
    at_short: Array
    at_long: Array
    wanted: Number

    def of(self, counts: Sequence[int]) -> "Margins":
        """The same for some of the counts."""
        which = [self.counts.index(count) for count in counts]
        return Margins(tuple(counts), self.at_short[:, which], self.at_long[:, which], self.wanted)

    @cached_property
    def long_enough(self) -> NDArray[np.bool_]:
        """Counts that keep enough at the short end."""
        return np.asarray(self.at_short >= 0)

    @cached_property
    def safe(self) -> NDArray[np.bool_]:
        """Counts that keep enough at both ends."""
        return self.long_enough & (self.at_long >= 0)

    @cached_property
    def best(self) -> NDArray[np.int_]:
        """Index of the recommended count of each variant, (V,); -1, the longest, where even that is too short.

        The safe count that keeps nearest to what is wanted; where none is safe, the shortest that is long enough.
        Source: model, section 3.
        """
        variants = np.arange(len(self.at_short))
        nearest = np.where(self.safe, np.abs(self.at_short - self.wanted), np.inf).argmin(axis=1)
        is_safe = self.safe[variants, nearest]
        if is_safe.all():
            return np.asarray(nearest)
        shortest = self.long_enough.argmax(axis=1)
        is_long_enough = self.long_enough[variants, shortest]
        return np.where(is_safe, nearest, np.where(is_long_enough, shortest, -1))

    @cached_property
    def recommended(self) -> int:
        """The recommended count of the bike as measured."""
        return self.counts[int(self.best.item(0))]

    @cached_property
    def _as_measured(self) -> dict[int, tuple[float, float]]:
        """What each count of the bike as measured keeps at its short and its long end."""
        first, *_ = zip(self.at_short.tolist(), self.at_long.tolist(), strict=True)
        return dict(zip(self.counts, zip(*first, strict=True), strict=True))

    def kept(self, count: int) -> tuple[float, float]:
        """What a count of the bike as measured keeps at its short and its long end."""
        return self._as_measured[count]

    @property
    def safe_counts(self) -> list[int]:
        """The safe counts of the bike as measured."""
        return [count for count, is_safe in zip(self.counts, self.safe.tolist()[0], strict=True) if is_safe]

    def safety(self, count: int) -> Safety:
        """What a count of the bike as measured stands on."""
        return safety_of(*self.kept(count))


def safety_of(at_short: float, at_long: float) -> Safety:
    """What a count stands on, by what it keeps at its short and its long end."""
    if at_short < 0:
        return Safety.SHORT
    return Safety.SAFE if at_long >= 0 else Safety.LOOSE


def stay_out_message(gears: tuple[Gear, ...]) -> Message:
    """That no count is safe at both ends, and the gears in which the chain touches itself or hangs."""
    out = tuple(
        Message("gear", ring=number(gear.ring), cog=number(gear.cog))
        for gear in gears
        if gear.state in (GearState.TOUCHING, GearState.LOOSE)
    )
    return Message("window_empty_stay_out", gears=out) if out else Message("window_empty")


class TakeUp(Protocol):
    """What closes the length of one bike, at all its poses and gears."""

    @property
    def schools(self) -> tuple[str, ...]:
        """The sizing schools that apply to it, in the order shown."""

    @property
    def always_measured(self) -> tuple[Measure, ...]:
        """What every such bike is measured by; errors in these are always followed."""

    @property
    def bare_wraps_links(self) -> Array:
        """Length round the largest ring and cog without the take-up, in each pose, (P,)."""

    def counts_in_reach(self) -> range:
        """Joinable counts from a few too short to a few too long; one long enough is among them."""

    def margins(self, counts: Sequence[int], variants: int | None = None) -> Margins:
        """What the counts keep at both ends, the worst of all poses; or of those of each of so many variants."""

    def kept(self, count: int) -> tuple[float, float]:
        """What one count of the bike as measured keeps at its short and its long end."""

    def meaning(self, count: int) -> Message:
        """What a count does at both ends, in half a sentence."""

    def wanted_message(self) -> Message:
        """What the recommended count is nearest to."""

    def absorbs_message(self, count: int) -> Message | None:
        """How far a count lets the bike's parts move; None where the window says it."""

    def none_safe(self, gears: tuple[Gear, ...]) -> Message:
        """That no count is safe, and what that means for the gears at the one that is taken."""

    def gears(self, count: int) -> tuple[Gear, ...]:
        """Every gear with the chain at a count, the worst of its poses."""

    def resting_path(self, ring: int, cog: int, count: int) -> Path:
        """The loop in one gear at the first pose as the chain runs at a count; numbers, no arrays."""

    def worst_poses(self, count: int) -> NDArray[np.int_]:
        """Where a count is nearest to either end."""

    def fits(self) -> tuple[Fit, ...]:
        """The counts that fit, with the axle's place, where the axle is what stands."""

    def capacity(self) -> Capacity:
        """What it must serve, and what its papers say."""

    def counts_of_all(self) -> range:
        """Every joinable count that may be safe in any of its poses, one at least; none where it runs in no pose."""

    def mends(self) -> Mapping[str, Sequence[Trial]]:
        """Bikes that differ in one thing and might have a window, nearest first, by the kind of change."""

    def sights(self, seen: Sequence[tuple[int, float]]) -> tuple[Sights, ...]:
        """What is to be seen in each pose: for each gear, by its place among the wheels, with a count."""

    def with_larger_cogs(self) -> Sequence[Trial]:
        """The bike with its largest cog larger, tooth by tooth; none where that asks nothing of the take-up."""
