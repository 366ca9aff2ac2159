"""The bin: the pieces in it, free or reserved by an open job, and the number of joiners."""

import json
import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass

from lone_pike.core.chain.moves import Place
from lone_pike.store.database import Database
from lone_pike.store.ledger import COLUMNS, HAS_CODE, PieceRow, numbered, piece_at, piece_row_of
from lone_pike.store.paging import After, Listed, listed, rows_before

MOST_SHOWN = 60
MOST_PLANNED = 500
"""The most pieces that one plan considers."""

IN_BIN = "place IN ('bin', 'job')"


@dataclass(frozen=True)
class JoinerStock:
    """How many joiners of a kind there are."""

    kind: str
    speeds: int
    amount: int


def pieces_in_bin(
    database: Database, page: int = 1, size: int = MOST_SHOWN, find: str = "", sources: Sequence[str] = ()
) -> Listed[PieceRow]:
    """A page of the pieces by the chain they fit, longest first, including reserved ones.

    Parameters: find, letters of a code or of the name a piece comes from, or a count; empty for all pieces; sources,
    the ways of coming in that these letters name.
    """
    wanted = {"find": find.strip().lower(), "sources": json.dumps(sources)}
    here = (
        "(:find = '' OR instr(lower(coalesce(code, '')), :find) OR instr(lower(origin), :find)"
        " OR source IN (SELECT value FROM json_each(:sources))"
        " OR CAST(links AS TEXT) = :find)"
    )
    sql = f"SELECT {COLUMNS} FROM piece WHERE {IN_BIN} AND {here} ORDER BY speeds DESC, links DESC, id"
    return listed(database, sql, wanted, page, size, piece_row_of)


def piece_coded(database: Database, code: str) -> PieceRow | None:
    """The newest piece with exactly this code, wherever it is."""
    sql = f"SELECT {COLUMNS} FROM piece WHERE {HAS_CODE} ORDER BY id DESC LIMIT 1"
    said = code.strip()
    row = database.connection.execute(sql, {"code": said, "id": numbered(said)}).fetchone() if said else None
    return piece_row_of(row) if row else None


def piece_by_id(database: Database, piece_id: int) -> PieceRow | None:
    """One piece that is in the bin, reserved or not."""
    piece = piece_at(database.connection, piece_id)
    return piece if piece and piece.place in (Place.BIN, Place.JOB) else None


def pieces_for(database: Database, speeds: int, most: int = MOST_PLANNED) -> list[PieceRow]:
    """The free pieces of chain for a number of cogs, longest first."""
    sql = f"SELECT {COLUMNS} FROM piece WHERE speeds = ? AND place = 'bin' AND {IN_BIN} ORDER BY links DESC, id LIMIT ?"
    return [piece_row_of(row) for row in database.connection.execute(sql, (speeds, most))]


def joiner_stock(database: Database) -> list[JoinerStock]:
    """How many joiners there are, by kind and cogs; without kinds of which none ever came in."""
    rows = database.connection.execute(
        "SELECT kind, speeds, sum(change) AS amount FROM joiner_move GROUP BY kind, speeds ORDER BY kind, speeds"
    )
    return [JoinerStock(**dict(row)) for row in rows]


def move_joiners(
    connection: sqlite3.Connection,
    kind: str,
    speeds: int,
    change: int,
    now: str,
    booking_id: int | None = None,
    event_id: int | None = None,
) -> None:
    """Adds joiners or takes some out. Parameters: the booking or the event of a chain that this belongs to."""
    if change:
        connection.execute(
            "INSERT INTO joiner_move (kind, speeds, change, booking_id, event_id, moved_at) VALUES (?, ?, ?, ?, ?, ?)",
            (kind, speeds, change, booking_id, event_id, now),
        )


def return_joiners_of(connection: sqlite3.Connection, event_id: int, now: str) -> None:
    """Moves the joiners of an event back."""
    sql = "SELECT kind, speeds, sum(change) AS change FROM joiner_move WHERE event_id = ? GROUP BY kind, speeds"
    for row in connection.execute(sql, (event_id,)).fetchall():
        move_joiners(connection, row["kind"], row["speeds"], -row["change"], now, event_id=event_id)


def joiners_there(connection: sqlite3.Connection, kind: str, speeds: int) -> int:
    """How many joiners of a kind there are."""
    sql = "SELECT coalesce(sum(change), 0) FROM joiner_move WHERE kind = ? AND speeds = ?"
    return int(connection.execute(sql, (kind, speeds)).fetchone()[0])


def pieces_before(database: Database, before: int | None, size: int) -> After[PieceRow]:
    """Pieces that lie in the bin, newest first, from a cursor on."""
    return rows_before(database, f"SELECT {COLUMNS} FROM piece WHERE {IN_BIN}", "id", before, size, piece_row_of)
