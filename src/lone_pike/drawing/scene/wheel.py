"""Outlines of toothed wheels, with a tooth between every two rollers."""

from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

from lone_pike.core.bike.limits import limit
from lone_pike.core.bike.teeth import pitch_radius_mm
from lone_pike.core.chain.path import TURN_RAD
from lone_pike.core.chain.stops import StopId
from lone_pike.drawing.scene.chain import Loop
from lone_pike.drawing.svg import Points, number, shapes, tenths

ROLLER_MM = 3.9
GULLET = 0.3
TIP = 0.44


@dataclass(frozen=True)
class Wheel:
    """A wheel's outline about its own centre in tenths of a mm, its place in SVG coordinates, mm, and its clockwise
    turn."""

    name: str
    outline: str
    x: str
    y: str
    turn_deg: str


def wheels_of(loop: Loop, rivet_points: Points) -> tuple[Wheel, ...]:
    """The wheels of all stops, turned so that their gullets are under the seated rivets."""
    turns_deg = -np.degrees(_seats_rad(loop, rivet_points))
    return tuple(
        Wheel(
            f"{stop.role} {stop.run or ''}".strip(), outline(round(teeth)), number(x_mm), number(-y_mm), f"{turn:.2f}"
        )
        for stop, (x_mm, y_mm), teeth, turn in zip(
            loop.names, loop.centres_mm.tolist(), loop.teeth, turns_deg.tolist(), strict=True
        )
    )


def _classes(stop: StopId) -> str:
    """What a wheel is for, as the classes that its picture has."""
    return f"{stop.role} {stop.run}" if stop.run else str(stop.role)


@lru_cache(maxsize=128)
def outline(teeth: int) -> str:
    """Path data of a wheel about (0, 0) with a gullet straight ahead (x forward), in tenths."""
    pitch_mm, step = float(pitch_radius_mm(teeth)), TURN_RAD / teeth
    tip_mm, r = pitch_mm + limit("tooth_tip"), tenths(ROLLER_MM)
    around = (-np.arange(teeth) * step)[:, None] + np.array([TIP, GULLET, -GULLET, -TIP]) * step
    reach = np.array([tip_mm, pitch_mm - 1.2, pitch_mm - 1.2, tip_mm])[:, None]
    corners = reach * np.stack([np.cos(around), np.sin(around)], axis=-1)
    return "M" + shapes(f"%sL%sA{r} {r} 0 0 0 %sL%sL", corners).removesuffix("L") + "Z"


def _seats_rad(loop: Loop, rivet_points: Points) -> NDArray[np.float64]:
    """For each stop, the angle of a rivet seated on it; if there is none, the middle of its wrap, (n,)."""
    x_mm, y_mm = (rivet_points - loop.centres_mm[:, None]).transpose(2, 0, 1)
    seated = np.abs(np.hypot(x_mm, y_mm) - np.abs(loop.radii_mm)[:, None]) < 0.05
    stops, first = np.arange(len(loop.teeth)), seated.argmax(axis=1)
    middle = loop.headings_rad + np.sign(loop.radii_mm) * (np.pi / 2 + loop.wraps_rad / 2)
    return np.where(seated.any(axis=1), np.arctan2(y_mm[stops, first], x_mm[stops, first]), middle)
