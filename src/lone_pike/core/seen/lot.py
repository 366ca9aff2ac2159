"""A sample of bikes that differ in their measures, each with its weight (model, section 8)."""

from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.measures import MEASURES, Errors, Measure, most_too_much, values_of
from lone_pike.core.bike.teeth import Array
from lone_pike.core.doubt.likelihood import BIKES, normal_errors
from lone_pike.core.seen.predicting import DEVIATIONS_OF_A_SPREAD, Sighting

FEWEST_LEFT = 50
"""The smallest effective number of bikes in a sample for learning."""

WIDER, LEAST_VARIANCE, LEAST_SHARE = 1.4, 1e-6, 1e-4
"""How much wider a new sample is than the bikes that match; its least width; and the least share of the evidence that
is used at once if all of it would leave too few bikes."""


@dataclass(frozen=True)
class Lot:
    """V bikes that differ in d measures. units (V, d) are the errors in standard deviations; logs (V,), the logarithms
    of the weights; deviations (d,) are in the unit of each measure."""

    bike: Bike
    measures: tuple[Measure, ...]
    deviations: Array
    units: Array
    logs: Array

    @property
    def errors(self) -> Errors:
        """The errors to add to each measure, limited so that no measure becomes smaller than possible."""
        return {
            measure: np.maximum(self.units[:, i] * self.deviations[i], -most_too_much(self.bike, measure))
            for i, measure in enumerate(self.measures)
        }

    @property
    def weights(self) -> Array:
        """The normalised weight of each bike."""
        weights = np.exp(self.logs - self.logs.max())
        return np.asarray(weights / weights.sum())

    @property
    def effective(self) -> float:
        """The effective number of bikes: how many equally weighted ones would be as informative."""
        return float(1 / np.square(self.weights).sum())

    def weighted_by(self, sightings: tuple[Sighting, ...], share: float = 1.0) -> "Lot":
        """This lot, weighted by how well each bike matches what was seen, or by a share of that."""
        return replace(self, logs=self.logs + share * np.sum([one.logs for one in sightings], axis=0))

    def again(self, sightings: tuple[Sighting, ...]) -> "Lot":
        """A new sample around the bikes that match what was seen, or that come nearest if too few match; each is
        weighted by how likely it was before anything was seen."""
        share = 1.0
        while share > LEAST_SHARE and self.weighted_by(sightings, share).effective < FEWEST_LEFT:
            share /= 2
        weights = self.weighted_by(sightings, share).weights
        middle = weights @ self.units
        apart = self.units - middle
        spread = (weights[:, None] * apart).T @ apart + np.eye(len(middle)) * LEAST_VARIANCE
        drawn = normal_errors(len(middle))
        units = middle + drawn @ (np.linalg.cholesky(spread) * WIDER).T
        before, sampled = (-0.5 * np.square(each).sum(axis=1) for each in (units, drawn))
        return replace(self, units=units, logs=before - sampled)


def lot_of(bike: Bike, spreads: Mapping[Measure, float]) -> Lot:
    """A sample according to the spreads of the measures."""
    deviations = np.array(list(spreads.values())) / DEVIATIONS_OF_A_SPREAD
    return Lot(bike, tuple(spreads), deviations, normal_errors(len(spreads)), np.zeros(BIKES))


def usual_spreads(bike: Bike) -> dict[Measure, float]:
    """The usual spread of each measure that has none of its own."""
    usual = {measure: MEASURES[measure].spread for measure in values_of(bike)}
    return {measure: spread.usual for measure, spread in usual.items() if spread}
