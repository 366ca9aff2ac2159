"""Bookings: each is a row, taking it back is another, and neither is ever deleted."""

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from lone_pike.core.messages import Message
from lone_pike.core.stages import LAST_STAGE
from lone_pike.formats.records.message_record import message_of, record_of
from lone_pike.store.bikes import Document
from lone_pike.store.database import Database
from lone_pike.store.jobs import JobRow

CancelWay = Literal["by_mistake", "came_off"]


@dataclass(frozen=True)
class Fitting:
    """What a booking stores: the fitted chain, its joiners and their number, the mechanic's note, and what the product
    adds to it."""

    links: int
    joiner: str
    speeds: int
    note: str
    message: Message | None
    joiners: int = 1


@dataclass(frozen=True)
class BookingRow:
    """A chain that was fitted; counts in links, time as ISO 8601."""

    id: int
    job_id: int
    bike_id: int
    links: int
    joiner: str
    speeds: int
    note: str
    message: Message | None
    booked_at: str
    came_off_at: str | None


BOOKINGS = """
    SELECT id, job_id, bike_id, links, joiner, speeds, note, message, booked_at, cancelled_at AS came_off_at
    FROM booking LEFT JOIN cancellation ON booking_id = booking.id WHERE way IS NOT 'by_mistake'
"""
"""The SQL for bookings that fitted a chain, which one made by mistake did not."""


def bookings_of(database: Database, bike_id: int) -> list[BookingRow]:
    """The chains fitted to a bike, newest first, including those that came off again."""
    rows = database.connection.execute(f"{BOOKINGS} AND bike_id = ? ORDER BY id DESC", (bike_id,))
    return [_booking(row) for row in rows]


def newest_bookings(database: Database, bike_ids: Iterable[int]) -> dict[int, BookingRow]:
    """The chains on some bikes, by the bike's id."""
    newest = f"{BOOKINGS} AND bike_id = ? ORDER BY id DESC LIMIT 1"
    rows = (database.connection.execute(newest, (bike_id,)).fetchone() for bike_id in bike_ids)
    return {row["bike_id"]: _booking(row) for row in rows if row and not row["came_off_at"]}


def add_booking(connection: sqlite3.Connection, job: JobRow, fitting: Fitting, before: Document, now: str) -> int:
    """Stores the fitted chain in the bike's history and closes the job.

    Parameters: before, the bike's document before the booking, in case it is taken back.
    Returns: the booking's id.
    """
    connection.execute("UPDATE job SET booked_at = ?, stage = ? WHERE id = ?", (now, LAST_STAGE, job.id))
    message = json.dumps(record_of(fitting.message)) if fitting.message else None
    booking = connection.execute(
        "INSERT INTO booking"
        " (job_id, bike_id, links, joiner, joiners, speeds, note, message, document_before, booked_at)"
        " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
        (
            *(job.id, job.bike_id, fitting.links, fitting.joiner, fitting.joiners, fitting.speeds),
            *(fitting.note, message, json.dumps(before), now),
        ),
    )
    return int(booking.lastrowid or 0)


def document_before(connection: sqlite3.Connection, booking_id: int) -> Document:
    """The bike's document before a booking."""
    row = connection.execute("SELECT document_before FROM booking WHERE id = ?", (booking_id,)).fetchone()
    document: Document = json.loads(row["document_before"])
    return document


def cancel_booking(connection: sqlite3.Connection, booking: BookingRow, way: CancelWay, now: str) -> None:
    """Stores that a booking was taken back, and reopens its job."""
    connection.execute(
        "INSERT INTO cancellation (booking_id, cancelled_at, way) VALUES (?, ?, ?)", (booking.id, now, way)
    )
    connection.execute("UPDATE job SET booked_at = NULL WHERE id = ?", (booking.job_id,))


def return_joiners(connection: sqlite3.Connection, booking_id: int, now: str) -> None:
    """Puts the joiners of a mistaken booking back into the bin."""
    connection.execute(
        "INSERT INTO joiner_move (kind, speeds, change, booking_id, moved_at)"
        " SELECT kind, speeds, -sum(change), booking_id, ? FROM joiner_move WHERE booking_id = ?"
        " GROUP BY kind, speeds HAVING sum(change) <> 0",
        (now, booking_id),
    )


def _booking(row: sqlite3.Row) -> BookingRow:
    message = message_of(json.loads(row["message"])) if row["message"] else None
    return BookingRow(**{**dict(row), "message": message})
