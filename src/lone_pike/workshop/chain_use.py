"""What is recorded of a chain in use: readings, distances, its name."""

import sqlite3
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from lone_pike.core.bike.fields import fields_of
from lone_pike.core.chain.moves import ChainEvent
from lone_pike.core.messages import LengthUnit, Message, Term, number
from lone_pike.core.refusals import Conflict, Stale
from lone_pike.core.wear.chain import MOST_ODOMETER_KM
from lone_pike.core.wear.life import (
    ChainLife,
    Gauged,
    Ridden,
    Source,
    with_readings,
)
from lone_pike.core.wear.rides import Ride, km, sorted_rides, with_odometer, with_rides, with_total
from lone_pike.formats.typed.dates import read_day
from lone_pike.formats.typed.readings import parse
from lone_pike.formats.typed.wear_form import read_gauged, read_km
from lone_pike.store.chains import (
    ChainRow,
    chains_of,
    content_of,
    life_before,
)
from lone_pike.store.database import Database
from lone_pike.store.history import Event
from lone_pike.workshop.chains import keep_change, keep_life, there_now
from lone_pike.workshop.clock import day_of

WORDS = ("name", "lube", "riding", "limit_percent", "worn_percent", "week_km", "used_cogs")
"""The fields of a chain that its form may change."""


def gauge(
    database: Database, chain_id: int, form: Mapping[str, str], unit: LengthUnit, saw: int | None, now: str
) -> ChainRow:
    """Adds a reading, and the chain's whole distance if that was typed too. The same form sent twice adds nothing the
    second time.

    Raises: InvalidInput by field; NotThere.
    """
    today = day_of(now)

    def gauged(life: ChainLife) -> tuple[ChainLife, Message]:
        day = read_day(form.get("date", ""), today, life.fitted)
        row = read_gauged(form, unit, life.links).model_dump(exclude_none=True)
        reading = Gauged(**row, date=day)
        if form.get("km", "").strip():
            life = with_total(life, day, read_km(form["km"], "km"))
        return with_readings(life, (reading,)), Message("chain_gauged", way=Term("wear_way", reading.way))

    def gauged_once(chain: ChainRow) -> tuple[ChainLife, Message]:
        """Checked inside the transaction, so that the second of two simultaneous requests finds the first one
        stored."""
        if saw == chain.parent_id and chain.event == ChainEvent.GAUGED:
            seen = life_before(database.connection, chain)
            if seen and content_of(gauged(seen)[0]) == content_of(chain.life):
                return chain.life, chain.message
        return gauged(chain.life)

    return keep_change(database, chain_id, ChainEvent.GAUGED, gauged_once, now)


def let_reading_go(database: Database, chain_id: int, place: int, saw: int | None, now: str) -> ChainRow:
    """Removes a reading by its index. Raises: Stale if the page is older than the newest change; NotThere."""

    def without(chain: ChainRow) -> tuple[ChainLife, Message]:
        life = chain.life
        if saw != chain.revision_id or not 0 <= place < len(life.gauged):
            raise Stale("nothing_chosen", last=chain.message)
        left = tuple(one for i, one in enumerate(life.gauged) if i != place)
        return life.model_copy(update={"gauged": left}), Message("chain_reading_out")

    return keep_change(database, chain_id, ChainEvent.READING_OUT, without, now)


def tell_distance(database: Database, chain_id: int, form: Mapping[str, str], now: str) -> ChainRow:
    """Records a whole distance, or the reading of the bike's odometer. Raises: InvalidInput by field; NotThere."""
    today = day_of(now)

    def ridden(chain: ChainRow) -> tuple[ChainLife, Message]:
        life = chain.life
        day = read_day(form.get("date", ""), today, life.fitted)
        if form.get("by") != Source.ODOMETER:
            total_km = read_km(form.get("km", ""), "km")
            return with_total(life, day, total_km), Message("chain_total", km=km(total_km), day=day.isoformat())
        odometer_km = read_km(form.get("km", ""), "odometer_km", MOST_ODOMETER_KM)
        before = _last_odometer(database.connection, chain, day)
        read = with_odometer(life, day, odometer_km, before, life.last_bike_id)
        code = "odometer_set_back" if read.was_reset else "odometer_read" if before else "odometer_from_here"
        return read.life, Message(code, reads=km(odometer_km), added=km(read.added_km))

    return keep_change(database, chain_id, ChainEvent.DISTANCE, ridden, now)


