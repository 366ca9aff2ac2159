"""The ledger of chain: pieces, which never change, and the moves that take them from place to place.

The schema makes sure that a piece leaves from where it is, that it has one owner, and that the parts of a cut add up.
"""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

from lone_pike.core.chain.cutting import End, link_kind
from lone_pike.core.chain.moves import MOVES, Move, PieceSource, Place
from lone_pike.core.messages import Message, Term
from lone_pike.core.refusals import CodeTwice
from lone_pike.store.paging import row_id


@dataclass(frozen=True)
class PieceRow:
    """One piece of chain: links, its two ends, cogs and width it is made for, its wear, how it came in and the name of
    the bike or chain it came from, its code, where it is, the job or the bike that has it, and the chain it belongs
    to."""

    id: int
    links: int
    first_end: str
    last_end: str
    speeds: int
    origin: str
    made_at: str
    kind: str
    wear_percent: float
    width: str | None
    code: str | None
    place: str
    job_id: int | None
    bike_id: int | None
    chain_id: int | None
    source: str

    @property
    def own_code(self) -> str:
        """What its label says: its code, or its number where it has none."""
        return self.code or f"{NUMBERED}{self.id}"

    @property
    def came_in(self) -> Term:
        """How it came in."""
        return Term("piece_source", self.source)

    @property
    def comes_from(self) -> Message:
        """The bike or chain it came off, or how it came in."""
        if self.source == PieceSource.BIKE:
            return Message("piece_off", name=self.origin)
        return Message("piece_came_in", how=self.came_in)

    @property
    def is_free(self) -> bool:
        """Whether it lies in the bin and no job has reserved it."""
        return self.place == Place.BIN


@dataclass(frozen=True)
class FreshPiece:
    """A piece that is not in the ledger yet; last_end follows from its links and its first end, and origin is the name
    of the bike or chain it came from, if it did."""

    links: int
    first_end: str
    speeds: int
    origin: str = ""
    source: PieceSource = PieceSource.BIKE
    kind: str = "offcut"
    wear_percent: float = 0.0
    width: str | None = None
    code: str | None = None
    chain_id: int | None = None

    @property
    def last_end(self) -> str:
        """The kind of its last link."""
        return str(link_kind(End(self.first_end), self.links))


@dataclass(frozen=True)
class Owner:
    """Who has a piece after a move, and the booking or the event of a chain to which the move belongs."""

    job_id: int | None = None
    bike_id: int | None = None
    booking_id: int | None = None
    event_id: int | None = None


NOBODY = Owner()
NUMBERED = "PIECE-"
HAS_CODE = "(code = :code COLLATE NOCASE OR (id = :id AND coalesce(code, '') = ''))"
"""The SQL condition that a piece's label shows a code; a piece without a code of its own is labelled with its
number."""

COLUMNS = (
    "id, links, first_end, last_end, speeds, origin, made_at, kind, wear_percent, width, code, place, job_id, bike_id,"
    " chain_id, source"
)


def numbered(code: str) -> int:
    """The number in a code that was made from a piece's number; 0, which no piece has, for any other code.

    >>> numbered("piece-12"), numbered("CUT-0057"), numbered("PIECE-٣")
    (12, 0, 0)
    """
    return row_id(code[len(NUMBERED) :]) if code.upper().startswith(NUMBERED) else 0


def piece_at(connection: sqlite3.Connection, piece_id: int) -> PieceRow | None:
    """One piece, wherever it is."""
    row = connection.execute(f"SELECT {COLUMNS} FROM piece WHERE id = ?", (piece_id,)).fetchone()
    return piece_row_of(row) if row else None


def pieces_of_job(connection: sqlite3.Connection, job_id: int) -> list[PieceRow]:
    """The pieces that a job has reserved."""
    return _where(connection, "job_id = ?", job_id)


def pieces_on_bike(connection: sqlite3.Connection, bike_id: int) -> list[PieceRow]:
    """The pieces of the chain that is on a bike."""
    return _where(connection, "bike_id = ?", bike_id)


def pieces_of_chain(connection: sqlite3.Connection, chain_id: int) -> list[PieceRow]:
    """The pieces of a chain, wherever they are."""
    return _where(connection, "chain_id = ?", chain_id)


def pieces_hung_by(connection: sqlite3.Connection, booking_id: int) -> list[PieceRow]:
    """The pieces of the chain that a booking took off its bike."""
    hung = f"id IN (SELECT piece_id FROM piece_move WHERE booking_id = ? AND move = '{Move.HUNG_UP}')"
    return _where(connection, hung, booking_id)


def bind_pieces(connection: sqlite3.Connection, pieces: Sequence[PieceRow], chain_id: int | None) -> None:
    """Marks pieces as a chain, or as part of no chain if none is named."""
    connection.executemany("UPDATE piece SET chain_id = ? WHERE id = ?", [(chain_id, one.id) for one in pieces])


def pieces_cut_from(connection: sqlite3.Connection, piece_id: int) -> list[PieceRow]:
    """The parts into which a piece was cut, in order."""
    return _where(connection, "parent_id = ? AND place <> 'nowhere'", piece_id, order="start")


def enter(connection: sqlite3.Connection, piece: FreshPiece, by: Move, now: str, owner: Owner = NOBODY) -> int:
    """Adds a piece. Returns: its id. Raises: CodeTwice if its code is in the bin already."""
    if piece.code and _code_is_there(connection, piece.code):
        raise CodeTwice(piece.code)
    piece_id = _insert(connection, piece, now)
    move_piece(connection, piece_id, by, now, owner)
    return piece_id


