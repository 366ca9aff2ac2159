"""The job: its stages, edits with undo, and the booking."""

from dataclasses import replace

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import HTMLResponse, Response

from lone_pike.core.bike.faults import Fault
from lone_pike.core.messages import Message
from lone_pike.core.refusals import NotThere, Stale
from lone_pike.formats.files.bike_file import bike_from_document, write_bike
from lone_pike.web.pages import attached, is_partial, leave, page, redirect
from lone_pike.web.requests import Fields, ForJob, JobRequest, TypedForm, seen_by
from lone_pike.web.views.job.frame import ASIDE
from lone_pike.web.views.job.stages import STAGES, StageRequest, stage_view
from lone_pike.web.views.job.work import Work, view_or_trouble, work_of
from lone_pike.workshop import bookings, jobs
from lone_pike.workshop.clock import now

router = APIRouter(prefix="/jobs/{job_id}")


@router.get("")
def latest_stage(job_request: ForJob) -> Response:
    """Redirects to the job's stage, or to its bike once it is booked."""
    job = job_request.job
    return redirect(f"/bikes/{job.bike_id}" if job.booked_at or job.closed_at else f"/jobs/{job.id}/{job.stage}")


@router.get("/bike.json")
def bike_file(job_request: ForJob) -> Response:
    """The bike's file."""
    return attached(write_bike(bike_from_document(job_request.job.document)), "bike.json", "application/json")


@router.get("/{stage}")
def stage_page(request: Request, job_request: ForJob, stage: str) -> HTMLResponse:
    """One stage of the job."""
    if stage not in STAGES:
        raise NotThere("no_such_stage", name=stage)
    return shown_stage(request, work_of(job_request), stage)


@router.post("/measure")
def keep_measures(request: Request, job_request: ForJob, form: Fields) -> Response:
    """Stores what was typed as a new revision; an edit made elsewhere in between is not lost."""
    typing = job_request.as_typed(form)
    job = jobs.keep_measures(typing.data, typing.job.id, seen_by(form), form, typing.shop.unit, now())
    kept = work_of(replace(typing, job=job))
    stage = form.get("then", "")
    if stage in STAGES:
        jobs.reach(typing.data, job.id, stage)
        return redirect(kept.at(stage))
    if request.headers.get("HX-Request"):
        return shown_stage(request, kept, "measure")
    return redirect(kept.at("measure"))


@router.post("/choose")
def choose(request: Request, job_request: ForJob, form: Fields) -> Response:
    """Stores the chosen count and goes on to Cut; asks again if the bike has changed since the page was made."""
    try:
        job = jobs.choose(job_request.data, job_request.job.id, seen_by(form), form.get("links", ""), now())
    except Stale as stale:
        return asked_again(request, job_request, "size", stale)
    return redirect(job_request.state.url(f"/jobs/{job.id}/cut", links=None))


@router.post("/undo")
def undo_edit(request: Request, job_request: ForJob, form: Fields) -> Response:
    """Undoes the edit that the page showed, never one that was made elsewhere since."""
    stage = form.get("stage", "")
    shown = stage if stage in (*STAGES, *ASIDE) else "measure"
    try:
        jobs.undo(job_request.data, job_request.job.id, seen_by(form), now())
    except Stale as stale:
        return asked_again(request, job_request, shown, stale)
    return redirect(job_request.state.url(f"/jobs/{job_request.job.id}/{shown}", links=None))


@router.post("/book")
def book_job(request: Request, job_request: ForJob, form: Fields) -> Response:
    """Books the chain; asks again if the page showed another state."""
    try:
        bike_id = bookings.book(
            job_request.data,
            job_request.job.id,
            seen_by(form),
            now(),
            looked_at_links=job_request.state.links,
            note=form.get("note", ""),
            pressure_after=form.get("observed.pressure_after"),
            keeps_old=form.get("keeps_old") == "yes",
        )
    except Stale as stale:
        return asked_again(request, job_request, "book", stale, form)
    return leave(request, f"/bikes/{bike_id}")


@router.post("/close")
def close(job_request: ForJob) -> Response:
    """Closes the job without a booking."""
    jobs.close(job_request.data, job_request.job.id, now())
    return redirect(f"/bikes/{job_request.job.bike_id}")


@router.post("/reopen")
def reopen(job_request: ForJob) -> Response:
    """Reopens a closed job."""
    job = jobs.reopen(job_request.data, job_request.job.id, now())
    return redirect(f"/jobs/{job.id}/{job.stage}")


@router.post("/take-back")
def undo_booking(job_request: ForJob) -> Response:
    """Takes back a booking made by mistake, and reopens the job."""
    bookings.undo_booking(job_request.data, job_request.job.id, now())
    return redirect(f"/jobs/{job_request.job.id}/book")


@router.post("/chain-off")
def take_chain_off(job_request: ForJob) -> Response:
    """Takes the booked chain off again: it goes into the bin, and the job is reopened."""
    bookings.take_chain_off(job_request.data, job_request.job.id, now())
    return redirect(f"/jobs/{job_request.job.id}/cut")


def asked_again(
    request: Request, job_request: JobRequest, stage: str, stale: Stale, typed: TypedForm | None = None
) -> Response:
    """The page again, with what has changed and what was typed; the next press is based on what it shows now."""
    if stage in ASIDE:
        return redirect(work_of(job_request).at(stage))
    return shown_stage(request, work_of(job_request.at_newest()), stage, (stale.message,), 409, typed)


def shown_stage(
    request: Request,
    work: Work,
    stage: str,
    announcements: tuple[Message, ...] = (),
    status: int = 200,
    typed: TypedForm | None = None,
    faults: tuple[Fault, ...] = (),
) -> HTMLResponse:
    """A stage of the job, with announcements, and with what was typed but not accepted."""
    deferred = is_partial(request)
    asked = StageRequest(
        request.app.state.database, stage, announcements, deferred=deferred, typed=typed or {}, faults=faults
    )
    view = view_or_trouble(work, lambda shown: stage_view(shown, asked))
    return page(request, "job.html", work.shop, {"view": view}, status, block="job", revision=work.job.revision_id)
