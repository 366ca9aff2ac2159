"""The cage as the hand of a large clock: as drawn, where it would be straight, and as it was seen."""

from dataclasses import dataclass
from math import atan2, degrees, hypot

from lone_pike.core.bike.clock import LAST_HOUR, clock_of, clock_to_the_minute
from lone_pike.drawing.svg import hand_xy

SIZE_PX = 236
"""The size at which it is shown and pressed."""

MIDDLE, RIM, HAND, NUMBERS = 118.0, 104.0, 76.0, 90.0
LEAST_PRESS = 18.0
"""A press nearer to the middle than this has no direction."""

BLUR_DEG = 5.0


@dataclass(frozen=True)
class Hour:
    """One hour's number and its place."""

    number: int
    x: float
    y: float


@dataclass(frozen=True)
class ClockFace:
    """The face, in SVG coordinates from its middle: the tips of the hands, empty if there is none, and the spread of
    the drawn one as a path."""

    hours: tuple[Hour, ...]
    ticks: str
    drawn: str
    drawn_clock: str
    blur: str
    straight: str
    seen: str
    seen_clock: str


def clock_face(drawn_deg: float, straight_deg: float | None, seen_deg: float | None) -> ClockFace:
    """The face for a hand, degrees from straight down, forward positive."""
    ends = [_at(drawn_deg + off, RIM) for off in (BLUR_DEG, -BLUR_DEG)]
    return ClockFace(
        hours=tuple(Hour(hour, *_at(180 - 30 * hour, NUMBERS)) for hour in range(1, LAST_HOUR + 1)),
        ticks="".join(_tick(180 - 30 * hour) for hour in range(LAST_HOUR)),
        drawn=_text(_at(drawn_deg, HAND)),
        drawn_clock=clock_of(drawn_deg),
        blur=f"M0 0L{_text(ends[0])}A{RIM:g} {RIM:g} 0 0 1 {_text(ends[1])}z",
        straight="" if straight_deg is None else _tick(straight_deg, 16),
        seen="" if seen_deg is None else _text(_at(seen_deg, HAND)),
        seen_clock="" if seen_deg is None else clock_to_the_minute(seen_deg),
    )


def pressed_clock(x_px: float, y_px: float) -> str | None:
    """The hand that a press on the face points to, to five minutes; None for one at its middle.

    >>> pressed_clock(118, 236), pressed_clock(236, 118), pressed_clock(119, 118)
    ('6:00', '3:00', None)
    """
    x, y = x_px - MIDDLE, y_px - MIDDLE
    return clock_of(degrees(atan2(x, y))) if hypot(x, y) >= LEAST_PRESS else None


def _at(hand_deg: float, radius: float) -> tuple[float, float]:
    x, y = hand_xy(hand_deg, radius)
    return round(x, 1), round(y, 1)


def _tick(hand_deg: float, length: float = 6.0) -> str:
    return f"M{_text(_at(hand_deg, RIM))}L{_text(_at(hand_deg, RIM - length))}"


def _text(place: tuple[float, float]) -> str:
    return f"{place[0]:g} {place[1]:g}"