def _insert(
    connection: sqlite3.Connection, piece: FreshPiece, now: str, parent_id: int | None = None, start: int = 0
) -> int:
    row = connection.execute(
        "INSERT INTO piece (links, first_end, last_end, speeds, origin, source, kind, wear_percent, width, code,"
        " made_at, parent_id, start, chain_id) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
        (
            *(piece.links, piece.first_end, piece.last_end, piece.speeds, piece.origin, piece.source, piece.kind),
            *(piece.wear_percent, piece.width, piece.code, now, parent_id, start, piece.chain_id),
        ),
    )
    return int(row.lastrowid or 0)


def move_piece(connection: sqlite3.Connection, piece_id: int, by: Move, now: str, owner: Owner = NOBODY) -> None:
    """Moves a piece. Only a job or a bike can own a piece, and only if the move leads there."""
    goes_to = MOVES[by].goes_to
    job_id = owner.job_id if goes_to is Place.JOB else None
    bike_id = owner.bike_id if goes_to is Place.BIKE else None
    if goes_to is Place.BIN:
        _drop_doubled_code(connection, piece_id)
    connection.execute(
        "INSERT INTO piece_move (piece_id, move, job_id, bike_id, booking_id, event_id, moved_at)"
        " VALUES (?, ?, ?, ?, ?, ?, ?)",
        (piece_id, by, job_id, bike_id, owner.booking_id, owner.event_id, now),
    )


def cut_piece(
    connection: sqlite3.Connection, piece: PieceRow, joints: Sequence[int], now: str, owner: Owner, origin: str = ""
) -> list[int]:
    """Cuts a job's piece at some joints; the job has the parts.

    Parameters: joints, counted from the piece's start, rising; origin, the origin of the parts; if empty, that of the
    piece.
    Returns: the ids of the parts, in order.
    """
    made = []
    for start, end in pairwise([0, *joints, piece.links]):
        part = FreshPiece(
            end - start,
            str(link_kind(End(piece.first_end), start + 1)),
            piece.speeds,
            origin or piece.origin,
            PieceSource.BIKE if origin else PieceSource(piece.source),
            wear_percent=piece.wear_percent,
            width=piece.width,
        )
        made.append(_insert(connection, part, now, piece.id, start))
        move_piece(connection, made[-1], Move.CUT_OFF, now, owner)
    move_piece(connection, piece.id, Move.CUT, now, owner)
    return made


def came_from_bike(connection: sqlite3.Connection, piece_id: int, origin: str) -> None:
    """Gives a piece that comes off a bike that bike as its origin, and removes the label of its box."""
    connection.execute(
        "UPDATE piece SET kind = 'offcut', code = NULL, origin = ?, source = ? WHERE id = ?",
        (origin, PieceSource.BIKE, piece_id),
    )


@dataclass(frozen=True)
class MoveRow:
    """One move of a booking."""

    piece_id: int
    move: Move


def moves_of_booking(connection: sqlite3.Connection, booking_id: int) -> list[MoveRow]:
    """The moves that a booking made, in order."""
    rows = connection.execute("SELECT piece_id, move FROM piece_move WHERE booking_id = ? ORDER BY id", (booking_id,))
    return [MoveRow(row["piece_id"], Move(row["move"])) for row in rows]


def is_chain_elsewhere(connection: sqlite3.Connection, booking_id: int) -> bool:
    """Whether any piece of a booking is no longer where the booking left it."""
    sql = (
        "SELECT 1 FROM piece_move AS its_last JOIN move_kind ON move_kind.name = its_last.move"
        " JOIN piece ON piece.id = its_last.piece_id"
        " WHERE its_last.id IN (SELECT max(id) FROM piece_move WHERE booking_id = ? GROUP BY piece_id)"
        " AND (piece.place <> goes_to OR piece.job_id IS NOT its_last.job_id OR piece.bike_id IS NOT its_last.bike_id)"
    )
    return connection.execute(sql, (booking_id,)).fetchone() is not None


def is_out_by_hand(connection: sqlite3.Connection, piece_id: int) -> bool:
    """Whether a piece was taken out of the bin by hand, and not by a booking."""
    sql = "SELECT move, booking_id FROM piece_move WHERE piece_id = ? ORDER BY id DESC LIMIT 1"
    row = connection.execute(sql, (piece_id,)).fetchone()
    return row is not None and row["move"] == Move.THROWN_AWAY and row["booking_id"] is None


def _where(connection: sqlite3.Connection, condition: str, value: int, order: str = "id") -> list[PieceRow]:
    rows = connection.execute(f"SELECT {COLUMNS} FROM piece WHERE {condition} ORDER BY {order}", (value,))
    return [piece_row_of(row) for row in rows]


def _code_is_there(connection: sqlite3.Connection, code: str) -> bool:
    there = f"SELECT 1 FROM piece WHERE {HAS_CODE} AND place IN ('bin', 'job')"
    return connection.execute(there, {"code": code, "id": numbered(code)}).fetchone() is not None


def _drop_doubled_code(connection: sqlite3.Connection, piece_id: int) -> None:
    """Removes the code of a piece that comes back, if another piece has it by now."""
    connection.execute(
        "UPDATE piece SET code = NULL WHERE id = ?1 AND code IS NOT NULL AND EXISTS (SELECT 1 FROM piece AS other"
        " WHERE other.code = piece.code COLLATE NOCASE AND other.place IN ('bin', 'job') AND other.id <> ?1)",
        (piece_id,),
    )


def piece_row_of(row: sqlite3.Row) -> PieceRow:
    """A row of the table as a piece."""
    return PieceRow(**dict(row))
