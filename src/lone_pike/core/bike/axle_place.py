"""Where an axle may be: behind the crank, not above it, and no nearer or farther than on any bike."""

from math import hypot, radians, sin

from lone_pike.core.bike.base import trade_error
from lone_pike.core.bike.limits import limit
from lone_pike.core.messages import Message, mm

NEAREST_AXLE_MM, FARTHEST_AXLE_MM = limit("nearest_axle"), limit("farthest_axle")
STEEPEST_STAY = sin(radians(limit("steepest_stay")))


def check_height(height_mm: float, chainstay_mm: float) -> None:
    """Checks that the height is less than the chainstay's length. Raises: the trade's error at `axle_height_mm`."""
    most = STEEPEST_STAY * chainstay_mm
    if abs(height_mm) > most:
        allowed = Message("between", low=mm(-round(most)), high=mm(round(most)))
        raise trade_error(allowed, at="axle_height_mm", read=height_mm, hint="height_within_chainstay")


def check_axle(at_mm: tuple[float, float], read: list[float], *, bounded: bool) -> None:
    """Checks that the axle is behind the crank, and no nearer or farther than on any bike.

    Parameters: at_mm, its place from the crank, mm; read, that place as the document has it; bounded, false if a slot's
    ends bound the chainstay.
    Raises: the trade's error at `axle_mm`.
    """
    x, y = at_mm
    if x >= 0 or abs(y) > STEEPEST_STAY * hypot(x, y):
        raise trade_error(Message("axle_behind_crank"), at="axle_mm", read=read, hint="axle_backward")
    if bounded and not NEAREST_AXLE_MM <= hypot(x, y) <= FARTHEST_AXLE_MM:
        raise trade_error(at="axle_mm", read=read)
