"""What the bin has for a job: pieces if its chain is too short, and joiners of its kind."""

from lone_pike.core.chain.cutting import End
from lone_pike.core.chain.offers import offer_of
from lone_pike.core.chain.pieces import Loose
from lone_pike.store.bin import joiner_stock, pieces_for
from lone_pike.store.database import Database
from lone_pike.store.ledger import PieceRow
from lone_pike.web.views.job.work import Work


def loose_of(row: PieceRow) -> Loose:
    """A piece of the bin for the planner, with its number as its place."""
    return Loose(row.id, row.links, End(row.first_end), row.wear_percent)


def joiners_left(database: Database, work: Work) -> int | None:
    """How many joiners of the job's kind the bin has; None if none of that kind was ever counted."""
    if work.sized is None:
        return None
    bike = work.sized.bike
    counted = {(one.kind, one.speeds): one.amount for one in joiner_stock(database)}
    return counted.get((str(bike.joiner), bike.speeds))


def offered(database: Database, work: Work) -> tuple[PieceRow, ...]:
    """The pieces of the bin that would make the job's count possible, if what is at hand is too short."""
    if work.sized is None:
        return ()
    rows = {row.id: row for row in pieces_for(database, work.sized.bike.speeds)}
    offer = offer_of(work.sized.bike, work.sized.links, [loose_of(row) for row in rows.values()])
    return tuple(rows[one] for one in offer.bin_ids) if offer else ()
