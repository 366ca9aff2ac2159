"""Advice from what was seen: pairs to add or to remove, and corrections of the bike's measures."""

from dataclasses import dataclass

from lone_pike.core.bike.limits import LINKS_PER_PAIR
from lone_pike.core.bike.seen import Seen, SeenState
from lone_pike.core.bike.take_up import Family
from lone_pike.core.messages import Message, links
from lone_pike.core.seen.learning import learned_of
from lone_pike.core.seen.pairs import Advice, advice_on
from lone_pike.core.seen.proving import ProofStep
from lone_pike.core.seen.telling import learned_messages, moved_measures
from lone_pike.web.job.work import SizedWork


@dataclass(frozen=True)
class AdviceView:
    """The pairs to add, or with a minus to remove, by what was seen at a step; 0 if no count helps."""

    step: str
    message: Message
    pairs: int


@dataclass(frozen=True)
class LearnedView:
    """What the bike learned, as messages; can_take says whether there is something to take over."""

    messages: tuple[Message, ...]
    can_take: bool


def advice_of(sized: SizedWork, steps: tuple[ProofStep, ...]) -> tuple[AdviceView | None, frozenset[str]]:
    """The advice from what was seen with this chain, and the steps at which the cage has no movement left."""
    if sized.bike.take_up.family is Family.STANDS:
        return None, frozenset()
    seen = [(step, one) for step in steps if (one := step.last_seen(sized.bike, sized.links))]
    advised = [(step, one, advice_on(sized.bike, one)) for step, one in seen]
    views = [view for step, one, advice in advised if (view := _advice_at(step, one, advice))]
    return next(iter(views), None), frozenset(step.key for step, _, advice in advised if not advice.may_go_on)


def _advice_at(step: ProofStep, seen: Seen, advice: Advice) -> AdviceView | None:
    """The advice of one step: the taut end can ask for more pairs, the slack end for a pair less."""
    at_slack_end, at_taut_end = (state in step.proof.states for state in (SeenState.TOUCHING, SeenState.STRAIGHT))
    if advice.pairs > 0 and at_taut_end:
        code = "advice_add_soon" if advice.may_go_on else "advice_add"
        return AdviceView(step.key, Message(code, pairs=links(advice.pairs * LINKS_PER_PAIR)), advice.pairs)
    if advice.pairs < 0 and at_slack_end:
        return AdviceView(step.key, Message("advice_off", pairs=links(LINKS_PER_PAIR)), -1)
    hangs = seen.state in (SeenState.TOUCHING, SeenState.HANGS)
    return AdviceView(step.key, Message("advice_none"), 0) if hangs and at_slack_end else None


def learned_view(sized: SizedWork) -> LearnedView | None:
    """What the bike learned from what was seen, as messages."""
    learned = learned_of(sized.bike)
    if learned is None:
        return None
    has_moved = bool(moved_measures(learned)) or learned.links != sized.answer.recommended_links
    return LearnedView(learned_messages(sized.bike, learned), can_take=bool(learned.measures) and has_moved)
