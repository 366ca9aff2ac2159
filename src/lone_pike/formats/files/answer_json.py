"""The answer as the command's contract has it (model, section 7)."""

from collections.abc import Callable
from dataclasses import asdict
from typing import Any

from lone_pike.core.bike.faults import Fault
from lone_pike.core.bike.joiners import JOINERS
from lone_pike.core.chain.plan import missing_links
from lone_pike.core.count.answer import Answer
from lone_pike.core.count.schools import Vote
from lone_pike.core.count.search import WEARS_PERCENT, Combination
from lone_pike.core.messages import Message, Notice, Quantity, Raw
from lone_pike.core.seen.learning import Learned, learned_of
from lone_pike.formats.records.message_record import values_of

Render = Callable[[Message], str]
"""A function that puts a message into words."""

JOINER_FIELDS = ("joiner", "joiner_links", "offset_links")


def answer_json(answer: Answer, say: Render) -> dict[str, Any]:
    """The whole answer as plain data; each message has code, text and values."""
    chainstay = answer.valid_ranges.get("chainstay_mm")
    return {
        "links": answer.links,
        "pairs": answer.links / 2,
        "recommended": answer.recommended_links,
        "decided_by": answer.decided_by,
        "bare_wrap": asdict(answer.bare_wrap),
        "window": asdict(answer.window) if answer.window else None,
        "votes": [_vote(vote, say) for vote in answer.votes],
        "gears": [asdict(gear) | {"clock": gear.clock, "rest_clock": gear.rest_clock} for gear in answer.gears],
        "confidence": {
            "chainstay_min_mm": chainstay.least if chainstay else None,
            "chainstay_max_mm": chainstay.most if chainstay else None,
            "likelihood": asdict(answer.likelihood) if answer.likelihood else None,
            "measures": {name: {"min": one.least, "max": one.most} for name, one in answer.valid_ranges.items()},
        },
        "capacity": asdict(answer.capacity)
        | {"computed": answer.served.capacity, "computed_largest_cog": answer.served.largest_cog},
        "learned": _learned(learned_of(answer.bike)),
        "boom": [asdict(setting) for setting in answer.boom.settings] if answer.boom else [],
        "fits": [asdict(fit) for fit in answer.fits],
        "combinations": [_combination(one) for one in answer.combinations],
        "cut": _cut(answer),
        "warnings": [_notice(notice, say) for notice in answer.warnings],
        "why": [message_json(message, say) for message in answer.why],
    }


def message_json(message: Message, say: Render) -> dict[str, Any]:
    """A message with its text."""
    return {"code": message.code, "text": say(message), "values": values_of(message)}


def fault_json(fault: Fault, words: tuple[str, str, str]) -> dict[str, Any]:
    """A fault with what was read, what is allowed and how to mend it, in words and as values."""
    read, allowed, cure = words
    raw = fault.read.value if isinstance(fault.read, Raw | Quantity) else None
    values = {"read": raw, **values_of(fault.allowed)}
    return {"field": fault.field, "read": read, "allowed": allowed, "cure": cure, "values": values}


def _learned(learned: Learned | None) -> dict[str, Any] | None:
    """What was learned from what was seen; without the share of each count, which only the pages show."""
    if learned is None:
        return None
    return {name: value for name, value in asdict(learned).items() if name != "shares"}


def _combination(one: Combination) -> dict[str, Any]:
    """A combination of a search; its slack after each wear, in percent."""
    data = asdict(one)
    worn = data.pop("worn_slack_mm")
    return data | {"worn_slack_mm": dict(zip(map(str, WEARS_PERCENT), worn, strict=True))}


def _vote(vote: Vote, say: Render) -> dict[str, Any]:
    data = {"school": vote.school, "links": vote.links, "inside": vote.inside}
    values = values_of(vote.rule) | values_of(vote.meaning)
    return data | {"why": say(vote.why), "code": vote.rule.code, "meaning": vote.meaning.code, "values": values}


def _notice(notice: Notice, say: Render) -> dict[str, Any]:
    return message_json(notice.message, say) | {"code": str(notice.kind)}


def _cut(answer: Answer) -> dict[str, Any] | None:
    """The cut of one box, if the chain is one run; or the runs of several pieces, in order round the loop."""
    cut, plan = answer.cut, answer.plan
    if cut is None and not answer.bike.chain.pieces:
        return None
    joiner = {"kind": str(answer.bike.joiner), "links": JOINERS[answer.bike.joiner].links}
    offset = [{"kind": "offset_link", "links": 1}] * (answer.links % 2)
    data = {name: value for name, value in asdict(cut).items() if name not in JOINER_FIELDS} if cut else {}
    if plan:
        data |= {"push_from_start": None, "push_from_end": None, "missing_links": 0}
        data |= {"keep_links": sum(run.links for run in plan)}
        data |= {"offcut_links": sum(run.piece.links - run.links for run in plan)}
        pieces = [{"piece": run.piece.place, "start": run.start, "keep_links": run.links} for run in plan]
        return data | {"pieces": pieces, "joiners": [joiner] * len(plan) + offset}
    missing = missing_links(answer.bike, answer.links)
    if missing:
        return data | {"missing_links": missing, "pieces": [], "joiners": []}
    piece = {"piece": 0, "start": data["trim_links"], "keep_links": data["keep_links"]}
    return data | {"pieces": [piece], "joiners": [joiner, *offset]}
