"""Toothed wheels: their pitch circles, and how far their teeth reach beyond these."""

import math
from functools import lru_cache

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
    return PITCH_MM / (2 * np.sin(np.pi / teeth)) if isinstance(teeth, np.ndarray) else _radius_mm(teeth)


@lru_cache(maxsize=256)
def _radius_mm(teeth: float) -> float:
    """The pitch radius of one wheel, cached, because there are few sizes."""
    return PITCH_MM / (2 * math.sin(math.pi / teeth))


def bend_links(teeth: Number) -> Number:
    """The difference between a radian of wrap as a polygon and as an arc, links.

    Equation: z / 2 pi - r / p. Parameters: teeth, count, number or array. Returns: links a radian, below 0.
    Source: pitch_radius_mm.

    >>> round(bend_links(11), 4)
    -0.024
    """
    return teeth / (2 * math.pi) - pitch_radius_mm(teeth) / PITCH_MM


def tips_radius_mm(teeth: Number) -> Number:
    """Radius of the circle through the tooth tips, mm, of one size or an array."""
    return pitch_radius_mm(teeth) + limit("tooth_tip")


def tip_radius_mm(teeth: int) -> float:
    """Radius of the circle through the tooth tips, mm.

    >>> round(tip_radius_mm(50), 2)
    103.43
    """
    return float(tips_radius_mm(teeth))
