"""Bin: pieces and joiners, what each piece can make, and which joiners are low."""

from collections.abc import Mapping
from dataclasses import dataclass

from lone_pike.core.bike.joiners import JOINERS, STOCKED, usual_joiner
from lone_pike.core.bike.limits import limit
from lone_pike.core.chain.cutting import End
from lone_pike.core.chain.pieces import Loose, most_links
from lone_pike.core.chain.plan import offer_of
from lone_pike.core.messages import Message, Term, links
from lone_pike.drawing.charts.strip import DrawnPiece, piece
from lone_pike.formats.records.shop import Shop
from lone_pike.store.bin import JoinerStock, joiner_stock, piece_coded, pieces_for, pieces_in_bin
from lone_pike.store.database import Database
from lone_pike.store.jobs import open_jobs
from lone_pike.store.ledger import PieceRow
from lone_pike.store.paging import Listed
from lone_pike.web.job.work import Work
from lone_pike.web.listing import Listing, Pager, pager_of
from lone_pike.web.view_state import ViewState
from lone_pike.wording.terms import sources_named

MOST_JOBS = 24
TYPED = ("links", "speeds", "first_end", "wear", "kind", "width", "change", "label")
"""The fields of the page's forms."""


@dataclass(frozen=True)
class PieceView:
    """One piece: its row, its drawing, what it makes alone, and the address that shows what it makes with others."""

    row: PieceRow
    drawn: DrawnPiece
    makes: Message
    url: str


@dataclass(frozen=True)
class JoinerView:
    """Joiners of one kind, and whether they are low."""

    stock: JoinerStock
    low: bool


@dataclass(frozen=True)
class Use:
    """A job in hand for which a piece can be used: how many pieces of the bin with it, and how many joiners."""

    name: str
    count: int
    pieces: int
    joiners: int
    url: str


@dataclass(frozen=True)
class BinView:
    """The page. typed is what could not be added, and problem the reason. elsewhere is the piece with the code that was
    searched for, if it is not in the bin."""

    pieces: tuple[PieceView, ...]
    joiners: tuple[JoinerView, ...]
    joiner_kinds: tuple[tuple[str, Term], ...]
    pager: Pager
    elsewhere: PieceRow | None
    taken: str
    problem: str
    typed: dict[str, str]


def bin_view(database: Database, listing: Listing, taken: str, problem: str, typed: Mapping[str, str]) -> BinView:
    """Builds the page; taken is the piece that was just taken out, problem the reason why typed could not be stored."""
    rows: Listed[PieceRow] = pieces_in_bin(
        database, listing.page, find=listing.find, sources=sources_named(listing.find)
    )
    return BinView(
        pieces=tuple(map(_piece, rows)),
        joiners=tuple(JoinerView(one, one.amount <= limit("low_joiners")) for one in joiner_stock(database)),
        joiner_kinds=tuple((str(kind), Term("joiner", kind)) for kind in STOCKED),
        pager=pager_of("/bin", listing, rows),
        elsewhere=piece_coded(database, listing.find) if listing.find and not rows.rows else None,
        taken=taken,
        problem=problem,
        typed={name: typed.get(name, "") for name in TYPED},
    )


def _piece(row: PieceRow) -> PieceView:
    return PieceView(row, piece(row.links, End(row.first_end)), makes_of(row), f"/bin/{row.id}")


def makes_of(row: PieceRow) -> Message:
    """What a piece makes by itself, with the joiner that the trade uses for its cogs."""
    joiner = usual_joiner(row.speeds)
    most = most_links(loose_of(row), JOINERS[joiner].links)
    code = "makes_up_to" if most >= limit("shortest_loop") else "adds_up_to"
    return Message(code, count=links(most), joiner=Term("joiner", joiner))


def uses_of(database: Database, row: PieceRow, shop: Shop) -> tuple[Use, ...]:
    """The newest jobs in hand for the same number of cogs that can use this piece, alone or with others of the bin."""
    others = [loose_of(one) for one in pieces_for(database, row.speeds)]
    uses = []
    for job in open_jobs(database, 1, MOST_JOBS):
        sized = Work(job, ViewState(), shop, job.document).sized
        if sized is None or sized.bike.speeds != row.speeds:
            continue
        offer = offer_of(sized.bike, sized.links, [loose_of(row)]) or offer_of(sized.bike, sized.links, others)
        if offer and row.id in offer.bin_ids:
            name = str(job.document.get("name") or "")
            uses.append(Use(name, sized.links, len(offer.bin_ids), offer.joiners, f"/jobs/{job.id}/cut"))
    return tuple(uses)


def loose_of(row: PieceRow) -> Loose:
    """A piece of the bin for the planner, with its number as its place."""
    return Loose(row.id, row.links, End(row.first_end), row.wear_percent)
