"""The bin: pieces laid in, taken out and put back, with their labels; joiners in and out."""

from lone_pike.core.bike.base import MOST_COGS
from lone_pike.core.bike.faults import Fault, InvalidInput
from lone_pike.core.bike.joiners import STOCKED
from lone_pike.core.chain.moves import Move, PieceSource
from lone_pike.core.chain.weighing import label_line
from lone_pike.core.messages import Message, Quantity, Raw, Term, Unit, number
from lone_pike.core.refusals import NotThere, PieceTaken
from lone_pike.drawing.charts.label import piece_label
from lone_pike.formats.typed.bin_form import TypedPiece
from lone_pike.store.bin import joiners_there, move_joiners, piece_by_id
from lone_pike.store.database import Database
from lone_pike.store.ledger import FreshPiece, PieceRow, enter, is_out_by_hand, move_piece
from lone_pike.wording.render import render
from lone_pike.wording.units import DisplayUnits

MOST_JOINERS = 200


def piece_there(database: Database, piece_id: int) -> PieceRow:
    """A piece that is in the bin. Raises: NotThere."""
    row = piece_by_id(database, piece_id)
    if row is None:
        raise NotThere("no_such_piece")
    return row


def add_piece(database: Database, piece: TypedPiece, source: PieceSource, now: str) -> int:
    """Adds a piece to the bin. Returns: its number. Raises: CodeTwice if its code is in the bin already."""
    fresh = FreshPiece(
        piece.links,
        str(piece.first),
        piece.speeds,
        source=source,
        kind=piece.kind,
        wear_percent=piece.wear_percent,
        width=piece.width,
        code=piece.code,
    )
    with database.atomic() as connection:
        return enter(connection, fresh, Move.LAID_IN, now)


def take_out(database: Database, piece_id: int, now: str) -> None:
    """Takes a piece out of the bin by hand. Raises: NotThere; PieceTaken where a job has it reserved."""
    with database.atomic() as connection:
        if not piece_there(database, piece_id).is_free:
            raise PieceTaken
        move_piece(connection, piece_id, Move.THROWN_AWAY, now)


def put_back(database: Database, piece_id: int, now: str) -> None:
    """Puts back a piece that was taken out; one that is in the bin already stays there. Raises: NotThere."""
    with database.atomic() as connection:
        if is_out_by_hand(connection, piece_id):
            move_piece(connection, piece_id, Move.PUT_BACK, now)
        else:
            piece_there(database, piece_id)


def count_joiners(database: Database, kind: str, speeds: int, change: int, now: str) -> None:
    """Adds joiners, or with a minus takes some out.

    Raises: InvalidInput if the bin does not keep this kind, no chain is made for that number of cogs, or there would be
    too many.
    """
    if kind not in STOCKED:
        raise InvalidInput([Fault("kind", Raw(kind or None), Message("one_of", keys=STOCKED))])
    if not 1 <= speeds <= MOST_COGS:
        low, high = (Quantity(count, Unit.COGS) for count in (1, MOST_COGS))
        raise InvalidInput([Fault("speeds", number(speeds), Message("between", low=low, high=high))])
    if not 0 < abs(change) <= MOST_JOINERS:
        raise InvalidInput([Fault("joiners", number(change), Message("in_or_out", most=number(MOST_JOINERS)))])
    with database.atomic() as connection:
        there = joiners_there(connection, kind, speeds)
        if there + change < 0:
            raise InvalidInput([Fault("joiners", number(change), Message("no_more_than_there", there=number(there)))])
        move_joiners(connection, kind, speeds, change, now)


def line_of(row: PieceRow) -> str:
    """What a scanner reads off a piece's label."""
    return label_line(row.links, row.first_end, row.speeds, row.own_code, row.wear_percent)


def label_of(row: PieceRow, units: DisplayUnits) -> str:
    """A piece's label as SVG."""
    ends = Message("label_ends", first=Term("end", row.first_end), last=Term("end", row.last_end))
    cogs, worn = Quantity(row.speeds, Unit.COGS), Quantity(row.wear_percent, Unit.PERCENT)
    use = Message("label_worn", cogs=cogs, worn=worn) if row.wear_percent else Message("label_new", cogs=cogs)
    words = (*(render(one, units) for one in (ends, use)), row.own_code)
    return piece_label(line_of(row), units.one(row.links), words)
