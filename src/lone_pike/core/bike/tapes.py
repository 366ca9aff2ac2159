"""An idler's place from two tape measures: one from the crank centre, one from the axle."""

from dataclasses import dataclass
from math import atan2, cos, hypot, sin, sqrt

import numpy as np

from lone_pike.core.bike.faults import Fault, InvalidInput
from lone_pike.core.bike.limits import limit
from lone_pike.core.messages import Message, mm


@dataclass(frozen=True)
class Taped:
    """A place forward and up from the crank centre, and its spread, mm."""

    at_mm: tuple[float, float]
    about_mm: float


def by_two_tapes(crank_mm: float, axle_mm: float, axle_at_mm: tuple[float, float], *, above: bool) -> Taped:
    """The intersection of two circles: one around the crank centre, one around the axle.

    Equation: along the line of centres a = (r^2 - s^2 + d^2) / 2d, beside it h = sqrt(r^2 - a^2); off by what both
    tapes together may be off, t |J^-1|. Parameters: the two tapes and the axle's place, mm; above, whether the idler is
    above the line from axle to crank. Returns: place and spread, mm. Raises: InvalidInput with by how much they do not
    meet. Range: any two points apart. Source: trilateration in a plane.

    >>> by_two_tapes(500.0, 500.0, (-800.0, 0.0), above=True).at_mm
    (-400.0, 300.0)
    """
    axle_x, axle_y = axle_at_mm
    apart = hypot(axle_x, axle_y)
    lacking, over = apart - crank_mm - axle_mm, abs(crank_mm - axle_mm) - apart
    if max(lacking, over) > 0:
        code, by = ("tapes_too_short", lacking) if lacking > 0 else ("tape_too_long", over)
        read = Message("two_tapes", crank=mm(crank_mm), axle=mm(axle_mm))
        allowed = Message("tapes_that_meet", apart=mm(apart))
        raise InvalidInput([Fault("idlers", read, allowed, Message(code, by=mm(by)))])
    along = (crank_mm**2 - axle_mm**2 + apart**2) / (2 * apart)
    beside = sqrt(max(crank_mm**2 - along**2, 0.0))
    towards = atan2(axle_y, axle_x)
    # To the left of the line from crank to axle is below it, because the axle is behind.
    side = -beside if above else beside
    x = along * cos(towards) - side * sin(towards)
    y = along * sin(towards) + side * cos(towards)
    return Taped((round(x, 1), round(y, 1)), round(_doubt_mm((x, y), axle_at_mm), 1))


def _doubt_mm(place: tuple[float, float], axle: tuple[float, float]) -> float:
    """The spread of a place from the spreads of its two tapes; limited if both tapes are nearly in one line."""
    ways = np.array([place, np.subtract(place, axle)])
    ways = ways / np.maximum(np.hypot(ways[:, 0], ways[:, 1]), 1e-9)[:, None]
    spread = np.linalg.svd(ways, compute_uv=False)
    return float(limit("tape") * np.sqrt((1 / np.maximum(spread, limit("tape_line")) ** 2).sum() / 2))
