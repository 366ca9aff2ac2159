"""Trying a rivet before the tool is on the chain: what pushing it would leave, and whether that can be closed."""

from dataclasses import dataclass
from enum import StrEnum

from lone_pike.core.chain.cutting import Cut, End, link_kind
from lone_pike.core.messages import Message, Term, links, number


class Verdict(StrEnum):
    """The outcomes of a push."""

    RIGHT = "right"
    SHORT = "short"
    LONG = "long"
    ENDS = "ends"
    TRIM = "trim"


CODES = {Verdict.RIGHT: "try_right", Verdict.SHORT: "try_short", Verdict.LONG: "try_long"}


@dataclass(frozen=True)
class CutEnd:
    """A piece of chain: its links, and its first and last one."""

    links: int
    first: End
    last: End


@dataclass(frozen=True)
class PushTrial:
    """What pushing a joint of a loose chain would leave on either side, and the loop that the kept side would make.
    closes_links is the count of that loop, None if its ends do not fit together."""

    joint: int
    kept: CutEnd
    rest: CutEnd
    closes_links: int | None
    verdict: Verdict
    message: Message


def piece_of(first: End, start: int, end: int) -> CutEnd:
    """The links between two joints of a chain that begins with a given kind of link."""
    return CutEnd(end - start, link_kind(first, start + 1), link_kind(first, end))


def try_push(cut: Cut, joint: int, wanted_links: int) -> PushTrial | None:
    """The outcome of pushing a joint of the loose chain; None if the chain has no such joint between links.

    Parameters: cut, the planned one; joint, counted from the start; wanted_links, the loop that is wanted.
    Source: model, section 6.

    >>> from lone_pike.core.bike.joiners import JoinerKind
    >>> ends, off = (End.INNER, End.INNER), (End.OUTER, End.INNER)
    >>> values = dict(trim_links=0, keep_links=115, keep_ends=ends, push_from_start=115, push_from_end=10)
    >>> values |= dict(offcut_links=10, offcut_ends=off, joiner=JoinerKind.QUICK_LINK, joiner_links=1, offset_links=0)
    >>> cut = Cut(box_links=125, first_end=End.INNER, missing_links=0, push_fully_out=True, **values)
    >>> [str(try_push(cut, joint, 116).verdict) for joint in (113, 114, 115, 117)]
    ['short', 'ends', 'right', 'long']
    """
    if not 0 < joint < cut.box_links:
        return None
    rest = piece_of(cut.first_end, joint, cut.box_links)
    if joint <= cut.trim_links:
        kept = piece_of(cut.first_end, 0, joint)
        return PushTrial(joint, kept, rest, None, Verdict.TRIM, Message("try_trim", joint=number(joint)))
    kept = piece_of(cut.first_end, cut.trim_links, joint)
    values = {"joint": number(joint), "left": links(kept.links)}
    fits = kept.first is kept.last is End.INNER if cut.joiner_links else kept.first is not kept.last
    if not fits:
        ends = {"first": Term("end", kept.first), "last": Term("end", kept.last)}
        message = Message("try_ends", joiner=Term("joiner", cut.joiner), **values, **ends)
        return PushTrial(joint, kept, rest, None, Verdict.ENDS, message)
    closes = kept.links + cut.joiner_links + cut.offset_links
    off = closes - wanted_links
    verdict = Verdict.RIGHT if off == 0 else Verdict.LONG if off > 0 else Verdict.SHORT
    more = {"closes": links(closes)} | ({"off": links(abs(off))} if off else {})
    return PushTrial(joint, kept, rest, closes, verdict, Message(CODES[verdict], **values, **more))
