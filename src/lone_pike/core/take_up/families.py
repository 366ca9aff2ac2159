"""Which take-up a bike has: the one place where its document decides."""

from collections.abc import Callable

from lone_pike.core.bike.base import Document
from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.measures import Errors
from lone_pike.core.bike.take_ups import Arm, Derailleur, Eccentric, NoTakeUp, Slot
from lone_pike.core.motion.poses import Gears, Poses
from lone_pike.core.take_up.arm import arm_of
from lone_pike.core.take_up.cages import derailleur_of
from lone_pike.core.take_up.fixed import fixed_centres
from lone_pike.core.take_up.protocol import TakeUp

FAMILIES: dict[type[Document], Callable[[Bike, Poses, Gears, Errors | None], TakeUp]] = {
    Derailleur: derailleur_of,
    Arm: arm_of,
    Slot: fixed_centres,
    Eccentric: fixed_centres,
    NoTakeUp: fixed_centres,
}


def take_up_of(bike: Bike, poses: Poses, gears: Gears, errors: Errors | None = None) -> TakeUp:
    """The bike's take-up in poses and gears. Raises: InvalidInput where its parts overlap."""
    return FAMILIES[type(bike.take_up)](bike, poses, gears, errors)
