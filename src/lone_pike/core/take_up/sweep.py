"""The sweep of a cage: the length of the loop at each cage angle, and where the cage rests with a count. ||

Source: model, section 2. All arrays have three axes: P poses, G gears, and A angles or K counts.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from lone_pike.core.bike.limits import limit
from lone_pike.core.bike.teeth import Array
from lone_pike.core.take_up.caged_loop import CagedLoop, TurnedLoop

STEP_RAD = np.radians(15.0)
SCAN_RAD = np.radians(np.arange(-180.0, 181.0, 15.0))
TABLE_RAD = np.concatenate([[-np.inf], SCAN_RAD, [np.inf]])
PLUMB = int(np.abs(SCAN_RAD).argmin())
SCAN_INDEX = np.arange(len(SCAN_RAD))
BESIDE = np.array([-1, 0, 1])
ON_PULLEY_RAD = np.radians(limit("on_pulley_wrap"))
EPSILON = 1e-9
HALVINGS = 24
SECANT_RAD, SECANTS = 0.01, 4
NEAR_RAD, MOST_STEPS = 0.002, 12
"""The step below which a cage is near its rest; the next step is smaller by the same factor again."""

Point = tuple[Array, Array]
"""Cage angles, radians, and a function's values there."""


@dataclass(frozen=True)
class Sweep:
    """The length of the loop as the cage turns, from its slackest angle to its stretched one. Both angles are (P, G,
    1).

    lengths_links (P, G, A) falls from one to the other: it holds the length at the slackest angle, at each of
    SCAN_RAD, and at the stretched one. An angle of SCAN_RAD outside the sweep has the length of the nearer end. It is
    nan where the chain lies on both pulleys at no angle.
    """

    loop: CagedLoop
    slackest_rad: Array
    stretched_rad: Array
    lengths_links: Array

    @property
    def slackest_links(self) -> Array:
        """Length of the loop at the slackest angle, links, (P, G, 1)."""
        return self.lengths_links[..., :1]

    @property
    def stretched_links(self) -> Array:
        """Length of the loop at the stretched angle, links, (P, G, 1)."""
        return self.lengths_links[..., -1:]

    @property
    def runs(self) -> NDArray[np.bool_]:
        """Whether the chain lies on both pulleys at any angle, (P, G)."""
        return np.asarray(np.isfinite(self.slackest_links + self.stretched_links)[..., 0])

    def plumb_links(self, pose: int, gear: int) -> float | None:
        """Length in one pose and gear with the cage straight down; None if that is outside the sweep."""
        inside = self.slackest_rad.item(pose, gear, 0) <= 0 <= self.stretched_rad.item(pose, gear, 0)
        return self.lengths_links.item(pose, gear, 1 + PLUMB) if inside else None

    def scanned_links(self, gear: int, cage_rad: Array) -> Array:
        """Length in one gear at the last scanned angle before the stretched one, links, (P,). Never less than
        stretched.
        """
        before = np.searchsorted(SCAN_RAD, cage_rad, side="right")
        return np.asarray(self.lengths_links[np.arange(len(cage_rad)), gear, before])


def _solved_top_rad(loop: CagedLoop, near_rad: Array, longest: NDArray[np.int_]) -> Array:
    """The angle at which the loop stops growing, between the two scanned ones beside the longest.

    Half of an arm's movement hangs on it, so it is solved: by secants, kept within those two angles.
    """
    low = SCAN_RAD[np.maximum(longest - 1, 0)]
    high = SCAN_RAD[np.minimum(longest + 1, len(SCAN_RAD) - 1)]
    at, before = near_rad, near_rad - SECANT_RAD
    slope_before = loop.turned(before).links_per_rad
    for _ in range(SECANTS):
        slope = loop.turned(at).links_per_rad
        change = np.where(np.abs(slope - slope_before) > EPSILON, slope - slope_before, -1.0)
        step = slope * (at - before) / change
        before, slope_before, at = at, slope, np.minimum(np.maximum(at - step, low), high)
    return np.where(np.isnan(at), near_rad, at)


