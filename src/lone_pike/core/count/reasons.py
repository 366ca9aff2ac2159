"""Why a count, and how sure: the sentences of an answer."""

from lone_pike.core.bike.measures import Measure
from lone_pike.core.count.sizing import Sizing
from lone_pike.core.doubt.likelihood import Likelihood
from lone_pike.core.doubt.sensitivity import ValidRange
from lone_pike.core.messages import Message, Quantity, Term, Unit, Value, links, mm
from lone_pike.core.take_up.protocol import Gear

NEARLY_ALL, HARDLY_ANY = 0.99, 0.005


def reasons_of(sizing: Sizing, count: int, gears: tuple[Gear, ...], rule: Message | None) -> tuple[Message, ...]:
    """Why this count: by the rule that decided it, if that is not the window."""
    at_both: dict[str, Value] = {"count": links(count), "meaning": sizing.take_up.meaning(count)}
    if rule is not None:
        return rule_sentence(rule), Message("decided_elsewhere", advised=links(sizing.recommended_links), **at_both)
    if sizing.window is None:
        return (sizing.take_up.none_safe(gears),)
    first = Message("count_means", **at_both)
    absorbs = sizing.take_up.absorbs_message(count)
    if absorbs:
        return first, absorbs
    if sizing.window.min == sizing.window.max:
        return first, Message("no_other_is_safe")
    low, high = links(sizing.window.min), links(sizing.window.max)
    return first, Message("safe_from", low=low, high=high, nearest=sizing.take_up.wanted_message())


def rule_sentence(rule: Message) -> Message:
    """A school's rule as a sentence."""
    return Message("sentence", clause=rule)


def likely_message(count: int, likelihood: Likelihood) -> Message:
    """How likely a count stays right, and the measure that matters most."""
    others = tuple(
        Message("count_in_share", count=links(other), share=Quantity(share, Unit.SHARE))
        for other, share in likelihood.shares.items()
        if other != count and share >= HARDLY_ANY
    )
    code = "nearly_always_right" if likelihood.stays > NEARLY_ALL else "right_in_share"
    share = Quantity(min(likelihood.stays, NEARLY_ALL), Unit.SHARE)
    stays = Message(code + ("_else" if others else ""), count=links(count), share=share, others=others)
    if not likelihood.matters:
        return stays
    return Message("likely_and_matters", stays=stays, measure=measure_term(likelihood.matters))


def measure_term(measure: Measure) -> Term:
    """A measure's name, to be put into words."""
    return Term("measure", measure)


def sure_message(chainstay: ValidRange | None) -> Message:
    """The range of chainstays in which a count stays the same."""
    if chainstay is None or (chainstay.least is None and chainstay.most is None):
        return Message("stands_for_any")
    if chainstay.least is None:
        return Message("stands_up_to", high=mm(chainstay.most or 0))
    if chainstay.most is None:
        return Message("stands_from", low=mm(chainstay.least))
    return Message("stands_from_to", low=mm(chainstay.least), high=mm(chainstay.most))
