"""What the cage takes up: length against cage angle, and where the cage settles for a count (model, section 2).

All arrays have three axes: P poses, G gears, and A angles or K counts.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass, fields

import numpy as np
from numpy.typing import NDArray

from lone_pike.core.limits import limit
from lone_pike.core.path import TURN_RAD, Array, Number, Path, beside_run_mm, trace
from lone_pike.core.poses import GUIDE, TENSION, CagedLoop, Gears, Poses, bare_stops, caged_loop

SCAN_RAD = np.radians(np.arange(-144.0, 145.0, 12.0))
SCAN_INDEX = np.arange(len(SCAN_RAD))
REFINEMENTS = 5

Point = tuple[Array, Array]
"""Cage angles, radians, and a function's values there."""


@dataclass(frozen=True)
class TakeUp:
    """Length of the loop over the cage's sweep.

    lengths_links (P, G, A) over the angles SCAN_RAD falls along the sweep and is nan outside it;
    bare_links, and the two ends of the sweep, slackest and stretched, are (P, G, 1).
    """

    loop: CagedLoop
    bare_links: Array
    lengths_links: Array
    slackest_rad: Array
    slackest_links: Array
    stretched_rad: Array
    stretched_links: Array


@dataclass(frozen=True)
class Settled:
    """Where the cage comes to rest for K counts; every array is (P, G, K), nan where it cannot.

    cage_rad from straight down, forward positive; reserve_rad to the stretched end; spare_links over
    the shortest loop; clearance_mm from the guide pulley to the return run; short and loose are flags.
    """

    cage_rad: Array
    reserve_rad: Array
    spare_links: Array
    clearance_mm: Array
    short: NDArray[np.bool_]
    loose: NDArray[np.bool_]

    def at(self, which: Sequence[int]) -> "Settled":
        """The same for some of the counts, by their index."""
        return Settled(*(getattr(self, field.name)[..., which] for field in fields(self)))


def take_up(poses: Poses, gears: Gears) -> TakeUp:
    """The sweep of the cage from slackest to stretched, for every pose and gear.

    The slackest end is where the loop is longest; the stretched one where the chain is about to
    leave a pulley. Source: model, section 2.
    """
    loop = caged_loop(poses, gears)
    path = loop.path(SCAN_RAD)
    spare_wrap = _spare_wrap_rad(path)
    lengths = np.where(spare_wrap >= 0, path.links, -np.inf)
    longest = lengths.argmax(axis=-1, keepdims=True)
    slackest = _top_rad(lengths, longest)
    off = (spare_wrap < 0) & (longest < SCAN_INDEX)
    first_off = np.where(off.any(axis=-1, keepdims=True), off.argmax(axis=-1, keepdims=True), len(SCAN_RAD) - 1)
    stretched = find_root(
        lambda cage_rad: _spare_wrap_rad(loop.path(cage_rad)),
        (SCAN_RAD[first_off - 1], np.take_along_axis(spare_wrap, first_off - 1, axis=-1)),
        (SCAN_RAD[first_off], np.take_along_axis(spare_wrap, first_off, axis=-1)),
    )
    return TakeUp(
        loop=loop,
        bare_links=np.asarray(trace(bare_stops(poses, gears)).links),
        lengths_links=np.where((longest <= SCAN_INDEX) & (first_off > SCAN_INDEX), lengths, np.nan),
        slackest_rad=slackest,
        slackest_links=np.asarray(loop.path(slackest).links),
        stretched_rad=stretched,
        stretched_links=np.asarray(loop.path(stretched).links),
    )


def _top_rad(lengths: Array, longest: NDArray[np.int_]) -> Array:
    """Angle of the top of the parabola through the longest of the scanned loops and its neighbours."""
    middle = np.clip(longest, 1, len(SCAN_RAD) - 2)
    before, top, after = (np.take_along_axis(lengths, middle + side, axis=-1) for side in (-1, 0, 1))
    with np.errstate(invalid="ignore", divide="ignore"):
        bend = before - 2 * top + after
        steps = np.where(bend < 0, (before - after) / (2 * bend), 0.0)
    return np.asarray(SCAN_RAD[middle] + np.clip(np.nan_to_num(steps), -1, 1) * (SCAN_RAD[1] - SCAN_RAD[0]))


