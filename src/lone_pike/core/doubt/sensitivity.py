"""How sure the answer is: how far off each measure may be before another count is recommended."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.measures import Measure, most_too_much, reach_of, spreads_of, values_of
from lone_pike.core.bike.teeth import Array
from lone_pike.core.chain.counting import step_links
from lone_pike.core.motion.poses import Gears, end_gears, poses_as_given
from lone_pike.core.take_up.kinds import take_up_of
from lone_pike.core.take_up.protocol import Margins, TakeUp

POINTS_EACH_WAY, MORE_POINTS_EACH_WAY = 7, 48
BESIDE = 0.1
INWARD = np.array([BESIDE, -BESIDE])
"""How far on either side a limit is checked again; if it turns out not to be a limit, more points are computed."""

MIDDLE = 1
FINER = 40
STEPS = np.arange(FINER) / FINER
ON_LINE = np.stack([1 - STEPS, STEPS], axis=1)
ON_CUBIC = np.stack(
    [
        -STEPS * (STEPS - 1) * (STEPS - 2) / 6,
        (STEPS + 1) * (STEPS - 1) * (STEPS - 2) / 2,
        -(STEPS + 1) * STEPS * (STEPS - 2) / 2,
        (STEPS + 1) * STEPS * (STEPS - 1) / 6,
    ],
    axis=1,
)
"""The weights of the two or four points around a gap at each place in it, (places, points)."""
MISCOUNTS = ((-1, 0), (1, 0), (0, -1), (0, 1))
"""By how many teeth the largest ring and the largest cog are miscounted."""


@dataclass(frozen=True)
class ValidRange:
    """The values of one measure for which the recommendation stays the same, in the unit of the measure. less and more
    are how far the measure may fall or grow; None if no limit was found within reach."""

    measure: Measure
    value: float
    less: float | None
    more: float | None

    @property
    def least(self) -> float | None:
        """Smallest value with the same recommendation; None if no limit was found."""
        return None if self.less is None else self.value - self.less

    @property
    def most(self) -> float | None:
        """Largest value with the same recommendation; None if no limit was found."""
        return None if self.more is None else self.value + self.more

    @property
    def nearest(self) -> float | None:
        """Distance to the nearer limit; None if there is none on either side."""
        return min((edge for edge in (self.less, self.more) if edge is not None), default=None)


@dataclass(frozen=True)
class Sensitivity:
    """How far off each measure may be, and which counts are recommended with one tooth less and one more."""

    valid_ranges: dict[Measure, ValidRange]
    ring_miscounted: tuple[int, int]
    cog_miscounted: tuple[int, int]


def sensitivity_of(bike: Bike, take_up: TakeUp, count: int, travels_mm: Array) -> Sensitivity:
    """How errors in the measures, or a tooth counted wrong, would change the recommended count.

    Parameters: take_up, the bike's as measured; count, the recommended one, links; travels_mm, the travels at which the
    two ends are worst.
    """
    step = step_links(bike.chain.offset_link)
    near = (count - step, count, count + step)
    followed = tuple(dict.fromkeys([*take_up.always_measured, *spreads_of(bike)]))
    margins, ranges = _followed(bike, followed, near, travels_mm, POINTS_EACH_WAY)
    missed = _missed(bike, ranges, near, travels_mm)
    if missed:
        ranges |= _followed(bike, missed, near, travels_mm, MORE_POINTS_EACH_WAY)[1]
    miscounted = [near[i] for i in margins.best[-len(MISCOUNTS) :]]
    return Sensitivity(
        ranges,
        ring_miscounted=(miscounted[0], miscounted[1]),
        cog_miscounted=(miscounted[2], miscounted[3]),
    )


def _followed(
    bike: Bike, measures: tuple[Measure, ...], near: tuple[int, int, int], travels_mm: Array, each_way: int
) -> tuple[Margins, dict[Measure, ValidRange]]:
    """How far each measure may be off before a neighbour of the middle one of three counts is better.

    Returns: what the counts keep for every error and every miscount, and the range of each measure.
    """
    errors = _errors(bike, measures, np.arange(-each_way, each_way + 1) / each_way)
    margins = _margins(bike, measures, errors, near, travels_mm, MISCOUNTS)
    stands, values = _between(margins, *errors.shape) == MIDDLE, values_of(bike)
    ranges = {measure: _range(measure, values[measure], errors[i], stands[i]) for i, measure in enumerate(measures)}
    return margins, ranges


def _missed(
    bike: Bike, ranges: dict[Measure, ValidRange], near: tuple[int, int, int], travels_mm: Array
) -> tuple[Measure, ...]:
    """The measures whose limits turn out wrong when they are computed once more.

    Just inside a limit the count must still be recommended, and just outside it another one must be.
    """
    if not ranges:
        return ()
    edges = np.array([(-(one.less or 0.0), one.more or 0.0) for one in ranges.values()])
    has_edge = np.array([(one.less is not None, one.more is not None) for one in ranges.values()])
    inward = np.where(np.abs(edges) > BESIDE, INWARD, 0.0)
    places = np.concatenate([edges + inward, edges - INWARD], axis=1)
    margins = _margins(bike, tuple(ranges), places, near, travels_mm)
    stands = (margins.best == MIDDLE).reshape(-1, 2, 2)
    both_are = (stands[:, 0] & ~stands[:, 1] | ~has_edge).all(axis=1)
    return tuple(measure for measure, are in zip(ranges, both_are.tolist(), strict=True) if not are)


def _errors(bike: Bike, measures: tuple[Measure, ...], shares: Array) -> Array:
    """The errors to try for each measure, (M, shares). No error makes a measure smaller than it can be."""
    reach = np.array([reach_of(measure) for measure in measures])
    down = np.minimum(reach, [most_too_much(bike, measure) for measure in measures])
    return shares * np.where(shares < 0, down[:, None], reach[:, None])


def _margins(
    bike: Bike,
    measures: tuple[Measure, ...],
    errors: Array,
    counts: Sequence[int],
    travels_mm: Array,
    miscounts: Sequence[tuple[int, int]] = (),
) -> Margins:
    """What the counts keep: for each measure in turn with each of its errors (M, n), then for each miscount."""
    each, size = errors.shape[1], errors.size + len(miscounts)
    apart = np.zeros((max(len(measures), 1), size))
    for i, row in enumerate(errors):
        apart[i, i * each : (i + 1) * each] = row
    gears = end_gears(bike)
    if miscounts:
        more = np.zeros((size, 2))
        more[-len(miscounts) :] = miscounts
        ring_more, cog_more = more.repeat(len(travels_mm), axis=0).T
        gears = Gears(_with_larger(gears.ring_teeth, ring_more), _with_larger(gears.cog_teeth, cog_more))
    off = dict(zip(measures or ("none",), apart, strict=True))
    return take_up_of(bike, poses_as_given(bike, travels_mm, off), gears, off).margins(counts, size)


def _with_larger(teeth: Array, more: Array) -> Array:
    """Teeth of the two end gears (1, 2, 1), with teeth added to the larger wheel in each pose, (P, 2, 1)."""
    return np.asarray(teeth + more[:, None, None] * (teeth == teeth.max()))


def _between(margins: Margins, measures: int, points: int) -> NDArray[np.int_]:
    """Which count is best for each measure as its error grows, (M, places), with FINER places between two errors."""
    if not measures:
        return np.zeros((0, 0), dtype=np.int_)
    counts, wanted = margins.counts, np.broadcast_to(margins.wanted, (len(margins.at_short), 1))
    rows = np.concatenate([margins.at_short, margins.at_long, wanted], axis=1)[: measures * points]
    curves = _curve(rows.reshape(measures, points, -1)).reshape(-1, rows.shape[1])
    fine = Margins(counts, curves[:, : len(counts)], curves[:, len(counts) : -1], curves[:, -1:])
    return fine.best.reshape(measures, -1)


def _curve(rows: Array) -> Array:
    """Values between computed points: (blocks, points, K) become (blocks, gaps, FINER, K).

    A value lies on the cubic through the four points around its gap. Beyond either end one more point is added on the
    line of the last two. Where one of the four is not finite, the value lies on the line between its two neighbours,
    and it is -inf where one of those is not finite either. Source: Lagrange's interpolation.
    """
    with np.errstate(invalid="ignore"):
        before, past = 2 * rows[:, :1] - rows[:, 1:2], 2 * rows[:, -1:] - rows[:, -2:-1]
        padded = np.concatenate([before, rows, past], axis=1)
        around = np.stack([padded[:, :-3], padded[:, 1:-2], padded[:, 2:-1], padded[:, 3:]], axis=2)
        between = ON_CUBIC @ around
        on_cubic = np.isfinite(between)
        if on_cubic.all():
            return np.asarray(between)
        between = np.where(on_cubic, between, ON_LINE @ around[:, :, 1:3])
    return np.where(np.isnan(between), -np.inf, between)


def _range(measure: Measure, value: float, errors: Array, stands: NDArray[np.bool_]) -> ValidRange:
    """How far the count stays best on either side of no error. stands has FINER places between two errors."""
    changed = np.flatnonzero(~stands)
    place = int(changed.searchsorted(len(errors) // 2 * FINER))

    def edge(at: float) -> float:
        gap, step = divmod(float(at), FINER)
        before, after = errors[int(gap) : int(gap) + 2].tolist()
        return float(before + (after - before) * step / FINER)

    # An edge lies half way between the last place at which the count stands and the first at which it does not.
    less = max(0.0, -edge(changed[place - 1] + 0.5)) if place > 0 else None
    more = max(0.0, edge(changed[place] - 0.5)) if place < len(changed) else None
    return ValidRange(measure, value, less, more)
