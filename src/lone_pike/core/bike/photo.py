"""Measures from a side photo: lengths between marks, by a scale of known length, each with its spread.

The photo is taken from the drive side, from a distance of some picture widths; its points are in px, x to the right, y
down. A spread is found by trials: each possible error of a photo is applied at the size that it hardly ever exceeds,
and its effects on a measure are added in squares, as for independent errors.
"""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from enum import StrEnum
from math import atan2, cos, degrees, hypot, radians, sin
from typing import Literal, get_args

from lone_pike.core.bike.faults import invalid
from lone_pike.core.bike.limits import limit
from lone_pike.core.bike.teeth import pitch_radius_mm, tip_radius_mm
from lone_pike.core.messages import Message, Quantity, Unit

Mark = Literal["crank", "axle", "guide", "tension", "pivot", "scale_from", "scale_to", "level_from", "level_to"]
MARKS: tuple[Mark, ...] = get_args(Mark)
LEVEL: tuple[Mark, Mark] = ("level_from", "level_to")
"""Two marks on something known to be level; without them the camera is assumed to be level."""

EITHER_WAY = (1, -1)
WAYS = len(EITHER_WAY)
"""Each error is tried both ways, because it may matter more one way than the other."""

SCALE: tuple[Mark, Mark] = ("scale_from", "scale_to")


class Care(StrEnum):
    """In what respects a photo is better than usual, as its photographer says."""

    RULER_IN_PLANE = "ruler_in_plane"
    ON_STAND = "on_stand"


Point = tuple[float, float]

Read = Literal["chainstay_mm", "axle_height_mm", "cage_mm", "b_gap_mm", "lean_deg", "pivot_mm"]
Values = tuple[float, ...]


@dataclass(frozen=True)
class Taken:
    """A measure from the photo and its spread; mm or degrees, for a pivot forward and up."""

    values: Values
    spread: float


@dataclass(frozen=True)
class Photo:
    """The marks in a photo, its size, the length between the two marks of the scale, mm, and the care taken."""

    size_px: tuple[int, int]
    marks: Mapping[Mark, Point]
    scale_mm: float
    care: frozenset[Care] = frozenset()

    @property
    def click_px(self) -> float:
        """How precisely a mark is set."""
        return limit("photo_click") / 100 * self.size_px[0]

    @property
    def away_px(self) -> float:
        """The distance of the camera, in px of the picture."""
        return limit("photo_distance") * self.size_px[0]

    @property
    def mm_per_px(self) -> float | None:
        """The scale, if both its ends are marked. Raises: InvalidInput if the two marks are at the same place."""
        if not set(SCALE) <= set(self.marks):
            return None
        long_px = _apart(self.marks["scale_from"], self.marks["scale_to"])
        if long_px < 10 * self.click_px:
            least = Quantity(10 * self.click_px, Unit.PX)
            raise invalid(
                "scale", Message("px_end_to_end", length=Quantity(long_px, Unit.PX)), Message("at_least", low=least)
            )
        return self.scale_mm / long_px

    @property
    def is_levelled(self) -> bool:
        """Whether something level is marked."""
        return set(LEVEL) <= set(self.marks)


@dataclass(frozen=True)
class Wheels:
    """What the gap needs besides the marks: teeth of the guide pulley, of the cog in use and of the largest cog."""

    guide: int
    cog: int
    largest_cog: int


def ring_across_mm(teeth: int) -> float:
    """The diameter of a ring from tooth tip to tooth tip, mm.

    >>> round(ring_across_mm(38), 1)
    158.4
    """
    return 2 * tip_radius_mm(teeth)


def taken_from(photo: Photo, wheels: Wheels | None = None) -> dict[Read, Taken]:
    """Every measure that the marks allow, with its spread: the effects of all disturbances, added in squares.

    Raises: InvalidInput if the axle is in front of the crank, or the scale is far too short.
    """
    as_marked = measured(photo, wheels)
    squares: dict[Read, list[float]] = {read: [0.0] * len(values) for read, values in as_marked.items()}
    for disturbed in disturbances(photo):
        for read, values in measured(disturbed, wheels).items():
            for i, value in enumerate(values):
                squares[read][i] += (value - as_marked[read][i]) ** 2 / WAYS
    return {read: Taken(values, max(squares[read]) ** 0.5) for read, values in as_marked.items()}


