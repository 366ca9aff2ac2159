"""Whether a new chain may jump on cogs that a worn one has run on (trade, section 8)."""

from collections.abc import Sequence
from dataclasses import dataclass

from lone_pike.core.wear.replacing import cogs_percent

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

    Parameters: worn, the highest wear of a chain on them; used_cogs, those ridden most, if known.

    >>> jump_of(0.9, 0.5, 12, (10, 12, 14, 16)).cogs, jump_of(0.4, 0.5, 12, (10, 12))
    ((10, 12, 14), None)
    """
    if worn_percent < limit_percent:
        return None
    used = tuple(cog for cog in sorted(used_cogs) if cog in cogs)
    looked_at = tuple(sorted(set(used) | set(sorted(cogs)[:SMALLEST]))) if used else tuple(sorted(cogs)[:SMALLEST])
    past = round(worn_percent - limit_percent, 2)
    return Jump(worn_percent, past, worn_percent >= cogs_percent(speeds), looked_at, bool(used))
