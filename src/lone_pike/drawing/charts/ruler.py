"""A ruler along a worn chain, near its twelve-inch mark, to scale: where the rivet lies beside the mark."""

from dataclasses import dataclass

from lone_pike.core.bike.limits import INCH_MM
from lone_pike.core.wear.gauging import SIXTEENTHS_AN_INCH, Way, WearReading

MARK_MM, LEFT_MM, RIGHT_MM, SCALE = 12 * INCH_MM, 14.0, 9.0, 16.0
TICKS_BEFORE, TICKS_AFTER = 8, 5
LENGTHS = ((16, 46), (8, 30), (4, 22), (1, 14))
"""The lengths of the ruler's lines, by how many sixteenths apart they are."""


@dataclass(frozen=True)
class RulerLine:
    """A line of the ruler: where, and how long."""

    x: float
    length: int


@dataclass(frozen=True)
class RulerPicture:
    """The picture: its lines, the mark's place, and the rivets of the last link."""

    width: float
    height: float
    ticks: tuple[RulerLine, ...]
    mark_x: float
    rivets: tuple[float, ...]


def ruler_picture(reading: WearReading) -> RulerPicture | None:
    """The ruler at its mark; None for a reading without a ruler."""
    if reading.way is Way.PAST:
        read_mm = MARK_MM + (reading.sixteenths or 0.0) * INCH_MM / SIXTEENTHS_AN_INCH
    elif reading.way is Way.RULER and reading.mm is not None:
        read_mm = reading.mm
    else:
        return None
    sixteenth_mm = INCH_MM / SIXTEENTHS_AN_INCH
    ticks = tuple(RulerLine(_x(MARK_MM + i * sixteenth_mm), _length(i)) for i in range(-TICKS_BEFORE, TICKS_AFTER + 1))
    pitch_mm = read_mm / (reading.pitches or 1)
    return RulerPicture((LEFT_MM + RIGHT_MM) * SCALE, 160, ticks, _x(MARK_MM), (_x(read_mm - pitch_mm), _x(read_mm)))


def _length(sixteenth: int) -> int:
    return next(length for every, length in LENGTHS if sixteenth % every == 0)


def _x(at_mm: float) -> float:
    return round((at_mm - MARK_MM + LEFT_MM) * SCALE, 1)