def measured(photo: Photo, wheels: Wheels | None = None) -> dict[Read, Values]:
    """Every measure that the marks allow, as if the photo had no errors.

    Equation: a length d px by the scale s: d s; heights from the level line, or the picture's own. Gap: guide pulley to
    axle less both pitch radii, both tips, and what the smaller cog adds (model, section 2).
    Raises: InvalidInput if the axle is in front of the crank, or the scale is far too short.
    """
    scale, marks = photo.mm_per_px, photo.marks
    if scale is None:
        return {}
    values: dict[Read, Values] = {}
    off_level = _off_level_rad(photo)
    if {"crank", "axle"} <= set(marks):
        back_px, up_px = _from(marks["crank"], marks["axle"], off_level)
        if back_px >= 0:
            raise invalid("photo", Message("axle_ahead_of_crank"), Message("drive_side_photo"))
        values["chainstay_mm"] = (hypot(back_px, up_px) * scale,)
        values["axle_height_mm"] = (up_px * scale,)
    if {"guide", "tension"} <= set(marks):
        values["cage_mm"] = (_apart(marks["guide"], marks["tension"]) * scale,)
    if {"axle", "guide"} <= set(marks):
        ahead_px, up_px = _from(marks["axle"], marks["guide"], off_level)
        values["lean_deg"] = (degrees(atan2(ahead_px, -up_px)),)
        if wheels:
            values["b_gap_mm"] = (hypot(ahead_px, up_px) * scale - _teeth_between_mm(wheels),)
    if {"crank", "pivot"} <= set(marks):
        ahead_px, up_px = _from(marks["crank"], marks["pivot"], off_level)
        values["pivot_mm"] = (ahead_px * scale, up_px * scale)
    return values


def disturbances(photo: Photo) -> Iterator[Photo]:
    """The photo with one error at a time, each of the size that it hardly ever exceeds.

    A mark a click off, across and down; a mark's part out of the ring's plane, which moves it the more the farther
    it lies from the picture's middle, and where the camera is not square shifts it by a share of depth times angle,
    for both are seldom large at once; the camera not square to the bike, across and down; the camera not level, where
    nothing in the picture is known to be.
    """
    scale = photo.mm_per_px
    if scale is None:
        return
    on_stand = Care.ON_STAND in photo.care
    askew = radians(limit("photo_square_stand" if on_stand else "photo_square"))
    for mark, (x, y) in photo.marks.items():
        in_plane = mark in SCALE and Care.RULER_IN_PLANE in photo.care
        depth_px = limit("photo_depth_ruler" if in_plane else "photo_depth") / scale
        out_of_plane, slanted_px = depth_px / photo.away_px, depth_px * sin(askew) * limit("photo_slant")
        middle_x, middle_y = (side / 2 for side in photo.size_px)
        for across, down in (
            (photo.click_px, 0.0),
            (0.0, photo.click_px),
            ((x - middle_x) * out_of_plane, (y - middle_y) * out_of_plane),
            (slanted_px, 0.0),
            (0.0, slanted_px),
        ):
            for way in EITHER_WAY:
                yield replace(photo, marks={**photo.marks, mark: (x + way * across, y + way * down)})
    tilt = radians(limit("photo_tilt_stand" if on_stand else "photo_tilt"))
    for way in EITHER_WAY:
        yield _seen(photo, across_rad=way * askew)
        yield _seen(photo, down_rad=way * askew)
        if not photo.is_levelled:
            yield _seen(photo, roll_rad=way * tilt)


def _seen(photo: Photo, *, across_rad: float = 0.0, down_rad: float = 0.0, roll_rad: float = 0.0) -> Photo:
    """The marks as seen from a camera turned about the picture's middle.

    Equation: of a pinhole camera; a part that is turned away by Z looks smaller by D / (D + Z), D the distance.
    """
    middle_x, middle_y = (side / 2 for side in photo.size_px)

    def seen(place: Point) -> Point:
        x, y = place[0] - middle_x, place[1] - middle_y
        x, y = x * cos(roll_rad) - y * sin(roll_rad), x * sin(roll_rad) + y * cos(roll_rad)
        share = photo.away_px / (photo.away_px + x * sin(across_rad) + y * sin(down_rad))
        return middle_x + x * cos(across_rad) * share, middle_y + y * cos(down_rad) * share

    return replace(photo, marks={mark: seen(place) for mark, place in photo.marks.items()})


def _off_level_rad(photo: Photo) -> float:
    """The angle between the level line and the picture's edge, radians; 0 if none is marked."""
    if not photo.is_levelled:
        return 0.0
    left, right = sorted(photo.marks[mark] for mark in LEVEL)
    across, up = _from(left, right)
    return atan2(up, across) if across else 0.0


def _teeth_between_mm(wheels: Wheels) -> float:
    """The distance from the guide pulley's centre to the axle without the gap, mm."""
    radii_mm = float(pitch_radius_mm(wheels.cog)) + float(pitch_radius_mm(wheels.guide))
    return radii_mm + 2 * limit("tooth_tip") + limit("gap_growth") * (wheels.largest_cog - wheels.cog)


def _from(here: Point, there: Point, off_level_rad: float = 0.0) -> Point:
    """The distances forward and up from one point to another, px, along a level line that may be tilted in the
    picture."""
    ahead, up = there[0] - here[0], here[1] - there[1]
    turned, still = sin(-off_level_rad), cos(-off_level_rad)
    return ahead * still - up * turned, ahead * turned + up * still


def _apart(here: Point, there: Point) -> float:
    return hypot(there[0] - here[0], there[1] - here[1])
