"""A chain as in its file: what it is, and its readings over the distance (model, section 9)."""

import datetime
from typing import Literal

from lone_pike.core.bike.base import MOST_COGS, MOST_WEAR_PERCENT
from lone_pike.core.bike.fields import Kind, measured
from lone_pike.core.bike.limits import LEAST_LINKS, MOST_LINKS
from lone_pike.core.bike.model_faults import WholeDocument
from lone_pike.core.wear.gauging import WearReading
from lone_pike.core.wear.replacing import limit_percent

MOST_READINGS, MOST_KM, MOST_ODOMETER_KM = 400, 200_000, 999_999


class ChainReading(WearReading):
    """A reading at a date and a distance since the chain was fitted."""

    date: datetime.date = measured(Kind.TEXT, "Date", "When it was gauged.", allowed="a_date")
    km: float = measured(Kind.RATIO, "Distance", "Ridden since the chain was fitted, km.", ge=0, le=MOST_KM)


class ChainFile(WholeDocument):
    """One chain and its readings."""

    lone_pike_chain: Literal[1] = measured(Kind.PART, "Version", "Version of this file.", allowed="this_version")
    name: str = measured(Kind.TEXT, "Name", "What the workshop calls the chain.", min_length=1, max_length=80)
    speeds: int = measured(Kind.COGS, "Number of cogs", "Cogs the chain is made for.", ge=1, le=MOST_COGS)
    links: int = measured(Kind.COUNT, "Links", "Its links, joiner included.", ge=LEAST_LINKS, le=MOST_LINKS)
    fitted: datetime.date | None = measured(Kind.TEXT, "Fitted", "When it went on.", allowed="a_date", default=None)
    limit_percent: float | None = measured(
        Kind.RATIO, "Limit", "The wear at which it is replaced; by its cogs where left out.", default=None, ge=0.1, le=3
    )
    worn_percent: float | None = measured(
        Kind.RATIO, "Wear when fitted", "Its wear when it was fitted, %.", default=None, ge=0, le=MOST_WEAR_PERCENT
    )
    from_new: bool = measured(Kind.FLAG, "From new", "Whether it is known from new.", default=True)
    km_now: float = measured(Kind.RATIO, "Distance now", "Ridden until now, km.", default=0.0, ge=0, le=MOST_KM)
    readings: tuple[ChainReading, ...] = measured(
        Kind.PART, "Readings", "What was gauged of it.", allowed="chain_readings", default=(), max_length=MOST_READINGS
    )

    @property
    def replaced_at_percent(self) -> float:
        """The wear at which it is replaced."""
        return self.limit_percent or limit_percent(self.speeds)

    @property
    def distance_km(self) -> float:
        """Its distance until now, or until its last reading."""
        return max([self.km_now, *(one.km for one in self.readings)])
