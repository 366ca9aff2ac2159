"""Chains: each with the current revision of its history, and with the values by which lists are sorted."""

import json
import sqlite3
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from functools import lru_cache

from lone_pike.core.messages import Message
from lone_pike.core.wear.forecast import Rate, Rates
from lone_pike.core.wear.life import ChainLife
from lone_pike.formats.records.message_record import message_of
from lone_pike.store.database import Database
from lone_pike.store.history import Event, Revision, begin, newest_of, revise, revision_by_id
from lone_pike.store.paging import LONGEST_SEARCH, After, Listed, listed, rows_before

MOST_ORDERED = 500
"""The most chains that one order considers."""


@dataclass(frozen=True)
class ChainRow:
    """A chain as it is now: its life, its state, the bike it is on with that bike's name, its booking, its revision,
    and the event by which it became so."""

    id: int
    history_id: int
    booking_id: int | None
    state: str
    bike_id: int | None
    bike: str | None
    revision_id: int
    parent_id: int | None
    event_id: int | None
    event: str | None
    message: Message
    made_at: str
    life: ChainLife


@dataclass(frozen=True)
class Days:
    """The days when a chain is due soon, and due at the earliest, in the middle and at the latest, with the key of what
    they were computed from; None for a chain that does not wear."""

    soon_on: str | None
    early_on: str | None
    due_on: str | None
    late_on: str | None
    stands_by: str


@dataclass(frozen=True)
class DueRow:
    """A chain that is due, without its life."""

    id: int
    name: str
    speeds: int
    links: int
    loose_links: int
    joiner: str
    joiners: int
    early_on: str
    due_on: str
    late_on: str
    computed_at: str


CHAINS = """
    SELECT chain.id, chain.history_id, booking_id, state, chain.bike_id, bike.name AS bike, revision.id AS revision_id,
        parent_id, event_id, (SELECT kind FROM chain_event WHERE chain_event.id = event_id) AS event, message, made_at,
        content
    FROM chain JOIN history ON history.id = chain.history_id JOIN revision ON revision.id = history.revision_id
    LEFT JOIN bike ON bike.id = chain.bike_id
"""
STATES = {"on": "chain.state = 'on'", "hung": "chain.state = 'hung'", "ended": "chain.state = 'ended'"}
DUE_FIRST = "ORDER BY coalesce(due_on, '9999'), chain.id"
NEWEST_FIRST = "ORDER BY chain.id DESC"
FOUND = "(instr(lower(chain.name), :find) OR instr(lower(coalesce(bike.name, '')), :find))"


def chain_by_id(connection: sqlite3.Connection, chain_id: int) -> ChainRow | None:
    """One chain; None also if its booking was a mistake."""
    row = connection.execute(f"{CHAINS} WHERE chain.id = ? AND state <> 'undone'", (chain_id,)).fetchone()
    return chain_row_of(row) if row else None


def chain_of_booking(connection: sqlite3.Connection, booking_id: int) -> ChainRow | None:
    """The chain that a booking created."""
    row = connection.execute(f"{CHAINS} WHERE booking_id = ?", (booking_id,)).fetchone()
    return chain_row_of(row) if row else None


def changes_of_event(connection: sqlite3.Connection, event_id: int) -> list[tuple[int, int]]:
    """The chains that an event changed, those on a bike first, by their ids, each with the revision that it made."""
    sql = (
        "SELECT chain.id, revision.id FROM revision JOIN chain ON chain.history_id = revision.history_id"
        " WHERE event_id = ? ORDER BY chain.bike_id IS NULL, revision.id DESC"
    )
    return [(row[0], row[1]) for row in connection.execute(sql, (event_id,))]


def chain_on(connection: sqlite3.Connection, bike_id: int) -> ChainRow | None:
    """The chain that is on a bike."""
    row = connection.execute(f"{CHAINS} WHERE chain.bike_id = ?", (bike_id,)).fetchone()
    return chain_row_of(row) if row else None


def chains_on(database: Database, bike_ids: Iterable[int]) -> dict[int, ChainRow]:
    """The chain on each of some bikes that has one, by the bike's id."""
    found = (chain_on(database.connection, bike_id) for bike_id in bike_ids)
    return {row.bike_id: row for row in found if row and row.bike_id}


def chains_of(connection: sqlite3.Connection, bike_id: int) -> list[ChainRow]:
    """Every chain that is or was on a bike, newest first."""
    sql = f"{CHAINS} JOIN chain_bike ON chain_bike.chain_id = chain.id WHERE chain_bike.bike_id = ?"
    rows = connection.execute(f"{sql} AND state <> 'undone' {NEWEST_FIRST}", (bike_id,))
    return [chain_row_of(row) for row in rows]


