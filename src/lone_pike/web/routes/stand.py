"""The stand: the jobs in hand, and ways to start one."""

from fastapi import APIRouter, HTTPException
from starlette.requests import Request
from starlette.responses import Response

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.messages import Message
from lone_pike.formats.bike_file import document_of, read_bike
from lone_pike.formats.observed import LONGEST_NOTE
from lone_pike.formats.parsing import whole_number
from lone_pike.formats.shop import Shop
from lone_pike.store.bikes import Document, bike_by_id, bikes_like
from lone_pike.store.database import Database
from lone_pike.store.jobs import open_jobs, start_job
from lone_pike.web.pages import page, redirect, units_of
from lone_pike.web.requests import LARGEST_ID, Data, InShop, SentForm, now
from lone_pike.web.views.listing import ForListing, Listing
from lone_pike.web.views.stand import stand_view
from lone_pike.wording.render import fault_line, render
from lone_pike.wording.terms import kinds_named

router = APIRouter()
NEW_BIKE = {"lone_pike": 1, "name": "New bike", "take_up": {"type": "derailleur"}}
LONGEST_NAME, MOST_TO_START = 80, 24
FIRST_PAGE = Listing(1, "")


@router.get("/")
def stand(request: Request, data: Data, shop: InShop, listing: ForListing) -> Response:
    """The jobs in hand, and the bikes to start one from, found by typing."""
    return _shown(request, data, shop, listing)


@router.post("/jobs")
def start(request: Request, data: Data, sent: SentForm, shop: InShop) -> Response:
    """Starts a job from a bike, from a file, or from nothing."""
    form = sent.fields
    if form.get("bike"):
        return _start_of_bike(data, form["bike"], copy=bool(form.get("copy")))
    if sent.file is not None:
        try:
            return _opened(start_job(data, _document_in(sent.file), now()))
        except InvalidInput as error:
            return _shown(
                request, data, shop, FIRST_PAGE, tuple(fault_line(fault, units_of(shop)) for fault in error.faults)
            )
    if form.get("from") == "file":
        return _shown(request, data, shop, FIRST_PAGE, (render(Message("choose_a_file"), units_of(shop)),))
    name = form.get("name", "").strip()[:LONGEST_NAME]
    complaint = form.get("complaint", "").strip()[:LONGEST_NOTE]
    return _opened(start_job(data, NEW_BIKE | ({"name": name} if name else {}), now(), complaint=complaint))


def _start_of_bike(data: Database, text: str, *, copy: bool) -> Response:
    """A job of a bike of the workshop, or of a new one that is like it. Raises: 404."""
    bike_id = whole_number(text, 18) or 0
    bike = bike_by_id(data, bike_id) if 0 < bike_id < LARGEST_ID else None
    if bike is None:
        raise HTTPException(404, "There is no such bike here. Choose one of the list.")
    if copy:
        like_it = bike.document | {"name": f"{bike.name} copy"[:LONGEST_NAME]}
        return _opened(start_job(data, like_it, now()))
    return _opened(start_job(data, bike.document, now(), bike.id))


def _document_in(file: bytes) -> Document:
    """The document of a bike file. Raises: InvalidInput with every fault."""
    return document_of(read_bike(file))


def _shown(request: Request, data: Database, shop: Shop, listing: Listing, faults: tuple[str, ...] = ()) -> Response:
    in_hand = open_jobs(data, listing.page)
    bikes = bikes_like(data, listing.find, 1, MOST_TO_START, kinds_named(listing.find))
    view = stand_view(in_hand, bikes, listing, shop, faults)
    return page(request, "stand.html", shop, {"view": view}, 422 if faults else 200, block="list")


def _opened(job_id: int) -> Response:
    return redirect(f"/jobs/{job_id}")
