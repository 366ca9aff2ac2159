"""The sweep of a cage: loop length against cage angle, and where the cage settles for a count (model, section 2).

All arrays have three axes: P poses, G gears, and A angles or K counts.
"""

from collections.abc import Sequence
from dataclasses import dataclass, fields

import numpy as np
from numpy.typing import NDArray

from lone_pike.core.bike.limits import limit
from lone_pike.core.bike.teeth import Array, Number
from lone_pike.core.chain.path import TURN_RAD, Path, beside_run_mm
from lone_pike.core.take_up.caged_loop import GUIDE, TENSION, CagedLoop

SCAN_RAD = np.radians(np.arange(-144.0, 145.0, 12.0))
PLUMB = int(np.abs(SCAN_RAD).argmin())
SCAN_INDEX = np.arange(len(SCAN_RAD))
EPSILON = 1e-9

Point = tuple[Array, Array]
"""Cage angles, radians, and a function's values there."""


@dataclass(frozen=True)
class Sweep:
    """Length of the loop over the cage's sweep.

    lengths_links (P, G, A) over the angles SCAN_RAD falls along the sweep and is nan outside it;
    the two ends of the sweep, slackest and stretched, are (P, G, 1).
    """

    loop: CagedLoop
    lengths_links: Array
    slackest_rad: Array
    slackest_links: Array
    stretched_rad: Array
    stretched_links: Array

    @property
    def plumb_links(self) -> Array:
        """Length with the cage straight down (P, G); nan where that lies outside the sweep."""
        return np.asarray(self.lengths_links[..., PLUMB])

    def scanned_links(self, gear: int, cage_rad: Array) -> Array:
        """Length in one gear at the last scanned angle before each pose's own, never too little, (P,)."""
        before = np.searchsorted(SCAN_RAD, cage_rad, side="right") - 1
        scanned = self.lengths_links[np.arange(len(cage_rad)), gear, np.maximum(before, 0)]
        return np.where(np.isnan(scanned), self.slackest_links[:, gear, 0], scanned)


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


def sweep_of(loop: CagedLoop) -> Sweep:
    """The sweep of the cage from slackest to stretched, for every pose and gear.

    The slackest end is where the loop is longest; the stretched one where the chain is about to
    leave a pulley. Source: model, section 2.
    """
    with np.errstate(invalid="ignore"):
        return _sweep(loop)


def _sweep(loop: CagedLoop) -> Sweep:
    path = loop.path(SCAN_RAD)
    on_guide, on_tension = _spare_wraps_rad(path)
    spare_wrap = np.minimum(on_guide, on_tension)
    lengths = np.where(spare_wrap >= 0, path.links, -np.inf)
    longest = lengths.argmax(axis=-1, keepdims=True)
    slackest = _top_rad(lengths, longest)
    off = (spare_wrap < 0) & (longest < SCAN_INDEX)
    first_off = np.where(off.any(axis=-1, keepdims=True), off.argmax(axis=-1, keepdims=True), len(SCAN_RAD) - 1)
    # The cage turns the run onto the guide pulley with it: the wrap there falls one for one.
    stretched = np.minimum(SCAN_RAD[first_off - 1] + _picked(on_guide, first_off - 1), SCAN_RAD[first_off])
    ends = loop.path(np.concatenate([slackest, stretched], axis=-1))
    if (_spare_wraps_rad(ends)[1][..., 1:] < -EPSILON).any():
        stretched = _off_pulley_rad(loop, spare_wrap, first_off)
        ends = loop.path(np.concatenate([slackest, stretched], axis=-1))
    links = np.asarray(ends.links)
    return Sweep(
        loop=loop,
        lengths_links=np.where((slackest < SCAN_RAD) & (first_off > SCAN_INDEX), lengths, np.nan),
        slackest_rad=slackest,
        slackest_links=links[..., :1],
        stretched_rad=stretched,
        stretched_links=links[..., 1:],
    )


def _off_pulley_rad(loop: CagedLoop, spare_wrap: Array, first_off: NDArray[np.int_]) -> Array:
    """Where the spare wrap runs out, between the last angle on the pulleys and the first one off them, by secants.

    Only where the chain leaves the tension pulley first, as it does on few bikes.
    """
    low, high = SCAN_RAD[first_off - 1], SCAN_RAD[first_off]
    on, off = (_picked(spare_wrap, first_off - back) for back in (1, 0))
    angle = low
    for _ in range(3):
        angle = low + (high - low) * on / np.maximum(on - off, EPSILON)
        left = np.minimum(*_spare_wraps_rad(loop.path(angle)))
        still_on = left >= 0
        low, on = np.where(still_on, angle, low), np.where(still_on, left, on)
        high, off = np.where(still_on, high, angle), np.where(still_on, off, left)
    return np.asarray(angle)


def _picked(values: Array, index: NDArray[np.int_]) -> Array:
    """Of each pose and gear the values at an index of its own; index (P, G, n)."""
    return np.asarray(np.take_along_axis(values, index, axis=-1))


