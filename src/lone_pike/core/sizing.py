"""One sizing of one bike: every gear at every count in reach, the window and the recommended count."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np

from lone_pike.core.bike import Bike
from lone_pike.core.counting import step_links
from lone_pike.core.limits import limit
from lone_pike.core.path import Path
from lone_pike.core.poses import TENSION, Poses, gears_of, poses_of
from lone_pike.core.take_up import Settled, TakeUp, settle, take_up
from lone_pike.core.window import BIG, Ends, counts_in_reach, ends_of

GearState = Literal["safe", "tight", "touching", "short", "loose"]


@dataclass(frozen=True)
class Gear:
    """One gear with the chain at a count; degrees, links and mm; None where the cage finds no rest."""

    ring: int
    cog: int
    cage_deg: float | None
    clock: str | None
    reserve_deg: float | None
    spare_links: float | None
    clearance_mm: float | None
    state: GearState


@dataclass(frozen=True)
class Window:
    """Shortest and longest safe count, links."""

    min: int
    max: int


@dataclass(frozen=True)
class Sizing:
    """What was computed for a bike as measured: all gears, biggest first, at all counts in reach."""

    bike: Bike
    poses: Poses
    all_gears: tuple[tuple[int, int], ...]
    taken: TakeUp
    settled: Settled
    ends: Ends

    @property
    def step_links(self) -> int:
        """Links between joinable counts."""
        return step_links(self.bike.chain.offset_link)

    @property
    def bare_wrap_links(self) -> float:
        """Length round the biggest ring and cog, skipping the derailleur."""
        return float(self.taken.bare_links[:, BIG].max())

    @property
    def recommended_links(self) -> int:
        """The count to cut to."""
        return self.ends.counts[int(self.ends.recommended[0])]

    @property
    def window(self) -> Window | None:
        """The safe counts; None where no count is safe at both ends."""
        safe = [links for links, is_safe in zip(self.ends.counts, self.ends.safe[0], strict=True) if is_safe]
        return Window(safe[0], safe[-1]) if safe else None

    def settled_for(self, counts: Sequence[int]) -> Settled:
        """Where the cages rest for any counts: read off where they are in reach, solved where not."""
        if set(counts) <= set(self.ends.counts):
            return self.settled.at([self.ends.counts.index(links) for links in counts])
        return settle(self.taken, counts)

    def ends_for(self, counts: Sequence[int]) -> Ends:
        """Both ends for any counts."""
        return ends_of(self.settled_for(counts), counts)

    def gears(self, links: int) -> tuple[Gear, ...]:
        """Every gear with the chain at a count."""
        settled = self.settled_for([links])
        return tuple(_gear(pair, settled, i) for i, pair in enumerate(self.all_gears))

    def resting_rad(self, ring: int, cog: int, links: int) -> float:
        """Cage angle in one gear; where the count is short or loose, the end of the sweep nearest to it."""
        i, settled = self.all_gears.index((ring, cog)), self.settled_for([links])
        if settled.short[0, i, 0]:
            return float(self.taken.stretched_rad[0, i, 0])
        return float(self.taken.slackest_rad[0, i, 0] if settled.loose[0, i, 0] else settled.cage_rad[0, i, 0])

    @cached_property
    def lowest_tension_mm(self) -> float:
        """Height of the tension pulley's centre when the cage hangs straight down at the largest cog, mm."""
        path = self.path(self.bike.biggest_ring, self.bike.biggest_cog, 0.0)
        return float(np.squeeze(path.stops[path.index(TENSION)].y_mm))

    def path(self, ring: int, cog: int, cage_rad: float) -> Path:
        """The loop in one gear with the cage at an angle; arrays of shape (1, 1, 1)."""
        i = self.all_gears.index((ring, cog))
        return self.taken.loop.of_gear(i).path(np.full((1, 1, 1), cage_rad))


def size_bike(bike: Bike) -> Sizing:
    """Every gear of the bike at every count in reach.

    Raises: Refused where parts overlap.
    """
    poses = poses_of(bike)
    all_gears = tuple((r, c) for r in sorted(bike.rings, reverse=True) for c in sorted(bike.cogs, reverse=True))
    taken = take_up(poses, gears_of(all_gears))
    counts = counts_in_reach(bike, taken)
    settled = settle(taken, counts)
    return Sizing(bike, poses, all_gears, taken, settled, ends_of(settled, counts))


def clock_of(cage_deg: float) -> str:
    """The cage as a clock hand seen from the drive side, to five minutes.

    >>> clock_of(0), clock_of(90), clock_of(-30)
    ('6:00', '3:00', '7:00')
    """
    minutes = round((6 - cage_deg / 30) * 60 / 5) * 5 % 720
    return f"{minutes // 60 or 12}:{minutes % 60:02d}"


def _gear(pair: tuple[int, int], settled: Settled, i: int) -> Gear:
    if settled.short[0, i, 0] or settled.loose[0, i, 0]:
        return Gear(*pair, None, None, None, None, None, "short" if settled.short[0, i, 0] else "loose")
    cage_deg, reserve_deg = (float(np.degrees(a[0, i, 0])) for a in (settled.cage_rad, settled.reserve_rad))
    spare, clearance = (float(a[0, i, 0]) for a in (settled.spare_links, settled.clearance_mm))
    state: GearState = "safe"
    if clearance < limit("least_clearance"):
        state = "touching"
    elif reserve_deg < limit("least_reserve"):
        state = "tight"
    return Gear(*pair, cage_deg, clock_of(cage_deg), reserve_deg, spare, clearance, state)
