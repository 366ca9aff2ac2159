"""A bike that moves from one pose to another: a number of small drawings of it, each with the same points."""

from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from lone_pike.core.bike.take_up import Family
from lone_pike.core.chain.path import ChainPath
from lone_pike.core.count.sizing import Sizing, size_at
from lone_pike.core.take_up.protocol import Gear
from lone_pike.drawing.scene.chain import Loop, loop_of, rivets
from lone_pike.drawing.scene.side_view import box_of, plate_of, slack_run
from lone_pike.drawing.scene.small_view import wheel_circles
from lone_pike.drawing.svg import Points, polyline

STEPS, POINTS = 9, 160
HELD = 3
"""How many steps the first and the last drawing are held."""


@dataclass(frozen=True)
class Moving:
    """ChainPath data of the frames, first to last: the chain's line, the wheels, the cage's plate."""

    view_box: str
    lines: tuple[str, ...]
    wheels: tuple[str, ...]
    plates: tuple[str, ...]


def between_counts(sizing: Sizing, gear: Gear, start: int, end: int) -> Moving:
    """From the pose with one count to the pose with another."""
    if sizing.bike.take_up.family is Family.STANDS:
        return _moving(
            sizing, (sizing.take_up.resting_path(gear.ring, gear.cog, count) for count in _counts(start, end))
        )
    return between_angles(
        sizing, gear, *(sizing.cage.resting_rad(gear.ring, gear.cog, count) for count in (start, end))
    )


def _counts(start: int, end: int) -> Sequence[int]:
    return [round(count) for count in np.linspace(start, end, STEPS)]


def between_angles(sizing: Sizing, gear: Gear, start_rad: float, end_rad: float) -> Moving:
    """From one angle of the cage to another, both from straight down, forward positive."""
    angles = np.linspace(start_rad, end_rad, STEPS).tolist()
    return _moving(sizing, (sizing.cage.path(gear.ring, gear.cog, angle) for angle in angles))


def between_travels(sizing: Sizing, gear: Gear, links: int, start_mm: float, end_mm: float) -> Moving:
    """From one place of the travel to another, the chain at a count."""
    held = (size_at(sizing.bike, travel_mm) for travel_mm in np.linspace(start_mm, end_mm, STEPS).tolist())
    return _moving(sizing, (one.take_up.resting_path(gear.ring, gear.cog, links) for one in held))


def between_paths(sizing: Sizing, start: ChainPath, end: ChainPath) -> Moving:
    """From one route of the chain to another."""
    return _moving(sizing, [start] * (STEPS // 2) + [end] * (STEPS // 2))


def _moving(sizing: Sizing, paths: Iterable[ChainPath]) -> Moving:
    """The drawings of some loops; those that cannot be traced are left out."""
    loops = [loop for loop in map(loop_of, paths) if np.isfinite(loop.links)]
    played = [loops[0]] * HELD + loops + [loops[-1]] * HELD
    return Moving(
        view_box=box_of(sizing),
        lines=tuple(polyline(_outline(loop), closed=True) for loop in played),
        wheels=tuple(wheel_circles(loop) for loop in played),
        plates=tuple(plate_of(sizing, loop) for loop in played),
    )


def _outline(loop: Loop) -> Points:
    """The chain's line as points at even distances, (n, 2) mm."""
    points = rivets(loop, int(loop.links), slack_run(loop))
    closed = np.concatenate([points, points[:1]])
    along = np.concatenate([[0.0], np.cumsum(np.hypot(*np.diff(closed, axis=0).T))])
    at = np.linspace(0, along[-1], POINTS, endpoint=False)
    return np.stack([np.interp(at, along, closed[:, axis]) for axis in (0, 1)], axis=1)
