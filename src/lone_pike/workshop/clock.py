"""The time, as it is kept."""

from datetime import UTC, date, datetime


def now() -> str:
    """The moment, ISO 8601, to the second."""
    return datetime.now(UTC).isoformat(timespec="seconds")


def today() -> date:
    """The day, by which chains are due."""
    return datetime.now(UTC).date()
