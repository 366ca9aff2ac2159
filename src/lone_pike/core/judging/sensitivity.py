"""How sure the answer is: how far each measure may be off before another count is recommended."""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.measures import ALWAYS, KINDS, Measure, most_too_much, spreads_of, values_of
from lone_pike.core.bike.teeth import Array
from lone_pike.core.judging.window import Ends, ends_of
from lone_pike.core.motion.poses import Gears, poses_of
from lone_pike.core.take_up.cage import settle, take_up

POINTS_EACH_WAY = 8
FINER = 40
MISCOUNTS = (("rings", -1), ("rings", 1), ("cogs", -1), ("cogs", 1))
"""Miscounts of the biggest ring and the biggest cog, by one tooth."""


@dataclass(frozen=True)
class ValidRange:
    """Over which values of one measure the recommendation stands, in the measure's unit.

    less and more are how far it may fall or grow; None beyond the searched reach.
    """

    measure: Measure
    value: float
    less: float | None
    more: float | None

    @property
    def least(self) -> float | None:
        """Smallest value at which the recommendation stands; None where it is out of reach."""
        return None if self.less is None else self.value - self.less

    @property
    def most(self) -> float | None:
        """Largest value at which the recommendation stands; None where it is out of reach."""
        return None if self.more is None else self.value + self.more

    @property
    def nearest(self) -> float | None:
        """Distance to the nearer edge; None where both are out of reach."""
        return min((edge for edge in (self.less, self.more) if edge is not None), default=None)


@dataclass(frozen=True)
class Sensitivity:
    """How far each measure may be off, and the counts that one tooth less or more would recommend."""

    valid_ranges: dict[Measure, ValidRange]
    ring_miscounted: tuple[int, int]
    cog_miscounted: tuple[int, int]


def sensitivity_of(bike: Bike, links: int, step: int, travels_mm: Array) -> Sensitivity:
    """What errors in the measures, and miscounts of the biggest ring or cog, would change.

    Both ends are computed at 8 errors each way of every measure and at four miscounts, all together.
    They are smooth over an error, so in between they are read off straight lines, 40 to a gap: below
    0.1 mm. Parameters: links, the recommended count; step, links between joinable counts; travels_mm, those
    at which the ends are worst.
    """
    shares = np.arange(-POINTS_EACH_WAY, POINTS_EACH_WAY + 1) / POINTS_EACH_WAY
    followed = dict.fromkeys([*ALWAYS, *spreads_of(bike)])
    errors = {measure: _errors(bike, measure, shares) for measure in followed}
    near = [links - step, links, links + step]
    ends = _ends(bike, errors, near, travels_mm)
    counts = [near[i] for i in ends.recommended[-len(MISCOUNTS) :]]
    stands = _between(ends, len(followed), len(shares)) == near.index(links)
    return Sensitivity(
        {measure: _hold(bike, measure, errors[measure], stands[i]) for i, measure in enumerate(followed)},
        ring_miscounted=(counts[0], counts[1]),
        cog_miscounted=(counts[2], counts[3]),
    )


def _errors(bike: Bike, measure: Measure, shares: Array) -> Array:
    """Errors both ways, no further down than the measure can be."""
    reach = KINDS[measure].reach
    return shares * np.where(shares < 0, min(reach, most_too_much(bike, measure)), reach)


def _ends(bike: Bike, errors: dict[Measure, Array], counts: list[int], travels_mm: Array) -> Ends:
    """Both ends, measure by measure for each of its errors, and then for each miscount."""
    block = len(next(iter(errors.values())))
    size = len(errors) * block + len(MISCOUNTS)
    apart: dict[Measure, Array] = {measure: np.zeros(size) for measure in errors}
    for i, measure in enumerate(errors):
        apart[measure][i * block : (i + 1) * block] = errors[measure]
    rings, cogs = (
        np.repeat(_end_teeth(getattr(bike, field), field, size), len(travels_mm), axis=0) for field in ("rings", "cogs")
    )
    poses = replace(poses_of(bike, travels_mm, apart), biggest_cog=cogs[:, :1])
    return ends_of(settle(take_up(poses, Gears(rings, cogs)), counts), counts, bike.limits, size)


def _end_teeth(teeth: tuple[int, ...], field: str, size: int) -> Array:
    """Biggest and smallest, (size, 2, 1); in the last places miscounted where the miscount is of this field."""
    found = np.full((size, 2, 1), 0.0)
    found[:, 0], found[:, 1] = max(teeth), min(teeth)
    for place, (miscounted, change) in enumerate(MISCOUNTS, start=size - len(MISCOUNTS)):
        if miscounted == field:
            swapped = [*sorted(teeth)[:-1], max(teeth) + change]
            found[place, 0], found[place, 1] = max(swapped), min(swapped)
    return found


def _between(ends: Ends, blocks: int, block: int) -> NDArray[np.int_]:
    """Index of the recommended count over each block of errors, 40 points to a gap, (blocks, points)."""
    weight = (np.arange(FINER) / FINER).reshape(1, 1, -1, 1)

    def lines(values: Array) -> Array:
        rows = values[: blocks * block].reshape(blocks, block, 1, -1)
        with np.errstate(invalid="ignore"):
            between = rows[:, :-1] + (rows[:, 1:] - rows[:, :-1]) * weight
        return np.where(np.isnan(between), -np.inf, between).reshape(-1, values.shape[-1])

    fine = Ends(ends.counts, lines(ends.reserve_deg), lines(ends.clearance_mm), ends.limits)
    return fine.recommended.reshape(blocks, -1)


def _hold(bike: Bike, measure: Measure, errors: Array, stands: NDArray[np.bool_]) -> ValidRange:
    points = np.interp(np.arange(len(stands)) / FINER, np.arange(len(errors)), errors)
    changed = points[~stands]
    less, more = -changed[changed < 0], changed[changed > 0]
    return ValidRange(
        measure,
        values_of(bike)[measure],
        less=float(less.min()) if less.size else None,
        more=float(more.min()) if more.size else None,
    )
