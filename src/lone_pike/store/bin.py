"""The bin: off-cuts laid in by bookings, boxes and pieces laid in by hand or scanned, and joiners.

Pieces of a booking that was taken back are no longer there. A piece is reserved by the open job whose document has it
among its pieces, and gone once that job is booked.
"""

import sqlite3
from dataclasses import dataclass

from lone_pike.core.refusals import CodeTwice, PieceTaken
from lone_pike.store.database import Database
from lone_pike.store.paging import Listed, listed

MOST_SHOWN = 60
MOST_PLANNED = 500
"""Pieces that one plan looks through."""


@dataclass(frozen=True)
class OffcutRow:
    """One piece: links, its two ends, cogs and width its chain is made for, its wear, where it came from, its code, and
    the open job that has reserved it."""

    id: int
    links: int
    first_end: str
    last_end: str
    speeds: int
    origin: str
    laid_in_at: str
    kind: str
    wear_percent: float
    width: str | None
    code: str | None
    reserved_by: int | None


@dataclass(frozen=True)
class NewPiece:
    """A piece to be laid in."""

    links: int
    first_end: str
    last_end: str
    speeds: int
    origin: str
    kind: str = "offcut"
    wear_percent: float = 0.0
    width: str | None = None
    code: str | None = None


@dataclass(frozen=True)
class JoinerStock:
    """How many joiners of a kind there are."""

    kind: str
    speeds: int
    amount: int


LAY_BACK = """
    UPDATE offcut SET taken_at = NULL, code = CASE WHEN EXISTS (
        SELECT 1 FROM offcut AS other
        WHERE other.code = offcut.code AND other.taken_at IS NULL AND other.id <> offcut.id
    ) THEN NULL ELSE code END
"""
"""A piece that comes back has lost its code where another piece in the bin has it by now."""

COLUMNS = "id, links, first_end, last_end, speeds, origin, laid_in_at, kind, wear_percent, width, code, reserved_by"
IN_BIN = (
    "taken_at IS NULL AND NOT EXISTS (SELECT 1 FROM cancellation WHERE cancellation.booking_id = offcut.booking_id)"
)
HELD = (
    "SELECT json_extract(revision.content, piece.fullkey || '.bin_id') AS bin_id"
    " FROM job JOIN history ON history.id = job.history_id"
    " JOIN revision ON revision.id = history.revision_id,"
    " json_each(revision.content, '$.document.chain.pieces') AS piece"
    " WHERE job.id = :job AND json_extract(revision.content, piece.fullkey || '.bin_id') IS NOT NULL"
)
"""The pieces of the bin that a job's document has."""


def offcuts(database: Database, page: int = 1, size: int = MOST_SHOWN) -> Listed[OffcutRow]:
    """A page of the pieces by the chain they fit, longest first."""
    sql = f"SELECT {COLUMNS} FROM offcut WHERE {IN_BIN} ORDER BY speeds DESC, links DESC, id"
    return listed(database, sql, {}, page, size, _row)


def piece_by_id(database: Database, piece_id: int) -> OffcutRow | None:
    """One piece that is in the bin."""
    sql = f"SELECT {COLUMNS} FROM offcut WHERE id = ? AND {IN_BIN}"
    row = database.connection.execute(sql, (piece_id,)).fetchone()
    return _row(row) if row else None


def pieces_for(database: Database, speeds: int, most: int = MOST_PLANNED) -> list[OffcutRow]:
    """The free pieces of chain for so many cogs, longest first."""
    sql = (
        f"SELECT {COLUMNS} FROM offcut WHERE speeds = ? AND reserved_by IS NULL AND {IN_BIN}"
        " ORDER BY links DESC, id LIMIT ?"
    )
    return [_row(row) for row in database.connection.execute(sql, (speeds, most))]


