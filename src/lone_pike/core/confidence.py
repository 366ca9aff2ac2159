"""How sure the answer is: how far each measure may be off before another count is recommended."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from lone_pike.core.bike import Bike
from lone_pike.core.path import Array
from lone_pike.core.poses import MEASURES, Measure, measure_of, poses_of
from lone_pike.core.sizing import size_bike
from lone_pike.core.window import Ends, ends_at

REACH_MM: dict[Measure, float] = {"chainstay_mm": 16.0, "cage_mm": 24.0, "b_gap_mm": 12.0}
POINTS_EACH_WAY = 8
FINER = 40


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


def holds(bike: Bike, links: int, step: int) -> dict[Measure, Hold]:
    """For each measure, how far it may be off while `links` stays recommended.

    Both ends are computed at 8 errors each way of every measure, all together; they are smooth, so
    in between they are read off straight lines, 40 to a gap: below 0.1 mm.
    Parameters: step, links between joinable counts.
    """
    shares = np.arange(-POINTS_EACH_WAY, POINTS_EACH_WAY + 1) / POINTS_EACH_WAY
    errors_mm = {measure: _errors_mm(bike, measure, shares) for measure in MEASURES}
    blocks = {
        measure: np.concatenate([errors_mm[other] * (other == measure) for other in MEASURES]) for measure in MEASURES
    }
    near = [links + step * away for away in (-2, -1, 0, 1, 2)]
    ends = ends_at(bike, poses_of(bike, blocks), near, len(MEASURES) * len(shares))
    reserve, clearance = (_between(values, len(shares)) for values in (ends.reserve_deg, ends.clearance_mm))
    stands = np.array(near)[Ends(ends.counts, reserve, clearance).recommended] == links
    rows = stands.reshape(len(MEASURES), -1)
    return {
        measure: _hold(bike, measure, _between(errors_mm[measure][:, None], len(shares))[:, 0], rows[i])
        for i, measure in enumerate(MEASURES)
    }


def _errors_mm(bike: Bike, measure: Measure, shares: Array) -> Array:
    """Errors both ways, no further down than leaves most of the measure."""
    reach = np.where(shares < 0, min(REACH_MM[measure], 0.45 * measure_of(bike, measure)), REACH_MM[measure])
    return shares * reach


def _hold(bike: Bike, measure: Measure, errors_mm: Array, stands: NDArray[np.bool_]) -> Hold:
    changed_mm = errors_mm[~stands]
    less, more = -changed_mm[changed_mm < 0], changed_mm[changed_mm > 0]
    return Hold(
        measure,
        measure_of(bike, measure),
        less_mm=float(less.min()) if less.size else None,
        more_mm=float(more.min()) if more.size else None,
    )


def _between(values: Array, block: int) -> Array:
    """Rows in blocks, with 39 more on straight lines between each two of a block."""
    rows = values.reshape(-1, block, 1, values.shape[-1])
    weight = (np.arange(FINER) / FINER).reshape(1, 1, -1, 1)
    with np.errstate(invalid="ignore"):
        lines = rows[:, :-1] + (rows[:, 1:] - rows[:, :-1]) * weight
    return np.where(np.isnan(lines), -np.inf, lines).reshape(-1, values.shape[-1])


@dataclass(frozen=True)
class TeethCost:
    """Counts that would be recommended with one tooth less and one more."""

    ring: tuple[int, int]
    cog: tuple[int, int]


@lru_cache(maxsize=64)
def teeth_cost(bike: Bike) -> TeethCost:
    """What a miscount by one tooth on the biggest ring or the biggest cog would recommend."""

    def with_biggest(field: str, change: int) -> int:
        teeth = sorted(getattr(bike, field))
        swapped = (*teeth[:-1], teeth[-1] + change)
        return size_bike(bike.model_copy(update={field: swapped})).recommended_links

    return TeethCost(
        ring=(with_biggest("rings", -1), with_biggest("rings", 1)),
        cog=(with_biggest("cogs", -1), with_biggest("cogs", 1)),
    )
