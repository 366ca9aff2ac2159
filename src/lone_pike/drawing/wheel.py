"""Toothed wheels in outline, a tooth between each two rollers."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from lone_pike.core.limits import limit
from lone_pike.core.path import TURN_RAD, pitch_radius_mm
from lone_pike.drawing.chain import Loop
from lone_pike.drawing.svg import Points, number, shapes

ROLLER_MM = 3.9
GULLET = 0.3
TIP = 0.44


@dataclass(frozen=True)
class Wheel:
    """A wheel's outline about its own centre, and where it stands: SVG coordinates, mm, turned clockwise."""

    outline: str
    x: str
    y: str
    turn_deg: str


def wheel_at(loop: Loop, i: int, rivet_points: Points) -> Wheel:
    """The wheel of stop i, its gullets under the rivets seated there."""
    x_mm, y_mm = loop.centres_mm[i]
    turn = -float(np.degrees(_seat_rad(loop, i, rivet_points)))
    return Wheel(outline(round(loop.teeth[i])), number(x_mm), number(-y_mm), f"{turn:.2f}")


@lru_cache(maxsize=128)
def outline(teeth: int) -> str:
    """Path data of a wheel about (0, 0) with a gullet straight ahead (x forward)."""
    pitch_mm, step = float(pitch_radius_mm(teeth)), TURN_RAD / teeth
    tip_mm, r = pitch_mm + limit("tooth_tip"), number(ROLLER_MM)
    around = (-np.arange(teeth) * step)[:, None] + np.array([TIP, GULLET, -GULLET, -TIP]) * step
    reach = np.array([tip_mm, pitch_mm - 1.2, pitch_mm - 1.2, tip_mm])[:, None]
    corners = reach * np.stack([np.cos(around), np.sin(around)], axis=-1)
    return "M" + shapes(f"%sL%sA{r} {r} 0 0 0 %sL%sL", corners).removesuffix("L") + "Z"


def _seat_rad(loop: Loop, i: int, rivet_points: Points) -> float:
    """Angle of a rivet seated on stop i; the middle of its wrap where none is."""
    from_centre = rivet_points - loop.centres_mm[i]
    seated = np.abs(np.hypot(from_centre[:, 0], from_centre[:, 1]) - abs(loop.radii_mm[i])) < 0.05
    if seated.any():
        x, y = from_centre[seated.argmax()]
        return float(np.arctan2(y, x))
    return float(loop.headings_rad[i] + np.sign(loop.radii_mm[i]) * (np.pi / 2 + loop.wraps_rad[i] / 2))
