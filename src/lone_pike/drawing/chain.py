"""A chain along a path: where each rivet sits, and the plates between them."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from lone_pike.core.limits import PITCH_MM
from lone_pike.core.path import TURN_RAD, Path
from lone_pike.drawing.svg import Points, dots, number, shapes

OUTER_HALF_MM, INNER_HALF_MM = 4.3, 4.0
WAIST = 0.76


@dataclass(frozen=True)
class Loop:
    """One traced loop as plain numbers: per stop its name, centre, signed radius, teeth, wrap and the run after it."""

    names: tuple[str, ...]
    centres_mm: Points
    radii_mm: NDArray[np.float64]
    teeth: NDArray[np.float64]
    wraps_rad: NDArray[np.float64]
    headings_rad: NDArray[np.float64]
    spans_mm: NDArray[np.float64]

    @property
    def links(self) -> float:
        """Length of the loop in links."""
        return float(self.spans_mm.sum() / PITCH_MM + (self.teeth * self.wraps_rad).sum() / TURN_RAD)


def loop_of(path: Path) -> Loop:
    """The single loop of a path whose arrays hold one value each."""

    def one(values: object) -> float:
        return float(np.asarray(values).item())

    stops = path.stops
    return Loop(
        names=tuple(stop.name for stop in stops),
        centres_mm=np.array([[one(stop.x_mm), one(stop.y_mm)] for stop in stops]),
        radii_mm=np.array([one(stop.signed_radius_mm) for stop in stops]),
        teeth=np.array([one(stop.teeth) for stop in stops]),
        wraps_rad=np.array([one(wrap) for wrap in path.wraps_rad]),
        headings_rad=np.array([one(heading) for heading in path.headings_rad]),
        spans_mm=np.array([one(span) for span in path.spans_mm]),
    )


def leaving_point(loop: Loop, i: int) -> NDArray[np.float64]:
    """Where the chain leaves stop i, mm."""
    left = np.array([-np.sin(loop.headings_rad[i]), np.cos(loop.headings_rad[i])])
    return np.asarray(loop.centres_mm[i] + loop.radii_mm[i] * left)


def rivets(loop: Loop, links: int, slack_run: int) -> Points:
    """Positions of the rivets, one a link, from the first stop's leaving point along the travel, (n, 2) mm.

    A chain that is longer than the loop hangs in a parabola below the slack run. Like one that is too short
    it is drawn with as many links as the taut loop holds.
    """
    count = round(loop.links)
    at_links = np.arange(count) * loop.links / count
    points, reached = np.zeros((count, 2)), 0.0
    for i in range(len(loop.names)):
        following = (i + 1) % len(loop.names)
        run = loop.spans_mm[i] / PITCH_MM
        arc = loop.teeth[following] * loop.wraps_rad[following] / TURN_RAD
        on_run = (at_links >= reached - 1e-9) & (at_links < reached + run - 1e-9)
        heading = loop.headings_rad[i]
        ahead = np.array([np.cos(heading), np.sin(heading)])
        points[on_run] = leaving_point(loop, i) + ((at_links[on_run] - reached) * PITCH_MM)[:, None] * ahead
        if i == slack_run and links > loop.links + 0.01:
            share = (at_links[on_run] - reached) / run
            points[on_run, 1] -= 4 * sag_mm(loop.spans_mm[i], (links - loop.links) * PITCH_MM) * share * (1 - share)
        reached += run
        on_arc = (at_links >= reached - 1e-9) & (at_links < reached + arc - 1e-9)
        wind = np.sign(loop.radii_mm[following])
        turned = heading - wind * (at_links[on_arc] - reached) * TURN_RAD / loop.teeth[following]
        around = np.stack([-np.sin(turned), np.cos(turned)], axis=1) * loop.radii_mm[following]
        points[on_arc] = loop.centres_mm[following] + around
        reached += arc
    return points


def sag_mm(span_mm: float, spare_mm: float) -> float:
    """How deep a run hangs with chain to spare.

    Equation: of a shallow parabola, sqrt(3 e s / 8).

    >>> round(sag_mm(400.0, 10.0), 1)
    38.7
    """
    return float(np.sqrt(3 * spare_mm * span_mm / 8))


@dataclass(frozen=True)
class ChainShapes:
    """Path data of a chain's plates and rivets."""

    outer: str
    inner: str
    joiner: str
    rivets: str


def chain_shapes(points: Points, joiner_at: int) -> ChainShapes:
    """Plates between neighbouring rivets of a loop, inner and outer in turn; the joiner is the link at its place."""
    ends, place = np.roll(points, -1, axis=0), np.arange(len(points))
    inner, joiner = place % 2 == 0, place == joiner_at
    outer = ~inner & ~joiner
    return ChainShapes(
        outer=plates(points[outer], ends[outer], OUTER_HALF_MM),
        inner=plates(points[inner & ~joiner], ends[inner & ~joiner], INNER_HALF_MM),
        joiner=plates(points[joiner], ends[joiner], OUTER_HALF_MM),
        rivets=dots(points),
    )


def plates(starts: Points, ends: Points, half_mm: float) -> str:
    """Path data of plates from rivet to rivet: round at both, drawn in at the waist."""
    along = ends - starts
    along = along / np.hypot(along[:, 0], along[:, 1])[:, None]
    across = np.stack([-along[:, 1], along[:, 0]], axis=1) * half_mm
    middle, waist = (starts + ends) / 2, across * (2 * WAIST - 1)
    corners = [starts + across, middle + waist, ends + across, ends - across, middle - waist, starts - across]
    r = number(half_mm)
    pattern = f"M%sQ%s %sA{r} {r} 0 0 1 %sQ%s %sA{r} {r} 0 0 1 %sZ"
    return shapes(pattern, np.stack([*corners, corners[0]], axis=1))
