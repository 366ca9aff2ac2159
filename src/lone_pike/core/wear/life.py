"""A chain's life: where it was, how far it was ridden there, and its readings (model, section 9)."""

import datetime
from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

from lone_pike.core.bike.base import MOST_COGS, MOST_WEAR_PERCENT, CogTeeth
from lone_pike.core.bike.fields import Kind, measured
from lone_pike.core.bike.joiners import JOINERS, JoinerKind
from lone_pike.core.bike.limits import LEAST_LINKS, LINKS_PER_PAIR, MOST_LINKS, limit
from lone_pike.core.bike.model_faults import WholeDocument
from lone_pike.core.wear.chain import MOST_KM, MOST_ODOMETER_KM, MOST_READINGS, ChainFile, ChainReading
from lone_pike.core.wear.gauging import WearReading

MOST_STAYS, MOST_RIDES, DAYS_A_WEEK = 100, 1500, 7
Day = datetime.date


class Lube(StrEnum):
    """The lubricants of chains."""

    OIL = "oil"
    WAX = "wax"


class Riding(StrEnum):
    """The conditions in which a chain is ridden; chains are compared with others in the same conditions."""

    DRY = "dry"
    WET = "wet"
    DIRT = "dirt"


class Source(StrEnum):
    """The source of a distance. A total covers all days since the total before it; a ride is one of several."""

    TOTAL = "total"
    ODOMETER = "odometer"
    RIDE = "ride"


class Ending(StrEnum):
    """How a chain's life ended: thrown away worn or broken, or taken apart, its pieces in the bin."""

    WORN = "worn"
    BROKEN = "broken"
    APART = "apart"


class Stay(WholeDocument):
    """A stay on one bike, up to the day it came off; without that day, the chain is still there."""

    bike_id: int = measured(Kind.RATIO, "Bike", "The number of the bike it was on.", ge=1)
    since: Day = measured(Kind.TEXT, "On", "When it went on.", allowed="a_date")
    until: Day | None = measured(Kind.TEXT, "Off", "When it came off.", allowed="a_date", default=None)


class Ridden(WholeDocument):
    """A distance ridden over some days; for a ride also its start and end, for an odometer its reading."""

    source: Source = measured(Kind.CHOICE, "Known by", "How the distance is known.")
    since: Day = measured(Kind.TEXT, "From", "The first day.", allowed="a_date")
    until: Day = measured(Kind.TEXT, "To", "The last day.", allowed="a_date")
    km: float = measured(Kind.RATIO, "Distance", "Ridden in these days, km.", ge=0, le=MOST_KM)
    odometer_km: float | None = measured(
        Kind.RATIO, "Odometer", "What the odometer read at the end, km.", default=None, ge=0, le=MOST_ODOMETER_KM
    )
    bike_id: int | None = measured(Kind.RATIO, "Bike", "The bike that was ridden.", default=None, ge=1)
    began: str = measured(Kind.TEXT, "Began", "When the ride began.", default="", max_length=40)
    ended: str = measured(Kind.TEXT, "Ended", "When the ride ended.", default="", max_length=40)


class Gauged(WearReading):
    """A reading at one place of the chain on a day; job_id is the job at which it was taken."""

    date: Day = measured(Kind.TEXT, "Date", "When it was gauged.", allowed="a_date")
    job_id: int | None = measured(Kind.RATIO, "Job", "The job it was gauged at.", default=None, ge=1)


class ChainLife(WholeDocument):
    """Everything that is known of one chain."""

    name: str = measured(Kind.TEXT, "Name", "What the workshop calls the chain.", min_length=1, max_length=80)
    speeds: int = measured(Kind.COGS, "Number of cogs", "Cogs the chain is made for.", ge=1, le=MOST_COGS)
    links: int = measured(Kind.COUNT, "Links", "Its links, joiner included.", ge=LEAST_LINKS, le=MOST_LINKS)
    joiner: JoinerKind = measured(Kind.CHOICE, "Joiner", "What closes it.")
    joiners: int = measured(Kind.COUNT, "Joiners", "How often it is closed.", default=1, ge=1, le=20)
    lube: Lube = measured(Kind.CHOICE, "Runs in", "What it runs in.", default=Lube.OIL)
    riding: Riding = measured(Kind.CHOICE, "Ridden in", "What it is ridden through.", default=Riding.DRY)
    limit_percent: float | None = measured(
        Kind.RATIO, "Limit", "The wear at which it is replaced; the shop's own where empty.", default=None, ge=0.1, le=3
    )
    worn_percent: float | None = measured(
        Kind.RATIO, "Wear when fitted", "Its wear when it was fitted, %.", default=None, ge=0, le=MOST_WEAR_PERCENT
    )
    from_new: bool = measured(Kind.FLAG, "From new", "Whether it is known from new.", default=True)
    with_cassette: bool = measured(Kind.FLAG, "New cassette", "Whether a new cassette came with it.", default=False)
    week_km: float | None = measured(
        Kind.RATIO, "A usual week", "Ridden in a usual week, km.", default=None, ge=0, le=3000
    )
    used_cogs: tuple[CogTeeth, ...] = measured(
        Kind.COG_LIST, "Cogs used most", "The cogs that are ridden most.", default=(), max_length=MOST_COGS
    )
    stays: tuple[Stay, ...] = measured(Kind.PART, "Bikes", "Where it was.", default=(), max_length=MOST_STAYS)
    ridden: tuple[Ridden, ...] = measured(
        Kind.PART, "Distances", "How far it was ridden.", default=(), max_length=MOST_RIDES
    )
    gauged: tuple[Gauged, ...] = measured(
        Kind.PART, "Readings", "What was gauged of it.", default=(), max_length=MOST_READINGS
    )
    ending: Ending | None = measured(Kind.CHOICE, "Ending", "How its life ended.", default=None)
    ended: Day | None = measured(Kind.TEXT, "Ended", "When its life ended.", allowed="a_date", default=None)

    @property
    def bike_id(self) -> int | None:
        """The bike it is on."""
        last = self.stays[-1] if self.stays else None
        return last.bike_id if last and last.until is None else None

    @property
    def last_bike_id(self) -> int | None:
        """The bike it is on or was on last."""
        return self.stays[-1].bike_id if self.stays else None

    @property
    def fitted(self) -> Day | None:
        """The day it first went on a bike."""
        return self.stays[0].since if self.stays else None

    @property
    def loose_links(self) -> int:
        """Its links without those that the joiners add."""
        return self.links - self.links % LINKS_PER_PAIR - self.joiners * JOINERS[self.joiner].links

    @property
    def known_until(self) -> Day | None:
        """The last day for which a distance is known; if there is none, the day it was fitted."""
        return max([one.until for one in self.ridden], default=self.fitted)


