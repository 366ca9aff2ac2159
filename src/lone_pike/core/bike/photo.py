"""Measures taken from a side photo: lengths between marks, by a scale of known length, each with its doubt.

The photo is taken square from the drive side; its points are in px, x to the right, y down.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from math import atan2, degrees, hypot, radians, sin
from typing import Literal, get_args

from lone_pike.core.bike.faults import invalid
from lone_pike.core.bike.limits import limit
from lone_pike.core.bike.teeth import pitch_radius_mm, tip_radius_mm
from lone_pike.core.messages import Message, Quantity, Unit

Mark = Literal["crank", "axle", "guide", "tension", "pivot", "scale_from", "scale_to"]
MARKS: tuple[Mark, ...] = get_args(Mark)
Point = tuple[float, float]

Read = Literal["chainstay_mm", "axle_height_mm", "cage_mm", "b_gap_mm", "lean_deg", "pivot_mm"]


@dataclass(frozen=True)
class Scale:
    """How long a px is, mm, and by what share that may be off, either way, nearly always."""

    mm_per_px: float
    share: float


@dataclass(frozen=True)
class Taken:
    """A measure off the photo and its spread, either way, nearly always; mm or degrees, a pivot forward and up."""

    values: tuple[float, ...]
    spread: float


@dataclass(frozen=True)
class Photo:
    """What is marked in a photo, and the length of the scale between its two marks, mm."""

    width_px: int
    marks: Mapping[Mark, Point]
    scale_mm: float

    @property
    def click_px(self) -> float:
        """How near to a point a mark is set."""
        return limit("photo_click") / 100 * self.width_px

    @property
    def scale(self) -> Scale | None:
        """The scale, where both its ends are marked.

        Source: the two marks and the lens, added as independent errors.
        Raises: InvalidInput where the marks stand on one another.
        """
        if not {"scale_from", "scale_to"} <= set(self.marks):
            return None
        long_px = _apart(self.marks["scale_from"], self.marks["scale_to"])
        if long_px < 10 * self.click_px:
            least = Quantity(10 * self.click_px, Unit.PX)
            raise invalid(
                "scale", Message("px_end_to_end", length=Quantity(long_px, Unit.PX)), Message("at_least", low=least)
            )
        return Scale(self.scale_mm / long_px, hypot(self.click_px * 2**0.5 / long_px, limit("photo_lens") / 100))


@dataclass(frozen=True)
class Wheels:
    """What the gap needs besides the marks: teeth of the guide pulley, the cog in use and the biggest cog."""

    guide: int
    cog: int
    largest_cog: int


def ring_across_mm(teeth: int) -> float:
    """A ring from tooth tip to opposite tooth tip, mm.

    >>> round(ring_across_mm(38), 1)
    158.4
    """
    return 2 * tip_radius_mm(teeth)


def taken_from(photo: Photo, wheels: Wheels | None = None) -> dict[Read, Taken]:
    """Every measure that the marks allow.

    Equation: a length d px by the scale s: d s, off by the two marks, the scale's share and the lens; heights and
    the lean also by the camera's tilt. Gap: guide pulley to axle less both pitch radii, both tips, and what the
    smaller cog adds (model, section 2).
    Raises: InvalidInput where the axle stands ahead of the crank, or the scale is next to nothing.
    """
    scale, marks = photo.scale, photo.marks
    if scale is None:
        return {}
    taken: dict[Read, Taken] = {}
    if {"crank", "axle"} <= set(marks):
        back_px, up_px = _from(marks["crank"], marks["axle"])
        if back_px >= 0:
            raise invalid("photo", Message("axle_ahead_of_crank"), Message("drive_side_photo"))
        chainstay_mm = hypot(back_px, up_px) * scale.mm_per_px
        taken["chainstay_mm"] = _length(photo, scale, chainstay_mm)
        taken["axle_height_mm"] = _place(photo, scale, (up_px,), chainstay_mm)
    if {"guide", "tension"} <= set(marks):
        taken["cage_mm"] = _length(photo, scale, _apart(marks["guide"], marks["tension"]) * scale.mm_per_px)
    if {"axle", "guide"} <= set(marks):
        reach_mm = _apart(marks["axle"], marks["guide"]) * scale.mm_per_px
        ahead_px, up_px = _from(marks["axle"], marks["guide"])
        off_deg = degrees(photo.click_px * 2**0.5 * scale.mm_per_px / max(reach_mm, 1.0))
        taken["lean_deg"] = Taken((degrees(atan2(ahead_px, -up_px)),), hypot(off_deg, limit("photo_tilt")))
        if wheels:
            gap_mm = reach_mm - _teeth_between_mm(wheels)
            taken["b_gap_mm"] = Taken((gap_mm,), _length(photo, scale, reach_mm).spread)
    if {"crank", "pivot"} <= set(marks):
        place_px = _from(marks["crank"], marks["pivot"])
        taken["pivot_mm"] = _place(photo, scale, place_px, hypot(*place_px) * scale.mm_per_px)
    return taken


def _teeth_between_mm(wheels: Wheels) -> float:
    """From guide pulley's centre to axle all that is not gap, mm."""
    radii_mm = float(pitch_radius_mm(wheels.cog)) + float(pitch_radius_mm(wheels.guide))
    return radii_mm + 2 * limit("tooth_tip") + limit("gap_growth") * (wheels.largest_cog - wheels.cog)


def _length(photo: Photo, scale: Scale, length_mm: float) -> Taken:
    clicks_mm = photo.click_px * 2**0.5 * scale.mm_per_px
    return Taken((length_mm,), hypot(clicks_mm, length_mm * scale.share, length_mm * limit("photo_lens") / 100))


def _place(photo: Photo, scale: Scale, place_px: tuple[float, ...], away_mm: float) -> Taken:
    """Places from the crank: each way as unsure as a length that long, and as the camera's tilt turns it."""
    tilt_mm = away_mm * sin(radians(limit("photo_tilt")))
    values_mm = tuple(px * scale.mm_per_px for px in place_px)
    return Taken(values_mm, hypot(_length(photo, scale, max(map(abs, values_mm))).spread, tilt_mm))


def _from(here: Point, there: Point) -> Point:
    """Forward and up from one point to another, px."""
    return there[0] - here[0], here[1] - there[1]


def _apart(here: Point, there: Point) -> float:
    return hypot(*_from(here, there))
