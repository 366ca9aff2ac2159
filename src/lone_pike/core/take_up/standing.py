"""The take-ups that stand: an axle in its slot, a crank on its eccentric, or nothing that moves (model, section 5).

One count serves all gears of the bike; each gear has its own place of axle or crank. Lengths are in mm. Arrays have
three axes: V variants of the measures, G gears, K counts.
"""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from math import cos, isnan, radians, sin

import numpy as np
from numpy.typing import NDArray

from lone_pike.core.bike.base import COG_SIZES, RING_SIZES
from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.limits import PITCH_MM, limit
from lone_pike.core.bike.measures import Measure
from lone_pike.core.bike.take_up import Moves, as_a
from lone_pike.core.bike.take_ups import AxlePlace, Standing
from lone_pike.core.bike.teeth import Array
from lone_pike.core.chain.counting import as_new_links, joins_at, step_links
from lone_pike.core.chain.path import CLOCKWISE, ChainPath, Stop, trace
from lone_pike.core.chain.stops import COG, RING
from lone_pike.core.messages import Message, links, mm
from lone_pike.core.motion.poses import Gears
from lone_pike.core.take_up.crank import axle_from_shell_mm, axle_from_shell_xy_mm, crank_deg
from lone_pike.core.take_up.protocol import Capacity, Fit, Gear, GearPlace, GearState, Margins, Trial, safety_of
from lone_pike.core.take_up.sights import Sights, sights
from lone_pike.core.take_up.wheels_apart import links_round, movement_mm, span_mm, stands_at_mm, taut_centre_mm

SHOWN_BEYOND = 4
TOO_SHORT_WEIGHT = 30.0
"""A chain that is one millimetre too short to go on counts as far from taut as one with this many mm of slack."""

NEAR_CHANGES = (1, -1, 2, -2, 3, -3)
"""By how many teeth other rings and cogs are tried, smallest change first."""

MEANINGS: dict[Moves, tuple[str, str, str]] = {
    Moves.AXLE: ("slot_too_short", "slot_too_long", "slot_holds"),
    Moves.CRANK: ("eccentric_too_short", "eccentric_too_long", "eccentric_holds"),
    Moves.NOTHING: ("none_too_short", "none_too_long", "none_holds"),
}
BEST = {
    AxlePlace.MIDDLE: "nearest_to_middle",
    AxlePlace.FORWARD: "nearest_to_forward",
    AxlePlace.KILOMETRES: "nearest_to_kilometres",
}
"""Codes of the sentences about a count's place of axle or crank, and about the best place."""


