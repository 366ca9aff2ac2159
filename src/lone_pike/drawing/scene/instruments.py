"""Caliper and ruler, drawn to scale along the line that they measure; and tubes along their runs."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from lone_pike.core.route.tubes import TubeFit
from lone_pike.drawing.svg import Point, Points, lines, polyline

JAW_MM, BEAM_PAST_MM, BEAM_MM = 34.0, 42.0, 9.0
RULER_MM, TICK_MM, TICK_EVERY_MM = 20.0, 7.0, 10.0


def caliper(start: Point, end: Point, aside: float) -> str:
    """A caliper with its jaws on two points: the jaws, the beam past the second one, and the slide.

    Parameters: two points of the frame, mm; aside 1 for a beam to the left of the line, -1 for one to its right.
    Returns: path data.
    """
    along, left, length_mm = _directions(start, end)
    first, second = np.array(start), np.array(end)
    out, past, beam = aside * JAW_MM * left, BEAM_PAST_MM * along, aside * BEAM_MM * left
    jaws = polyline([first, first + out + beam]) + polyline([second, second + out + beam])
    scale = _box([first + out, second + past + out, second + past + out + beam, first + out + beam])
    slide = _box(
        [second + out - beam / 3, second + out + along * 18 - beam / 3, second + out + along * 18, second + out]
    )
    return jaws + scale + (slide if length_mm else "")


def ruler(start: Point, end: Point) -> str:
    """A ruler with its edge on two points and a tick every 10 mm from the first."""
    along, left, length_mm = _directions(start, end)
    first, last = np.array(start), np.array(end) + 20 * along
    below = -RULER_MM * left
    at_mm = np.arange(0.0, length_mm + 1, TICK_EVERY_MM)[:, None]
    long_mm = np.where(np.arange(len(at_mm)) % 5, TICK_MM, 2 * TICK_MM)[:, None]
    edge = first + at_mm * along
    ticks = np.stack([edge, edge - long_mm * left], axis=1)
    return _box([first, last, last + below, first + below]) + lines(ticks)


def _directions(start: Point, end: Point) -> tuple[Points, Points, float]:
    """Along the line, to its left, and its length in mm."""
    line = np.array(end) - np.array(start)
    length_mm = float(np.hypot(*line))
    along = line / max(length_mm, 1e-9)
    return along, np.array([-along[1], along[0]]), length_mm


def _box(corners: list[Points]) -> str:
    return polyline(corners, closed=True)


WALL_MM = 2.0


@dataclass(frozen=True)
class TubeShape:
    """A tube as a line from end to end with its true width; cuts are the parts to take off. SVG path data, mm."""

    line: str
    width_mm: float
    cuts: tuple[str, ...]


def tube_shapes(fits: Sequence[TubeFit]) -> tuple[TubeShape, ...]:
    """Every tube where it stands."""
    return tuple(map(_shape, fits))


def _shape(fit: TubeFit) -> TubeShape:
    (front_x, front_y), (rear_x, rear_y) = fit.front, fit.rear
    length = fit.tube.length_mm
    ahead = ((front_x - rear_x) / length, (front_y - rear_y) / length)

    def along(mm: float) -> tuple[float, float]:
        return rear_x + mm * ahead[0], rear_y + mm * ahead[1]

    cuts = []
    if fit.cut_rear_mm:
        cuts.append(polyline([along(0.0), along(min(fit.cut_rear_mm, length))]))
    if fit.cut_front_mm:
        cuts.append(polyline([along(max(length - fit.cut_front_mm, 0.0)), along(length)]))
    return TubeShape(polyline([along(0.0), along(length)]), fit.tube.inner_mm + 2 * WALL_MM, tuple(cuts))