class Basis(StrEnum):
    """The source of a pace: it was entered, it follows from what was ridden, or it is assumed."""

    GIVEN = "told"
    RIDDEN = "ridden"
    ASSUMED = "assumed"


@dataclass(frozen=True)
class Pace:
    """How far a chain is ridden in a week, km."""

    week_km: float
    basis: Basis


@dataclass(frozen=True)
class Distance:
    """How far a chain was ridden: the known distance, and what its pace adds for the days since then; km."""

    known_km: float
    estimated_km: float = 0.0

    @property
    def km(self) -> float:
        """Both together."""
        return self.known_km + self.estimated_km


def days_on(life: ChainLife, since: Day, until: Day) -> int:
    """How many days a chain was on a bike, after one day and up to another."""
    each = (
        (min(stay.until or until, until) - max(stay.since, since)).days
        for stay in life.stays
        if stay.since < until and (stay.until or until) > since
    )
    return sum(max(days, 0) for days in each)


def pace_of(life: ChainLife) -> Pace:
    """How far a chain is ridden in a week on a bike: as entered, else as it was ridden over two weeks or more."""
    if life.week_km is not None:
        return Pace(life.week_km, Basis.GIVEN)
    known, fitted = life.known_until, life.fitted
    days = days_on(life, fitted, known) if known and fitted else 0
    total_km = sum(one.km for one in life.ridden)
    if days >= limit("pace_days") and total_km > 0:
        return Pace(total_km / days * DAYS_A_WEEK, Basis.RIDDEN)
    return Pace(limit("usual_week"), Basis.ASSUMED)


def distance_at(life: ChainLife, day: Day) -> Distance:
    """How far a chain was ridden up to the end of a day; a distance over several days is spread evenly over them."""
    known_km = sum(one.km * _share(one, day) for one in life.ridden)
    until = life.known_until
    if until is None or day <= until:
        return Distance(known_km)
    return Distance(known_km, pace_of(life).week_km / DAYS_A_WEEK * days_on(life, until, day))


def _share(one: Ridden, day: Day) -> float:
    """The share of a distance before the end of a day."""
    if day >= one.until:
        return 1.0
    whole = (one.until - one.since).days
    return min(max((day - one.since).days / whole, 0.0), 1.0) if whole else 0.0


def off_bike(life: ChainLife, day: Day) -> ChainLife:
    """The life with its stay on a bike ended, if it is on one."""
    if life.bike_id is None:
        return life
    last = life.stays[-1]
    closed = last.model_copy(update={"until": max(day, last.since)})
    return life.model_copy(update={"stays": (*life.stays[:-1], closed)})


def with_ending(life: ChainLife, how: Ending, day: Day) -> ChainLife:
    """The life with its end, off its bike."""
    return off_bike(life, day).model_copy(update={"ending": how, "ended": day})


def with_readings(life: ChainLife, readings: Sequence[Gauged]) -> ChainLife:
    """The life with more readings, in order of their days."""
    return life.model_copy(update={"gauged": tuple(sorted((*life.gauged, *readings), key=lambda one: one.date))})


def is_counted(life: ChainLife, day: Day) -> bool:
    """Whether a total or an odometer includes a day's rides already."""
    return any(one.since < day <= one.until for one in life.ridden if one.source is not Source.RIDE)


def chain_file_of(life: ChainLife, limit_percent: float, today: Day) -> ChainFile:
    """The chain in the form of its file, with each reading at the distance of its day. Parameters: limit_percent, the
    shop's limit."""
    names = WearReading.model_fields
    readings = tuple(
        ChainReading.model_construct(
            **{name: getattr(one, name) for name in names}, date=one.date, km=distance_at(life, one.date).km
        )
        for one in life.gauged
    )
    return ChainFile.model_construct(
        lone_pike_chain=1,
        name=life.name,
        speeds=life.speeds,
        links=life.links,
        fitted=life.fitted,
        limit_percent=life.limit_percent or limit_percent,
        worn_percent=life.worn_percent,
        from_new=life.from_new,
        km_now=distance_at(life, today).km,
        readings=readings,
    )
