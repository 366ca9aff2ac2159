"""The chain that a job has at hand: its document names pieces of the bin, and the ledger reserves them for the job.

A document can be older than the state of the bin, after an undo, after a job is reopened, or when it was read from a
file. So the pieces it names are looked up each time, and those that the job can no longer have are left out.
"""

import sqlite3
from collections.abc import Collection
from dataclasses import dataclass

from lone_pike.core.chain.moves import Move, Place
from lone_pike.core.messages import Message, links
from lone_pike.core.refusals import PieceTaken
from lone_pike.formats.records.chain_rows import PieceInRow, bin_ids_in, piece_row, rows_in, with_pieces
from lone_pike.store.bikes import Document
from lone_pike.store.ledger import Owner, PieceRow, move_piece, piece_at, pieces_cut_from, pieces_of_job

NONE_ASKED: frozenset[int] = frozenset()


@dataclass(frozen=True)
class AtHand:
    """A document with the pieces that its job can have, their numbers, and those that it had to leave out."""

    document: Document
    bin_ids: tuple[int, ...]
    passed_over: tuple[PieceRow, ...] = ()

    def message_with(self, message: Message) -> Message:
        """The history's message for a step, with the pieces that were left out."""
        if not self.passed_over:
            return message
        return Message("without_pieces", pieces=tuple(links(row.links) for row in self.passed_over), step=message)


def at_hand(
    connection: sqlite3.Connection, job_id: int, document: Document, asked: Collection[int] = NONE_ASKED
) -> AtHand:
    """The document with each piece as the bin has it, each named once.

    Nothing is moved yet. Of a piece that was cut, what is left of it is named.

    Parameters: asked, pieces that the job now asks for.
    Raises: PieceTaken if it cannot have one of these.
    """
    rows: list[PieceInRow] = []
    taken: list[int] = []
    passed_over = []
    for row in rows_in(document):
        bin_id = row.get("bin_id") if isinstance(row, dict) else None
        if not isinstance(bin_id, int):
            rows.append(row)
            continue
        piece = piece_at(connection, bin_id)
        if piece is None or not _can_have(piece, job_id):
            if bin_id in asked:
                raise PieceTaken
            passed_over += [piece] if piece else []
        for part in _parts(connection, piece, job_id) if piece else ():
            if part.id not in taken:
                taken.append(part.id)
                rows.append(piece_row(part.links, part.first_end, part.wear_percent, part.id))
    if rows == rows_in(document):
        return AtHand(document, tuple(taken))
    return AtHand(with_pieces(document, rows), tuple(taken), tuple(passed_over))


def newly_named(before: Document, after: Document) -> frozenset[int]:
    """The pieces that a document names and the one before did not."""
    return frozenset(bin_ids_in(after)) - frozenset(bin_ids_in(before))


def reserve(connection: sqlite3.Connection, job_id: int, bin_ids: Collection[int], now: str) -> None:
    """Reserves exactly these pieces for a job; any others that it had reserved go back into the bin."""
    held = {piece.id for piece in pieces_of_job(connection, job_id)}
    for piece_id in sorted(held - set(bin_ids)):
        move_piece(connection, piece_id, Move.LET_GO, now)
    for piece_id in sorted(set(bin_ids) - held):
        move_piece(connection, piece_id, Move.RESERVED, now, Owner(job_id))


def _can_have(piece: PieceRow, job_id: int) -> bool:
    return piece.is_free or piece.job_id == job_id


def _parts(connection: sqlite3.Connection, piece: PieceRow, job_id: int) -> list[PieceRow]:
    """The piece, or what is left of it for this job where it was cut."""
    if _can_have(piece, job_id):
        return [piece]
    if piece.place != Place.CUT:
        return []
    return [part for one in pieces_cut_from(connection, piece.id) for part in _parts(connection, one, job_id)]
