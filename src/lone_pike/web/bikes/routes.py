"""Bikes: each with its drivetrain and the chains fitted to it."""

from dataclasses import dataclass
from typing import Annotated

from fastapi import APIRouter, Depends
from starlette.requests import Request
from starlette.responses import HTMLResponse, Response

from lone_pike.core.messages import Message
from lone_pike.formats.files.bike_file import bike_from_document, write_bike
from lone_pike.store.bikes import bikes_like, words_before
from lone_pike.store.bookings import bookings_of
from lone_pike.store.chains import chains_of, chains_on
from lone_pike.store.jobs import last_closed_job
from lone_pike.store.paging import RowId
from lone_pike.web.bikes.view import bike_line, bike_view
from lone_pike.web.listing import ForListing, pager_of
from lone_pike.web.pages import attached, page, redirect
from lone_pike.web.thing import NOT_REFUSED, Data, Fields, InShop, Refused, Thing
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
    return page(
        request, "bikes/bikes.html", shop, {"bikes": lines, "pager": pager_of("/bikes", listing, rows)}, block="list"
    )


@dataclass(frozen=True)
class BikeRequest(Thing):
    """A request about a bike."""

    bike_id: int

    @property
    def url(self) -> str:
        """The address of its page."""
        return f"/bikes/{self.bike_id}"

    def shown(
        self,
        refused: Refused = NOT_REFUSED,
        notices: tuple[Message, ...] = (),  # noqa: ARG002 - what is done to a bike shows on its page
        status: int = 200,
    ) -> HTMLResponse:
        """The bike and its history."""
        data, shop, row = self.data, self.shop, bike_there(self.data, self.bike_id)
        history = bookings_of(data, row.id)
        chains = standing_rows(data, chains_of(data.connection, row.id), shop, today())
        can_undo = bool(history) and can_be_undone(data, history[0])
        context: dict[str, object] = {
            "view": bike_view(row, history, chains, shop, today(), can_undo_booking=can_undo),
            "closed_job": last_closed_job(data, row.id),
            "before": words_before(data, row.id),
            "typed": refused.typed,
            "faults": refused.faults,
        }
        return page(self.request, "bikes/bike.html", shop, context, status)


async def bike_request(request: Request, data: Data, shop: InShop, bike_id: RowId) -> BikeRequest:
    """The request for the bike in the address."""
    return BikeRequest(request, data, shop, bike_id)


ForBike = Annotated[BikeRequest, Depends(bike_request)]


@router.get("/{bike_id}")
def bike(bike: ForBike) -> Response:
    """One bike and its history."""
    return bike.shown()


@router.post("/{bike_id}/chain")
def find_chain(bike: ForBike, form: Fields) -> Response:
    """Records a chain that is on a bike without a booking."""
    return bike.changed(
        form,
        lambda: find_on_bike(bike.data, bike.bike_id, form, now()),
        lambda chain_id: redirect(f"/chains/{chain_id}"),
    )


@router.post("/{bike_id}/words")
def words(bike: ForBike, form: Fields) -> Response:
    """Stores the owner's name for a bike and its story."""
    keep_words(bike.data, bike.bike_id, now(), owner_word=form.get("owner_word"), story=form.get("story"))
    return redirect(bike.url)


@router.post("/{bike_id}/put-away")
def away(bike: ForBike, form: Fields) -> Response:
    """Puts a bike away, or back into the list."""
    if form.get("back"):
        bring_bike_back(bike.data, bike.bike_id)
    else:
        put_bike_away(bike.data, bike.bike_id, now())
    return redirect(bike.url)


@router.get("/{bike_id}/bike.json")
def bike_file(bike: ForBike) -> Response:
    """The bike's file."""
    content = write_bike(bike_from_document(bike_there(bike.data, bike.bike_id).document))
    return attached(content, "bike.json", "application/json")
