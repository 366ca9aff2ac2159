"""What a bike's measures learn from what was seen: bikes that would show it get more weight (model, section 8)."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.measures import Errors, Measure, spreads_of, values_of
from lone_pike.core.bike.teeth import Array
from lone_pike.core.count.answer import answer
from lone_pike.core.count.sizing import CACHE_SIZE, Sizing, Window
from lone_pike.core.motion.poses import end_gears, poses_as_given
from lone_pike.core.seen.lot import FEWEST_LEFT, Lot, lot_of, usual_spreads
from lone_pike.core.seen.misfits import Misfit, misfits_of
from lone_pike.core.seen.predicting import DEVIATIONS_OF_A_SPREAD, sighted
from lone_pike.core.take_up.kinds import take_up_of
from lone_pike.core.take_up.protocol import Margins

MOST_ROUNDS = 3
"""How often a sample is drawn again if too few of its bikes match what was seen."""

COUNTS_EACH_WAY = 6
"""How many joinable counts on either side of the recommended one are compared."""


@dataclass(frozen=True)
class MeasureLearned:
    """One measure as it was taken and as it is after learning, each with its spread of two standard deviations, in the
    measure's unit."""

    key: Measure
    was: float
    was_spread: float
    now: float
    now_spread: float


@dataclass(frozen=True)
class Learned:
    """The bike after learning from what was seen: the count and how likely it stays right, the window, the measures; or
    misfits.

    If something does not fit, nothing is learned: there are no measures and no likelihood, and the count is unchanged.
    shares is the weight for which each count is recommended.
    """

    links: int
    likelihood: float | None
    window: Window | None
    measures: tuple[MeasureLearned, ...]
    misfits: tuple[Misfit, ...]
    shares: Mapping[int, float]


@lru_cache(maxsize=CACHE_SIZE)
def learned_of(bike: Bike) -> Learned | None:
    """What the bike learns from everything that was seen and not taken over yet; None if there is nothing.

    Equation: w = prod exp(-((predicted - seen) / sigma)^2 / 2); means and deviations under these weights. Source:
    model, section 8. Raises: InvalidInput if the bike cannot be sized.
    """
    weighed = [(i, one) for i, one in enumerate(bike.seen) if not one.taken_over]
    if not weighed:
        return None
    spreads = spreads_of(bike) or usual_spreads(bike)
    if not spreads:
        return None
    sizing = answer(bike).sizing
    seen, lot = [one for _, one in weighed], lot_of(bike, spreads)
    sightings = sighted(bike, seen, lot.errors)
    for _ in range(MOST_ROUNDS):
        if lot.weighted_by(sightings).effective >= FEWEST_LEFT:
            break
        lot = lot.again(sightings)
        sightings = sighted(bike, seen, lot.errors)
    misfits = misfits_of(bike, weighed, sightings)
    if misfits:
        return Learned(sizing.recommended_links, None, sizing.window, (), misfits, {})
    return _learned(sizing, lot.weighted_by(sightings))


def _learned(sizing: Sizing, lot: Lot) -> Learned:
    """The weighted measures, and the share of weight for which each count is recommended."""
    weights, margins = lot.weights, _margins(sizing, lot.errors)
    best = np.array(margins.counts)[margins.best]
    shares = {int(one): float(weights[best == one].sum()) for one in np.unique(best)}
    links = max(shares, key=lambda count: shares[count])
    return Learned(links, shares[links], _window(margins, weights), _measures(sizing, lot), (), shares)


def _measures(sizing: Sizing, lot: Lot) -> tuple[MeasureLearned, ...]:
    weights, values, errors = lot.weights, values_of(sizing.bike), lot.errors
    learned = []
    for measure, deviation in zip(lot.measures, lot.deviations.tolist(), strict=True):
        mean = float(weights @ errors[measure])
        left = float(np.sqrt(weights @ np.square(errors[measure] - mean)))
        was, spread = values[measure], deviation * DEVIATIONS_OF_A_SPREAD
        learned.append(MeasureLearned(measure, was, spread, was + mean, left * DEVIATIONS_OF_A_SPREAD))
    return tuple(learned)


def _margins(sizing: Sizing, errors: Errors) -> Margins:
    """What the counts near the recommended one keep at both ends, for each of the bikes."""
    count, step = sizing.recommended_links, sizing.step_links
    counts = [count + step * away for away in range(-COUNTS_EACH_WAY, COUNTS_EACH_WAY + 1)]
    bike, travels_mm = sizing.bike, sizing.worst_travels_mm(count)
    take_up = take_up_of(bike, poses_as_given(bike, travels_mm, errors), end_gears(bike), errors)
    return take_up.margins(counts, len(next(iter(errors.values()))))


def _window(margins: Margins, weights: Array) -> Window | None:
    """The counts that are safe for more than half of the weight."""
    safe = (weights @ margins.safe).tolist()
    counts = [count for count, share in zip(margins.counts, safe, strict=True) if share > 1 / 2]
    return Window(counts[0], counts[-1]) if counts else None
