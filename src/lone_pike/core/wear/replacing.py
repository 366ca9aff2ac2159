"""What to replace together with a worn chain, and whether a new one will jump (trade, section 8)."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from statistics import NormalDist

from lone_pike.core.bike.limits import limit
from lone_pike.core.messages import Message, Quantity, Unit
from lone_pike.core.wear.gauging import Wear

SINGLE, MANY = 1, 11
"""The number of cogs up to which a chain counts as one for a single cog, and from which it counts as narrow."""


class WearSchool(StrEnum):
    """The shop's rule for the wear at which it replaces chains."""

    BY_SPEEDS = "by_speeds"
    HALF = "half"
    THREE_QUARTERS = "three_quarters"
    WHOLE = "whole"


AT: dict[WearSchool, float] = {WearSchool.HALF: 0.5, WearSchool.THREE_QUARTERS: 0.75, WearSchool.WHOLE: 1.0}
"""The limits of the rules with one limit for all chains, percent."""


class WearPart(StrEnum):
    """The parts that may need replacing."""

    CHAIN = "chain"
    CASSETTE = "cassette"
    RINGS = "rings"
    PULLEYS = "pulleys"


@dataclass(frozen=True)
class Replacing:
    """One part: whether to replace it, or None if it is to be checked; the reason, and what happens if it is not
    replaced."""

    part: WearPart
    is_due: bool | None
    why: Message
    if_not: Message


def limit_percent(speeds: int, school: WearSchool = WearSchool.BY_SPEEDS) -> float:
    """The wear at which a chain is replaced.

    >>> limit_percent(12), limit_percent(9), limit_percent(1), limit_percent(12, WearSchool.WHOLE)
    (0.5, 0.75, 1, 1.0)
    """
    if school in AT:
        return AT[school]
    if speeds >= MANY:
        return limit("wear_narrow")
    return limit("wear_single" if speeds <= SINGLE else "wear_wide")


def cogs_percent(speeds: int) -> float:
    """The wear past which the cogs are worn with the chain.

    >>> cogs_percent(12), cogs_percent(9)
    (0.75, 1)
    """
    return limit("cogs_narrow" if speeds >= MANY else "cogs_wide")


def share_past(wear: Wear, percent: float) -> float:
    """The probability that a chain is past a wear.

    >>> round(share_past(Wear(0.75, 0.1), 0.75), 2)
    0.5
    """
    return NormalDist(wear.percent, max(wear.spread, 1e-6)).cdf(2 * wear.percent - percent)


def percent(value: float) -> Quantity:
    """A wear as a value of a message."""
    return Quantity(value, Unit.PERCENT)


def what_to_replace(wear: Wear, speeds: int, school: WearSchool = WearSchool.BY_SPEEDS) -> tuple[Replacing, ...]:
    """Each part with its reason, the chain first. Parameters: wear, of the worst place of the old chain."""
    most, cogs = limit_percent(speeds, school), cogs_percent(speeds)
    chain_due, cogs_due = _is_due(wear, most), _is_due(wear, cogs)
    said = {"wear": percent(wear.percent), "most": percent(most), "cogs": percent(cogs)}
    chain = {True: "chain_past", None: "chain_near", False: "chain_below"}[chain_due]
    cassette, rings = ("cassette_past", "rings_past") if cogs_due else ("cassette_below", "rings_below")
    return (
        Replacing(WearPart.CHAIN, chain_due, Message(chain, **said), Message("if_chain")),
        Replacing(WearPart.CASSETTE, cogs_due, Message(cassette, **said), Message("if_cassette")),
        Replacing(WearPart.RINGS, None if cogs_due else False, Message(rings, **said), Message("if_rings")),
        Replacing(WearPart.PULLEYS, None, Message("pulleys_look"), Message("if_pulleys")),
    )


def _is_due(wear: Wear, at_percent: float) -> bool | None:
    """Whether a wear is past a limit; None if its spread leaves that open."""
    if wear.percent >= at_percent:
        return True
    return None if share_past(wear, at_percent) > limit("worn_share") else False


SMALLEST = 3
"""How many of the smallest cogs to check, because they jump first."""


@dataclass(frozen=True)
class Jump:
    """The wear of the chains that ran on the cogs, and how far that is past the chain's limit, percent; whether it is
    past the limit of the cogs; the cogs to check, and whether these are the ones that are ridden most."""

    worn_percent: float
    past_percent: float
    is_likely: bool
    cogs: tuple[int, ...]
    by_use: bool


def jump_of(
    worn_percent: float, limit_percent: float, speeds: int, cogs: Sequence[int], used_cogs: Sequence[int] = ()
) -> Jump | None:
    """What to expect of a new chain; None if no chain was past its limit on these cogs.

    Parameters: worn_percent, the highest wear of a chain on them; used_cogs, those ridden most, if known.

    >>> jump_of(0.9, 0.5, 12, (10, 12, 14, 16)).cogs, jump_of(0.4, 0.5, 12, (10, 12))
    ((10, 12, 14), None)
    """
    if worn_percent < limit_percent:
        return None
    used = tuple(cog for cog in sorted(used_cogs) if cog in cogs)
    looked_at = tuple(sorted(set(used) | set(sorted(cogs)[:SMALLEST]))) if used else tuple(sorted(cogs)[:SMALLEST])
    past = round(worn_percent - limit_percent, 2)
    return Jump(worn_percent, past, worn_percent >= cogs_percent(speeds), looked_at, bool(used))