@dataclass(frozen=True)
class FixedCentres:
    """A bike whose chain is tightened by moving axle or crank, in V variants of its wheels and measures. near_mm and
    far_mm are the least and the most centre distance, (V, G, 1): the two ends of the slot, of the eccentric's circle,
    or of what the allowed slack permits if nothing moves."""

    bike: Bike
    wheels: Gears
    near_mm: Array
    far_mm: Array
    gear_teeth: tuple[tuple[int, int], ...]

    schools = ("formula", "old_chain")

    @property
    def part(self) -> Standing:
        """What stands, as measured."""
        return as_a(Standing, self.bike.take_up)

    @property
    def always_measured(self) -> tuple[Measure, ...]:
        """The chainstay, if the length depends on it; a slot is measured by its ends."""
        return () if self.part.places_axle else ("chainstay_mm",)

    @property
    def near_links(self) -> Array:
        """Length round ring and cog with axle or crank at the near end, (V, G, 1)."""
        return links_round(self.wheels.ring_teeth, self.wheels.cog_teeth, self.near_mm)

    @property
    def far_links(self) -> Array:
        """Length round ring and cog with axle or crank at the far end, (V, G, 1)."""
        return links_round(self.wheels.ring_teeth, self.wheels.cog_teeth, self.far_mm)

    @property
    def bare_wraps_links(self) -> Array:
        """Length round the first gear at the near end, (V,)."""
        return self.near_links[:, 0, 0]

    def centres_mm(self, counts: Sequence[int] | Array) -> Array:
        """The centre distance at which each count is taut in each gear, (V, G, K); -inf if it is far too short.

        A worn chain is longer: N (1 + w) links (model, section 5).
        """
        worn_links = as_new_links(counts, self.bike.chain.stretch)
        centres = taut_centre_mm(self.wheels.ring_teeth, self.wheels.cog_teeth, worn_links)
        return np.where(np.isnan(centres), -np.inf, centres)

    def counts_in_reach(self) -> range:
        """Every joinable count from a few too short at the near end to a few too long at the far one."""
        chain, step = self.bike.chain, step_links(self.bike.chain.offset_link)
        first = joins_at(chain, float(self.near_links[:1].min()))
        last = max(first, joins_at(chain, float(self.far_links[:1].max())))
        return range(first - SHOWN_BEYOND * step, last + SHOWN_BEYOND * step + 1, step)

    def margins(self, counts: Sequence[int], variants: int | None = None) -> Margins:
        """The room to the near end and to the far one, mm, the least of all gears."""
        centres = np.broadcast_to(self.centres_mm(counts), (variants or 1, len(self.wheels.ring_teeth[0]), len(counts)))
        ahead, behind = (centres - self.near_mm).min(axis=1), (self.far_mm - centres).min(axis=1)
        forward = self._wanted_place is not AxlePlace.MIDDLE
        length_mm = float((self.far_mm - self.near_mm)[0].min())
        return Margins(tuple(counts), ahead, behind, 0.0 if forward else length_mm / 2)

    @property
    def _wanted_place(self) -> AxlePlace:
        """The best place for axle or crank; as near as possible if nothing moves."""
        return self.part.best

    @cached_property
    def _in_reach(self) -> Margins:
        return self.margins(self.counts_in_reach())

    def kept(self, count: int) -> tuple[float, float]:
        """The room to the near end and to the far one for one count, mm."""
        known = self._in_reach if count in self._in_reach.counts else self.margins([count])
        return known.kept(count)

    def meaning(self, count: int) -> Message:
        """Where a count puts axle or crank, in half a sentence."""
        ahead, behind = self.kept(count)
        too_short, too_long, holds = MEANINGS[self.part.moves]
        if ahead == -np.inf:
            return Message("goes_round_nothing")
        if ahead < 0:
            return Message(too_short, missing=mm(-ahead))
        if behind < 0:
            return Message(too_long, missing=mm(-behind))
        return Message(holds, ahead=mm(ahead), behind=mm(behind))

    def absorbs_message(self, count: int) -> Message | None:  # noqa: ARG002 - the window says it of every count
        """None, because the window says it."""
        return None

    def none_safe(self, gears: tuple[Gear, ...]) -> Message:  # noqa: ARG002 - what is missing is the same in all
        """The notice with what the longest count that is too short and the shortest that is too long lack, mm of centre
        distance."""
        kept = {count: self.kept(count) for count in self._in_reach.counts}
        shorter = max(count for count, (ahead, _) in kept.items() if ahead < 0)
        longer = min(count for count, (_, behind) in kept.items() if behind < 0)
        lacks = {"ahead": mm(-kept[shorter][0]), "behind": mm(-kept[longer][1])}
        return Message("no_count_fits", shorter=links(shorter), longer=links(longer), **lacks)

    def wanted_message(self) -> Message:
        """The message of the best place for axle or crank."""
        return Message(BEST[self._wanted_place])

    def gears(self, count: int) -> tuple[Gear, ...]:
        """Its gears with the chain at a count."""
        centres = self.centres_mm([count])[0, :, 0]
        ahead, behind = centres - self.near_mm[0, :, 0], self.far_mm[0, :, 0] - centres
        return tuple(
            Gear(ring, cog, None, None, None, None, GearState(safety_of(a, b)), None)
            for (ring, cog), a, b in zip(self.gear_teeth, ahead.tolist(), behind.tolist(), strict=True)
        )

    def places(self, count: int) -> tuple[GearPlace, ...]:
        """The places of axle or crank in each gear with a count taut."""
        (places,) = self.places_of([count])
        return places

    def places_of(self, counts: Sequence[int]) -> list[tuple[GearPlace, ...]]:
        """The places of axle or crank at several counts, all solved at once."""
        near, far = self.near_mm[0, :, 0].tolist(), self.far_mm[0, :, 0].tolist()
        return [
            tuple(
                GearPlace(ring, cog, centre, centre - first, last - centre, self.crank_deg(centre))
                for (ring, cog), centre, first, last in zip(self.gear_teeth, centres, near, far, strict=True)
            )
            for centres in self.centres_mm(counts)[0].T.tolist()
        ]

    def crank_deg(self, centre_mm: float) -> float | None:
        """The crank's place on its circle for a centre distance, degrees forward of straight down, on the lower half;
        None if there is no eccentric, or it does not reach."""
        if not self.part.crank_radius_mm or not np.isfinite(centre_mm):
            return None
        turned_deg = float(crank_deg(self.bike, centre_mm, self.axle_away_mm, self.part.crank_radius_mm))
        return None if isnan(turned_deg) else turned_deg

    def resting_path(self, ring: int, cog: int, count: int) -> ChainPath:
        """The loop in one gear with axle or crank where the count is taut, or as near to that place as possible."""
        i = self.gear_teeth.index((ring, cog)) if (ring, cog) in self.gear_teeth else 0
        ring, cog = self.gear_teeth[i]
        near, far = self.near_mm.item(0, i, 0), self.far_mm.item(0, i, 0)
        taut = self.centres_mm([count]).item(0, i, 0)
        return self.path_at(ring, cog, min(max(taut, near), far))

    def path_at(self, ring: int, cog: int, centre_mm: float) -> ChainPath:
        """The loop in one gear at a centre distance: the axle there in its slot, or the crank on its eccentric."""
        (x_mm, y_mm), (ring_x, ring_y) = axle_from_shell_xy_mm(self.bike), (0.0, 0.0)
        if self.part.moves is Moves.AXLE:
            share = centre_mm / self.bike.chainstay_length_mm
            x_mm, y_mm = x_mm * share, y_mm * share
        turn_deg = self.crank_deg(centre_mm)
        if turn_deg is not None:
            turn, radius = radians(turn_deg), self.part.crank_radius_mm
            ring_x, ring_y = radius * sin(turn), -radius * cos(turn)
        stops = [Stop(RING, ring_x, ring_y, ring, CLOCKWISE), Stop(COG, x_mm, y_mm, cog, CLOCKWISE)]
        return trace(stops).only()

    @property
    def axle_away_mm(self) -> float:
        """The axle's place from the crank, or on an eccentric from the shell's centre."""
        return axle_from_shell_mm(self.bike)

    def worst_poses(self, count: int) -> NDArray[np.int_]:  # noqa: ARG002 - the same whatever the count
        """The index of the only pose of a rigid frame."""
        return np.zeros(1, dtype=np.int_)

    def fits(self) -> tuple[Fit, ...]:
        """The counts that fit in every gear, with the room behind the axle and the wear that it can take up, the least
        of all gears.

        Equation: wear = L(far end) / N - 1 (model, section 5).
        """
        counts = self._in_reach.safe_counts
        room = [self.kept(count)[1] for count in counts]
        centres = self.centres_mm(counts)[0, 0].tolist() if counts else []
        far_links = float(self.far_links[0].min())
        return tuple(
            Fit(count, count % 2 == 1, centre, behind, 100 * (far_links / count - self.bike.chain.stretch))
            for count, centre, behind in zip(counts, centres, room, strict=True)
        )

    def capacity(self) -> Capacity:
        """None: without a cage there is no capacity."""
        return Capacity(0, None, self.bike.largest_cog, None)

    def counts_of_all(self) -> range:
        """The counts in reach."""
        return self.counts_in_reach()

    def mends(self) -> Mapping[str, Sequence[Trial]]:
        """Bikes with one or two teeth more or less on ring or cog, smallest change first; empty if several gears share
        the count."""
        if len(self.gear_teeth) > 1:
            return {}
        (ring, cog), *_ = self.gear_teeth
        cogs, rings = (
            [size + n for n in NEAR_CHANGES if sizes[0] <= size + n <= sizes[1]]
            for size, sizes in ((cog, COG_SIZES), (ring, RING_SIZES))
        )
        return {
            "another_cog": [Trial(other, (ring, ring), (other, other), {}) for other in cogs],
            "another_ring": [Trial(other, (other, other), (cog, cog), {}) for other in rings],
        }

    def sights(self, seen: Sequence[tuple[int, float]]) -> tuple[Sights, ...]:
        """The slack if nothing moves; otherwise the place of axle or crank for the wanted slack."""
        return tuple(self._sights_of(*one) for one in seen)

    def _sights_of(self, gear: int, count: float) -> Sights:
        ring, cog = (teeth[:, gear, 0] for teeth in (self.wheels.ring_teeth, self.wheels.cog_teeth))
        near_mm, far_mm = self.near_mm[:, gear, 0], self.far_mm[:, gear, 0]
        links, poses = count * self.bike.chain.stretch, len(near_mm)
        if self.part.moves is Moves.NOTHING:
            spare_mm = (links - links_round(ring, cog, near_mm)) * PITCH_MM
            slack_mm = movement_mm(spare_mm, span_mm(ring, cog, near_mm)) + TOO_SHORT_WEIGHT * np.minimum(spare_mm, 0.0)
            return sights(poses, slack_mm=np.asarray(slack_mm))
        taut_mm = taut_centre_mm(ring, cog, links)
        span = span_mm(ring, cog, taut_mm)
        wanted = (limit("least_slack"), limit("most_slack"))
        set_mm = sum(stands_at_mm(each, taut_mm, span, self.part.ring_runout_mm) for each in wanted) / len(wanted)
        if self.part.moves is Moves.AXLE:
            return sights(poses, axle_mm=np.asarray(set_mm))
        away_mm, radius_mm = (near_mm + far_mm) / 2, self.part.crank_radius_mm
        set_mm = np.minimum(np.maximum(set_mm, near_mm), far_mm)
        return sights(poses, hand_deg=crank_deg(self.bike, set_mm, away_mm, radius_mm))

    def with_larger_cogs(self) -> Sequence[Trial]:
        """Nothing is tried, because another cog only means another place of the axle."""
        return ()
