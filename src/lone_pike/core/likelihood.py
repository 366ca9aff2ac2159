"""How likely the count stays, where measures are only about right; computed, not drawn by lot."""

from dataclasses import dataclass
from itertools import product
from statistics import NormalDist

import numpy as np

from lone_pike.core.bike import Bike
from lone_pike.core.measures import Errors, Measure, most_too_much, spreads_of
from lone_pike.core.path import Array
from lone_pike.core.poses import end_gears, poses_of
from lone_pike.core.take_up import settle, take_up
from lone_pike.core.window import ends_of

POINTS = (101, 19, 9, 5, 4, 3, 3, 2, 2)
"""Equally likely errors of each measure, by how many measures are in doubt: one, two and so on."""

COUNTS_EACH_WAY = 3


@dataclass(frozen=True)
class Likelihood:
    """Share of bikes that measure like this for which each count is recommended, and the measure to take again.

    matters is the measure whose exact value would make the count surest; with_it the share it would then
    stay, on the whole; None where no measure would.
    """

    shares: dict[int, float]
    stays: float
    matters: Measure | None
    with_it: float


def likelihood_of(bike: Bike, links: int, step: int, travels_mm: Array) -> Likelihood | None:
    """How likely `links` stays recommended, over the spread of the measures; None where none is in doubt.

    Each measure takes equally likely values of a normal distribution with half its spread as deviation;
    every combination is sized. Parameters: links, the recommended count; step, links between joinable
    counts; travels_mm, those at which the ends are worst.
    """
    spreads = spreads_of(bike)
    if not spreads:
        return None
    points = POINTS[len(spreads) - 1]
    chances = (np.arange(points) + 0.5) / points
    units = np.array([NormalDist().inv_cdf(float(chance)) for chance in chances])
    grid = np.array(list(product(units, repeat=len(spreads))))
    errors = {
        measure: np.maximum(grid[:, i] * spread / 2, -most_too_much(bike, measure))
        for i, (measure, spread) in enumerate(spreads.items())
    }
    counts = [links + step * away for away in range(-COUNTS_EACH_WAY, COUNTS_EACH_WAY + 1)]
    found = np.array(counts)[_recommended(bike, errors, counts, travels_mm)]
    shares = {int(count): float((found == count).mean()) for count in np.unique(found)}
    stays = shares.get(links, 0.0)
    best = {measure: _stays_knowing(found, grid[:, i]) for i, measure in enumerate(spreads)}
    matters = max(best, key=lambda measure: best[measure])
    return Likelihood(shares, stays, matters if best[matters] > stays else None, best[matters])


def _recommended(bike: Bike, errors: Errors, counts: list[int], travels_mm: Array) -> Array:
    taken = take_up(poses_of(bike, travels_mm, errors), end_gears(bike))
    size = len(next(iter(errors.values())))
    return np.asarray(ends_of(settle(taken, counts), counts, bike.limits, size).recommended)


def _stays_knowing(found: Array, unit: Array) -> float:
    """How sure the best count would be on the whole, were this measure known: the commonest count at each of its
    values, averaged."""
    sure = [
        max(np.unique(found[unit == value], return_counts=True)[1]) / (unit == value).sum() for value in np.unique(unit)
    ]
    return float(np.mean(sure))
