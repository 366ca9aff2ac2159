"""The one clock. Moments are stored in UTC; days are those of the shop, in the zone of its machine."""

from datetime import UTC, date, datetime


def moment() -> datetime:
    """The moment, in UTC."""
    return datetime.now(UTC)


def now() -> str:
    """The moment in the form in which it is stored: ISO 8601, to the second, with its zone."""
    return moment().isoformat(timespec="seconds")


def today() -> date:
    """The shop's day."""
    return moment().astimezone().date()


def day_of(stored: str) -> date:
    """The shop's day of a stored moment.

    >>> day_of("2026-03-02T12:00:00+00:00")
    datetime.date(2026, 3, 2)
    """
    return datetime.fromisoformat(stored).astimezone().date()
