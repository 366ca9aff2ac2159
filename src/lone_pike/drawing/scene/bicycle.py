"""The bike behind its drivetrain, in faint lines: enough to recognise it at a glance, and to see which way is forward.

Only the crank, the axle, a pivot and the guide pulley are measured; the rest is drawn as on most bikes.
"""

from dataclasses import dataclass
from functools import cache
from math import cos, hypot, radians, sin

import numpy as np

from lone_pike.core.bike.document import Bike
from lone_pike.drawing.svg import Point, drawn, polyline

TYRE_MM, RIM_MM, TYRE_SHOWN_RAD = 340.0, 306.0, radians(19)
SHELL_MM, DROPOUT_MM, HANGER_MM = 21.0, 13.0, (-5.0, -30.0)
CRANK_MM, CRANK_RAD, PEDAL_MM = 172.0, radians(-58), 34.0
SEAT_TUBE_RAD, DOWN_TUBE_RAD, TUBE_SHOWN_MM = radians(107), radians(43), 128.0
SEAT_CLUSTER_MM = (-123.0, 402.0)
LONG_BIKE_MM = 700.0
"""From this chainstay on the cranks are in front of the front wheel, and one main tube runs back from them."""


@dataclass(frozen=True)
class Bicycle:
    """Path data of the parts behind: the frame with tyre and crank, and the derailleur's body from its hanger."""

    frame: str
    hanger: str


def bicycle(bike: Bike, axle: Point, guide: Point | None = None) -> Bicycle:
    """The bike with its crank at (0, 0) and its axle; guide is the guide pulley's centre, if there is one."""
    tyre = _tyre(axle, TYRE_MM) + _tyre(axle, RIM_MM)
    parts = [tyre, *_tubes(bike, axle), outlined(axle, DROPOUT_MM), _crank()]
    bolt = (axle[0] + HANGER_MM[0], axle[1] + HANGER_MM[1])
    return Bicycle("".join(parts), "" if guide is None else capsule(bolt, guide, 8.0))


@cache
def _crank() -> str:
    """The shell with crank and pedal, which are the same on every bike."""
    x, y = CRANK_MM * cos(CRANK_RAD), CRANK_MM * sin(CRANK_RAD)
    arm, pedal = capsule((0.0, 0.0), (x, y), 10.0), capsule((x - PEDAL_MM, y), (x + PEDAL_MM, y), 6.0)
    return outlined((0.0, 0.0), SHELL_MM) + arm + pedal


def _tubes(bike: Bike, axle: Point) -> list[str]:
    """Stays and tubes, each as its two edges, open at an end that goes on."""
    away = hypot(*axle)
    if away > LONG_BIKE_MM:
        return [_tube((0.0, 0.0), axle, SHELL_MM, away - DROPOUT_MM, 16.0)]
    seat, down = ((cos(angle), sin(angle)) for angle in (SEAT_TUBE_RAD, DOWN_TUBE_RAD))
    tubes = [
        _tube((0.0, 0.0), seat, SHELL_MM, TUBE_SHOWN_MM, 15.0),
        _tube((0.0, 0.0), down, SHELL_MM, TUBE_SHOWN_MM, 19.0),
        _tube(axle, SEAT_CLUSTER_MM, DROPOUT_MM, TUBE_SHOWN_MM, 6.0),
    ]
    if bike.suspension is None or bike.suspension.pivot_at_mm is None:
        tubes.append(_tube(axle, (0.0, 0.0), DROPOUT_MM, away - SHELL_MM, 8.0))
    return tubes


def _tube(start: Point, towards: Point, first_mm: float, last_mm: float, half_mm: float) -> str:
    """The two edges of a tube that runs from one point towards another, from first to last along it."""
    along = np.array(towards) - start
    along = along / np.hypot(*along)
    aside = half_mm * np.array([-along[1], along[0]])
    near, far = start + first_mm * along, start + last_mm * along
    return polyline([near + aside, far + aside]) + polyline([near - aside, far - aside])


def _tyre(axle: Point, radius_mm: float) -> str:
    """The part of a circle about the axle that faces the crank."""
    towards = np.arctan2(-axle[1], -axle[0])
    first, last = towards + TYRE_SHOWN_RAD, towards - TYRE_SHOWN_RAD
    (x, y), r = axle, radius_mm
    begins, ends = (x + r * cos(first), -y - r * sin(first)), (x + r * cos(last), -y - r * sin(last))
    return drawn("M%g %gA%g %g 0 0 1 %g %g", *begins, r, r, *ends)


def outlined(centre: Point, radius_mm: float) -> str:
    """A circle, mm."""
    (x, y), r = centre, radius_mm
    left, right = (x - r, -y), (x + r, -y)
    return drawn("M%g %gA%g %g 0 1 1 %g %gA%g %g 0 1 1 %g %gZ", *left, r, r, *right, r, r, *left)


def capsule(start: Point, end: Point, half_mm: float) -> str:
    """A bar with round ends from one point to another."""
    (x, y), (to_x, to_y) = start, end
    share = half_mm / max(hypot(to_x - x, to_y - y), 1e-9)
    up_x, up_y = -(to_y - y) * share, (to_x - x) * share
    above, below = (x + up_x, -y - up_y), (x - up_x, -y + up_y)
    to_above, to_below, r = (to_x + up_x, -to_y - up_y), (to_x - up_x, -to_y + up_y), half_mm
    pattern = "M%g %gL%g %gA%g %g 0 0 1 %g %gL%g %gA%g %g 0 0 1 %g %gZ"
    return drawn(pattern, *above, *to_above, r, r, *to_below, *below, r, r, *above)
