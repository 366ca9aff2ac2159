"""Days as a mechanic types them."""

import datetime
import re

from lone_pike.core.bike.faults import invalid
from lone_pike.core.messages import Message, Raw

EARLIEST = datetime.date(1990, 1, 1)
WRITTEN = (
    (re.compile(r"(\d{4})-(\d{1,2})-(\d{1,2})(?:[T ].*)?"), (1, 2, 3)),
    (re.compile(r"(\d{1,2})[.](\d{1,2})[.](\d{4})"), (3, 2, 1)),
)
"""A day with its year first, or last after points; a time that follows is ignored."""

LONGEST = 40


def day_in(text: str) -> datetime.date | None:
    """Reads a day; None if it cannot be read.

    >>> day_in("2026-03-02").isoformat(), day_in("2.3.2026").isoformat(), day_in("soon"), day_in("2026-02-30")
    ('2026-03-02', '2026-03-02', None, None)
    """
    for pattern, order in WRITTEN:
        match = pattern.fullmatch(text.strip()[:LONGEST])
        if match and text.isascii():
            year, month, day = (int(match[place]) for place in order)
            try:
                return datetime.date(year, month, day)
            except ValueError:
                return None
    return None


def read_day(text: str, today: datetime.date, since: datetime.date | None = None) -> datetime.date:
    """Reads a day that is not in the future; today if nothing is typed.

    Parameters: since, the earliest day.
    Raises: InvalidInput for the field date.
    """
    if not text.strip():
        return today
    day, first = day_in(text), since or EARLIEST
    if day is None or not first <= day <= today:
        allowed = Message("day_between", first=first.isoformat(), last=today.isoformat())
        raise invalid("date", Raw(text.strip()[:LONGEST]), allowed)
    return day
