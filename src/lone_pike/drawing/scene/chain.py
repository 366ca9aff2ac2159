"""A chain along a path: the place of each rivet, and the plates between them."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from lone_pike.core.bike.limits import PITCH_MM
from lone_pike.core.chain.path import TURN_RAD, ChainPath
from lone_pike.core.chain.stops import StopId
from lone_pike.drawing.svg import Points, dots, shapes, tenths

OUTER_HALF_MM, INNER_HALF_MM = 4.3, 4.0
WAIST = 0.76


@dataclass(frozen=True)
class Loop:
    """One traced loop as plain numbers: for each stop its name, centre, signed radius, teeth, wrap and the run after
    it."""

    names: tuple[StopId, ...]
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


def loop_of(path: ChainPath) -> Loop:
    """The loop of a path whose values are plain numbers, over the stops that it touches."""
    touched = [i for i, touches in enumerate(path.touched) if touches]
    stops = [path.stops[i] for i in touched]
    return Loop(
        names=tuple(stop.name for stop in stops),
        centres_mm=np.array([(stop.x_mm, stop.y_mm) for stop in stops]),
        radii_mm=np.array([stop.signed_radius_mm for stop in stops]),
        teeth=np.array([stop.teeth for stop in stops]),
        wraps_rad=np.array(path.wraps_rad)[touched],
        headings_rad=np.array(path.headings_rad)[touched],
        spans_mm=np.array(path.spans_mm)[touched],
    )


def leaving_points(loop: Loop) -> Points:
    """Where the chain leaves each stop, (n, 2) mm."""
    return loop.centres_mm + loop.radii_mm[:, None] * _left_of(loop.headings_rad)


def rivets(loop: Loop, links: int, slack_run: int) -> Points:
    """Positions of the rivets, one for each link, from where the chain leaves the first stop, in its direction of
    travel, (n, 2) mm.

    A chain that is longer than the loop hangs in a parabola below the slack run. Like one that is too short, it is
    drawn with as many links as the taut loop holds.
    """
    count = round(loop.links)
    at_links = np.arange(count) * loop.links / count
    following = np.arange(1, len(loop.names) + 1) % len(loop.names)
    run_links = loop.spans_mm / PITCH_MM
    arc_links = (loop.teeth * loop.wraps_rad)[following] / TURN_RAD
    ends_links = np.cumsum(np.stack([run_links, arc_links], axis=1))
    part = np.minimum(np.searchsorted(ends_links, at_links + 1e-9, side="right"), len(ends_links) - 1)
    stop, on_arc = np.divmod(part, 2)
    along_links = at_links - np.concatenate([[0.0], ends_links])[part]
    heading, wheel = loop.headings_rad[stop], following[stop]
    ahead = np.stack([np.cos(heading), np.sin(heading)], axis=1)
    on_run = leaving_points(loop)[stop] + (along_links * PITCH_MM)[:, None] * ahead
    if links > loop.links + 0.01:
        hangs = (stop == slack_run) & (on_arc == 0)
        share = along_links[hangs] / run_links[slack_run]
        spare_mm = (links - loop.links) * PITCH_MM
        on_run[hangs, 1] -= 4 * sag_mm(loop.spans_mm[slack_run], spare_mm) * share * (1 - share)
    turned = heading - np.sign(loop.radii_mm)[wheel] * along_links * TURN_RAD / loop.teeth[wheel]
    on_wheel = loop.centres_mm[wheel] + loop.radii_mm[wheel, None] * _left_of(turned)
    return np.where(on_arc[:, None] == 1, on_wheel, on_run)


def _left_of(heading_rad: NDArray[np.float64]) -> Points:
    return np.stack([-np.sin(heading_rad), np.cos(heading_rad)], axis=1)


def sag_mm(span_mm: float, spare_mm: float) -> float:
    """How deep a run with spare chain hangs.

    Equation: of a shallow parabola, sqrt(3 e s / 8).

    >>> round(sag_mm(400.0, 10.0), 1)
    38.7
    """
    return float(np.sqrt(3 * spare_mm * span_mm / 8))


@dataclass(frozen=True)
class ChainShapes:
    """ChainPath data of a chain's plates and rivets."""

    outer: str
    inner: str
    joiner: str
    rivets: str


def chain_shapes(points: Points, joiner_at: int) -> ChainShapes:
    """Plates between neighbouring rivets of a loop, alternating inner and outer, with the joiner in its place."""
    ends, place = np.concatenate([points[1:], points[:1]]), np.arange(len(points))
    inner, joiner = place % 2 == 0, place == joiner_at
    half_mm = np.where(inner & ~joiner, INNER_HALF_MM, OUTER_HALF_MM)
    corners = _corners(points, ends, half_mm[:, None])
    return ChainShapes(
        outer=_outlines(corners[~inner & ~joiner], OUTER_HALF_MM),
        inner=_outlines(corners[inner & ~joiner], INNER_HALF_MM),
        joiner=_outlines(corners[joiner], OUTER_HALF_MM),
        rivets=dots(points),
    )


def parted_shapes(points: Points, laid: NDArray[np.bool_], joiners: Sequence[int]) -> tuple[ChainShapes, ChainShapes]:
    """The links of a loop that are laid, with their joiners, and those that are not; both alternate inner and outer."""
    ends, place = np.concatenate([points[1:], points[:1]]), np.arange(len(points))
    inner, is_joiner = place % 2 == 0, np.isin(place, joiners)
    on, off = (plain_shapes(points[which], ends[which], inner[which]) for which in (laid & ~is_joiner, ~laid))
    corners = _corners(points, ends, np.full((len(points), 1), OUTER_HALF_MM))
    return replace(on, joiner=_outlines(corners[laid & is_joiner], OUTER_HALF_MM)), off


def plain_shapes(starts: Points, ends: Points, inner: NDArray[np.bool_]) -> ChainShapes:
    """Links laid out from rivet to rivet, none of them a joiner."""
    corners = _corners(starts, ends, np.where(inner, INNER_HALF_MM, OUTER_HALF_MM)[:, None])
    return ChainShapes(
        outer=_outlines(corners[~inner], OUTER_HALF_MM),
        inner=_outlines(corners[inner], INNER_HALF_MM),
        joiner="",
        rivets=dots(np.concatenate([starts, ends])),
    )


def _corners(starts: Points, ends: Points, half_mm: NDArray[np.float64]) -> NDArray[np.float64]:
    """Plates from rivet to rivet, (n, 7, 2): up one side with a waist, and back down the other."""
    along = ends - starts
    across = along[:, ::-1] * (-1.0, 1.0) * (half_mm / np.hypot(along[:, 0], along[:, 1])[:, None])
    middle, waist = (starts + ends) / 2, across * (2 * WAIST - 1)
    first = starts + across
    return np.stack([first, middle + waist, ends + across, ends - across, middle - waist, starts - across, first], 1)


def _outlines(corners: NDArray[np.float64], half_mm: float) -> str:
    """ChainPath data of plates, in tenths: round at both rivets."""
    r = tenths(half_mm)
    return shapes(f"M%sQ%s %sA{r} {r} 0 0 1 %sQ%s %sA{r} {r} 0 0 1 %sZ", corners)