def _last_odometer(connection: sqlite3.Connection, chain: ChainRow, day: date) -> Ridden | None:
    """The last reading of a bike's odometer from which this chain's distance is counted: one of its own, or one of
    another chain of that bike from the day this one went on."""
    life, bike_id = chain.life, chain.life.last_bike_id
    if bike_id is None:
        return None
    on_since = max((stay.since for stay in life.stays if stay.bike_id == bike_id and stay.since <= day), default=day)
    others = (one.life for one in chains_of(connection, bike_id) if one.id != chain.id)
    each = [
        *(one for one in life.ridden if one.bike_id == bike_id and one.until <= day),
        *(one for other in others for one in other.ridden if one.bike_id == bike_id and on_since == one.until),
    ]
    read = [one for one in each if one.odometer_km is not None and one.until >= on_since]
    return max(read, key=lambda one: one.until, default=None)


@dataclass(frozen=True)
class RidesAdded:
    """What became of imported rides: how many were added, their km, how many were known already, lay within a recorded
    total, or fell on days when no known chain was on the bike."""

    rides: int
    km: float
    there_already: int
    counted: int
    outside: int


def add_rides(database: Database, chain_id: int, rides: Sequence[Ride], now: str) -> RidesAdded:
    """Adds rides of a chain's bike, each to the chain that was on it that day.

    Raises: InvalidInput where a chain holds no more; NotThere; Conflict where the chain never was on a bike.
    """
    with database.atomic() as connection:
        chain = there_now(connection, chain_id)
        bike_id = chain.life.last_bike_id
        if bike_id is None:
            raise Conflict("chain_never_on")
        found = [(one, sorted_rides(one.life, rides, bike_id)) for one in chains_of(connection, bike_id)]
        for one, kept in found:
            if kept.new:
                far_km = sum(ride.km for ride in kept.new)
                message = Message("chain_rides", rides=number(len(kept.new)), km=km(far_km))
                keep_life(
                    connection, one, with_rides(one.life, kept.new, bike_id), message, Event(ChainEvent.RIDES, now)
                )
    new = [ride for _, kept in found for ride in kept.new]
    there_already, counted = (sum(getattr(kept, name) for _, kept in found) for name in ("there_already", "counted"))
    outside = len(rides) - len(new) - there_already - counted
    return RidesAdded(len(new), sum(ride.km for ride in new), there_already, counted, max(outside, 0))


def keep_words(database: Database, chain_id: int, form: Mapping[str, str], unit: LengthUnit, now: str) -> ChainRow:
    """Stores what a form changes of a chain. Raises: InvalidInput by field; NotThere."""
    specs = fields_of(ChainLife)

    def worded(chain: ChainRow) -> tuple[ChainLife, Message]:
        life = chain.life
        changes = {name: parse(specs[name], form[name], unit).value for name in WORDS if name in form}
        kept = content_of(life) | {name: value for name, value in changes.items() if value not in (None, [])}
        left = {name: value for name, value in kept.items() if changes.get(name, value) not in (None, [])}
        after = ChainLife.model_validate(left)
        changed = [name for name in WORDS if getattr(after, name) != getattr(life, name)]
        return after, Message("chain_told", fields=tuple(Term("chain_field", name) for name in changed))

    return keep_change(database, chain_id, ChainEvent.DESCRIBED, worded, now)
