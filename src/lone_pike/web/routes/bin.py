"""The bin: pieces and joiners come in by booking, by hand and by scanner, and go out to jobs or by hand."""

from collections.abc import Mapping
from types import MappingProxyType

from fastapi import APIRouter, HTTPException
from starlette.requests import Request
from starlette.responses import HTMLResponse, Response

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.formats.bin_form import LaidIn, read_form, read_label
from lone_pike.formats.shop import Shop
from lone_pike.store.bin import CodeTwice, NewPiece, TooFew, lay_in, move_joiners, piece_by_id, take_offcut
from lone_pike.store.database import Database
from lone_pike.web.pages import page, redirect, units_of
from lone_pike.web.requests import LARGEST_ID, Data, Fields, InShop, now
from lone_pike.web.views.bin import STOCKED, bin_view, makes_of, uses_of
from lone_pike.web.views.listing import ForListing, Listing
from lone_pike.wording.render import fault_line

router = APIRouter(prefix="/bin")
BY_HAND, BY_SCANNER = "by hand", "scanned"
MOST_JOINERS = 200


@router.get("")
def bin_page(request: Request, data: Data, shop: InShop, listing: ForListing) -> Response:
    """What is there."""
    taken = request.query_params.get("taken", "")
    return _shown(request, data, shop, listing, taken if taken.isdecimal() else "")


@router.post("")
def lay_in_by_hand(request: Request, data: Data, shop: InShop, listing: ForListing, form: Fields) -> Response:
    """Lays in a piece or a box that was told by hand."""
    try:
        return _laid_in(data, read_form(form), BY_HAND)
    except InvalidInput as error:
        told = fault_line(error.faults[0], units_of(shop))
    except CodeTwice as twice:
        told = f"code: read {twice}; allowed: a code that is not in the bin. It lies there already."
    return _shown(request, data, shop, listing, "", told, form)


@router.post("/scan")
def scan(request: Request, data: Data, shop: InShop, listing: ForListing, form: Fields) -> Response:
    """Lays in what a label says; a label scanned twice lays nothing in twice."""
    label = form.get("label", "")
    try:
        return _laid_in(data, read_label(label), BY_SCANNER)
    except InvalidInput as error:
        told = fault_line(error.faults[0], units_of(shop))
    except CodeTwice as twice:
        told = f"{twice} was scanned twice: it lies in the bin already. Nothing was laid in."
    return _shown(request, data, shop, listing, "", told, {"label": label})


@router.post("/joiners")
def joiners(request: Request, data: Data, shop: InShop, listing: ForListing, form: Fields) -> Response:
    """Joiners come in, or with a minus go out."""
    texts = [form.get(name, "").strip().replace("−", "-") for name in ("speeds", "change")]
    kind = form.get("kind", "")
    plain = all(text.removeprefix("-").isdecimal() and text.isascii() and len(text) < 5 for text in texts)
    speeds, change = map(int, texts) if plain else (0, 0)
    told = ""
    if kind not in STOCKED or not 1 <= speeds <= 13 or not 0 < abs(change) <= MOST_JOINERS:
        told = f"joiners: read {' '.join(texts)!r}; allowed: 1 to 13 cogs, and up to {MOST_JOINERS} in or out."
    else:
        try:
            with data.atomic() as connection:
                move_joiners(connection, kind, speeds, change, now())
        except TooFew as few:
            told = f"joiners: read {change}; allowed: no more out than the {few.there} that are there."
    return _shown(request, data, shop, listing, "", told, form) if told else redirect("/bin")


@router.get("/{piece_id}")
def one_piece(request: Request, data: Data, shop: InShop, piece_id: int) -> Response:
    """What a piece will make: which jobs in hand, and which counts."""
    row = piece_by_id(data, piece_id) if 0 < piece_id < LARGEST_ID else None
    if row is None:
        raise HTTPException(404, "There is no such piece here. The bin lists all of them.")
    context = {"row": row, "makes": makes_of(row), "uses": uses_of(data, row, shop)}
    return page(request, "bin_piece.html", shop, context)


@router.post("/{offcut_id}/take")
def take(data: Data, offcut_id: int) -> Response:
    """Takes a piece out of the bin."""
    _take(data, offcut_id, now())
    return redirect(f"/bin?taken={offcut_id}")


@router.post("/{offcut_id}/lay-back")
def lay_back(data: Data, offcut_id: int) -> Response:
    """Lays a piece back that was taken."""
    _take(data, offcut_id, None)
    return redirect("/bin")


def _take(data: Data, offcut_id: int, when: str | None) -> None:
    with data.atomic() as connection:
        if not (0 < offcut_id < LARGEST_ID and take_offcut(connection, offcut_id, when)):
            raise HTTPException(404, "There is no such piece here. The bin lists all of them.")


def _laid_in(data: Database, piece: LaidIn, origin: str) -> Response:
    new = NewPiece(
        piece.links,
        piece.first,
        piece.last,
        piece.speeds,
        origin,
        piece.kind,
        piece.wear_percent,
        piece.width,
        piece.code,
    )
    with data.atomic() as connection:
        lay_in(connection, new, now())
    return redirect("/bin")


def _shown(
    request: Request,
    data: Database,
    shop: Shop,
    listing: Listing,
    taken: str,
    told: str = "",
    typed: Mapping[str, str] = MappingProxyType({}),
) -> HTMLResponse:
    view = bin_view(data, listing, taken, told, typed)
    return page(request, "bin.html", shop, {"view": view}, 422 if told else 200)
