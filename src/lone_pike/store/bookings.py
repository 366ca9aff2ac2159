"""What was fitted: a booking is a row, taking it back another; neither is ever deleted."""

import json
import sqlite3
from collections.abc import Iterable
from dataclasses import dataclass

from lone_pike.core.messages import Message
from lone_pike.formats.records.message_record import message_of, record_of
from lone_pike.store.bikes import write_bike
from lone_pike.store.bin import joiners_there, move_joiners, use_up_pieces
from lone_pike.store.database import Database
from lone_pike.store.jobs import JobRow


@dataclass(frozen=True)
class Offcut:
    """What a booking lays into the bin: links, and its two ends."""

    links: int
    first_end: str
    last_end: str


@dataclass(frozen=True)
class Fitting:
    """What a booking writes: the fitted chain, the mechanic's note, what the product adds to it, what is left over, and
    how many joiners were used."""

    links: int
    joiner: str
    speeds: int
    note: str
    message: Message | None
    offcuts: tuple[Offcut, ...]
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


BOOKINGS = """
    SELECT id, job_id, bike_id, links, joiner, speeds, note, message, booked_at FROM booking
    WHERE NOT EXISTS (SELECT 1 FROM cancellation WHERE booking_id = booking.id)
"""


def bookings_of(database: Database, bike_id: int) -> list[BookingRow]:
    """Chains fitted to a bike and not taken back, newest first."""
    rows = database.connection.execute(f"{BOOKINGS} AND bike_id = ? ORDER BY booked_at DESC, id DESC", (bike_id,))
    return [_booking(row) for row in rows]


def newest_bookings(database: Database, bike_ids: Iterable[int]) -> dict[int, BookingRow]:
    """The chain on each of some bikes that has one, by the bike's id."""
    newest = f"{BOOKINGS} AND bike_id = ? ORDER BY booked_at DESC, id DESC LIMIT 1"
    rows = (database.connection.execute(newest, (bike_id,)).fetchone() for bike_id in bike_ids)
    return {row["bike_id"]: _booking(row) for row in rows if row}


def write_booking(connection: sqlite3.Connection, job: JobRow, fitting: Fitting, now: str) -> None:
    """Writes the fitted chain into the bike's history, the off-cuts into the bin, and closes the job."""
    before = connection.execute("SELECT document FROM bike WHERE id = ?", (job.bike_id,)).fetchone()["document"]
    closed = connection.execute(
        "UPDATE job SET booked_at = ?, stage = 'book' WHERE id = ? AND booked_at IS NULL", (now, job.id)
    )
    if closed.rowcount == 0:
        return
    write_bike(connection, job.bike_id, job.document)
    message = json.dumps(record_of(fitting.message)) if fitting.message else None
    booking = connection.execute(
        "INSERT INTO booking (job_id, bike_id, links, joiner, speeds, note, message, document_before, booked_at)"
        " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?)",
        (job.id, job.bike_id, fitting.links, fitting.joiner, fitting.speeds, fitting.note, message, before, now),
    )
    origin = str(job.document.get("name", ""))
    connection.executemany(
        "INSERT INTO offcut (booking_id, links, first_end, last_end, speeds, origin, laid_in_at)"
        " VALUES (?, ?, ?, ?, ?, ?, ?)",
        [
            (
                booking.lastrowid,
                one.links,
                one.first_end,
                one.last_end,
                fitting.speeds,
                origin,
                now,
            )
            for one in fitting.offcuts
        ],
    )
    use_up_pieces(connection, job.id, now)
    there = joiners_there(connection, fitting.joiner, fitting.speeds)
    used = min(there, fitting.joiners)
    move_joiners(connection, fitting.joiner, fitting.speeds, -used, now, booking.lastrowid)


def cancel_booking(connection: sqlite3.Connection, job_id: int, now: str) -> bool:
    """Takes a booking back: the bike as before, its off-cuts out of the bin, the job open again.

    False where the job is not booked, another job of the bike is open, or the bike was booked again since.
    """
    row = connection.execute(
        "SELECT booking.id, booking.bike_id, document_before FROM booking JOIN job ON job.id = booking.job_id"
        " WHERE job_id = ?1 AND job.booked_at IS NOT NULL"
        " AND NOT EXISTS (SELECT 1 FROM cancellation WHERE booking_id = booking.id)"
        " AND NOT EXISTS (SELECT 1 FROM job AS open WHERE open.bike_id = booking.bike_id"
        " AND open.booked_at IS NULL AND open.closed_at IS NULL)"
        " AND NOT EXISTS (SELECT 1 FROM booking AS later WHERE later.bike_id = booking.bike_id"
        " AND later.id > booking.id AND NOT EXISTS (SELECT 1 FROM cancellation WHERE booking_id = later.id))",
        (job_id,),
    ).fetchone()
    if row is None:
        return False
    connection.execute("INSERT INTO cancellation (booking_id, cancelled_at) VALUES (?, ?)", (row["id"], now))
    write_bike(connection, row["bike_id"], json.loads(row["document_before"]))
    connection.execute("UPDATE job SET booked_at = NULL WHERE id = ?", (job_id,))
    use_up_pieces(connection, job_id, None)
    connection.execute(
        "INSERT INTO joiner_move (kind, speeds, change, booking_id, moved_at)"
        " SELECT kind, speeds, -sum(change), booking_id, ? FROM joiner_move WHERE booking_id = ?"
        " GROUP BY kind, speeds HAVING sum(change) <> 0",
        (now, row["id"]),
    )
    return True


def _booking(row: sqlite3.Row) -> BookingRow:
    message = message_of(json.loads(row["message"])) if row["message"] else None
    return BookingRow(**{**dict(row), "message": message})
