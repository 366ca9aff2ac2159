"""Toothed wheels: their pitch circle and how far their teeth stand out of it."""

import math

import numpy as np
from numpy.typing import NDArray

from lone_pike.core.bike.limits import PITCH_MM, limit

Array = NDArray[np.float64]
Number = float | Array


def pitch_radius_mm(teeth: Number) -> Number:
    """Radius of the circle through the rivets of a chain seated on `teeth` teeth.

    Equation: r = p / (2 sin(pi / z)) (model, section 1).
    Parameters: teeth, count, number or array. Returns: mm. Raises: nothing. Range: 3 teeth and up.
    Source: a regular polygon of z sides of one pitch, and its circumscribed circle (Euclid, Elements IV).

    >>> round(float(pitch_radius_mm(50)), 2)
    101.13
    """
    if isinstance(teeth, int | float):
        return PITCH_MM / (2 * math.sin(math.pi / teeth))
    return PITCH_MM / (2 * np.sin(np.pi / teeth))


def tips_radius_mm(teeth: Number) -> Number:
    """Radius of the circle through the tooth tips, mm, of one size or an array."""
    return pitch_radius_mm(teeth) + limit("tooth_tip")


def tip_radius_mm(teeth: int) -> float:
    """Radius of the circle through the tooth tips, mm.

    >>> round(tip_radius_mm(50), 2)
    103.43
    """
    return float(tips_radius_mm(teeth))
