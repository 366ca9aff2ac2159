"""Toothed wheels in outline, a tooth between each two rollers."""

import numpy as np

from lone_pike.core.limits import limit
from lone_pike.core.path import TURN_RAD, pitch_radius_mm
from lone_pike.drawing.chain import Loop
from lone_pike.drawing.svg import Point, Points, number, shapes

ROLLER_MM = 3.9
GULLET = 0.3
TIP = 0.44


def toothed(centre: Point, teeth: int, seat_rad: float) -> str:
    """Path data of a wheel whose gullets sit at seat_rad and every pitch from there."""
    pitch_mm, step = float(pitch_radius_mm(teeth)), TURN_RAD / teeth
    tip_mm, r = pitch_mm + limit("tooth_tip"), number(ROLLER_MM)
    around = (seat_rad - np.arange(teeth) * step)[:, None] + np.array([TIP, GULLET, -GULLET, -TIP]) * step
    reach = np.array([tip_mm, pitch_mm - 1.2, pitch_mm - 1.2, tip_mm])[:, None]
    corners = np.asarray(centre) + reach * np.stack([np.cos(around), np.sin(around)], axis=-1)
    return "M" + shapes(f"%sL%sA{r} {r} 0 0 0 %sL%sL", corners).removesuffix("L") + "Z"


def seat_of(loop: Loop, i: int, rivet_points: Points) -> float:
    """Angle of a rivet seated on stop i, radians; the middle of its wrap where none is."""
    from_centre = rivet_points - loop.centres_mm[i]
    seated = np.abs(np.hypot(from_centre[:, 0], from_centre[:, 1]) - abs(loop.radii_mm[i])) < 0.05
    if seated.any():
        x, y = from_centre[seated.argmax()]
        return float(np.arctan2(y, x))
    left = loop.headings_rad[i] + np.sign(loop.radii_mm[i]) * (np.pi / 2 + loop.wraps_rad[i] / 2)
    return float(left)
