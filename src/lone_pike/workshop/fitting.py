"""What a booking does to the chain at hand: cut, fitted, the off-cuts laid into the bin."""

import sqlite3
from dataclasses import dataclass

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.joiners import JOINERS
from lone_pike.core.bike.limits import LINKS_PER_PAIR
from lone_pike.core.chain.cutting import Cut, End, plan_cut
from lone_pike.core.chain.moves import MOVES, Move
from lone_pike.core.chain.plan import loose_pieces
from lone_pike.core.refusals import PieceTaken
from lone_pike.store.ledger import (
    FreshPiece,
    Owner,
    PieceRow,
    cut_piece,
    enter,
    move_piece,
    moves_of_booking,
    piece_at,
)


@dataclass(frozen=True)
class ChainToFit:
    """A chain to be fitted: the bike, the count in links, and the cut of each of its pieces. Without cuts no chain was
    at hand, and all of it comes from outside."""

    bike: Bike
    links: int
    cuts: tuple[Cut, ...]


def fit_loop(connection: sqlite3.Connection, loop: ChainToFit, owner: Owner, now: str) -> None:
    """Fits a chain: cuts what is at hand, moves the runs that are kept to the bike and the rest into the bin. The old
    chain must be off the bike by then.

    Parameters: owner, the job, its bike and its booking.
    Raises: PieceTaken if a piece of the bin does not belong to the job.
    """
    pieces = _chain_at_hand(connection, loop, owner, now)
    for cut in loop.cuts:
        _cut_and_fit(connection, pieces.pop(cut.piece), cut, owner, now, loop.bike.name)
    if not loop.cuts:
        move_piece(connection, _whole_loop(connection, loop, owner, now), Move.FITTED, now, owner)
    for left in pieces.values():
        move_piece(connection, left.id, Move.LET_GO, now, owner)


def take_apart(connection: sqlite3.Connection, owner: Owner, now: str) -> None:
    """Undoes each move of a booking, the last one first, as if it had never been made."""
    for row in reversed(moves_of_booking(connection, owner.booking_id or 0)):
        undone_by = MOVES[row.move].undone_by
        if undone_by:
            move_piece(connection, row.piece_id, undone_by, now, owner)


def _chain_at_hand(connection: sqlite3.Connection, loop: ChainToFit, owner: Owner, now: str) -> dict[int, PieceRow]:
    """The job's box and pieces by their place, 0 for the box. Those that are not from the bin are entered as brought
    from outside."""
    bike, found = loop.bike, {}
    for loose in loose_pieces(bike, plan_cut(bike, loop.links) if loop.cuts else None):
        bin_id = bike.chain.pieces[loose.place - 1].bin_id if loose.place else None
        if bin_id is None:
            outside = FreshPiece(
                loose.links,
                str(loose.first),
                bike.speeds,
                bike.name,
                kind="offcut" if loose.place else "box",
                wear_percent=loose.wear_percent,
            )
            bin_id = enter(connection, outside, Move.BROUGHT, now, owner)
        piece = piece_at(connection, bin_id)
        if piece is None or piece.job_id != owner.job_id or piece.links != loose.links:
            raise PieceTaken
        found[loose.place] = piece
    return found


def _cut_and_fit(
    connection: sqlite3.Connection, piece: PieceRow, cut: Cut, owner: Owner, now: str, origin: str
) -> None:
    """Cuts a piece where the plan says. The run goes on the bike, the off-cut into the bin, and a trimmed end is thrown
    away."""
    parts = cut_piece(connection, piece, cut.joints, now, owner, origin) if cut.joints else [piece.id]
    is_trimmed = bool(cut.trim_links)
    trimmed, run, offcut = parts[:is_trimmed], parts[is_trimmed], parts[is_trimmed + 1 :]
    move_piece(connection, run, Move.FITTED, now, owner)
    for one in (*trimmed, *offcut):
        move_piece(connection, one, Move.LET_GO, now, owner)
    for one in trimmed:
        move_piece(connection, one, Move.THROWN_AWAY, now, owner)


def _whole_loop(connection: sqlite3.Connection, loop: ChainToFit, owner: Owner, now: str) -> int:
    """Enters a chain that nobody described: as long as the count, without its joiner. Returns: its number."""
    links = loop.links - loop.links % LINKS_PER_PAIR - JOINERS[loop.bike.joiner].links
    piece = FreshPiece(
        links, str(End.INNER), loop.bike.speeds, loop.bike.name, wear_percent=loop.bike.chain.wear_percent
    )
    return enter(connection, piece, Move.BROUGHT, now, owner)