def lay_in(connection: sqlite3.Connection, piece: NewPiece, now: str) -> int:
    """Lays a piece in; returns its number. Raises: CodeTwice where its code is in the bin already."""
    if (
        piece.code
        and connection.execute("SELECT 1 FROM offcut WHERE code = ? AND taken_at IS NULL", (piece.code,)).fetchone()
    ):
        raise CodeTwice(piece.code)
    row = connection.execute(
        "INSERT INTO offcut (links, first_end, last_end, speeds, origin, kind, wear_percent, width, code, laid_in_at)"
        " VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
        (
            piece.links,
            piece.first_end,
            piece.last_end,
            piece.speeds,
            piece.origin,
            piece.kind,
            piece.wear_percent,
            piece.width,
            piece.code,
            now,
        ),
    )
    return int(row.lastrowid or 0)


def take_offcut(connection: sqlite3.Connection, offcut_id: int, now: str | None) -> bool:
    """Takes a piece out of the bin, or with no time lays it back; False where it is not there.

    Raises: PieceTaken where a job has it reserved.
    """
    row = connection.execute("SELECT reserved_by FROM offcut WHERE id = ?", (offcut_id,)).fetchone()
    if row and row["reserved_by"]:
        raise PieceTaken
    return bool(_set_taken(connection, "id", offcut_id, now))


def _set_taken(connection: sqlite3.Connection, column: str, value: int, now: str | None) -> int:
    """Takes the pieces with a value in a column, or with no time lays them back; returns how many these are."""
    statement = "UPDATE offcut SET taken_at = :now" if now else LAY_BACK
    return connection.execute(f"{statement} WHERE {column} = :value", {"now": now, "value": value}).rowcount


def hold_pieces(connection: sqlite3.Connection, job_id: int) -> None:
    """Reserves the pieces that a job's document now has, and lays back what it no longer has.

    Raises: PieceTaken where one of them is another's by now.
    """
    job = {"job": job_id}
    connection.execute(f"UPDATE offcut SET reserved_by = NULL WHERE reserved_by = :job AND id NOT IN ({HELD})", job)
    connection.execute(
        f"UPDATE offcut SET reserved_by = :job WHERE reserved_by IS NULL AND id IN ({HELD}) AND {IN_BIN}", job
    )
    missing = (
        f"SELECT 1 FROM ({HELD}) AS held LEFT JOIN offcut ON offcut.id = held.bin_id AND offcut.reserved_by = :job"
        " WHERE offcut.id IS NULL"
    )
    if connection.execute(missing, job).fetchone():
        raise PieceTaken


def release_pieces(connection: sqlite3.Connection, job_id: int) -> None:
    """Lays back what a job had reserved: it is closed."""
    connection.execute("UPDATE offcut SET reserved_by = NULL WHERE reserved_by = ? AND taken_at IS NULL", (job_id,))


def use_up_pieces(connection: sqlite3.Connection, job_id: int, now: str | None) -> None:
    """What a job had reserved is fitted, or with no time reserved again: its booking was taken back."""
    _set_taken(connection, "reserved_by", job_id, now)


def joiner_stock(database: Database) -> list[JoinerStock]:
    """How many joiners there are, by kind and cogs; without those of which none ever came in."""
    rows = database.connection.execute(
        "SELECT kind, speeds, sum(change) AS amount FROM joiner_move GROUP BY kind, speeds ORDER BY kind, speeds"
    )
    return [JoinerStock(**dict(row)) for row in rows]


def move_joiners(
    connection: sqlite3.Connection, kind: str, speeds: int, change: int, now: str, booking_id: int | None = None
) -> None:
    """Joiners come in or go out."""
    if change:
        connection.execute(
            "INSERT INTO joiner_move (kind, speeds, change, booking_id, moved_at) VALUES (?, ?, ?, ?, ?)",
            (kind, speeds, change, booking_id, now),
        )


def joiners_there(connection: sqlite3.Connection, kind: str, speeds: int) -> int:
    """How many joiners of a kind there are."""
    sql = "SELECT coalesce(sum(change), 0) FROM joiner_move WHERE kind = ? AND speeds = ?"
    return int(connection.execute(sql, (kind, speeds)).fetchone()[0])


def _row(row: sqlite3.Row) -> OffcutRow:
    return OffcutRow(**dict(row))
