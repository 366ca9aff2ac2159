"""Prove: what was seen at each step, what is skipped, pairs added or taken off, and what the bike learns."""

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import Response

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.refusals import Stale
from lone_pike.drawing.charts.clock import pressed_clock
from lone_pike.formats.typed.parsing import whole_number
from lone_pike.web.pages import redirect
from lone_pike.web.requests import Fields, ForJob, JobRequest, TypedForm, seen_by
from lone_pike.web.routes.job import asked_again, shown_stage
from lone_pike.web.views.job.work import work_of
from lone_pike.workshop import jobs, learning, proving
from lone_pike.workshop.clock import now

router = APIRouter(prefix="/jobs/{job_id}/prove")


@router.post("")
def see(request: Request, job_request: ForJob, form: Fields) -> Response:
    """Stores what was seen at a step: pressed on the clock, chosen by a button, or typed."""
    pressed = _pressed(form)
    seen = form | ({"clock": pressed} if pressed else {})
    try:
        proving.see(job_request.data, job_request.job.id, form.get("step", ""), seen, job_request.shop.unit, now())
    except InvalidInput as error:
        return _not_taken(request, job_request, form, error)
    return redirect(_next(job_request))


@router.post("/skip")
def skip(request: Request, job_request: ForJob, form: Fields) -> Response:
    """Skips a step, with a reason."""
    try:
        proving.skip(job_request.data, job_request.job.id, form.get("step", ""), form.get("skipped", ""), now())
    except InvalidInput as error:
        return _not_taken(request, job_request, form, error)
    return redirect(_next(job_request))


@router.post("/again")
def open_again(job_request: ForJob, form: Fields) -> Response:
    """Opens a step again."""
    step = form.get("step", "")
    proving.open_again(job_request.data, job_request.job.id, step, now())
    return redirect(_next(job_request, step))


@router.post("/pairs")
def change_pairs(request: Request, job_request: ForJob, form: Fields) -> Response:
    """Goes back to Cut with pairs added or removed."""
    text = form.get("pairs", "")
    pairs = (whole_number(text.removeprefix("-"), 2) or 0) * (-1 if text.startswith("-") else 1)
    try:
        learning.change_pairs(job_request.data, job_request.job.id, seen_by(form), pairs, now())
    except Stale as stale:
        return asked_again(request, job_request, "prove", stale)
    return redirect(job_request.state.proving("").url(f"/jobs/{job_request.job.id}/cut", links=None))


@router.post("/learn")
def take_over(request: Request, job_request: ForJob, form: Fields) -> Response:
    """Takes over the corrected measures."""
    try:
        learning.take_over(job_request.data, job_request.job.id, seen_by(form), now())
    except Stale as stale:
        return asked_again(request, job_request, "prove", stale)
    return redirect(_next(job_request))


@router.post("/done")
def it_is_proved(job_request: ForJob) -> Response:
    """Goes on to Book, however far the bike was proved."""
    jobs.reach(job_request.data, job_request.job.id, "book")
    return redirect(work_of(job_request).at("book"))


def _pressed(form: TypedForm) -> str | None:
    """Where the clock was pressed, as a hand; None if it was not."""
    x, y = (whole_number(form.get(f"at.{axis}", ""), 4) for axis in "xy")
    return None if x is None or y is None or x == y == 0 else pressed_clock(x, y)


def _next(job_request: JobRequest, step: str = "") -> str:
    return job_request.state.proving(step).url(f"/jobs/{job_request.job.id}/prove")


def _not_taken(request: Request, job_request: JobRequest, form: TypedForm, error: InvalidInput) -> Response:
    work = work_of(job_request)
    return shown_stage(request, work, "prove", status=422, typed=form, faults=error.faults)
