"""The stand: the jobs in hand, and ways to start one."""

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import Response

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.messages import Message
from lone_pike.formats.records.shop import Shop
from lone_pike.store.bikes import bikes_like
from lone_pike.store.chains import due_count
from lone_pike.store.database import Database
from lone_pike.store.jobs import open_jobs
from lone_pike.store.paging import row_id
from lone_pike.web.chains.view import count_messages
from lone_pike.web.listing import ForListing, Listing
from lone_pike.web.pages import page, redirect, units_of
from lone_pike.web.stand.view import stand_view
from lone_pike.web.thing import Data, InShop, SentForm
from lone_pike.wording.render import fault_line, render
from lone_pike.wording.terms import kinds_named
from lone_pike.workshop import jobs
from lone_pike.workshop.clock import now, today

router = APIRouter()
MOST_TO_START = 24
FIRST_PAGE = Listing(1, "")


@router.get("/")
def stand(request: Request, data: Data, shop: InShop, listing: ForListing) -> Response:
    """The jobs in hand, and the bikes to start one from, with search."""
    return _shown(request, data, shop, listing)


@router.post("/jobs")
def start(request: Request, data: Data, sent: SentForm, shop: InShop) -> Response:
    """Starts a job from a bike, from a file, or from nothing."""
    form = sent.fields
    if form.get("bike"):
        begin = jobs.start_on_copy if form.get("copy") else jobs.start_on
        return _opened(begin(data, row_id(form["bike"]), now()))
    if sent.file is not None:
        try:
            return _opened(jobs.start_from_file(data, sent.file, now()))
        except InvalidInput as error:
            lines = tuple(fault_line(fault, units_of(shop)) for fault in error.faults)
            return _shown(request, data, shop, FIRST_PAGE, lines)
    if form.get("from") == "file":
        return _shown(request, data, shop, FIRST_PAGE, (render(Message("choose_a_file"), units_of(shop)),))
    return _opened(
        jobs.start_new(
            data, now(), name=form.get("name", ""), complaint=form.get("complaint", ""), kind=form.get("kind", "")
        )
    )


def _shown(request: Request, data: Database, shop: Shop, listing: Listing, faults: tuple[str, ...] = ()) -> Response:
    in_hand = open_jobs(data, listing.page)
    bikes = bikes_like(data, listing.find, 1, MOST_TO_START, kinds_named(listing.find))
    due = count_messages(due_count(data, today().isoformat()), today())
    view = stand_view(in_hand, bikes, listing, shop, due, faults)
    return page(request, "stand/stand.html", shop, {"view": view}, 422 if faults else 200, block="list")


def _opened(job_id: int) -> Response:
    return redirect(f"/jobs/{job_id}")
