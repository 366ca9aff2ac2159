"""Bikes: each with its drivetrain and the chains fitted to it."""

from fastapi import APIRouter, HTTPException
from starlette.requests import Request
from starlette.responses import Response

from lone_pike.formats.bike_file import bike_from_document, write_bike
from lone_pike.store.bikes import (
    LONGEST_STORY,
    LONGEST_WORD,
    BikeRow,
    bike_by_id,
    bikes_like,
    put_away,
    words_before,
    write_words,
)
from lone_pike.store.bookings import bookings_of, newest_bookings
from lone_pike.store.database import Database
from lone_pike.store.jobs import last_closed_job
from lone_pike.web.pages import page, redirect
from lone_pike.web.requests import LARGEST_ID, Data, Fields, InShop, now
from lone_pike.web.views.bikes import bike_line, bike_view
from lone_pike.web.views.listing import ForListing, pager_of
from lone_pike.wording.terms import kinds_named

router = APIRouter(prefix="/bikes")
MOST_SHOWN = 20


@router.get("")
def bikes(request: Request, data: Data, shop: InShop, listing: ForListing) -> Response:
    """The bikes, found by typing."""
    rows = bikes_like(data, listing.find, listing.page, MOST_SHOWN, kinds_named(listing.find))
    fitted = newest_bookings(data, [bike.id for bike in rows])
    lines = tuple(bike_line(bike, fitted.get(bike.id), shop) for bike in rows)
    return page(request, "bikes.html", shop, {"bikes": lines, "pager": pager_of("/bikes", listing, rows)}, block="list")


@router.get("/{bike_id}")
def bike(request: Request, bike_id: int, data: Data, shop: InShop) -> Response:
    """One bike and its history."""
    row = _bike(data, bike_id)
    view = bike_view(row, bookings_of(data, row.id), shop)
    context = {"view": view, "closed_job": last_closed_job(data, row.id), "before": words_before(data, row.id)}
    return page(request, "bike.html", shop, context)


@router.post("/{bike_id}/words")
def words(bike_id: int, data: Data, form: Fields) -> Response:
    """Keeps the owner's word for a bike and its story."""
    row = _bike(data, bike_id)
    owner_word = form.get("owner_word", row.owner_word).strip()[:LONGEST_WORD]
    story = form.get("story", row.story).strip()[:LONGEST_STORY]
    with data.atomic() as connection:
        write_words(connection, row.id, owner_word, story, now())
    return redirect(f"/bikes/{row.id}")


@router.post("/{bike_id}/put-away")
def away(bike_id: int, data: Data, form: Fields) -> Response:
    """Puts a bike away, or back among the others."""
    row = _bike(data, bike_id)
    if row.open_job_id and not form.get("back"):
        raise HTTPException(409, "This bike has a job in hand. Book or close it first; nothing was changed.")
    with data.atomic() as connection:
        put_away(connection, row.id, None if form.get("back") else now())
    return redirect(f"/bikes/{row.id}")


@router.get("/{bike_id}/bike.json")
def bike_file(bike_id: int, data: Data) -> Response:
    """The bike's file."""
    headers = {"Content-Disposition": 'attachment; filename="bike.json"'}
    content = write_bike(bike_from_document(_bike(data, bike_id).document))
    return Response(content, media_type="application/json", headers=headers)


def _bike(data: Database, bike_id: int) -> BikeRow:
    row = bike_by_id(data, bike_id) if 0 < bike_id < LARGEST_ID else None
    if row is None:
        raise HTTPException(404, "There is no such bike here. Bikes lists all of them.")
    return row
