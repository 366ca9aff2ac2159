"""The steps of proving a bike in their safe order, and what the drawing predicts at each (trade, section 12)."""

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.seen import Seen, SeenState
from lone_pike.core.count.sizing import Sizing
from lone_pike.core.motion.poses import all_gears
from lone_pike.core.motion.suspension import axle_path
from lone_pike.core.route.threading import is_long
from lone_pike.core.seen.predicting import sights_of
from lone_pike.core.take_up.kinds import kind_of
from lone_pike.core.take_up.sights import Sights


class At(StrEnum):
    """The gear of a step."""

    SMALL = "small"
    SECOND = "second"
    BIG = "big"


Needed = Callable[[Bike], bool]


@dataclass(frozen=True)
class Proof:
    """The declaration of one step: its gear, or None; what can be seen there, by the file's keys, and in which states;
    whether it is at full travel; the step that must be done before it; and which bikes need it."""

    at: At | None = None
    asks: tuple[str, ...] = ()
    states: tuple[SeenState, ...] = ()
    at_full_travel: bool = False
    after: str = ""
    needed: Needed = lambda _: True


def _has_cogs(bike: Bike) -> bool:
    return len(bike.cogs) > 1


def _is_sprung(bike: Bike) -> bool:
    return bike.suspension is not None


def _can_stand(bike: Bike) -> bool:
    return bool({"axle_mm", "clock"} & set(bike.take_up.shows))


SLACK = (SeenState.FREE, SeenState.TOUCHING, SeenState.HANGS)
TAUT = (SeenState.FREE, SeenState.STRAIGHT)
"""The states that can be chosen at the slack end, and at the taut one."""

PROOFS: dict[str, Proof] = {
    "clear_of_guide": Proof(At.SMALL, ("clock", "clearance_mm", "state"), SLACK, needed=_has_cogs),
    "half_way": Proof(At.BIG, ("clock", "state"), (SeenState.STRAIGHT, *SLACK)),
    "joiner_again": Proof(),
    "second_largest": Proof(At.SECOND, ("clock", "state"), TAUT, needed=_has_cogs),
    "largest": Proof(At.BIG, ("clock", "state"), TAUT, after="second_largest"),
    "through_travel": Proof(At.BIG, ("clock", "state"), TAUT, at_full_travel=True, after="largest", needed=_is_sprung),
    "guide_gap": Proof(At.BIG, after="largest"),
    "into_tubes": Proof(needed=lambda bike: bool(bike.tubes)),
    "no_twist": Proof(needed=is_long),
    "boom_ends": Proof(needed=lambda bike: bike.boom is not None),
    "tightest": Proof(),
    "slack": Proof(At.BIG, ("slack_mm",)),
    "stands": Proof(At.BIG, ("axle_mm", "clock"), needed=_can_stand),
    "nuts": Proof(),
    "wheel": Proof(),
    "brakes": Proof(),
    "again": Proof(),
    "pressures": Proof(needed=_is_sprung),
    "torque": Proof(),
    "ride": Proof(),
}
"""All steps by key. The declaration of a kind of bike says which of them it has, and in which order."""


@dataclass(frozen=True)
class ProofStep:
    """One step of a bike: its gear and travel, or None, and what can be seen."""

    key: str
    proof: Proof
    gear: tuple[int, int] | None
    travel_mm: float

    def shows(self, seen: Seen, links: int) -> bool:
        """Whether something was seen at this step with the present chain."""
        place = links, *(self.gear or (0, 0)), self.travel_mm
        return (seen.links, seen.ring, seen.cog, seen.travel_mm) == place and seen.what in self.proof.asks

    def last_seen(self, bike: Bike, links: int) -> Seen | None:
        """What was seen last at this step with the present chain."""
        return next((one for one in bike.seen[::-1] if self.shows(one, links)), None)


def steps_of(sizing: Sizing) -> tuple[ProofStep, ...]:
    """The steps of a bike, in the safe order."""
    bike = sizing.bike
    named = [(key, PROOFS[key]) for key in kind_of(bike).checks]
    return tuple(
        ProofStep(key, proof, _gear_at(bike, proof), worst_travel_mm(sizing) if proof.at_full_travel else 0.0)
        for key, proof in named
        if proof.needed(bike)
    )


def worst_travel_mm(sizing: Sizing) -> float:
    """The travel at which big/big needs most chain, to the millimetre; full travel if that is at rest."""
    return float(round(sizing.worst_travel_mm)) or sizing.bike.travel_mm


def growth_mm(bike: Bike, travel_mm: float) -> float:
    """How much farther from the crank the axle is at a travel than at rest, mm."""
    axle = axle_path(bike, np.array([0.0, travel_mm]))
    rest, there = np.hypot(axle.x_mm, axle.y_mm).tolist()
    return float(there - rest)


def _gear_at(bike: Bike, proof: Proof) -> tuple[int, int] | None:
    gears = all_gears(bike)
    if proof.at is None:
        return None
    return {At.SMALL: gears[-1], At.SECOND: gears[min(1, len(gears) - 1)], At.BIG: gears[0]}[proof.at]


def predicted(sizing: Sizing, step: ProofStep, links: int) -> Sights | None:
    """What the drawing predicts at a step with the chain at a count; None if the step has no gear."""
    if step.gear is None or not step.proof.asks:
        return None
    (sights,) = sights_of(sizing.bike, [(*step.gear, links, step.travel_mm)])
    return sights