def _spare_wrap_rad(path: Path) -> Array:
    """Wrap left on the pulley that has less of it; below 0 the chain is off."""
    tension, guide = (np.asarray(_signed(path.wraps_rad[path.index(name)])) for name in (TENSION, GUIDE))
    return np.asarray(np.minimum(tension, guide) - np.radians(limit("on_pulley_wrap")))


def _signed(wrap_rad: Number) -> Number:
    """A wrap near a full turn is one that has fallen below nothing."""
    return np.where(wrap_rad > 0.8 * TURN_RAD, wrap_rad - TURN_RAD, wrap_rad)


def settle(taken: TakeUp, counts: Sequence[int] | Array) -> Settled:
    """Where the cage comes to rest for each count, solved on the falling table and refined.

    Source: model, section 2.
    """
    links = np.asarray(counts, dtype=float)
    short, loose = links < taken.stretched_links, links > taken.slackest_links
    root = find_root(lambda cage_rad: np.asarray(taken.loop.path(cage_rad).links) - links, *_bracket(taken, links))
    cage_rad = np.where(short | loose, np.nan, root)
    return Settled(
        cage_rad=cage_rad,
        reserve_rad=taken.stretched_rad - cage_rad,
        spare_links=np.where(short | loose, np.nan, links - taken.stretched_links),
        clearance_mm=clearance_mm(taken.loop.path(cage_rad)),
        short=short,
        loose=loose,
    )


def _bracket(taken: TakeUp, links: Array) -> tuple[Point, Point]:
    """The two neighbours on the falling table between which each count lies, with the links over it there."""
    finite = np.isfinite(taken.lengths_links)
    first = finite.argmax(axis=-1)[..., None]
    last = first + finite.sum(axis=-1, keepdims=True) - 1
    longer = (taken.lengths_links[..., None, :] >= links[:, None]).sum(axis=-1)
    here = np.maximum(first + longer - 1, first)
    after = np.minimum(here + 1, last)
    above_table, below_table = longer == 0, here == last
    low = np.where(above_table, taken.slackest_rad, SCAN_RAD[here])
    high = np.where(above_table, SCAN_RAD[first], np.where(below_table, taken.stretched_rad, SCAN_RAD[after]))
    at_low = np.where(above_table, taken.slackest_links, np.take_along_axis(taken.lengths_links, here, axis=-1))
    at_after = np.take_along_axis(taken.lengths_links, np.where(above_table, first, after), axis=-1)
    at_high = np.where(below_table & ~above_table, taken.stretched_links, at_after)
    return (low, at_low - links), (high, at_high - links)


def clearance_mm(path: Path) -> Array:
    """Air between guide pulley and return run; at or below 0 the chain touches itself.

    Equation: distance of the guide pulley's centre from the return run, less its pitch radius, less
    8.6 mm of plate. Where the cage swings forward and the run ends before it comes under the guide
    pulley, the run's end counts, not its line. Source: model, section 2.
    """
    guide, last_run = path.stops[path.index(GUIDE)], path.index(TENSION) - 1
    distance = beside_run_mm(path, last_run, guide.x_mm, guide.y_mm)
    return np.asarray(distance - np.abs(guide.signed_radius_mm) - limit("plate_height"))


def find_root(function: Callable[[Array], Array], left: Point, right: Point) -> Array:
    """Where a falling function of the cage angle crosses zero between two points, elementwise.

    False position in the Illinois form: an end that stays twice counts half. Every step keeps a bracket.
    Parameters: left and right, each the angles and the function's values there.
    """
    (low, f_low), (high, f_high) = left, right
    middle, stayed = low, np.zeros(np.shape(f_low))
    for _ in range(REFINEMENTS):
        fall = f_low - f_high
        middle = low + (high - low) * f_low / np.where(fall == 0, 1, fall)
        f_middle = function(middle)
        above = f_middle >= 0
        f_high = np.where(above, np.where(stayed == 1, f_high / 2, f_high), f_middle)
        f_low = np.where(above, f_middle, np.where(stayed == -1, f_low / 2, f_low))
        low, high = np.where(above, middle, low), np.where(above, high, middle)
        stayed = np.where(above, 1, -1)
    return middle