def _top_rad(lengths: Array, longest: NDArray[np.int_]) -> Array:
    """Angle of the top of the parabola through the longest of the scanned loops and its neighbours."""
    middle = np.clip(longest, 1, len(SCAN_RAD) - 2)
    around = _picked(lengths, middle + np.array([-1, 0, 1]))
    before, top, after = around[..., :1], around[..., 1:2], around[..., 2:]
    with np.errstate(invalid="ignore", divide="ignore"):
        bend = before - 2 * top + after
        steps = np.where(bend < 0, (before - after) / (2 * bend), 0.0)
    return np.asarray(SCAN_RAD[middle] + np.clip(np.nan_to_num(steps), -1, 1) * (SCAN_RAD[1] - SCAN_RAD[0]))


def _spare_wraps_rad(path: Path) -> tuple[Array, Array]:
    """Wrap to spare on the guide pulley and on the tension pulley; below 0 the chain is off."""
    least = np.radians(limit("on_pulley_wrap"))
    guide, tension = (np.asarray(_signed(path.wrap_rad(name)) - least) for name in (GUIDE, TENSION))
    return guide, tension


def _signed(wrap_rad: Number) -> Number:
    """A wrap near a full turn is one that has fallen below nothing."""
    return np.where(wrap_rad > 0.8 * TURN_RAD, wrap_rad - TURN_RAD, wrap_rad)


def settle(sweep: Sweep, counts: Sequence[int] | Array) -> Settled:
    """Where the cage comes to rest for each count, solved on the falling table and refined.

    Source: model, section 2.
    """
    return at_rest(sweep, counts)[0]


def at_rest(sweep: Sweep, counts: Sequence[int] | Array) -> tuple[Settled, Path]:
    """The same, with the loops as they then run, (P, G, K)."""
    links = np.asarray(counts, dtype=float)
    short, loose = links < sweep.stretched_links, links > sweep.slackest_links
    with np.errstate(invalid="ignore"):
        low, high, near_rad = _near_rest_rad(sweep, links)
        path = sweep.loop.path(np.where(short | loose, np.nan, near_rad))
        cage_rad = _pulled_rad(sweep, path, near_rad, links, low, high)
        cage_rad = np.where(short | loose, np.nan, cage_rad)
    settled = Settled(
        cage_rad=cage_rad,
        reserve_rad=sweep.stretched_rad - cage_rad,
        spare_links=np.where(short | loose, np.nan, links - sweep.stretched_links),
        clearance_mm=clearance_mm(path),
        short=short,
        loose=loose,
    )
    return settled, path


def _near_rest_rad(sweep: Sweep, links: Array) -> tuple[Array, Array, Array]:
    """The cage angles between which the loop has the count, and one near to it: read off the table, pulled once.

    About its slackest the loop shortens as the square of the turn, so the table is read in roots.
    """
    finite = np.isfinite(sweep.lengths_links)
    first = finite.argmax(axis=-1)[..., None]
    last = first + finite.sum(axis=-1, keepdims=True) - 1
    after = first + (sweep.lengths_links[..., None, :] >= links[:, None]).sum(axis=-1)
    at_top, at_end = after == first, after > last
    low, at_low = np.where(at_top, sweep.slackest_rad, SCAN_RAD[np.maximum(after - 1, 0)]), sweep.slackest_links
    high = np.where(at_end, sweep.stretched_rad, SCAN_RAD[np.minimum(after, last)])
    ends = np.concatenate([np.maximum(after - 1, 0), np.minimum(after, last)], axis=-1)
    at_ends, counts = _picked(sweep.lengths_links, ends), after.shape[-1]
    at_before, at_high = at_ends[..., :counts], at_ends[..., counts:]
    at_low = np.where(at_top, at_low, at_before)
    at_high = np.where(at_end, sweep.stretched_links, at_high)
    below_low, below, below_high = (
        np.sqrt(np.maximum(sweep.slackest_links - lengths, 0.0)) for lengths in (at_low, links, at_high)
    )
    share = np.clip((below - below_low) / np.maximum(below_high - below_low, EPSILON), 0, 1)
    near_rad = low + (high - low) * share
    return low, high, _pulled_rad(sweep, sweep.loop.path(near_rad), near_rad, links, low, high)


def _pulled_rad(sweep: Sweep, path: Path, cage_rad: Array, links: Array, low: Array, high: Array) -> Array:
    """Cage angles moved as far as the pull of the two runs at its tip makes up for the links that are amiss."""
    step = (links - path.links) / np.minimum(sweep.loop.links_per_rad(path, cage_rad), -EPSILON)
    return np.asarray(np.clip(cage_rad + step, low, high))


def clearance_mm(path: Path) -> Array:
    """Air between guide pulley and return run; at or below 0 the chain touches itself.

    Equation: distance of the guide pulley's centre from the return run, less its pitch radius, less the plate's
    height (model, section 2). Where the cage swings forward and the run ends before it comes under the guide
    pulley, the run's end counts, not its line. Parameters: path, the loop through the cage. Returns: mm.
    """
    guide = path.stop(GUIDE)
    distance = beside_run_mm(path, TENSION, guide.x_mm, guide.y_mm)
    return np.asarray(distance - np.abs(guide.signed_radius_mm) - limit("plate_height"))
