"""A derailleur as a take-up: the cage turns, and it keeps degrees at one end and clearance at the other."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from math import isnan
from typing import ClassVar

import numpy as np
from numpy.typing import NDArray

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.limits import limit
from lone_pike.core.bike.measures import ALWAYS, Measure
from lone_pike.core.bike.teeth import Array
from lone_pike.core.chain.counting import as_new_links, joins_at, step_links
from lone_pike.core.chain.path import ChainPath, trace
from lone_pike.core.messages import Message, deg, mm
from lone_pike.core.motion.poses import Gears, Poses, all_gears, bare_stops
from lone_pike.core.take_up.cage_trials import larger_cog_trials, mending_trials
from lone_pike.core.take_up.caged_loop import TurnedLoop
from lone_pike.core.take_up.protocol import Capacity, Fit, Gear, GearState, Margins, Trial, stay_out_message
from lone_pike.core.take_up.sights import Sights, cage_sights, least_between
from lone_pike.core.take_up.sweep import EPSILON, Settled, Sweep, at_rest, settle

BIG, SMALL = 0, -1
"""Big/big stands first among the gears, small/small last."""

SHOWN_BEYOND = 4
"""How many counts below and above the possible ones are still judged, because rules of thumb can give them."""


@dataclass(frozen=True)
class Cage:
    """A bike's cage in P poses and G gears, big/big first and small/small last."""

    bike: Bike
    poses: Poses
    sweep: Sweep
    wheels: Gears

    schools: ClassVar[tuple[str, ...]] = (
        *("makers_sheet", "bare_wrap_1_pair", "bare_wrap_2_pairs", "overlap_floor", "by_cogs", "tight_and_quiet"),
        *("formula", "cage_vertical", "slack_test", "least_tension", "cage_clock", "sized_at_rest", "old_chain"),
    )
    always_measured: ClassVar[tuple[Measure, ...]] = ALWAYS
    rests_at_an_end: ClassVar[bool] = False
    """Whether its rest position counts as the other end of its movement, and is drawn."""

    @cached_property
    def gear_teeth(self) -> tuple[tuple[int, int], ...]:
        """Ring and cog of each gear of the bike as measured."""
        return all_gears(self.bike)

    @cached_property
    def bare_wraps_links(self) -> Array:
        """Length round the largest ring and cog without the cage, (P,)."""
        largest = Gears(self.wheels.ring_teeth[:, :1], self.wheels.cog_teeth[:, :1])
        return np.asarray(trace(bare_stops(self.poses, largest)).links)[:, BIG, 0]

    @cached_property
    def _in_reach(self) -> range:
        limits, chain = self.bike.limits, self.bike.chain
        shortest, step = float(self.sweep.stretched_links[:, BIG].max()), step_links(chain.offset_link)
        least_rad = self.sweep.stretched_rad[:, BIG, 0] - np.radians(limits.least_reserve_deg)
        long_enough = self.sweep.scanned_links(BIG, least_rad)
        longest = max(shortest, float(self.sweep.slackest_links[:, SMALL].min()), float(long_enough.max()))
        first, last = joins_at(chain, shortest), joins_at(chain, longest)
        return range(first - SHOWN_BEYOND * step, last + SHOWN_BEYOND * step + 1, step)

    @cached_property
    def _settled_in_reach(self) -> tuple[Settled, TurnedLoop]:
        return at_rest(self.sweep, as_new_links(self._in_reach, self.bike.chain.stretch))

    @property
    def usual_count(self) -> int:
        """The shortest count that keeps the trade's least reserve in big/big, whatever a shop wants."""
        least_rad = self.sweep.stretched_rad[:, BIG, 0] - np.radians(limit("least_reserve"))
        return joins_at(self.bike.chain, float(self.sweep.scanned_links(BIG, least_rad).max()))

    def is_taut(self, gear: int, count: int) -> bool:
        """Whether the chain neither hangs nor is too short in one gear at the first pose."""
        settled = self.settled([count])
        return not (settled.short.item(0, gear, 0) or settled.loose.item(0, gear, 0))

    def counts_in_reach(self) -> range:
        """Every joinable count from a few too short for big/big to a few too long for small/small."""
        return self._in_reach

    def settled(self, counts: Sequence[int]) -> Settled:
        """Where the cages rest with given counts: looked up if these are in reach, computed if not."""
        reach, (first, *_, last) = self._in_reach, (counts[0], *counts)
        if first in reach and last in reach:
            some = slice(reach.index(first), reach.index(last) + 1)
            if tuple(reach[some]) == tuple(counts):
                return self._settled_in_reach[0].at(some)
        return settle(self.sweep, as_new_links(counts, self.bike.chain.stretch))

    def margins(self, counts: Sequence[int], variants: int | None = None) -> Margins:
        """Reserve in big/big and clearance in small/small beyond what the shop wants kept, degrees and mm."""
        if variants is not None:
            return self._kept(settle(self.sweep, as_new_links(counts, self.bike.chain.stretch)), counts, variants)
        if counts == self._in_reach:
            return self._margins_in_reach
        return self._kept(self.settled(counts), counts)

    @cached_property
    def _margins_in_reach(self) -> Margins:
        return self._kept(self._settled_in_reach[0], self._in_reach)

    def _kept(self, settled: Settled, counts: Sequence[int], variants: int = 1) -> Margins:
        """Reserve in big/big and clearance in small/small; none if any gear is too short or hangs."""
        short, loose = (np.asarray(flags.any(axis=1)) for flags in (settled.short, settled.loose))
        reserve = np.where(settled.loose[:, BIG], np.inf, np.degrees(settled.reserve_rad[:, BIG]))
        air = np.where(settled.short[:, SMALL], np.inf, settled.clearance_mm[:, SMALL])

        def worst(values: Array, none: NDArray[np.bool_]) -> Array:
            kept = np.where(none, -np.inf, values)
            return np.asarray(kept.reshape(variants, -1, len(counts)).min(axis=1))

        limits = self.bike.limits
        return Margins(
            counts=tuple(counts),
            at_short=worst(reserve, short) - limits.least_reserve_deg,
            at_long=worst(air, loose) - limits.least_clearance_mm,
            wanted=limit("wanted_reserve") - limits.least_reserve_deg,
        )

    def reserve_deg(self, count: int) -> float:
        """Worst reserve in big/big, degrees; -inf if the chain is too short, inf if it hangs."""
        at_short, _ = self.kept(count)
        return at_short + self.bike.limits.least_reserve_deg

    def air_mm(self, count: int) -> float:
        """Worst guide clearance in small/small, mm; -inf if the chain hangs, inf if it is too short."""
        _, at_long = self.kept(count)
        return at_long + self.bike.limits.least_clearance_mm

    def kept(self, count: int) -> tuple[float, float]:
        """What one count keeps at both ends beyond what the shop wants kept, degrees and mm."""
        if count in self._in_reach:
            return self._margins_in_reach.kept(count)
        if count not in self._kept_out_of_reach:
            self._kept_out_of_reach[count] = self.margins([count]).kept(count)
        return self._kept_out_of_reach[count]

    @cached_property
    def _kept_out_of_reach(self) -> dict[int, tuple[float, float]]:
        """The results for counts out of reach, cached."""
        return {}

    def meaning(self, count: int) -> Message:
        """What a count does at both ends, in half a sentence."""
        reserve, air, limits = self.reserve_deg(count), self.air_mm(count), self.bike.limits
        wanted = deg(limits.least_reserve_deg)
        on_edge = abs(reserve - limits.least_reserve_deg) < limit("near_reserve")
        if reserve == -np.inf:
            return Message("too_short_for_cage")
        if reserve < limits.least_reserve_deg:
            return Message("reserve_on_edge" if on_edge else "reserve_too_little", reserve=deg(reserve), wanted=wanted)
        if air == -np.inf:
            return Message("hangs_loose")
        if air < 0:
            return Message("touches_guide_pulley")
        if air < limits.least_clearance_mm:
            return Message("air_too_little", air=mm(air), wanted=mm(limits.least_clearance_mm))
        if on_edge:
            return Message("keeps_both_ends_on_edge", reserve=deg(reserve), wanted=wanted, air=mm(air))
        return Message("keeps_both_ends", reserve=deg(reserve), air=mm(air))

    def wanted_message(self) -> Message:
        """The wanted reserve."""
        return Message("nearest_to_reserve", wanted=deg(limit("wanted_reserve")))

    def absorbs_message(self, count: int) -> Message | None:  # noqa: ARG002 - the window says it of every count
        """None, because the window says it."""
        return None

    def none_safe(self, gears: tuple[Gear, ...]) -> Message:
        """The notice that no count is safe at both ends, with the gears in which the chain touches itself or hangs."""
        return stay_out_message(gears)

    def gears(self, count: int) -> tuple[Gear, ...]:
        """Every gear with the chain at a count: the least reserve of its poses with its cage, spare and clearance."""
        settled = self.settled([count])
        short, loose = (np.asarray(flags.any(axis=(0, 2))).tolist() for flags in (settled.short, settled.loose))
        # If poses differ only by the turn of the whole, the first is the worst.
        worst_rad = settled.reserve_rad.min(axis=0) + EPSILON
        worst = (settled.reserve_rad <= worst_rad)[..., 0].argmax(axis=0), np.arange(len(self.gear_teeth)), 0
        cage, reserve = (np.degrees(values[worst]).tolist() for values in (settled.cage_rad, settled.reserve_rad))
        spare_links = as_new_links([count], self.bike.chain.stretch) - self.sweep.stretched_links
        air, travel_mm = settled.clearance_mm.min(axis=(0, 2)).tolist(), np.asarray(self.poses.axle_y_mm).ravel()
        spare = [least_between(travel_mm, spare_links[:, i, 0]) for i in range(len(self.gear_teeth))]
        resting = np.degrees(settled.cage_rad[0, :, 0]).tolist()

        def gear(i: int) -> Gear:
            ring, cog = self.gear_teeth[i]
            rest_deg = None if isnan(resting[i]) else resting[i]
            if short[i] or loose[i]:
                state = GearState.SHORT if short[i] else GearState.LOOSE
                return Gear(ring, cog, None, None, None, None, state, rest_deg)
            return Gear(ring, cog, cage[i], reserve[i], spare[i], air[i], self._state(reserve[i], air[i]), rest_deg)

        return tuple(map(gear, range(len(self.gear_teeth))))

    def _state(self, reserve_deg: float, clearance_mm: float) -> GearState:
        if clearance_mm < self.bike.limits.least_clearance_mm:
            return GearState.TOUCHING
        return GearState.TIGHT if reserve_deg < self.bike.limits.least_reserve_deg else GearState.SAFE

    def worst_poses(self, count: int) -> NDArray[np.int_]:
        """The travels at which a count is nearest to being too short, and nearest to touching itself."""
        settled = self.settled([count])
        reserve = np.where(settled.short[:, BIG], -np.inf, _or_inf(settled.reserve_rad[:, BIG]))
        air = np.where(settled.loose[:, SMALL], -np.inf, _or_inf(settled.clearance_mm[:, SMALL]))
        return np.array(sorted({int(reserve.argmin()), int(air.argmin())}))

    def sights(self, seen: Sequence[tuple[int, float]]) -> tuple[Sights, ...]:
        """The cage's hand, its movement left, and the clearance under the guide pulley."""
        return cage_sights(self.sweep, self.bike.chain.stretch, seen)

    def reserves_deg(self, count: int) -> Array:
        """Reserve in big/big at each pose, degrees: 0 if the chain is too short, 180 if it hangs, (P,)."""
        settled = self.settled([count])
        reserve = np.degrees(np.where(settled.loose, np.pi, settled.reserve_rad))
        return np.asarray(np.where(settled.short, 0.0, reserve)[:, BIG, 0])

    def resting_rad(self, ring: int, cog: int, count: int) -> float:
        """Cage angle in one gear at the first pose; if it finds no rest, the nearest end of the sweep."""
        i, settled = self.gear_teeth.index((ring, cog)), self.settled([count])
        if settled.short.item(0, i, 0):
            return self.sweep.stretched_rad.item(0, i, 0)
        return self.sweep.slackest_rad.item(0, i, 0) if settled.loose.item(0, i, 0) else settled.cage_rad.item(0, i, 0)

    def stretched_rad(self, ring: int, cog: int) -> float:
        """Cage angle in one gear at the first pose with the cage pulled straight."""
        return self.sweep.stretched_rad.item(0, self.gear_teeth.index((ring, cog)), 0)

    def plumb_links(self, ring: int, cog: int) -> float:
        """Length of the loop in one gear at the first pose with the cage plumb, links; nan where it cannot be."""
        scanned = self.sweep.plumb_links(0, self.gear_teeth.index((ring, cog)))
        return float(self.path(ring, cog, 0.0).links) if scanned is None else scanned

    def resting_path(self, ring: int, cog: int, count: int) -> ChainPath:
        """The loop in one gear at the first pose as the chain runs at a count; numbers, no arrays."""
        i, cage_rad = self.gear_teeth.index((ring, cog)), self.resting_rad(ring, cog, count)
        settled, resting = self._settled_in_reach
        if count in self._in_reach:
            k = self._in_reach.index(count)
            if cage_rad == settled.cage_rad.item(0, i, k):
                return resting.path.only(0, i, k)
        return self.path(ring, cog, cage_rad)

    def running(self, counts: Sequence[int]) -> ChainPath:
        """The loops of all poses and gears as the chain runs at counts in reach, (P, G, K)."""
        return at_rest(self.sweep, as_new_links(counts, self.bike.chain.stretch))[1].path

    def path(self, ring: int, cog: int, cage_rad: float) -> ChainPath:
        """The loop in one gear at the first pose with the cage at an angle; numbers, no arrays."""
        with np.errstate(invalid="ignore"):
            return self.sweep.loop.turned(np.full((1, 1, 1), cage_rad)).path.only(
                0, self.gear_teeth.index((ring, cog)), 0
            )

    def fits(self) -> tuple[Fit, ...]:
        """None, because the frame decides where the axle is."""
        return ()

    def capacity(self) -> Capacity:
        """The capacity: teeth between the end gears, and the ratings of the derailleur."""
        bike = self.bike
        needed = bike.largest_ring - bike.smallest_ring + bike.largest_cog - bike.smallest_cog
        return Capacity(needed, bike.derailleur.capacity, bike.largest_cog, bike.derailleur.max_cog)

    def counts_of_all(self) -> range:
        """Every joinable count from the shortest loop in big/big to the longest in small/small, over all poses."""
        chain, sweep = self.bike.chain, self.sweep
        shortest = float(np.fmin.reduce(sweep.stretched_links[:, BIG], axis=None))
        longest = float(np.fmax.reduce(sweep.slackest_links[:, SMALL], axis=None))
        if isnan(shortest + longest):
            return range(0)
        first, last = joins_at(chain, shortest), joins_at(chain, max(shortest, longest))
        return range(first, last + 1, step_links(chain.offset_link))

    def mends(self) -> Mapping[str, Sequence[Trial]]:
        """Longer cage classes, smaller largest cogs, larger smallest rings."""
        return mending_trials(self.bike)

    def with_larger_cogs(self) -> Sequence[Trial]:
        """Bikes with the largest cog a tooth larger, then two, and so on."""
        return larger_cog_trials(self.bike)


def _or_inf(values: Array) -> Array:
    """Values, with far-off ones in place of missing ones."""
    return np.where(np.isnan(values), np.inf, values)