@dataclass(frozen=True)
class Settled:
    """Where the cage rests with each of K counts. Every array is (P, G, K), and nan where the cage cannot rest.

    cage_rad is measured from straight down, forward positive. reserve_rad is what is left to the stretched angle.
    clearance_mm is from the guide pulley to the return run. short and loose are flags.
    """

    cage_rad: Array
    reserve_rad: Array
    clearance_mm: Array
    short: NDArray[np.bool_]
    loose: NDArray[np.bool_]

    def at(self, which: slice) -> "Settled":
        """How the cage settles at some of the counts, chosen by their places."""
        return Settled(*[values[..., which] for values in vars(self).values()])


def sweep_of(loop: CagedLoop) -> Sweep:
    """The sweep of the cage, for every pose and gear on its own.

    It begins where the loop is longest, or where the empty cage rests if that comes first. It ends where the loop is
    shortest with the chain still on both pulleys. Source: model, section 2.
    """
    with np.errstate(invalid="ignore"):
        return _sweep(loop)


def _sweep(loop: CagedLoop) -> Sweep:
    scanned = loop.turned(SCAN_RAD)
    off_guide = loop.off_guide_rad - ON_PULLEY_RAD
    on_both = (off_guide >= SCAN_RAD) & (scanned.on_tension_rad >= ON_PULLEY_RAD)
    lengths = np.where(on_both, scanned.links, -np.inf)
    longest = lengths.argmax(axis=-1, keepdims=True)
    if loop.runs_into_idler:
        # Angles past an idler that the cage runs into cannot be reached.
        in_front = loop.meets_idler_rad > SCAN_RAD[longest]
        off_guide = np.where(in_front, np.minimum(off_guide, loop.meets_idler_rad), off_guide)
        on_both &= off_guide >= SCAN_RAD
        lengths = np.where(on_both, lengths, -np.inf)
    top = _top_rad(lengths, longest)
    if loop.is_arm and loop.rest_rad <= -np.pi:
        top = _solved_top_rad(loop, top, longest)
    slackest = np.minimum(top, off_guide)
    stretched = np.minimum(off_guide, SCAN_RAD[-1])
    # An empty cage rests at its own stop, if that comes before the slackest angle.
    rest = np.maximum(slackest, loop.rest_rad)
    ends = loop.turned(np.concatenate([np.minimum(rest, stretched), stretched], axis=-1))
    # A pulley that swings through an idler shows as a loop that grows from one scanned angle to the next.
    stops = (longest < SCAN_INDEX[1:]) & ~(on_both[..., 1:] & (lengths[..., 1:] <= lengths[..., :-1]))
    falls = _still_falls(ends)[..., 1:] & ~(stops & (stretched > SCAN_RAD[1:])).any(axis=-1, keepdims=True)
    if not falls.all():
        # Past its longest the loop shortens until the chain leaves a pulley, or the cage is as straight as it gets.
        first_off = np.where(stops.any(axis=-1, keepdims=True), 1 + stops.argmax(axis=-1, keepdims=True), len(SCAN_RAD))
        stretched = np.where(falls, stretched, _straightest_rad(loop, slackest, first_off, stretched))
        ends = loop.turned(np.concatenate([np.minimum(rest, stretched), stretched], axis=-1))
    links = np.where(on_both.any(axis=-1, keepdims=True), ends.links, np.nan)
    slackest, longest_links, shortest_links = np.minimum(rest, stretched), links[..., :1], links[..., 1:]
    lengths = np.where(slackest > SCAN_RAD, longest_links, np.where(stretched < SCAN_RAD, shortest_links, lengths))
    return Sweep(loop, slackest, stretched, np.concatenate([longest_links, lengths, shortest_links], axis=-1))


def _still_falls(turned: TurnedLoop) -> NDArray[np.bool_]:
    """Whether the chain lies on the tension pulley and turning the cage further forward still shortens the loop."""
    return np.asarray((turned.on_tension_rad >= ON_PULLEY_RAD) & (turned.links_per_rad <= 0))


def _straightest_rad(loop: CagedLoop, slackest: Array, first_off: NDArray[np.int_], straight: Array) -> Array:
    """The last angle at which the loop still gets shorter, before the chain leaves the tension pulley.

    It is found by halving between two scanned angles, for each pose and gear on its own. Past an idler the loop grows.
    """
    low = np.maximum(SCAN_RAD[np.maximum(first_off - 2, 0)], slackest)
    high = np.minimum(SCAN_RAD[np.minimum(first_off, len(SCAN_RAD) - 1)], straight)
    shortest = loop.turned(low).links
    for _ in range(HALVINGS):
        turned = loop.turned((low + high) / 2)
        falls = _still_falls(turned) & ~(turned.links > shortest)
        low, high = np.where(falls, turned.cage_rad, low), np.where(falls, high, turned.cage_rad)
        shortest = np.where(falls, turned.links, shortest)
    return np.asarray(low)


