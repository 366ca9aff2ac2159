"""Distances of a chain: totals, odometers that are reset, and rides that may be imported twice.

Each function takes a chain's life and returns the life with one thing added, or raises InvalidInput by field.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from lone_pike.core.bike.faults import invalid
from lone_pike.core.messages import Message, Quantity, Raw, Unit, number
from lone_pike.core.wear.life import (
    MOST_RIDES,
    ChainLife,
    Day,
    Ridden,
    Source,
    distance_at,
    is_counted,
)


@dataclass(frozen=True)
class Ride:
    """One ride: its day, its distance, km, and its start and end as ISO times if they are known."""

    day: Day
    km: float
    began: str = ""
    ended: str = ""


@dataclass(frozen=True)
class Sorted:
    """The outcome of adding rides: those that are new, how many were known already, how many lie within a recorded
    total, and how many fell on days when the chain was not on the bike."""

    new: tuple[Ride, ...]
    there_already: int
    counted: int
    outside: int


def km(value: float) -> Quantity:
    """A distance as a value of a message."""
    return Quantity(round(value), Unit.KM)


def with_total(life: ChainLife, day: Day, total_km: float) -> ChainLife:
    """The life with its whole distance on a given day; the difference to what is known is spread over the days since
    the last known one.

    Raises: InvalidInput if it is less than what is known by then, or a later distance is known.
    """
    since = _last_known(life, day)
    known_km = distance_at(life, since).known_km
    # The page shows whole km, and they may be typed as shown.
    if total_km < known_km - 1:
        raise invalid("km", km(total_km), Message("km_from", known=km(known_km)), Message("km_is_whole_life"))
    added = Ridden(source=Source.TOTAL, since=since, until=day, km=max(total_km - known_km, 0.0))
    return _with(life, (added,))


@dataclass(frozen=True)
class OdometerRead:
    """The life with an odometer's reading, the distance it adds, and whether the odometer was reset in between."""

    life: ChainLife
    added_km: float
    was_reset: bool


def with_odometer(
    life: ChainLife, day: Day, odometer_km: float, before: Ridden | None, bike_id: int | None
) -> OdometerRead:
    """The life with the reading of a bike's odometer on a day.

    The first reading only sets the starting point; if a reading is lower than the last one, the odometer was reset to 0
    in between. Known rides in between are part of the distance.

    Parameters: before, the last reading on that bike.
    Raises: InvalidInput if a later distance is known.
    """
    since = _last_known(life, day)
    was_reset = before is not None and before.odometer_km is not None and odometer_km < before.odometer_km
    added_km = 0.0
    if before is not None and before.odometer_km is not None:
        rides = (one for one in life.ridden if one.source is Source.RIDE and before.until < one.until <= day)
        grown_km = odometer_km if was_reset else odometer_km - before.odometer_km
        added_km, since = max(grown_km - sum(one.km for one in rides), 0.0), max(before.until, life.fitted or since)
    read = Ridden(source=Source.ODOMETER, since=since, until=day, km=added_km, odometer_km=odometer_km, bike_id=bike_id)
    return OdometerRead(_with(life, (read,)), added_km, was_reset)


def sorted_rides(life: ChainLife, rides: Sequence[Ride], bike_id: int | None) -> Sorted:
    """Which rides of a bike are new to a chain."""
    begun = sorted((one.began, one.ended) for one in life.ridden if one.began)
    days = {(one.until, round(one.km, 1)) for one in life.ridden if one.source is Source.RIDE and not one.began}
    new, there_already, counted, outside = list[Ride](), 0, 0, 0
    for ride in sorted(rides, key=lambda one: (one.day, one.began)):
        if not _was_on(life, ride.day, bike_id):
            outside += 1
        elif _overlaps(ride, begun) or (not ride.began and (ride.day, round(ride.km, 1)) in days):
            there_already += 1
        elif is_counted(life, ride.day):
            counted += 1
        else:
            new.append(ride)
            if ride.began:
                begun.append((ride.began, ride.ended))
            else:
                days.add((ride.day, round(ride.km, 1)))
    return Sorted(tuple(new), there_already, counted, outside)


def with_rides(life: ChainLife, rides: Sequence[Ride], bike_id: int | None) -> ChainLife:
    """The life with rides that are new to it. Raises: InvalidInput if there are too many."""
    added = tuple(
        Ridden(
            source=Source.RIDE,
            since=one.day,
            until=one.day,
            km=round(one.km, 3),
            bike_id=bike_id,
            began=one.began,
            ended=one.ended,
        )
        for one in rides
    )
    return _with(life, added)


def _with(life: ChainLife, added: tuple[Ridden, ...]) -> ChainLife:
    together = tuple(sorted((*life.ridden, *added), key=lambda one: (one.until, one.began)))
    if len(together) > MOST_RIDES:
        raise invalid("rides", number(len(together)), Message("rides_up_to", most=number(MOST_RIDES)))
    return life.model_copy(update={"ridden": together})


def _last_known(life: ChainLife, day: Day) -> Day:
    """The last day for which a distance is known. Raises: InvalidInput if that is after the given day, or the chain
    never was on a bike."""
    known = life.known_until
    if known is None or life.fitted is None:
        raise invalid("date", Raw(day.isoformat()), Message("a_day_on_a_bike"))
    if day < known:
        raise invalid("date", Raw(day.isoformat()), Message("day_from", day=known.isoformat()), Message("undo_later"))
    return known


def _was_on(life: ChainLife, day: Day, bike_id: int | None) -> bool:
    """Whether a chain was on a bike on a day; if chains were changed that day, the one that went on counts."""
    return any(
        stay.bike_id == bike_id and stay.since <= day and (stay.until is None or day < stay.until)
        for stay in life.stays
    )


def _overlaps(ride: Ride, begun: Sequence[tuple[str, str]]) -> bool:
    return bool(ride.began) and any(began <= ride.ended and ride.began <= ended for began, ended in begun)