def chains_like(database: Database, state: str, find: str, page: int, size: int) -> Listed[ChainRow]:
    """A page of the chains in a state; those on bikes with the soonest due first. A search looks in the names of chains
    and bikes."""
    wanted = find.strip().lower()[:LONGEST_SEARCH]
    where = STATES.get(state, STATES["on"]) + (f" AND {FOUND}" if wanted else "")
    order = DUE_FIRST if state not in ("hung", "ended") else NEWEST_FIRST
    return listed(database, f"{CHAINS} WHERE {where} {order}", {"find": wanted}, page, size, chain_row_of)


def chains_due(database: Database, today: str, by: str, page: int, size: int) -> Listed[ChainRow]:
    """A page of the chains on bikes that are due by a day, or due soon today; soonest first."""
    sql = f"{CHAINS} WHERE state = 'on' AND (soon_on <= :today OR due_on <= :by) {DUE_FIRST}"
    return listed(database, sql, {"today": today, "by": by}, page, size, chain_row_of)


def due_rows(database: Database, today: str, by: str, most: int = MOST_ORDERED) -> list[DueRow]:
    """The chains that are due, without their lives, for orders and for the calendar."""
    sql = (
        "SELECT chain.id, name, speeds, links, loose_links, joiner, joiners, early_on, due_on, late_on,"
        " told_at AS computed_at"
        f" FROM chain WHERE state = 'on' AND (soon_on <= ? OR due_on <= ?) {DUE_FIRST} LIMIT ?"
    )
    return [DueRow(**dict(row)) for row in database.connection.execute(sql, (today, by, most))]


@dataclass(frozen=True)
class DueCount:
    """How many chains on bikes are due, how many others are due soon, and which is next, with its day."""

    due: int
    soon: int
    next_name: str | None
    next_on: str | None


def due_count(database: Database, today: str) -> DueCount:
    """How many chains are due today."""
    sql = "SELECT coalesce(sum(due_on <= ?1), 0), count(*) FROM chain WHERE state = 'on' AND soon_on <= ?1"
    due, listed_now = database.connection.execute(sql, (today,)).fetchone()
    sql = f"SELECT name, due_on FROM chain WHERE state = 'on' AND due_on > ? {DUE_FIRST} LIMIT 1"
    row = database.connection.execute(sql, (today,)).fetchone()
    return DueCount(due, listed_now - due, *(row or (None, None)))


def add_chain(connection: sqlite3.Connection, life: ChainLife, booking_id: int | None, now: str) -> int:
    """Adds a chain with its history. Returns: its id."""
    history_id = begin(connection, "chain", content_of(life), now)
    row = connection.execute(
        "INSERT INTO chain (history_id, booking_id, state, bike_id, name, speeds, riding, links, loose_links, joiner,"
        " joiners) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
        (history_id, booking_id, *_columns(life)),
    )
    chain_id = int(row.lastrowid or 0)
    _note_bikes(connection, chain_id, life)
    return chain_id


def write_life(
    connection: sqlite3.Connection, chain: ChainRow, life: ChainLife, message: Message, event: Event
) -> None:
    """Adds a revision to a chain, made by an event that is begun."""
    revise(connection, chain.history_id, content_of(life), message, event.made_at, event.id)
    write_columns(connection, chain.id, life)


def write_columns(connection: sqlite3.Connection, chain_id: int, life: ChainLife) -> None:
    """Updates the columns beside the history from the chain's current life."""
    sql = (
        "UPDATE chain SET state = ?, bike_id = ?, name = ?, speeds = ?, riding = ?, links = ?, loose_links = ?,"
        " joiner = ?, joiners = ? WHERE id = ?"
    )
    connection.execute(sql, (*_columns(life), chain_id))
    _note_bikes(connection, chain_id, life)


def undo_chain(connection: sqlite3.Connection, chain_id: int) -> None:
    """Removes a chain whose booking was a mistake from its place."""
    connection.execute("UPDATE chain SET state = 'undone', bike_id = NULL WHERE id = ?", (chain_id,))


def life_before(connection: sqlite3.Connection, chain: ChainRow) -> ChainLife | None:
    """A chain's life before its current revision; None if that is the first one."""
    before = revision_by_id(connection, chain.history_id, chain.parent_id)
    return life_of(before) if before else None


