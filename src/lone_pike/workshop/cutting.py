"""The chain at hand: pieces taken from the bin, and a cut at the wrong rivet."""

from collections.abc import Sequence
from dataclasses import replace

from lone_pike.core.bike.faults import Fault, InvalidInput
from lone_pike.core.chain.trial import piece_of
from lone_pike.core.messages import Message, Raw, links, number
from lone_pike.core.refusals import PieceTaken
from lone_pike.formats.records.chain_rows import cut_into, piece_row, rows_in, with_pieces
from lone_pike.formats.typed.parsing import whole_number
from lone_pike.store.bikes import Document
from lone_pike.store.bin import piece_by_id
from lone_pike.store.database import Database
from lone_pike.store.jobs import JobRow, JobState
from lone_pike.store.ledger import Owner, cut_piece, piece_at
from lone_pike.workshop.answers import answer_in_shop, count_of, cuts_or_fault, shown_cut
from lone_pike.workshop.edits import edit_job, job_there, state_seen
from lone_pike.workshop.settings import shop_of

MOST_TAKEN = 6
"""Pieces of the bin that one press takes."""


def take_from_bin(database: Database, job_id: int, saw: int | None, numbers: Sequence[int], now: str) -> JobRow:
    """Adds pieces of the bin to those at hand, and reserves them for this job.

    Raises: PieceTaken if another job has one of them, or it is gone; NotThere, NotOpen.
    """
    wanted = list(dict.fromkeys(numbers))[:MOST_TAKEN]
    rows = [row for number in wanted if (row := piece_by_id(database, number))]
    if not rows or len(rows) < len(wanted):
        raise PieceTaken
    new = [piece_row(row.links, row.first_end, row.wear_percent, row.id) for row in rows]
    message = Message("from_bin", pieces=tuple(links(row.links) for row in rows))

    def with_new(base: JobState) -> JobState:
        return replace(base, document=with_pieces(base.document, [*rows_in(base.document), *new]))

    return edit_job(database, job_id, saw, with_new, now, lambda _: message)


def cut_by_mistake(
    database: Database,
    job_id: int,
    saw: int | None,
    rivet: str,
    now: str,
    *,
    looked_at_links: int | None = None,
    piece: int | None = None,
) -> JobRow:
    """Records that the chain was cut at another rivet: both parts are at hand from then on, and the plan starts from
    them.

    Parameters: rivet, as it was typed; piece, the one shown on the page.
    Raises: InvalidInput if the piece has no such rivet between two links; NotThere, NotOpen.
    """
    job = job_there(database, job_id)
    shop, seen = shop_of(database), state_seen(database, job, saw)
    answer, joint = answer_in_shop(seen.document, shop).answer, whole_number(rivet, 3) or 0
    cuts = cuts_or_fault(answer.bike, count_of(job, answer, looked_at_links))[0] if answer else ()
    cut = shown_cut(cuts, piece)
    if cut is None or not 0 < joint < cut.box_links:
        raise InvalidInput([Fault("rivet", Raw(rivet[:20] or None), Message("a_rivet_between"))])
    pieces = (piece_of(cut.first_end, 0, joint), piece_of(cut.first_end, joint, cut.box_links))
    left, right = (links(one.links) for one in pieces)
    message = Message("cut_slipped", joint=number(joint), left=left, right=right)

    def with_both(base: JobState) -> JobState:
        made = cut_in_bin(database, job_id, base.document, cut.piece, [joint], now)
        return replace(base, document=cut_into(base.document, cut.piece, pieces, made))

    return edit_job(database, job_id, saw, with_both, now, lambda _: message)


def cut_in_bin(
    database: Database, job_id: int, document: Document, place: int, joints: Sequence[int], now: str
) -> list[int] | None:
    """Cuts a piece at hand in the ledger too, if it comes from the bin: what is cut stays cut, whatever is undone
    later.

    Returns: the numbers of its parts; None if it did not come from the bin.
    Raises: PieceTaken.
    """
    row = rows_in(document)[place - 1] if place else None
    bin_id = row.get("bin_id") if isinstance(row, dict) else None
    if bin_id is None:
        return None
    piece = piece_at(database.connection, bin_id)
    if piece is None or piece.job_id != job_id:
        raise PieceTaken
    return cut_piece(database.connection, piece, joints, now, Owner(job_id))
