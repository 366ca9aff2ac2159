"""Observations that fit no bike like this one, and the single measure that would explain them (model, section 8)."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.measures import Measure, most_too_much, reach_of, values_of
from lone_pike.core.bike.seen import Seen
from lone_pike.core.seen.lot import usual_spreads
from lone_pike.core.seen.predicting import Sighting, sighted

MOST_SIGMAS, EXPLAINED_SIGMAS = 3.0, 1.0
"""From how many standard deviations on an observation does not fit, and within how many a measure explains it."""

EACH_WAY = 30
"""The number of errors of a measure that are tried either way."""


@dataclass(frozen=True)
class Misfit:
    """An observation, by its index in the file, and by how many standard deviations it is off; the measure that alone
    would explain it, and the value it would need; None if no measure does."""

    index: int
    sigmas: float
    measure: Measure | None
    value: float | None


def misfits_of(bike: Bike, weighed: Sequence[tuple[int, Seen]], sightings: Sequence[Sighting]) -> tuple[Misfit, ...]:
    """The observations that no bike of a sample matches, compared with the nearest bike; empty if one matches all."""
    off = np.max([one.sigmas for one in sightings], axis=0)
    if off.min() <= MOST_SIGMAS:
        return ()
    nearest = int(off.argmin())
    missed = [(index, one, float(one.sigmas[nearest])) for (index, _), one in zip(weighed, sightings, strict=True)]
    return tuple(
        Misfit(index, sigmas, *_explained(bike, one.seen)) for index, one, sigmas in missed if sigmas > MOST_SIGMAS
    )


def _explained(bike: Bike, seen: Seen) -> tuple[Measure | None, float | None]:
    """The measure that explains it with the smallest of its usual errors, and the value it would have."""
    values, usual = values_of(bike), usual_spreads(bike)
    measures = [measure for measure in values if measure in usual and reach_of(measure)]
    tried = np.arange(-EACH_WAY, EACH_WAY + 1) / EACH_WAY
    errors = {measure: np.zeros((len(measures), len(tried))) for measure in measures}
    for i, measure in enumerate(measures):
        errors[measure][i] = np.maximum(tried * reach_of(measure), -most_too_much(bike, measure))
    (found,) = sighted(bike, [seen], {measure: each.ravel() for measure, each in errors.items()})
    fits = found.sigmas.reshape(len(measures), -1) <= EXPLAINED_SIGMAS
    explained = [
        (float(np.abs(errors[measure][i][fits[i]]).min()) / usual[measure], i)
        for i, measure in enumerate(measures)
        if fits[i].any()
    ]
    if not explained:
        return None, None
    _, i = min(explained)
    measure, fitting = measures[i], errors[measures[i]][i][fits[i]]
    return measure, values[measure] + float(fitting[np.abs(fitting).argmin()])
