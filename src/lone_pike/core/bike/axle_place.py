"""Where an axle may stand: behind the crank, not above it, and no nearer or farther than any bike's."""

from math import hypot, radians, sin
from typing import TYPE_CHECKING

from lone_pike.core.bike.base import trade_error
from lone_pike.core.bike.limits import limit
from lone_pike.core.messages import Message, mm

if TYPE_CHECKING:
    from lone_pike.core.bike.document import Bike

NEAREST_AXLE_MM, FARTHEST_AXLE_MM = limit("nearest_axle"), limit("farthest_axle")
STEEPEST_STAY = sin(radians(limit("steepest_stay")))


def check_axle(bike: "Bike") -> None:
    """The axle's place. Raises: the trade's error at the field that told it."""
    height, most = bike.axle_height_mm or 0.0, STEEPEST_STAY * bike.away_mm
    if bike.axle_mm is None and abs(height) > most:
        raise trade_error(
            Message("between", low=mm(-round(most)), high=mm(round(most))),
            at="axle_height_mm",
            read=height,
            hint="height_within_chainstay",
        )
    x, y = bike.axle_xy_mm
    if x >= 0 or abs(y) > STEEPEST_STAY * hypot(x, y):
        raise trade_error(
            Message("axle_behind_crank"), at="axle_mm", read=list(bike.axle_mm or ()), hint="axle_backward"
        )
    if not bike.take_up.places_axle and not NEAREST_AXLE_MM <= bike.chainstay_length_mm <= FARTHEST_AXLE_MM:
        raise trade_error(at="axle_mm", read=list(bike.axle_mm or ()))
