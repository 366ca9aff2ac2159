"""How sure the answer is: how far each measure may be off before another count is recommended."""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from lone_pike.core.bike import Bike
from lone_pike.core.path import Array
from lone_pike.core.poses import MEASURES, Gears, Measure, measure_of, most_too_long_mm, poses_of
from lone_pike.core.take_up import settle, take_up
from lone_pike.core.window import Ends, ends_of

REACH_MM: dict[Measure, float] = {"chainstay_mm": 16.0, "cage_mm": 24.0, "b_gap_mm": 12.0}
POINTS_EACH_WAY = 8
FINER = 40
MISCOUNTS = (("rings", -1), ("rings", 1), ("cogs", -1), ("cogs", 1))
"""Miscounts of the biggest ring and the biggest cog, by one tooth."""


@dataclass(frozen=True)
class Hold:
    """Over which values of one measure the recommendation stands, mm.

    less_mm and more_mm are how far the measure may fall or grow; None beyond the searched reach.
    """

    measure: Measure
    value_mm: float
    less_mm: float | None
    more_mm: float | None

    @property
    def min_mm(self) -> float | None:
        """Smallest value at which the recommendation stands; None where it is out of reach."""
        return None if self.less_mm is None else self.value_mm - self.less_mm

    @property
    def max_mm(self) -> float | None:
        """Largest value at which the recommendation stands; None where it is out of reach."""
        return None if self.more_mm is None else self.value_mm + self.more_mm

    @property
    def nearest_mm(self) -> float | None:
        """Distance to the nearer edge; None where both are out of reach."""
        return min((edge for edge in (self.less_mm, self.more_mm) if edge is not None), default=None)


@dataclass(frozen=True)
class Doubt:
    """How far each measure may be off, and the counts that one tooth less or more would recommend."""

    holds: dict[Measure, Hold]
    ring_miscounted: tuple[int, int]
    cog_miscounted: tuple[int, int]


def doubt_of(bike: Bike, links: int, step: int, travels_mm: Array) -> Doubt:
    """What errors in the measures, and miscounts of the biggest ring or cog, would change.

    Both ends are computed at 8 errors each way of every measure and at four miscounts, all together.
    They are smooth over an error, so in between they are read off straight lines, 40 to a gap: below
    0.1 mm. Parameters: links, the recommended count; step, links between joinable counts; travels_mm, those
    at which the ends are worst.
    """
    shares = np.arange(-POINTS_EACH_WAY, POINTS_EACH_WAY + 1) / POINTS_EACH_WAY
    errors_mm = {measure: _errors_mm(bike, measure, shares) for measure in MEASURES}
    near = [links - step, links, links + step]
    ends = _ends(bike, errors_mm, near, travels_mm)
    counts = [near[i] for i in ends.recommended[-len(MISCOUNTS) :]]
    stands = _between(ends, len(MEASURES), len(shares)) == near.index(links)
    return Doubt(
        {measure: _hold(bike, measure, errors_mm[measure], stands[i]) for i, measure in enumerate(MEASURES)},
        ring_miscounted=(counts[0], counts[1]),
        cog_miscounted=(counts[2], counts[3]),
    )


def _errors_mm(bike: Bike, measure: Measure, shares: Array) -> Array:
    """Errors both ways, no further down than the measure can be."""
    down_mm = min(REACH_MM[measure], most_too_long_mm(bike, measure))
    return shares * np.where(shares < 0, down_mm, REACH_MM[measure])


def _ends(bike: Bike, errors_mm: dict[Measure, Array], counts: list[int], travels_mm: Array) -> Ends:
    """Both ends, measure by measure for each of its errors, and then for each miscount."""
    block = len(next(iter(errors_mm.values())))
    size = len(MEASURES) * block + len(MISCOUNTS)
    errors = {measure: np.zeros(size) for measure in MEASURES}
    for i, measure in enumerate(MEASURES):
        errors[measure][i * block : (i + 1) * block] = errors_mm[measure]
    rings, cogs = (
        np.repeat(_end_teeth(getattr(bike, field), field, size), len(travels_mm), axis=0) for field in ("rings", "cogs")
    )
    poses = replace(poses_of(bike, travels_mm, errors), biggest_cog=cogs[:, :1])
    return ends_of(settle(take_up(poses, Gears(rings, cogs)), counts), counts, size)


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

    fine = Ends(ends.counts, lines(ends.reserve_deg), lines(ends.clearance_mm))
    return fine.recommended.reshape(blocks, -1)


def _hold(bike: Bike, measure: Measure, errors_mm: Array, stands: NDArray[np.bool_]) -> Hold:
    points = np.interp(np.arange(len(stands)) / FINER, np.arange(len(errors_mm)), errors_mm)
    changed_mm = points[~stands]
    less, more = -changed_mm[changed_mm < 0], changed_mm[changed_mm > 0]
    return Hold(
        measure,
        measure_of(bike, measure),
        less_mm=float(less.min()) if less.size else None,
        more_mm=float(more.min()) if more.size else None,
    )