def life_now(connection: sqlite3.Connection, history_id: int) -> ChainLife:
    """The life at a history's current revision."""
    return life_of(newest_of(connection, history_id))


def write_rate(connection: sqlite3.Connection, chain_id: int, readings: int, rate: Rate) -> None:
    """Stores a chain's own rate, and how many readings it is based on."""
    sql = "UPDATE chain SET readings = ?, rate_log = ?, rate_variance = ? WHERE id = ?"
    connection.execute(sql, (readings, rate.log, rate.variance, chain_id))


def write_days(connection: sqlite3.Connection, chain_id: int, days: Days, now: str) -> None:
    """Stores when a chain is due, by which lists are sorted."""
    sql = "UPDATE chain SET soon_on = ?, early_on = ?, due_on = ?, late_on = ?, stands_by = ?, told_at = ? WHERE id = ?"
    connection.execute(sql, (*vars(days).values(), now, chain_id))


ADDED_UP = (
    "SELECT count(*), coalesce(avg(rate_log), 0), coalesce(avg(rate_log * rate_log), 0),"
    " coalesce(avg(rate_variance), 0) FROM chain WHERE readings > 0 AND state <> 'undone'"
)


def rates_like(connection: sqlite3.Connection, speeds: int, riding: str) -> Rates:
    """The sums of the rates of the shop's chains with readings, for a number of cogs and a kind of riding."""
    return Rates(*connection.execute(f"{ADDED_UP} AND speeds = ? AND riding = ?", (speeds, riding)).fetchone())


def rates_of_all(connection: sqlite3.Connection) -> Rates:
    """The sums of the rates of all the shop's chains with readings."""
    return Rates(*connection.execute(ADDED_UP).fetchone())


def groups(connection: sqlite3.Connection) -> list[tuple[int, str]]:
    """The numbers of cogs and kinds of riding of the chains in use."""
    rows = connection.execute("SELECT DISTINCT speeds, riding FROM chain WHERE state IN ('on', 'hung')")
    return [(row["speeds"], row["riding"]) for row in rows]


def chains_to_sort(
    connection: sqlite3.Connection, speeds: int, riding: str, stands_by: str | None = None
) -> Iterator[tuple[int, ChainLife]]:
    """The chains in use whose days were computed from something else than the given key; without a key, those not
    computed yet."""
    sql = (
        "SELECT chain.id, content FROM chain JOIN history ON history.id = chain.history_id"
        " JOIN revision ON revision.id = history.revision_id"
        " WHERE speeds = ? AND riding = ? AND state IN ('on', 'hung') AND stands_by"
        + (" = ''" if stands_by is None else " <> ?")
    )
    values = (speeds, riding) if stands_by is None else (speeds, riding, stands_by)
    for row in connection.execute(sql, values).fetchall():
        yield row["id"], _life(row["content"])


def content_of(life: ChainLife) -> dict[str, object]:
    """A life as plain data for storing; values at their default are left out."""
    return life.model_dump(mode="json", exclude_defaults=True)


def life_of(revision: Revision) -> ChainLife:
    """The life in a revision."""
    return ChainLife.model_validate(revision.content)


@lru_cache(maxsize=512)
def _life(content: str) -> ChainLife:
    """The life in a stored text, cached by that text."""
    return ChainLife.model_validate_json(content)


def _columns(life: ChainLife) -> tuple[object, ...]:
    state = "on" if life.bike_id else "ended" if life.ending else "hung"
    made_of = (life.links, life.loose_links, str(life.joiner), life.joiners)
    return state, life.bike_id, life.name, life.speeds, str(life.riding), *made_of


def _note_bikes(connection: sqlite3.Connection, chain_id: int, life: ChainLife) -> None:
    bikes = {(chain_id, stay.bike_id) for stay in life.stays}
    connection.executemany("INSERT OR IGNORE INTO chain_bike (chain_id, bike_id) VALUES (?, ?)", sorted(bikes))


def chain_row_of(row: sqlite3.Row) -> ChainRow:
    """Reads a row of the table."""
    values = dict(row)
    life, message = _life(values.pop("content")), message_of(json.loads(values.pop("message")))
    return ChainRow(**values, life=life, message=message)


def chains_before(database: Database, state: str, before: int | None, size: int) -> After[ChainRow]:
    """Chains in a state, newest first, from a cursor on."""
    return rows_before(database, f"{CHAINS} WHERE {STATES[state]}", "chain.id", before, size, chain_row_of)
