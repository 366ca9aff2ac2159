"""Bikes: each with its drivetrain and the chains fitted to it."""

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import Response

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.formats.files.bike_file import bike_from_document, write_bike
from lone_pike.formats.records.shop import Shop
from lone_pike.store.bikes import bikes_like, words_before
from lone_pike.store.bookings import bookings_of
from lone_pike.store.chains import chains_of, chains_on
from lone_pike.store.database import Database
from lone_pike.store.jobs import last_closed_job
from lone_pike.store.paging import RowId
from lone_pike.web.pages import attached, page, redirect
from lone_pike.web.requests import Data, Fields, InShop, TypedForm
from lone_pike.web.views.places.bikes import bike_line, bike_view
from lone_pike.web.views.places.listing import ForListing, pager_of
from lone_pike.wording.terms import kinds_named
from lone_pike.workshop.bikes import bike_there, bring_bike_back, keep_words, put_bike_away
from lone_pike.workshop.bookings import can_be_undone
from lone_pike.workshop.chain_places import find_on_bike
from lone_pike.workshop.clock import now, today
from lone_pike.workshop.due import standing_rows

router = APIRouter(prefix="/bikes")
MOST_SHOWN = 20


@router.get("")
def bikes(request: Request, data: Data, shop: InShop, listing: ForListing) -> Response:
    """The list of bikes, with search."""
    rows = bikes_like(data, listing.find, listing.page, MOST_SHOWN, kinds_named(listing.find))
    fitted = chains_on(data, [bike.id for bike in rows])
    lines = tuple(bike_line(bike, fitted.get(bike.id), shop) for bike in rows)
    return page(request, "bikes.html", shop, {"bikes": lines, "pager": pager_of("/bikes", listing, rows)}, block="list")


@router.get("/{bike_id}")
def bike(request: Request, bike_id: RowId, data: Data, shop: InShop) -> Response:
    """One bike and its history."""
    return _shown(request, bike_id, data, shop)


def _shown(
    request: Request,
    bike_id: int,
    data: Database,
    shop: Shop,
    typed: TypedForm | None = None,
    error: InvalidInput | None = None,
) -> Response:
    row = bike_there(data, bike_id)
    history = bookings_of(data, row.id)
    chains = standing_rows(data, chains_of(data.connection, row.id), shop, today())
    can_undo = bool(history) and can_be_undone(data, history[0])
    view = bike_view(row, history, chains, shop, today(), can_undo_booking=can_undo)
    context: dict[str, object] = {
        "view": view,
        "closed_job": last_closed_job(data, row.id),
        "before": words_before(data, row.id),
    }
    refused = {"typed": typed or {}, "faults": error.faults if error else ()}
    return page(request, "bike.html", shop, context | refused, 422 if error else 200)


@router.post("/{bike_id}/chain")
def find_chain(request: Request, bike_id: RowId, data: Data, shop: InShop, form: Fields) -> Response:
    """Records a chain that is on a bike without a booking."""
    try:
        chain_id = find_on_bike(data, bike_id, form, now())
    except InvalidInput as error:
        return _shown(request, bike_id, data, shop, form, error)
    return redirect(f"/chains/{chain_id}")


@router.post("/{bike_id}/words")
def words(bike_id: RowId, data: Data, form: Fields) -> Response:
    """Stores the owner's name for a bike and its story."""
    keep_words(data, bike_id, now(), owner_word=form.get("owner_word"), story=form.get("story"))
    return redirect(f"/bikes/{bike_id}")


@router.post("/{bike_id}/put-away")
def away(bike_id: RowId, data: Data, form: Fields) -> Response:
    """Puts a bike away, or back into the list."""
    if form.get("back"):
        bring_bike_back(data, bike_id)
    else:
        put_bike_away(data, bike_id, now())
    return redirect(f"/bikes/{bike_id}")


@router.get("/{bike_id}/bike.json")
def bike_file(bike_id: RowId, data: Data) -> Response:
    """The bike's file."""
    content = write_bike(bike_from_document(bike_there(data, bike_id).document))
    return attached(content, "bike.json", "application/json")
