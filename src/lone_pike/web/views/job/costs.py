"""What an error in a measure would change, shown under its field."""

from lone_pike.core.bike.measures import MEASURES
from lone_pike.core.count.answer import Answer
from lone_pike.core.doubt.sensitivity import ValidRange
from lone_pike.core.messages import Message, Quantity, Unit


def costs_of(answer: Answer) -> dict[str, Message]:
    """What an error in each measure would change, by form field."""
    by_nearest = sorted(answer.valid_ranges.values(), key=lambda one: -(one.nearest or float("inf")))
    costs = {MEASURES[one.measure].path: cost_message(one) for one in by_nearest}
    if "take_up.cage_mm" in costs:
        costs["take_up.class"] = costs["take_up.cage_mm"]
    miscounts = answer.sensitivity
    costs["rings"] = _tooth_message(answer.links, miscounts.ring_miscounted)
    costs["cogs"] = _tooth_message(answer.links, miscounts.cog_miscounted)
    return costs


def cost_message(valid: ValidRange) -> Message:
    """What an error in a measure costs right now.

    >>> ranges = [(3.1, 1.2), (1.2, 3.1), (None, 1.2), (1.2, None), (None, None)]
    >>> [cost_message(ValidRange("chainstay_mm", 432.0, *one)).code for one in ranges]
    ['error_more', 'error_less', 'error_more', 'error_less', 'count_stands']
    """
    less, more, unit = valid.less, valid.more, MEASURES[valid.measure].unit
    if less is None and more is None:
        return Message("count_stands")
    if more is not None and (less is None or more <= less):
        return Message("error_more", edge=Quantity(more, unit))
    return Message("error_less", edge=Quantity(less or 0.0, unit))


def _tooth_message(count: int, miscounted: tuple[int, int]) -> Message:
    """How the count would change with one tooth more or less."""
    others = sorted({other for other in miscounted if other != count})
    if not others:
        return Message("tooth_changes_nothing")
    if len(others) == 1:
        return Message("tooth_makes_one", count=Quantity(others[0], Unit.LINKS))
    low, high = (Quantity(other, Unit.LINKS) for other in others)
    return Message("tooth_makes_either", low=low, high=high)
