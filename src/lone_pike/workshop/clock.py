"""The time, in the form in which it is stored."""

from datetime import UTC, date, datetime


def now() -> str:
    """The moment, ISO 8601, to the second."""
    return datetime.now(UTC).isoformat(timespec="seconds")


def today() -> date:
    """Today's date, ISO 8601; due dates are compared with it."""
    return datetime.now(UTC).date()
