"""Which take-up a bike has: the one place where its document decides."""

from collections.abc import Callable

from lone_pike.core.bike.base import Document
from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.measures import Errors
from lone_pike.core.bike.parts import Derailleur, Slot
from lone_pike.core.motion.poses import Gears, Poses
from lone_pike.core.take_up.cage import cage_of
from lone_pike.core.take_up.protocol import TakeUp
from lone_pike.core.take_up.slot import slotted_axle

FAMILIES: dict[type[Document], Callable[[Bike, Poses, Gears, Errors | None], TakeUp]] = {
    Derailleur: cage_of,
    Slot: slotted_axle,
}


def take_up_of(bike: Bike, poses: Poses, gears: Gears, errors: Errors | None = None) -> TakeUp:
    """The bike's take-up in poses and gears. Raises: InvalidInput where its parts overlap."""
    return FAMILIES[type(bike.take_up)](bike, poses, gears, errors)
