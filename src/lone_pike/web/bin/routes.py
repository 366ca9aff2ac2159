"""The bin: pieces and joiners come in by bookings, by hand and by scanner, and go out to jobs or by hand."""

from collections.abc import Mapping
from types import MappingProxyType
from urllib.parse import urlencode

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import HTMLResponse, Response

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.chain.moves import PieceSource
from lone_pike.core.refusals import CodeTwice
from lone_pike.formats.records.shop import Shop
from lone_pike.formats.typed.bin_form import read_form, read_joiners, read_label
from lone_pike.store.bin import piece_coded
from lone_pike.store.database import Database
from lone_pike.store.paging import RowId
from lone_pike.web.bin.view import bin_view, makes_of, uses_of
from lone_pike.web.listing import ForListing, Listing
from lone_pike.web.pages import page, redirect, units_of
from lone_pike.web.thing import Data, Fields, InShop
from lone_pike.wording.render import fault_at_label, render
from lone_pike.workshop import bin as shelf
from lone_pike.workshop.bin import label_of
from lone_pike.workshop.clock import now

router = APIRouter(prefix="/bin")


@router.get("")
def bin_page(request: Request, data: Data, shop: InShop, listing: ForListing) -> Response:
    """The bin's pieces and joiners, with search."""
    taken = request.query_params.get("taken", "")
    return _shown(request, data, shop, listing, taken if taken.isdecimal() else "")


@router.post("")
def add_by_hand(request: Request, data: Data, shop: InShop, listing: ForListing, form: Fields) -> Response:
    """Adds a piece or a box that was described by hand."""
    try:
        shelf.add_piece(data, read_form(form), PieceSource.HAND, now())
    except (InvalidInput, CodeTwice) as error:
        return _refused(request, data, shop, listing, error, form)
    return redirect("/bin")


@router.post("/scan")
def scan(request: Request, data: Data, shop: InShop, listing: ForListing, form: Fields) -> Response:
    """Adds the piece that a label describes, once even if the label is scanned twice. A code alone finds its piece."""
    label = form.get("label", "")
    try:
        shelf.add_piece(data, read_label(label), PieceSource.SCAN, now())
    except (InvalidInput, CodeTwice) as error:
        if isinstance(error, InvalidInput) and piece_coded(data, label):
            return redirect(f"/bin?{urlencode({'find': label.strip()})}")
        return _refused(request, data, shop, listing, error, {"label": label})
    return redirect("/bin")


@router.post("/joiners")
def joiners(request: Request, data: Data, shop: InShop, listing: ForListing, form: Fields) -> Response:
    """Adds joiners, or with a minus takes some out."""
    try:
        speeds, change = read_joiners(form)
        shelf.count_joiners(data, form.get("kind", ""), speeds, change, now())
    except InvalidInput as error:
        return _refused(request, data, shop, listing, error, form)
    return redirect("/bin")


@router.get("/{piece_id}")
def one_piece(request: Request, data: Data, shop: InShop, piece_id: RowId) -> Response:
    """What a piece is good for: which jobs in hand, and which counts."""
    row = shelf.piece_there(data, piece_id)
    context = {"row": row, "makes": makes_of(row), "uses": uses_of(data, row, shop)}
    return page(request, "bin/piece.html", shop, context | {"label": label_of(row, units_of(shop))})


@router.get("/{piece_id}/label.svg")
def label(data: Data, shop: InShop, piece_id: RowId) -> Response:
    """Its label to print."""
    return Response(label_of(shelf.piece_there(data, piece_id), units_of(shop)), media_type="image/svg+xml")


@router.post("/{piece_id}/take")
def take(data: Data, piece_id: RowId) -> Response:
    """Takes a piece out of the bin."""
    shelf.take_out(data, piece_id, now())
    return redirect(f"/bin?taken={piece_id}")


@router.post("/{piece_id}/lay-back")
def lay_back(data: Data, piece_id: RowId) -> Response:
    """Puts back a piece that was taken out."""
    shelf.put_back(data, piece_id, now())
    return redirect("/bin")


def _refused(
    request: Request,
    data: Database,
    shop: Shop,
    listing: Listing,
    error: InvalidInput | CodeTwice,
    typed: Mapping[str, str],
) -> HTMLResponse:
    units = units_of(shop)
    text = fault_at_label(error.faults[0], units) if isinstance(error, InvalidInput) else render(error.message, units)
    return _shown(request, data, shop, listing, "", text, typed)


def _shown(
    request: Request,
    data: Database,
    shop: Shop,
    listing: Listing,
    taken: str,
    problem: str = "",
    typed: Mapping[str, str] = MappingProxyType({}),
) -> HTMLResponse:
    view = bin_view(data, listing, taken, problem, typed)
    return page(request, "bin/bin.html", shop, {"view": view}, 422 if problem else 200, block="" if problem else "list")