def _first_of(values: Array) -> NDArray[np.int_]:
    """Index of the first value of each pose and gear in the flat array of all values, (P, G, 1)."""
    poses, gears, angles = values.shape
    return np.arange(0, values.size, angles).reshape(poses, gears, 1)


def _top_rad(lengths: Array, longest: NDArray[np.int_]) -> Array:
    """The angle at the top of a parabola through the longest scanned loop and the two beside it."""
    middle = np.minimum(np.maximum(longest, 1), len(SCAN_RAD) - 2)
    around = lengths.take(_first_of(lengths) + middle + BESIDE)
    before, top, after = around[..., :1], around[..., 1:2], around[..., 2:]
    bend = before - 2 * top + after
    bends = (bend < 0) & (bend > -np.inf)
    steps = np.where(bends, before - after, 0.0) / np.where(bends, 2 * bend, 1.0)
    return np.asarray(SCAN_RAD[middle] + np.minimum(np.maximum(steps, -1.0), 1.0) * STEP_RAD)


def settle(sweep: Sweep, counts: Sequence[int] | Array) -> Settled:
    """Where the cage rests with each count: read off the table of scanned lengths, then refined.

    Source: model, section 2.
    """
    return at_rest(sweep, counts)[0]


def at_rest(sweep: Sweep, counts: Sequence[int] | Array) -> tuple[Settled, TurnedLoop]:
    """Where the cage rests with each count, together with the loops as they run at those angles, (P, G, K)."""
    links = np.asarray(counts, dtype=float)
    short, loose = links < sweep.stretched_links, links > sweep.slackest_links
    with np.errstate(invalid="ignore"):
        low, high, near_rad = _near_rest_rad(sweep, links)
        near_rad = np.where(short | loose, np.nan, near_rad)
        for _ in range(MOST_STEPS):
            turned = sweep.loop.turned(near_rad)
            cage_rad = _pulled_rad(turned, links, low, high)
            if not (np.abs(cage_rad - near_rad) > NEAR_RAD).any():
                break
            too_long = turned.links > links
            low, high = np.where(too_long, near_rad, low), np.where(too_long, high, near_rad)
            near_rad = np.minimum(np.maximum(cage_rad, low), high)
    settled = Settled(
        cage_rad=cage_rad,
        reserve_rad=sweep.stretched_rad - cage_rad,
        clearance_mm=turned.clearance_mm,
        short=short,
        loose=loose,
    )
    return settled, turned


def _near_rest_rad(sweep: Sweep, links: Array) -> tuple[Array, Array, Array]:
    """Three cage angles for each count: one on either side of where the loop has the count, and one close to it.

    The close one is read off the table and refined once. Near the slackest angle the loop shortens with the square of
    the turn, so the table is read in square roots.
    """
    lengths = sweep.lengths_links
    longer = (lengths[..., None, :] >= links[:, None]).sum(axis=-1)
    after = np.minimum(np.maximum(longer, 1), lengths.shape[-1] - 1)
    place = _first_of(lengths) + after
    low = np.maximum(TABLE_RAD[after - 1], sweep.slackest_rad)
    high = np.minimum(TABLE_RAD[after], sweep.stretched_rad)
    below_low, below, below_high = (
        np.sqrt(np.maximum(sweep.slackest_links - each, 0.0))
        for each in (lengths.take(place - 1), links, lengths.take(place))
    )
    share = (below - below_low) / np.maximum(below_high - below_low, EPSILON)
    near_rad = low + (high - low) * np.minimum(np.maximum(share, 0.0), 1.0)
    return low, high, _pulled_rad(sweep.loop.turned(near_rad), links, low, high)


def _pulled_rad(turned: TurnedLoop, links: Array, low: Array, high: Array) -> Array:
    """Cage angles after one step of refinement: the length still missing, over how fast the length changes."""
    step = (links - turned.links) / np.minimum(turned.links_per_rad, -EPSILON)
    return np.asarray(np.minimum(np.maximum(turned.cage_rad + step, low), high))
