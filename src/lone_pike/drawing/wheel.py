"""Toothed wheels in outline, a tooth between each two rollers."""

import numpy as np

from lone_pike.core.limits import limit
from lone_pike.core.path import TURN_RAD, pitch_radius_mm
from lone_pike.drawing.chain import Loop
from lone_pike.drawing.svg import Point, Points, number, xy

ROLLER_MM = 3.9
GULLET = 0.3
TIP = 0.44


def toothed(centre: Point, teeth: int, seat_rad: float) -> str:
    """Path data of a wheel whose gullets sit at seat_rad and every pitch from there."""
    pitch_mm, step = float(pitch_radius_mm(teeth)), TURN_RAD / teeth
    tip_mm = pitch_mm + limit("tooth_tip")
    r = number(ROLLER_MM)
    found = []
    for tooth in range(teeth):
        middle = seat_rad - tooth * step
        before, after = middle + GULLET * step, middle - GULLET * step
        rise, fall = middle + TIP * step, middle - TIP * step
        points = [(rise, tip_mm), (before, pitch_mm - 1.2), (after, pitch_mm - 1.2), (fall, tip_mm)]
        a, b, c, d = (
            xy(centre[0] + radius * np.cos(angle), centre[1] + radius * np.sin(angle)) for angle, radius in points
        )
        found.append(f"{'M' if tooth == 0 else 'L'}{a}L{b}A{r} {r} 0 0 0 {c}L{d}")
    return "".join(found) + "Z"


def seat_of(loop: Loop, i: int, rivet_points: Points) -> float:
    """Angle of a rivet seated on stop i, radians; the middle of its wrap where none is."""
    from_centre = rivet_points - loop.centres_mm[i]
    seated = np.abs(np.hypot(from_centre[:, 0], from_centre[:, 1]) - abs(loop.radii_mm[i])) < 0.05
    if seated.any():
        x, y = from_centre[seated.argmax()]
        return float(np.arctan2(y, x))
    left = loop.headings_rad[i] + np.sign(loop.radii_mm[i]) * (np.pi / 2 + loop.wraps_rad[i] / 2)
    return float(left)
