"""The stand: the jobs in hand, and ways to start one."""

from dataclasses import dataclass

from fastapi import APIRouter, HTTPException
from starlette.requests import Request
from starlette.responses import Response

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.formats.bike_file import document_of, read_bike
from lone_pike.formats.shop import Shop
from lone_pike.store.bikes import all_bikes, bike_by_id
from lone_pike.store.database import Database
from lone_pike.store.jobs import JobRow, open_jobs, start_job
from lone_pike.web.job_page import STAGES, JobPage, kept_page
from lone_pike.web.pages import page, redirect
from lone_pike.web.requests import Data, InShop, SentForm, now
from lone_pike.web.view_state import ViewState

router = APIRouter()
NEW_BIKE = {"lone_pike": 1, "name": "New bike", "take_up": {"type": "derailleur"}}


@dataclass(frozen=True)
class InHand:
    """A job in hand with its one open question."""

    view: JobPage
    question: str


@router.get("/")
def stand(request: Request, data: Data, shop: InShop) -> Response:
    """The jobs in hand."""
    return page(request, "stand.html", shop, _context(data, shop))


@router.post("/jobs")
def start(request: Request, data: Data, sent: SentForm, shop: InShop) -> Response:
    """Starts a job from a bike, from a file, or from nothing."""
    form, file = sent.fields, sent.file
    bike_id = form.get("bike", "")
    if bike_id:
        bike = bike_by_id(data, int(bike_id)) if bike_id.isdecimal() and len(bike_id) < 19 else None
        if bike is None:
            raise HTTPException(404, "There is no such bike here. Choose one of the list.")
        return _opened(start_job(data, bike.document, now(), bike.id))
    if file is None:
        if form.get("from") == "file":
            fault = "No file came along. Choose a bike file, or start from nothing."
            return page(request, "stand.html", shop, _context(data, shop, (fault,)), 422)
        name = form.get("name", "").strip()[:80]
        return _opened(start_job(data, NEW_BIKE | ({"name": name} if name else {}), now()))
    try:
        document = document_of(read_bike(file))
    except InvalidInput as refused:
        return page(
            request, "stand.html", shop, _context(data, shop, tuple(fault.line for fault in refused.faults)), 422
        )
    return _opened(start_job(data, document, now()))


def _context(data: Database, shop: Shop, faults: tuple[str, ...] = ()) -> dict[str, object]:
    in_hand = [_in_hand(job, shop) for job in open_jobs(data)]
    return {"in_hand": in_hand, "bikes": all_bikes(data), "faults": faults, "stages": STAGES}


def _in_hand(job: JobRow, shop: Shop) -> InHand:
    view = kept_page(job, job.stage, ViewState(), shop)
    return InHand(view, _question(view))


def _question(view: JobPage) -> str:
    """The one thing that is open."""
    if view.answer is None:
        return "What do ring, cogs and chainstay measure?"
    if view.answer.window is None:
        return "No count suits both ends. Which gears may it go without?"
    if view.cut and view.cut.missing_links:
        return f"The box is {view.cut.missing_links} links short. Which other piece?"
    old = view.answer.sizing.bike.old_chain
    if old and old.links != view.links:
        return f"It came with {old.links} links. Why {view.links} links now?"
    if view.answer.sizing.bike.take_up.cage_mm is None:
        return "The cage is known by its class alone. Who measures it?"
    return {"cut": "Is the rivet counted twice?", "book": "Is it fitted?"}.get(view.stage, f"Is it {view.links} links?")


def _opened(job_id: int) -> Response:
    return redirect(f"/jobs/{job_id}")
