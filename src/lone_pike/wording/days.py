"""Days in words."""

from datetime import date

MONTHS = (
    *("January", "February", "March", "April", "May", "June"),
    *("July", "August", "September", "October", "November", "December"),
)


def spoken(day: date, today: date) -> str:
    """A day in words, with its year if that is not this year.

    >>> spoken(date(2026, 3, 12), date(2026, 1, 1)), spoken(date(2027, 3, 12), date(2026, 1, 1))
    ('12 March', '12 March 2027')
    """
    year = f" {day.year}" if day.year != today.year else ""
    return f"{day.day} {MONTHS[day.month - 1]}{year}"
