"""Counts by what a mechanic reads off the cage with the bike at rest in the stand."""

import numpy as np

from lone_pike.core.bike.limits import limit
from lone_pike.core.chain.counting import joins_at, step_links
from lone_pike.core.take_up.cage import BIG, SMALL, Cage


def longest_clear(cage: Cage) -> tuple[int, float] | None:
    """The longest count that keeps the shop's clearance in small/small, and that clearance, mm; None if no count
    does."""
    return _longest_clear_of(cage, cage.counts_in_reach()) or _longest_clear_of(cage, _counts_at_rest(cage))


def _longest_clear_of(cage: Cage, counts: range) -> tuple[int, float] | None:
    settled = cage.settled(counts)
    air = np.where(settled.loose[0, SMALL], -np.inf, settled.clearance_mm[0, SMALL])
    limits = cage.bike.limits
    clear = np.flatnonzero(air >= max(limits.least_clearance_mm, limits.slack_air_mm))
    return (counts[clear[-1]], float(air[clear[-1]])) if clear.size else None


def nearest_to_clock(cage: Cage) -> tuple[int, float] | None:
    """The count whose cage in big/big is nearest to half past four to five, and its angle; None if the cage rests at no
    count."""
    counts = cage.counts_in_reach()
    angles = np.degrees(cage.settled(counts).cage_rad[0, BIG])
    if np.isnan(angles).all():
        return None
    k = int(np.nanargmin(np.abs(angles - limit("cage_clock"))))
    return counts[k], float(angles[k])


def longest_in_tension(cage: Cage) -> int:
    """The longest count at which the cage takes any tension in small/small."""
    return _counts_at_rest(cage)[-1]


def _counts_at_rest(cage: Cage) -> range:
    """Every joinable count that runs in small/small."""
    step = step_links(cage.bike.chain.offset_link)
    shortest, longest = (ends.item(0, SMALL, 0) for ends in (cage.sweep.stretched_links, cage.sweep.slackest_links))
    first, past = joins_at(cage.bike.chain, shortest), joins_at(cage.bike.chain, longest)
    return range(min(first, past - step), past, step)
