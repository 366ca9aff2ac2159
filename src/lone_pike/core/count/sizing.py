"""One sizing of one bike: every count in reach along its travel, the window and the recommended count."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import cached_property, lru_cache

import numpy as np

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.take_up import as_a
from lone_pike.core.bike.teeth import Array
from lone_pike.core.chain.counting import step_links
from lone_pike.core.chain.path import trace
from lone_pike.core.motion.poses import Gears, Poses, all_gears, bare_stops, end_gears, gears_of, poses_of
from lone_pike.core.route.routing import RouteTrouble, route_troubles
from lone_pike.core.take_up.cage import BIG, SMALL, Cage
from lone_pike.core.take_up.kinds import take_up_of
from lone_pike.core.take_up.protocol import Margins, Safety, TakeUp, safety_of
from lone_pike.core.take_up.standing import FixedCentres

EVEN_TRAVELS, NEAR_WORST = 9, 3
CACHE_SIZE = 64


@dataclass(frozen=True)
class Window:
    """Shortest and longest safe count, links."""

    min: int
    max: int


@dataclass(frozen=True)
class Sizing:
    """What was computed for a bike as measured: its take-up in all gears, at all counts in reach, along its travel."""

    bike: Bike
    travels_mm: Array
    poses: Poses
    take_up: TakeUp
    in_reach: Margins
    troubles: tuple[RouteTrouble, ...] = ()
    """The parts of the chain's route that a mechanic should check."""

    @property
    def cage(self) -> Cage:
        """Its cage or arm, for the pictures and schools that need one. Raises: TypeError if it has none."""
        return as_a(Cage, self.take_up)

    @property
    def fixed(self) -> FixedCentres:
        """Its fixed centres, for the pictures that need them. Raises: TypeError if it has a cage or an arm."""
        return as_a(FixedCentres, self.take_up)

    @property
    def step_links(self) -> int:
        """Links between joinable counts."""
        return step_links(self.bike.chain.offset_link)

    @property
    def bare_wraps_links(self) -> Array:
        """Length round the largest ring and cog, skipping the take-up, at each travel (T,)."""
        return self.take_up.bare_wraps_links

    @cached_property
    def bare_wraps_without_idlers_links(self) -> Array | None:
        """The bare wrap with the chain straight from ring to cog, which shows what the idlers add; None without
        idlers."""
        if not self.bike.idlers:
            return None
        straight = replace(self.poses, drive_idlers=(), return_idlers=())
        return np.asarray(trace(bare_stops(straight, end_gears(self.bike))).links)[:, BIG, 0]

    @cached_property
    def bare_wrap_links(self) -> float:
        """The bare wrap at the travel where it is longest."""
        return float(self.bare_wraps_links.max())

    @property
    def worst_travel_mm(self) -> float:
        """The travel at which big/big needs most chain."""
        return float(self.travels_mm[self.bare_wraps_links.argmax()])

    @cached_property
    def recommended_links(self) -> int:
        """The count to cut to, by the window."""
        return self.in_reach.recommended

    @cached_property
    def window(self) -> Window | None:
        """The safe counts; None where no count is safe at both ends."""
        safe = self.in_reach.safe_counts
        return Window(safe[0], safe[-1]) if safe else None

    def margins(self, counts: Sequence[int]) -> Margins:
        """What counts keep at both ends; looked up if they are in reach, computed if not."""
        if set(counts).issubset(self.in_reach.counts):
            return self.in_reach.of(counts)
        return self.take_up.margins(counts)

    def safety(self, count: int) -> Safety:
        """What a count stands on."""
        return safety_of(*self.take_up.kept(count))

    def worst_travels_mm(self, count: int) -> Array:
        """The travels at which a count is nearest to either end, and the two ends of the travel; an error in a measure
        moves the worst travel."""
        travels_mm = self.travels_mm.tolist()
        worst_mm = (travels_mm[i] for i in self.take_up.worst_poses(count))
        return np.array(sorted({*worst_mm, travels_mm[0], travels_mm[-1]}))


def size_bike(bike: Bike) -> Sizing:
    """Every gear of the bike at every count in reach, along its travel.

    Raises: InvalidInput where parts overlap.
    """
    sizing = _size_along(bike, travels_to_size(bike))
    if not bike.idlers:
        return sizing
    counts = sizing.in_reach.safe_counts or [sizing.in_reach.recommended]
    return replace(sizing, troubles=route_troubles(sizing.cage, counts))


@lru_cache(maxsize=CACHE_SIZE)
def size_at(bike: Bike, travel_mm: float) -> Sizing:
    """The bike held at one travel. Its route is not checked, because an idler may be reached only at another travel.

    Raises: InvalidInput where parts overlap.
    """
    return _size_along(bike, np.array([travel_mm]))


def _size_along(bike: Bike, travels_mm: Array) -> Sizing:
    poses = poses_of(bike, travels_mm)
    return size_in(bike, travels_mm, poses, gears_of(all_gears(bike)))


def size_in(bike: Bike, travels_mm: Array, poses: Poses, gears: Gears) -> Sizing:
    """The bike in the given poses, one for each travel."""
    take_up = take_up_of(bike, poses, gears)
    in_reach = take_up.margins(take_up.counts_in_reach())
    return Sizing(bike, travels_mm, poses, take_up, in_reach)


def travels_to_size(bike: Bike) -> Array:
    """Travels at which the worst of every gear is found, mm: even ones from rest to bottomed out, and every millimetre
    around the longest and the shortest wrap of big/big and small/small. The wraps do not involve the cage, so computing
    them for every millimetre costs little.

    Source: model, section 4.
    """
    if not bike.travel_mm:
        return np.zeros(1)
    every_mm = np.append(np.arange(0.0, bike.travel_mm, 1.0), bike.travel_mm)
    wraps = np.asarray(trace(bare_stops(poses_of(bike, every_mm), end_gears(bike))).links)[:, :, 0]
    turning = [int(wraps[:, BIG].argmax()), int(wraps[:, SMALL].argmin())]
    near = [every_mm[max(0, i - NEAR_WORST) : i + NEAR_WORST + 1] for i in turning]
    travels_mm = np.sort(np.concatenate([np.linspace(0, bike.travel_mm, EVEN_TRAVELS), *near]))
    # The library's own search for unique values loads a module that nothing else here needs.
    return np.asarray(travels_mm[np.append(True, np.diff(travels_mm) > 0)])
