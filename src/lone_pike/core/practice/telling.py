"""The measures of a bike that are given beside a question, in one way for each kind of take-up."""

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.take_up import as_a
from lone_pike.core.bike.take_ups import Eccentric, Slot
from lone_pike.core.messages import Message, Value, mm, number


def caged_measures(bike: Bike) -> Message:
    """The measures of a bike with a cage or a sprung arm."""
    return Message("practice_caged", cage=mm(bike.caged.cage_length_mm), **_wheels(bike), stay=_stay(bike))


def slot_measures(bike: Bike) -> Message:
    """The measures of a bike with a sliding axle."""
    slot = as_a(Slot, bike.take_up)
    return Message("practice_in_slot", low=mm(slot.min_mm), high=mm(slot.max_mm), **_wheels(bike))


def eccentric_measures(bike: Bike) -> Message:
    """The measures of a bike with an eccentric."""
    radius = mm(as_a(Eccentric, bike.take_up).radius_mm)
    return Message("practice_eccentric", radius=radius, **_wheels(bike), stay=_stay(bike))


def stands_measures(bike: Bike) -> Message:
    """The measures of a bike on which nothing moves."""
    return Message("practice_stands", **_wheels(bike), stay=_stay(bike))


def _wheels(bike: Bike) -> dict[str, Value]:
    return {"rings": tuple(map(number, bike.rings)), "cogs": tuple(map(number, bike.cogs))}


def _stay(bike: Bike) -> Value:
    return mm(round(bike.chainstay_length_mm, 1))
