"""Angles as clock hands, seen from the drive side: 12 is up, 3 is forward."""

import re

from lone_pike.core.bike.teeth import Number

CLOCK = re.compile(r"(\d{1,2}):([0-5]\d)")
LAST_HOUR = 12


def clock_of(hand_deg: float) -> str:
    """The clock time of a hand, to five minutes.

    >>> clock_of(0), clock_of(90), clock_of(-30)
    ('6:00', '3:00', '7:00')
    """
    return _clock(round((6 - hand_deg / 30) * 60 / 5) * 5)


def clock_to_the_minute(hand_deg: float) -> str:
    """A clock hand to the minute, half a degree, so that it reads back as it is.

    >>> clock_to_the_minute(57.4)
    '4:05'
    """
    return _clock(round((6 - hand_deg / 30) * 60))


def hand_deg(clock: str) -> float | None:
    """The angle of a clock hand from straight down, forward positive; None if the text is not a clock time.

    Parameters: clock, the hour and minute at which the hand points. Returns: degrees, from -180 to below 180.

    >>> hand_deg("6:00"), hand_deg("3:00"), hand_deg("4:05"), hand_deg("9:00"), hand_deg("16:99")
    (0.0, 90.0, 57.5, -90.0, None)
    """
    read = CLOCK.fullmatch(clock.strip())
    hours, minutes = map(int, read.groups()) if read else (0, 0)
    return forward_of_down_deg(hours, minutes) if 1 <= hours <= LAST_HOUR else None


def forward_of_down_deg(hours: int, minutes: int) -> float:
    """A clock's hand as an angle forward of straight down, -180 to 180 degrees.

    >>> forward_of_down_deg(6, 0), forward_of_down_deg(4, 30), forward_of_down_deg(9, 0)
    (0.0, 45.0, -90.0)
    """
    return float(within_half_turn_deg(180 - 30 * (hours % LAST_HOUR + minutes / 60)))


def within_half_turn_deg(turn_deg: Number) -> Number:
    """An angle, from -180 and below 180 degrees.

    >>> within_half_turn_deg(270.0), within_half_turn_deg(180.0)
    (-90.0, -180.0)
    """
    return (turn_deg + 180) % 360 - 180


def _clock(minutes: int) -> str:
    in_face = minutes % (LAST_HOUR * 60)
    return f"{in_face // 60 or LAST_HOUR}:{in_face % 60:02d}"
