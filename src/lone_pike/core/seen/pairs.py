"""How many pairs to add or to remove by what was seen, whatever the measures say (trade, section 12)."""

from dataclasses import dataclass
from functools import lru_cache
from math import floor, inf, isfinite

import numpy as np

from lone_pike.core.bike.clock import within_half_turn_deg
from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.limits import LINKS_PER_PAIR, limit
from lone_pike.core.bike.seen import Seen, SeenState
from lone_pike.core.count.answer import answer
from lone_pike.core.count.sizing import CACHE_SIZE, Sizing
from lone_pike.core.seen.predicting import Edges, sights_of

REACH_LINKS, STEP_LINKS = 14.0, 0.2
"""How far from the count, and in what steps, a chain is searched that would hang as this one does."""

MOST_PAIRS = 4


@dataclass(frozen=True)
class Advice:
    """The advice by what was seen: pairs to add, or with a minus to remove, and whether the next larger cog may be
    tried."""

    pairs: int
    may_go_on: bool


@lru_cache(maxsize=CACHE_SIZE)
def advice_on(bike: Bike, seen: Seen) -> Advice:
    """The advice by what was seen in one gear: nothing, or some pairs more or fewer.

    The bike behaves as the drawing does at some other count. From there, pairs are added until big/big keeps enough
    reserve, or removed until small/small is clear. Parameters: a bike with a cage or an arm. Raises: InvalidInput if it
    cannot be sized.
    """
    sizing = answer(bike).sizing
    as_links = hangs_like(sizing, seen)
    forward_deg = _forward_deg(sizing, seen, as_links)
    more = next((n for n in range(MOST_PAIRS + 1) if _kept(sizing, as_links, n)[0] >= 0), MOST_PAIRS)
    stuck = seen.state is SeenState.STRAIGHT or forward_deg <= limit("clock_read")
    if stuck or more:
        return Advice(max(more, 1), not stuck and _goes_round(sizing, as_links))
    touches = seen.state in (SeenState.TOUCHING, SeenState.HANGS)
    fewer = next((n for n in range(MOST_PAIRS + 1) if _kept(sizing, as_links, -n)[1] >= 0), MOST_PAIRS)
    fewer = max(fewer, 1) if touches else fewer
    while fewer and _kept(sizing, as_links, -fewer)[0] < 0:
        fewer -= 1
    return Advice(-fewer, may_go_on=True)


def hangs_like(sizing: Sizing, seen: Seen) -> float:
    """The count, with fractions, at which the drawing shows what was seen, nearest to the chain's own count.

    Returns: links; the chain's own count if no count near it shows this.
    """
    counts = seen.links + np.arange(-REACH_LINKS, REACH_LINKS + STEP_LINKS, STEP_LINKS)
    shown = sights_of(sizing.bike, [(seen.ring, seen.cog, float(count), seen.travel_mm) for count in counts])
    if seen.state is not None:
        beyond = np.array([_beyond(seen.state, Edges(one, 0.0)) for one in shown])
        fits = beyond >= 0
        return float(counts[fits][np.abs(counts[fits] - seen.links).argmin()]) if fits.any() else float(seen.links)
    if seen.hand_deg is not None:
        off = np.array([float(one.hand_deg[0]) - seen.hand_deg for one in shown])
        return float(counts[np.abs(within_half_turn_deg(off)).argmin()])
    figure = seen.clearance_mm if seen.clearance_mm is not None else np.nan
    off = np.abs(np.array([float(one.air_mm[0]) for one in shown]) - figure)
    near = off <= np.nanmin(off) + NEARLY_MM
    return float(counts[near][np.abs(counts[near] - seen.links).argmin()])


NEARLY_MM = 1.0
"""The difference below which clearances count as equal; of the counts that give them, the nearest is taken."""


def _beyond(state: SeenState, edges: Edges) -> float:
    """How far the drawing is in a state; it is free if it is in none."""
    if state is SeenState.FREE:
        return -max(float(edge[0]) for edge in edges.beyond.values())
    return float(edges.beyond[state][0])


def _forward_deg(sizing: Sizing, seen: Seen, as_links: float) -> float:
    (shown,) = sights_of(sizing.bike, [(seen.ring, seen.cog, as_links, seen.travel_mm)])
    return float(shown.forward_deg[0])


def _kept(sizing: Sizing, as_links: float, pairs: int) -> tuple[float, float]:
    """What big/big and small/small keep at that chain plus some pairs, interpolated between two whole counts."""
    links = as_links + pairs * LINKS_PER_PAIR
    below, share = floor(links), links - floor(links)
    lower, upper = sizing.take_up.kept(below), sizing.take_up.kept(below + 1)
    at_short, at_long = (between(*ends, share) for ends in zip(lower, upper, strict=True))
    return at_short, at_long


def between(lower: float, upper: float, share: float) -> float:
    """Interpolates between two values; if one of them is not finite, the nearer one.

    >>> between(2.0, 4.0, 0.25), between(float("-inf"), 4.0, 0.75)
    (2.5, 4.0)
    """
    if isfinite(lower) and isfinite(upper):
        return lower + (upper - lower) * share
    return upper if share > 1 / 2 else lower


def _goes_round(sizing: Sizing, as_links: float) -> bool:
    """Whether a chain of this length goes round big/big at all."""
    return _kept(sizing, as_links, 0)[0] > -inf
