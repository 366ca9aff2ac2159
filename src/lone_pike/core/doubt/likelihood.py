"""How likely the count stays right if measures are only about right; computed without random numbers."""

from dataclasses import dataclass
from functools import lru_cache
from statistics import NormalDist

import numpy as np

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.measures import Errors, Measure, most_too_much, spreads_of
from lone_pike.core.bike.teeth import Array
from lone_pike.core.motion.poses import end_gears, poses_as_given
from lone_pike.core.take_up.kinds import take_up_of

BIKES = 601
"""The number of bikes that are sized, evenly spread over the possible measures."""

CACHE_SIZE = 32

SLICES = 9
"""The number of slices of a measure's range; within a slice it counts as known."""

WORTH_IT = 0.01
"""A measure is worth taking again if that makes the count surer by at least this share."""

COUNTS_EACH_WAY = 3


@dataclass(frozen=True)
class Likelihood:
    """The share of bikes with such measures for which each count is recommended, and the measure to take again. matters
    is the measure whose exact value would make the count surest; with_it, the mean share for which it would then stay;
    None if no measure would."""

    shares: dict[int, float]
    stays: float
    matters: Measure | None
    with_it: float


def likelihood_of(bike: Bike, count: int, step: int, travels_mm: Array) -> Likelihood | None:
    """How likely a count stays recommended over the spreads of the measures; None if no measure is in doubt. Each
    measure has a normal error with half its spread as standard deviation.

    Parameters: count, the recommended one; step, links between joinable counts; travels_mm, those at which the ends are
    worst.
    """
    spreads = spreads_of(bike)
    if not spreads:
        return None
    chances, units = evenly(BIKES, len(spreads)), normal_errors(len(spreads))
    errors = {
        measure: np.maximum(units[:, i] * spread / 2, -most_too_much(bike, measure))
        for i, (measure, spread) in enumerate(spreads.items())
    }
    counts = [count + step * away for away in range(-COUNTS_EACH_WAY, COUNTS_EACH_WAY + 1)]
    recommended = np.array(counts)[_best(bike, errors, counts, travels_mm)]
    shares = {int(one): float((recommended == one).mean()) for one in np.unique(recommended)}
    stays = shares.get(count, 0.0)
    known = {measure: _stays_knowing(recommended, chances[:, i]) for i, measure in enumerate(spreads)}
    matters = max(known, key=lambda measure: known[measure])
    return Likelihood(shares, stays, matters if known[matters] > stays + WORTH_IT else None, known[matters])


@lru_cache(maxsize=CACHE_SIZE)
def normal_errors(dimensions: int) -> Array:
    """Errors evenly spread over a normal distribution in several dimensions, in standard deviations, (BIKES,
    dimensions)."""
    inverse = NormalDist().inv_cdf
    errors = np.array([[inverse(float(chance)) for chance in row] for row in evenly(BIKES, dimensions)])
    errors.flags.writeable = False
    return errors


def evenly(count: int, dimensions: int) -> Array:
    """Points spread evenly over the unit cube, and over each of its sides in even steps, (count, dimensions).

    Equation: the ranks of x_i = i a mod 1, a_k = g^-k, g the root of g^(d+1) = g + 1.
    Parameters: how many points, in how many dimensions. Returns: points between 0 and 1.
    Source: additive recurrences by the generalised golden ratio (M. Roberts, 2018).

    >>> sorted(evenly(4, 2)[:, 1].tolist())
    [0.125, 0.375, 0.625, 0.875]
    """
    ratio = 2.0
    for _ in range(40):
        ratio = (1 + ratio) ** (1 / (dimensions + 1))
    spread = np.arange(count)[:, None] * ratio ** -np.arange(1.0, dimensions + 1) % 1
    return np.asarray((spread.argsort(axis=0).argsort(axis=0) + 0.5) / count)


def _best(bike: Bike, errors: Errors, counts: list[int], travels_mm: Array) -> Array:
    take_up = take_up_of(bike, poses_as_given(bike, travels_mm, errors), end_gears(bike), errors)
    size = len(next(iter(errors.values())))
    return np.asarray(take_up.margins(counts, size).best)


def _stays_knowing(recommended: Array, chances: Array) -> float:
    """How sure the best count would be on average if this measure were known: the mean share of the commonest count in
    each slice of its range."""
    slices = np.minimum((chances * SLICES).astype(int), SLICES - 1)
    sure = [
        np.unique(recommended[slices == i], return_counts=True)[1].max() / (slices == i).sum() for i in range(SLICES)
    ]
    return float(np.mean(sure))
