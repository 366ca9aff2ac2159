"""What was seen, and what the bike learned from it, as messages."""

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.measures import MEASURES, Measure
from lone_pike.core.bike.seen import Seen
from lone_pike.core.count.answer import answer
from lone_pike.core.messages import Message, Quantity, Term, Unit, Value, links, mm, number
from lone_pike.core.seen.learning import Learned, MeasureLearned
from lone_pike.core.seen.misfits import Misfit

SEEN_LENGTHS = {"clearance_mm": "seen_clearance", "slack_mm": "seen_slack", "axle_mm": "seen_axle"}
"""Observations that are lengths, with the codes of their sentences."""

WORTH_TELLING, MOST_SAID = 0.25, 2
"""The share of its spread by which a measure must have moved to be mentioned, unless it is much surer now; and the most
measures that are mentioned."""


def seen_message(seen: Seen) -> Message:
    """What was seen, as a short message."""
    if seen.clock:
        return Message("seen_clock", clock=seen.clock)
    if seen.state is not None:
        return Message("seen_state", state=Term("seen", seen.state))
    return Message(SEEN_LENGTHS[seen.what], length=mm(getattr(seen, seen.what)))


def moved_measures(learned: Learned) -> list[MeasureLearned]:
    """The measures that moved far enough to be mentioned, the farthest first."""
    moved = [
        one
        for one in learned.measures
        if abs(one.now - one.was) > min(WORTH_TELLING * one.was_spread, one.now_spread / 2)
    ]
    return sorted(moved, key=lambda one: -abs(one.now - one.was) / one.was_spread)


def learned_messages(bike: Bike, learned: Learned) -> tuple[Message, ...]:
    """What a bike learned: what does not fit, or the measures that moved and how likely the count stays right."""
    if learned.misfits:
        return (_misfit_message(bike, learned.misfits[0]),)
    moved = moved_measures(learned)
    if not moved and learned.links == answer(bike).recommended_links:
        return (Message("learned_nothing_much"),)
    share = Quantity(learned.likelihood or 0.0, Unit.SHARE)
    return (
        *map(_moved_message, moved[:MOST_SAID]),
        Message("learned_count", count=links(learned.links), share=share),
    )


def _moved_message(one: MeasureLearned) -> Message:
    now, was = _in_its_unit(one.key, one.now), _in_its_unit(one.key, one.was)
    return Message("learned_measure", measure=Term("measure", one.key), now=now, was=was)


def _misfit_message(bike: Bike, misfit: Misfit) -> Message:
    seen = bike.seen[misfit.index]
    gear = Message("gear", ring=number(seen.ring), cog=number(seen.cog))
    said: dict[str, Value] = {"gear": gear, "seen": seen_message(seen)}
    if misfit.measure is None or misfit.value is None:
        return Message("misfit", **said)
    value = _in_its_unit(misfit.measure, misfit.value)
    return Message("misfit_explained", measure=Term("measure", misfit.measure), value=value, **said)


def _in_its_unit(measure: Measure, value: float) -> Quantity:
    return Quantity(value, MEASURES[measure].unit)
