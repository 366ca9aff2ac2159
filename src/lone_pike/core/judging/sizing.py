"""One sizing of one bike: every gear at every count in reach, the window and the recommended count."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property, lru_cache
from typing import Literal

import numpy as np

from lone_pike.core.bike.document import Bike, EndLimits
from lone_pike.core.bike.faults import invalid, shown
from lone_pike.core.bike.teeth import Array
from lone_pike.core.chain.counting import step_links
from lone_pike.core.chain.path import TURN_RAD, Path, trace
from lone_pike.core.judging.window import BIG, SMALL, Ends, counts_in_reach, ends_of
from lone_pike.core.motion.poses import Poses, bare_stops, end_gears, gears_of, poses_of
from lone_pike.core.take_up.cage import Settled, TakeUp, at_rest, settle, take_up

EVEN_TRAVELS, NEAR_WORST = 9, 3
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
    """What was computed for a bike as measured: all gears, biggest first, at all counts in reach, along its travel."""

    bike: Bike
    travels_mm: Array
    all_gears: tuple[tuple[int, int], ...]
    poses: Poses
    taken: TakeUp
    settled: Settled
    resting: Path
    ends: Ends

    @property
    def step_links(self) -> int:
        """Links between joinable counts."""
        return step_links(self.bike.chain.offset_link)

    @cached_property
    def bare_wraps_links(self) -> Array:
        """Length round the biggest ring and cog, skipping the derailleur, at each travel (T,)."""
        return np.asarray(self.taken.bare_links[:, BIG, 0])

    @property
    def bare_wrap_links(self) -> float:
        """The same where the chain needs most."""
        return float(self.bare_wraps_links.max())

    @property
    def worst_travel_mm(self) -> float:
        """The travel at which the chain needs most."""
        return float(self.travels_mm[self.bare_wraps_links.argmax()])

    @cached_property
    def recommended_links(self) -> int:
        """The count to cut to."""
        return self.ends.counts[int(self.ends.recommended[0])]

    @cached_property
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
        if set(counts) <= set(self.ends.counts):
            return self.ends.at([self.ends.counts.index(links) for links in counts])
        return ends_of(self.settled_for(counts), counts, self.bike.limits)

    def gears(self, links: int) -> tuple[Gear, ...]:
        """Every gear with the chain at a count, the worst of its travel."""
        return _gears(self.all_gears, self.settled_for([links]), self.bike.limits)

    def worst_travels_mm(self, links: int) -> Array:
        """Where on the travel a count is nearest to being too short, and where nearest to touching itself."""
        settled = self.settled_for([links])
        with np.errstate(invalid="ignore"):
            reserve = np.where(settled.short, -np.inf, np.nan_to_num(settled.reserve_rad, nan=np.inf))[:, BIG, 0]
            clearance = np.where(settled.loose, -np.inf, np.nan_to_num(settled.clearance_mm, nan=np.inf))[:, SMALL, 0]
        return np.asarray(self.travels_mm[np.unique([reserve.argmin(), clearance.argmin()])])

    def resting_rad(self, ring: int, cog: int, links: int) -> float:
        """Cage angle in one gear at the first travel; the end of the sweep nearest to it where it finds no rest."""
        i, settled = self.all_gears.index((ring, cog)), self.settled_for([links])
        if settled.short[0, i, 0]:
            return float(self.taken.stretched_rad[0, i, 0])
        return float(self.taken.slackest_rad[0, i, 0] if settled.loose[0, i, 0] else settled.cage_rad[0, i, 0])

    def plumb_links(self, ring: int, cog: int) -> float:
        """Length of the loop in one gear at the first travel with the cage straight down, links."""
        scanned = float(self.taken.plumb_links[0, self.all_gears.index((ring, cog))])
        return float(self.path(ring, cog, 0.0).links) if np.isnan(scanned) else scanned

    def resting_path(self, ring: int, cog: int, links: int) -> Path:
        """The loop in one gear at the first travel as the chain runs at a count; numbers, no arrays."""
        i, cage_rad = self.all_gears.index((ring, cog)), self.resting_rad(ring, cog, links)
        k = self.ends.counts.index(links) if links in self.ends.counts else None
        if k is not None and cage_rad == self.settled.cage_rad[0, i, k]:
            return self.resting.only(0, i, k)
        return self.path(ring, cog, cage_rad)

    def path(self, ring: int, cog: int, cage_rad: float) -> Path:
        """The loop in one gear at the first travel with the cage at an angle; numbers, no arrays."""
        return self.taken.loop.path(np.full((1, 1, 1), cage_rad)).only(0, self.all_gears.index((ring, cog)), 0)


def size_bike(bike: Bike) -> Sizing:
    """Every gear of the bike at every count in reach, along its travel.

    Raises: InvalidInput where parts overlap.
    """
    return _size_along(bike, travels_to_size(bike))


@lru_cache(maxsize=64)
def size_at(bike: Bike, travel_mm: float) -> Sizing:
    """The bike held at one travel.

    Raises: InvalidInput where parts overlap.
    """
    return _size_along(bike, np.array([travel_mm]))


def _size_along(bike: Bike, travels_mm: Array) -> Sizing:
    all_gears = tuple((r, c) for r in sorted(bike.rings, reverse=True) for c in sorted(bike.cogs, reverse=True))
    poses = poses_of(bike, travels_mm)
    taken = take_up(poses, gears_of(all_gears))
    _check_idlers(bike, taken)
    counts = counts_in_reach(bike, taken)
    settled, resting = at_rest(taken, counts)
    return Sizing(bike, travels_mm, all_gears, poses, taken, settled, resting, ends_of(settled, counts, bike.limits))


def _check_idlers(bike: Bike, taken: TakeUp) -> None:
    """Refuses an idler that the chain cannot reach from its side: its wrap would be nearly a whole turn."""
    if not bike.idlers:
        return
    path = taken.loop.path(taken.slackest_rad)
    for run in ("drive", "return"):
        for place, idler in enumerate((one for one in bike.idlers if one.run == run), start=1):
            wrap = np.asarray(path.wraps_rad[path.index(f"{run} idler {place}")])
            if np.isnan(wrap).any() or (wrap > 0.75 * TURN_RAD).any():
                other = "under" if idler.chain == "over" else "over"
                where = f"idlers.{bike.idlers.index(idler)}.chain"
                cure = (
                    f"The chain does not reach the {run} idler from that side: try {other}, or measure its place again."
                )
                raise invalid(where, shown(idler.chain), "a side that the taut chain touches", cure)


def has_window(bike: Bike) -> bool:
    """Whether any count is safe at both ends; the two end gears alone are sized."""
    taken = take_up(poses_of(bike, travels_to_size(bike)), end_gears(bike))
    counts = counts_in_reach(bike, taken)
    return bool(ends_of(settle(taken, counts), counts, bike.limits).safe.any())


def travels_to_size(bike: Bike) -> Array:
    """Travels that find the worst of every gear, mm: even ones from rest to bottomed out, and about the longest
    and the shortest wrap of big/big and small/small every millimetre.

    The wraps skip the cage, so all millimetres of them cost little. Source: model, section 4.
    """
    if not bike.travel_mm:
        return np.zeros(1)
    every_mm = np.append(np.arange(0.0, bike.travel_mm, 1.0), bike.travel_mm)
    wraps = np.asarray(trace(bare_stops(poses_of(bike, every_mm), end_gears(bike))).links)[:, :, 0]
    turning = [int(wraps[:, BIG].argmax()), int(wraps[:, SMALL].argmin())]
    near = [every_mm[max(0, i - NEAR_WORST) : i + NEAR_WORST + 1] for i in turning]
    return np.unique(np.concatenate([np.linspace(0, bike.travel_mm, EVEN_TRAVELS), *near]))


def clock_of(cage_deg: float) -> str:
    """The cage as a clock hand seen from the drive side, to five minutes.

    >>> clock_of(0), clock_of(90), clock_of(-30)
    ('6:00', '3:00', '7:00')
    """
    minutes = round((6 - cage_deg / 30) * 60 / 5) * 5 % 720
    return f"{minutes // 60 or 12}:{minutes % 60:02d}"


def _gears(pairs: tuple[tuple[int, int], ...], settled: Settled, limits: EndLimits) -> tuple[Gear, ...]:
    """The worst of the travel at the one count settled for: the least reserve with its cage, spare and clearance."""
    short, loose = (np.asarray(flags[:, :, 0].any(axis=0)) for flags in (settled.short, settled.loose))
    worst = settled.reserve_rad[:, :, 0].argmin(axis=0), np.arange(len(pairs)), 0
    cage, reserve = (np.degrees(angles[worst]).tolist() for angles in (settled.cage_rad, settled.reserve_rad))
    spare, clearance = (values[:, :, 0].min(axis=0).tolist() for values in (settled.spare_links, settled.clearance_mm))

    def gear(i: int) -> Gear:
        if short[i] or loose[i]:
            return Gear(*pairs[i], None, None, None, None, None, "short" if short[i] else "loose")
        state = _state(reserve[i], clearance[i], limits)
        return Gear(*pairs[i], cage[i], clock_of(cage[i]), reserve[i], spare[i], clearance[i], state)

    return tuple(map(gear, range(len(pairs))))


def _state(reserve_deg: float, clearance_mm: float, limits: EndLimits) -> GearState:
    if clearance_mm < limits.least_clearance_mm:
        return "touching"
    return "tight" if reserve_deg < limits.least_reserve_deg else "safe"
