"""A sprung arm behind one cog: a cage with a single gear, best half way through its forward movement (model, section
5)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import ClassVar, TypeVar

import numpy as np

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import invalid
from lone_pike.core.bike.limits import PITCH_MM, limit
from lone_pike.core.bike.measures import Errors, Measure
from lone_pike.core.bike.teeth import Array
from lone_pike.core.chain.stops import TENSION
from lone_pike.core.messages import Message, Term, deg, links, mm, number
from lone_pike.core.motion.poses import Gears, Poses, all_gears
from lone_pike.core.take_up.cage import BIG, Cage
from lone_pike.core.take_up.caged_loop import cage_measures, caged_loop
from lone_pike.core.take_up.protocol import Capacity, GearState, Margins, Trial
from lone_pike.core.take_up.sweep import Settled, sweep_of


@dataclass(frozen=True)
class ArmTakeUp(Cage):
    """A bike's sprung arm in P poses and one gear."""

    schools: ClassVar[tuple[str, ...]] = ("makers_sheet", "arm_at_half", "formula", "old_chain", "sized_at_rest")
    always_measured: ClassVar[tuple[Measure, ...]] = ("chainstay_mm", "cage_mm")
    rests_at_an_end: ClassVar[bool] = True

    @property
    def half_deg(self) -> float:
        """Half of the arm's movement from where it rests to where it is pulled straight, at the first pose."""
        return float(self.halves_deg.item(0))

    @property
    def halves_deg(self) -> Array:
        """Half of its movement in every pose, (P,)."""
        return np.asarray(np.degrees(self.sweep.stretched_rad - self.sweep.slackest_rad)[:, BIG, 0] / 2)

    def half_links(self) -> float:
        """Length of the loop with the arm half way, links."""
        (ring, cog), *_ = self.gear_teeth
        middle = float((self.sweep.stretched_rad + self.sweep.slackest_rad)[0, BIG, 0]) / 2
        return float(self.path(ring, cog, middle).links)

    def absorbs_links(self, count: int) -> tuple[float, float]:
        """By how many links the loop may grow before the arm is straight, and shrink before it rests, at the first
        pose."""
        shortest, longest = (ends.item(0, BIG, 0) for ends in (self.sweep.stretched_links, self.sweep.slackest_links))
        return count - shortest, longest - count

    def absorbs_mm(self, count: int) -> tuple[float, float]:
        """What it absorbs as movement of the axle, which is half of the chain's: back until the arm is straight,
        forward until it rests."""
        back, forward = (absorbed * PITCH_MM / 2 for absorbed in self.absorbs_links(count))
        return back, forward

    def absorbs_message(self, count: int) -> Message:
        """What it absorbs, in one sentence."""
        more, less = map(links, self.absorbs_links(count))
        back, forward = map(mm, self.absorbs_mm(count))
        return Message("arm_absorbs", more=more, less=less, back=back, forward=forward)

    def _kept(self, settled: Settled, counts: Sequence[int], variants: int = 1) -> Margins:
        """Like a cage, but what is kept is a part of the arm's own movement."""
        kept = super()._kept(settled, counts, variants)
        least = limit("least_arm")
        at_short = kept.at_short + self.bike.limits.least_reserve_deg - least
        halves_deg = self.halves_deg.reshape(variants, -1)[:, :1]
        return Margins(kept.counts, at_short, kept.at_long, halves_deg - least)

    def reserve_deg(self, count: int) -> float:
        """The least movement left of all poses until the arm is straight, degrees; -inf if too short, inf if it
        hangs."""
        at_short, _ = self.kept(count)
        return at_short + limit("least_arm")

    def meaning(self, count: int) -> Message:
        """How far the arm is from both ends, in half a sentence."""
        reserve, air = self.reserve_deg(count), self.air_mm(count)
        if reserve == -np.inf:
            return Message("too_short_for_arm")
        if air == -np.inf or reserve == np.inf:
            return Message("arm_hangs")
        back = deg(2 * self.half_deg - reserve)
        code = "arm_nearly_straight" if reserve < limit("least_arm") else "arm_touches" if air < 0 else "arm_holds"
        return Message(code, reserve=deg(reserve), back=back)

    def wanted_message(self) -> Message:
        """Half of its movement."""
        return Message("nearest_to_half")

    def _state(self, reserve_deg: float, clearance_mm: float) -> GearState:
        if clearance_mm < self.bike.limits.least_clearance_mm:
            return GearState.TOUCHING
        return GearState.TIGHT if reserve_deg < limit("least_arm") else GearState.SAFE

    def capacity(self) -> Capacity:
        """None: one gear needs no capacity."""
        return Capacity(0, None, self.bike.largest_cog, None)

    def mends(self) -> Mapping[str, Sequence[Trial]]:
        """Nothing is tried."""
        return {}

    def with_larger_cogs(self) -> Sequence[Trial]:
        """Nothing is tried: behind a single cog nothing would change."""
        return ()


def arm_of(bike: Bike, poses: Poses, gears: Gears, errors: Errors | None = None) -> ArmTakeUp:
    """The bike's sprung arm. Raises: as cage_of."""
    return cage_of(bike, poses, gears, errors, ArmTakeUp)


Turning = TypeVar("Turning", bound=Cage)


def cage_of(bike: Bike, poses: Poses, gears: Gears, errors: Errors | None, kind: type[Turning]) -> Turning:
    """The bike's cage in poses and gears.

    Raises: InvalidInput if, as measured, the chain cannot lie on both pulleys in some gear.
    """
    sweep = sweep_of(caged_loop(poses, cage_measures(bike, poses, errors), gears))
    if not errors and not sweep.runs.all():
        _, gear = np.argwhere(~sweep.runs)[0]
        ring, cog = map(number, all_gears(bike)[gear])
        hint = Message("cage_never_runs", gear=Message("gear", ring=ring, cog=cog))
        read = Term("stop", TENSION.role)
        raise invalid("take_up", read, Message("a_cage_that_runs"), hint)
    return kind(bike, poses, sweep, gears)


def derailleur_of(bike: Bike, poses: Poses, gears: Gears, errors: Errors | None = None) -> Cage:
    """The bike's derailleur. Raises: as cage_of."""
    return cage_of(bike, poses, gears, errors, Cage)
