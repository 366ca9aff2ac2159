"""A lot of bikes that differ in their measures, each with its weight (model, section 8)."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.measures import MEASURES, Errors, Measure, most_too_much, values_of
from lone_pike.core.bike.teeth import Array
from lone_pike.core.doubt.likelihood import BIKES, normal_errors
from lone_pike.core.seen.predicting import DEVIATIONS_OF_A_SPREAD, Sighting

FEWEST_LEFT = 50
"""So many bikes of a lot must still count for what is learned."""

WIDER, LEAST_VARIANCE, LEAST_SHARE = 1.4, 1e-6, 1e-4
"""How much wider a new lot lies than those that count; what keeps it from shrinking to a point; and the least share
of what was seen that is taken in at once, where all of it would leave too few."""


@dataclass(frozen=True)
class Lot:
    """V bikes that differ in d measures. units (V, d) are the errors in deviations, logs (V,) the logarithm of each
    one's weight; deviations (d,) are in the unit of each measure."""

    bike: Bike
    measures: tuple[Measure, ...]
    deviations: Array
    units: Array
    logs: Array

    @property
    def errors(self) -> Errors:
        """What is added to each measure; none becomes smaller than it can be."""
        return {
            measure: np.maximum(self.units[:, i] * self.deviations[i], -most_too_much(self.bike, measure))
            for i, measure in enumerate(self.measures)
        }

    @property
    def weights(self) -> Array:
        """The share of each bike."""
        weights = np.exp(self.logs - self.logs.max())
        return np.asarray(weights / weights.sum())

    @property
    def effective(self) -> float:
        """How many bikes of one weight would tell as much."""
        return float(1 / np.square(self.weights).sum())

    def narrowed(self, sightings: tuple[Sighting, ...], share: float = 1.0) -> "Lot":
        """The same, weighed by how well each bike meets what was seen; by a share of that."""
        return replace(self, logs=self.logs + share * np.sum([one.logs for one in sightings], axis=0))

    def again(self, sightings: tuple[Sighting, ...]) -> "Lot":
        """Sampled anew round the bikes that meet what was seen, or come nearest to it where too few do; each weighed
        by how likely it was before anything was seen."""
        share = 1.0
        while share > LEAST_SHARE and self.narrowed(sightings, share).effective < FEWEST_LEFT:
            share /= 2
        weights = self.narrowed(sightings, share).weights
        middle = weights @ self.units
        apart = self.units - middle
        spread = (weights[:, None] * apart).T @ apart + np.eye(len(middle)) * LEAST_VARIANCE
        drawn = normal_errors(len(middle))
        units = middle + drawn @ (np.linalg.cholesky(spread) * WIDER).T
        before, sampled = (-0.5 * np.square(each).sum(axis=1) for each in (units, drawn))
        return replace(self, units=units, logs=before - sampled)


def lot_of(bike: Bike, spreads: Mapping[Measure, float]) -> Lot:
    """A lot as the measures' spreads have it."""
    deviations = np.array(list(spreads.values())) / DEVIATIONS_OF_A_SPREAD
    return Lot(bike, tuple(spreads), deviations, normal_errors(len(spreads)), np.zeros(BIKES))


def usual_spreads(bike: Bike) -> dict[Measure, float]:
    """How far off each measure usually is, where nobody said."""
    usual = {measure: MEASURES[measure].spread for measure in values_of(bike)}
    return {measure: spread.usual for measure, spread in usual.items() if spread}
