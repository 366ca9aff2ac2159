"""Prove: what was seen at each step, what is skipped, pairs added or taken off, and what the bike learns."""

from collections.abc import Callable

from fastapi import APIRouter
from starlette.responses import Response

from lone_pike.core.stages import stage_after
from lone_pike.drawing.charts.clock import pressed_clock
from lone_pike.formats.typed.parsing import whole_number
from lone_pike.web.job.stages import changed_at
from lone_pike.web.job.work import work_of
from lone_pike.web.pages import redirect
from lone_pike.web.thing import Fields, ForJob, JobRequest, TypedForm, seen_by
from lone_pike.workshop import jobs, learning, proving
from lone_pike.workshop.clock import now

router = APIRouter(prefix="/jobs/{job_id}/prove")


@router.post("")
def see(job_request: ForJob, form: Fields) -> Response:
    """Stores what was seen at a step: pressed on the clock, chosen by a button, or typed."""
    pressed = _pressed(form)
    seen = form | ({"clock": pressed} if pressed else {})
    data, job_id, unit, step = job_request.data, job_request.job.id, job_request.shop.unit, form.get("step", "")
    return _changed(job_request, form, lambda: proving.see(data, job_id, step, seen, unit, now()))


@router.post("/skip")
def skip(job_request: ForJob, form: Fields) -> Response:
    """Skips a step, with a reason."""
    data, job_id, why = job_request.data, job_request.job.id, form.get("skipped", "")
    return _changed(job_request, form, lambda: proving.skip(data, job_id, form.get("step", ""), why, now()))


@router.post("/again")
def open_again(job_request: ForJob, form: Fields) -> Response:
    """Opens a step again."""
    step = form.get("step", "")
    proving.open_again(job_request.data, job_request.job.id, step, now())
    return redirect(_next(job_request, step))


@router.post("/pairs")
def change_pairs(job_request: ForJob, form: Fields) -> Response:
    """Goes back to Cut with pairs added or removed."""
    text = form.get("pairs", "")
    pairs = (whole_number(text.removeprefix("-"), 2) or 0) * (-1 if text.startswith("-") else 1)
    data, job_id = job_request.data, job_request.job.id
    to = job_request.state.proving("").url(f"/jobs/{job_request.job.id}/cut", links=None)
    return _changed(job_request, form, lambda: learning.change_pairs(data, job_id, seen_by(form), pairs, now()), to)


@router.post("/learn")
def take_over(job_request: ForJob, form: Fields) -> Response:
    """Takes over the corrected measures."""
    data, job_id = job_request.data, job_request.job.id
    return _changed(job_request, form, lambda: learning.take_over(data, job_id, seen_by(form), now()))


@router.post("/done")
def it_is_proved(job_request: ForJob) -> Response:
    """Goes on, however far the bike was proved."""
    then = stage_after("prove")
    jobs.reach(job_request.data, job_request.job.id, then)
    return redirect(work_of(job_request).at(then))


def _pressed(form: TypedForm) -> str | None:
    """Where the clock was pressed, as a hand; None if it was not."""
    x, y = (whole_number(form.get(f"at.{axis}", ""), 4) for axis in "xy")
    return None if x is None or y is None or x == y == 0 else pressed_clock(x, y)


def _next(job_request: JobRequest, step: str = "") -> str:
    return job_request.state.proving(step).url(f"/jobs/{job_request.job.id}/prove")


def _changed(job_request: JobRequest, form: TypedForm, change: Callable[[], object], to: str = "") -> Response:
    return changed_at(job_request, "prove", form, change, to or _next(job_request))
