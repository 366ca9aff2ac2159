"""The job: its stages, edits with undo, and the booking."""

from dataclasses import replace

from fastapi import APIRouter
from starlette.responses import HTMLResponse, Response

from lone_pike.core.refusals import NotThere, Stale
from lone_pike.core.stages import LAST_STAGE, STAGES, stage_after
from lone_pike.formats.files.bike_file import bike_from_document, write_bike
from lone_pike.web.job.frame import ASIDE
from lone_pike.web.job.stages import asked_again, shown_stage
from lone_pike.web.job.work import work_of
from lone_pike.web.pages import attached, leave, redirect
from lone_pike.web.thing import Fields, ForJob, seen_by
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
def stage_page(job_request: ForJob, stage: str) -> HTMLResponse:
    """One stage of the job."""
    if stage not in STAGES:
        raise NotThere("no_such_stage", name=stage)
    return shown_stage(job_request, stage)


@router.post("/measure")
def keep_measures(job_request: ForJob, form: Fields) -> Response:
    """Stores what was typed as a new revision; an edit made elsewhere in between is not lost."""
    typing = job_request.as_typed(form)
    job = jobs.keep_measures(typing.data, typing.job.id, seen_by(form), form, typing.shop.unit, now())
    typing = replace(typing, job=job)
    kept = work_of(typing)
    stage = form.get("then", "")
    if stage in STAGES:
        jobs.reach(typing.data, job.id, stage)
        return redirect(kept.at(stage))
    if typing.request.headers.get("HX-Request"):
        return shown_stage(typing, "measure")
    return redirect(kept.at("measure"))


@router.post("/choose")
def choose(job_request: ForJob, form: Fields) -> Response:
    """Stores the chosen count and goes on to Cut; asks again if the bike has changed since the page was made."""
    try:
        job = jobs.choose(job_request.data, job_request.job.id, seen_by(form), form.get("links", ""), now())
    except Stale as stale:
        return asked_again(job_request, "size", stale)
    return redirect(job_request.state.url(f"/jobs/{job.id}/{stage_after('size')}", links=None))


@router.post("/undo")
def undo_edit(job_request: ForJob, form: Fields) -> Response:
    """Undoes the edit that the page showed, never one that was made elsewhere since."""
    stage = form.get("stage", "")
    shown = stage if stage in (*STAGES, *ASIDE) else "measure"
    try:
        jobs.undo(job_request.data, job_request.job.id, seen_by(form), now())
    except Stale as stale:
        return asked_again(job_request, shown, stale)
    return redirect(job_request.state.url(f"/jobs/{job_request.job.id}/{shown}", links=None))


@router.post("/book")
def book_job(job_request: ForJob, form: Fields) -> Response:
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
        return asked_again(job_request, "book", stale, form)
    return leave(job_request.request, f"/bikes/{bike_id}")


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
    return redirect(f"{job_request.url}/{LAST_STAGE}")


@router.post("/chain-off")
def take_chain_off(job_request: ForJob) -> Response:
    """Takes the booked chain off again: it goes into the bin, and the job is reopened."""
    bookings.take_chain_off(job_request.data, job_request.job.id, now())
    return redirect(f"/jobs/{job_request.job.id}/cut")
