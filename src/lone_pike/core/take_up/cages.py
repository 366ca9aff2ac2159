"""Makes the cage of a bike's derailleur or sprung arm from its measures."""

from typing import TypeVar

import numpy as np

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import invalid
from lone_pike.core.bike.measures import Errors
from lone_pike.core.chain.stops import TENSION
from lone_pike.core.messages import Message, Term, number
from lone_pike.core.motion.poses import Gears, Poses, all_gears
from lone_pike.core.take_up.cage import Cage
from lone_pike.core.take_up.caged_loop import cage_measures, caged_loop
from lone_pike.core.take_up.sweep import sweep_of

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
