"""Tubes on their runs, and what is to be cut off their ends."""

from collections.abc import Sequence
from dataclasses import dataclass

from lone_pike.core.route.tubes import TubeFit
from lone_pike.drawing.svg import polyline

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
