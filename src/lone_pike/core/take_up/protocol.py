"""The protocol of every take-up: the counts in reach, what each keeps at its two ends, and what that means.

Two families implement it: what turns (a cage) and what stands (a slot). A count is too short if nothing is kept at the
short end, and too long if nothing is kept at the long end.
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
from lone_pike.core.chain.path import ChainPath
from lone_pike.core.messages import Message, number
from lone_pike.core.take_up.sights import Sights


class Safety(StrEnum):
    """The safety of a count."""

    SAFE = "safe"
    SHORT = "short"
    LOOSE = "loose"


class GearState(StrEnum):
    """The state of one gear with the chain at a count."""

    SAFE = "safe"
    TIGHT = "tight"
    TOUCHING = "touching"
    SHORT = "short"
    LOOSE = "loose"


@dataclass(frozen=True)
class Gear:
    """One gear with the chain at a count, at the worst travel; degrees, links and mm, or None. rest_deg is the cage at
    the first travel, as it is seen in the stand."""

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
        """The cage as a clock hand at the first travel."""
        return None if self.rest_deg is None else clock_of(self.rest_deg)


@dataclass(frozen=True)
class Fit:
    """A count on a standing take-up: the axle's place, and the room left behind it for wear."""

    links: int
    offset_link: bool
    centre_mm: float
    room_mm: float
    wear_room_percent: float


@dataclass(frozen=True)
class GearPlace:
    """The place of axle or crank in one gear with the chain taut, mm: the centre distance, and the room to the near end
    and to the far one; crank_deg on an eccentric, forward of straight down."""

    ring: int
    cog: int
    centre_mm: float
    ahead_mm: float
    room_mm: float
    crank_deg: float | None


@dataclass(frozen=True)
class Capacity:
    """Teeth that the take-up must serve, and its ratings; None if not given."""

    needed: int
    rated: int | None
    largest_cog: int
    rated_largest_cog: int | None


@dataclass(frozen=True)
class Trial:
    """The bike with one change: what it is, the resulting end sizes of its wheels, and errors in its measures."""

    change: str | int
    rings: tuple[int, int]
    cogs: tuple[int, int]
    errors: Mapping[Measure, float]


@dataclass(frozen=True)
class Margins:
    """What K counts keep at their two ends beyond the minimum, in the take-up's own unit, (V, K) for V variants. -inf
    means that the chain cannot run at that end, +inf that it is far from it. wanted is how much is best kept at the
    short end."""

    counts: tuple[int, ...]
    at_short: Array
    at_long: Array
    wanted: Number

    def of(self, counts: Sequence[int]) -> "Margins":
        """The margins of some of the counts."""
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
        """Index of the recommended count of each variant, (V,); -1, the longest, if even that is too short.

        This is the safe count that keeps nearest to what is wanted; if none is safe, the shortest that is long enough.

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
        """The safety of a count of the bike as measured."""
        return safety_of(*self.kept(count))


def safety_of(at_short: float, at_long: float) -> Safety:
    """The safety of a count, by what it keeps at its short and its long end."""
    if at_short < 0:
        return Safety.SHORT
    return Safety.SAFE if at_long >= 0 else Safety.LOOSE


def stay_out_message(gears: tuple[Gear, ...]) -> Message:
    """The notice that no count is safe at both ends, with the gears in which the chain touches itself or hangs."""
    out = tuple(
        Message("gear", ring=number(gear.ring), cog=number(gear.cog))
        for gear in gears
        if gear.state in (GearState.TOUCHING, GearState.LOOSE)
    )
    return Message("window_empty_stay_out", gears=out) if out else Message("window_empty")


class TakeUp(Protocol):
    """The take-up of one bike, in all its poses and gears."""

    @property
    def schools(self) -> tuple[str, ...]:
        """The sizing schools that apply to it, in the order shown."""

    @property
    def always_measured(self) -> tuple[Measure, ...]:
        """The measures of every such bike; errors in these are always followed."""

    @property
    def bare_wraps_links(self) -> Array:
        """Length round the largest ring and cog without the take-up, in each pose, (P,)."""

    def counts_in_reach(self) -> range:
        """Joinable counts from a few too short to a few too long; at least one is long enough."""

    def margins(self, counts: Sequence[int], variants: int | None = None) -> Margins:
        """What the counts keep at both ends at the worst of all poses, or of the poses of each variant."""

    def kept(self, count: int) -> tuple[float, float]:
        """What one count of the bike as measured keeps at its short and its long end."""

    def meaning(self, count: int) -> Message:
        """What a count does at both ends, in half a sentence."""

    def wanted_message(self) -> Message:
        """The message of what the recommended count is nearest to."""

    def absorbs_message(self, count: int) -> Message | None:
        """How far a count lets the bike's parts move; None if the window says it."""

    def none_safe(self, gears: tuple[Gear, ...]) -> Message:
        """The notice that no count is safe, and what that means for the gears at the recommended one."""

    def gears(self, count: int) -> tuple[Gear, ...]:
        """Every gear with the chain at a count, at its worst pose."""

    def resting_path(self, ring: int, cog: int, count: int) -> ChainPath:
        """The loop in one gear at the first pose as the chain runs at a count; numbers, no arrays."""

    def worst_poses(self, count: int) -> NDArray[np.int_]:
        """The travels at which a count is nearest to either end."""

    def fits(self) -> tuple[Fit, ...]:
        """The counts that fit, with the axle's places, for take-ups that stand."""

    def capacity(self) -> Capacity:
        """What it must serve, and its ratings."""

    def counts_of_all(self) -> range:
        """Every joinable count that may be safe in any of its poses, at least one; empty if the chain runs in no
        pose."""

    def mends(self) -> Mapping[str, Sequence[Trial]]:
        """Bikes that differ in one thing and might have a window, smallest change first, by the kind of change."""

    def sights(self, seen: Sequence[tuple[int, float]]) -> tuple[Sights, ...]:
        """What can be seen in each pose, for each gear, given by its index, with a count."""

    def with_larger_cogs(self) -> Sequence[Trial]:
        """The bike with a larger largest cog, tooth by tooth; empty if that does not matter for the take-up."""
