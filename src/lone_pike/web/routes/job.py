"""The job: its stages, edits with undo, and the booking."""

from collections.abc import Callable
from dataclasses import replace

from fastapi import APIRouter, HTTPException
from starlette.requests import Request
from starlette.responses import HTMLResponse, Response

from lone_pike.core.messages import Message, links
from lone_pike.formats.bike_file import bike_from_document, write_bike
from lone_pike.formats.observed import told_in
from lone_pike.formats.parsing import whole_number
from lone_pike.store.bookings import Fitting, Offcut, book, cancel_booking
from lone_pike.store.database import Database
from lone_pike.store.history import Stale, check_newest, step_back
from lone_pike.store.jobs import JobRow, JobState, close_job, follow_history, reach_stage, reopen_job, revise_job
from lone_pike.web.edits import form_edit, merge_states, reach, seen_state, write_edit
from lone_pike.web.pages import is_partial, page, redirect, units_of
from lone_pike.web.requests import Fields, ForJob, JobRequest, TypedForm, now, seen_by
from lone_pike.web.views.bin import joiners_left, offered
from lone_pike.web.views.book import book_view
from lone_pike.web.views.costs import costs_of
from lone_pike.web.views.cut import cut_view, lacks_chain
from lone_pike.web.views.frame import ASIDE
from lone_pike.web.views.join import join_view
from lone_pike.web.views.measure import measure_view, typed_view
from lone_pike.web.views.size import size_view, sure_of
from lone_pike.web.views.work import STAGES, Work, cuts_of, view_or_trouble, work_of
from lone_pike.wording.render import render

router = APIRouter(prefix="/jobs/{job_id}")
LONGEST_NOTE = 500
LEAST_LINKS, MOST_LINKS = 20, 400


@router.get("")
def latest_stage(job_request: ForJob) -> Response:
    """To the stage the job has come to, or to its bike once it is booked."""
    job = job_request.job
    return redirect(f"/bikes/{job.bike_id}" if job.booked_at or job.closed_at else f"/jobs/{job.id}/{job.stage}")


@router.get("/bike.json")
def bike_file(job_request: ForJob) -> Response:
    """The bike's file."""
    headers = {"Content-Disposition": 'attachment; filename="bike.json"'}
    content = write_bike(bike_from_document(job_request.job.document))
    return Response(content, media_type="application/json", headers=headers)


@router.get("/{stage}")
def stage_page(request: Request, job_request: ForJob, stage: str) -> HTMLResponse:
    """One stage of the job."""
    if stage not in STAGES:
        raise HTTPException(404, f"There is no stage {stage!r} here; the job's stages are on its left.")
    return _shown(request, work_of(job_request), stage)


@router.post("/typed")
def typed(request: Request, job_request: ForJob, form: Fields) -> HTMLResponse:
    """The job as it would be with what is being typed; nothing is kept yet."""
    typing = job_request.as_typed(form)
    view = view_or_trouble(_typed_work(typing, form), lambda work: typed_view(work, form))
    return page(request, "typed.html", typing.shop, {"view": view})


@router.post("/sure")
def sure(request: Request, job_request: ForJob, form: Fields) -> HTMLResponse:
    """How sure the count is with what is being typed: sent after the page that needs it."""
    typing = job_request.as_typed(form)
    work = _typed_work(typing, form)
    answered = work.sized.answer if work.sized else None
    context = {
        "key": work.key,
        "sure": sure_of(answered) if answered else None,
        "costs": costs_of(answered) if answered else {},
    }
    return page(request, "sure.html", typing.shop, context)


@router.post("/measure")
def keep_measures(request: Request, job_request: ForJob, form: Fields) -> Response:
    """Keeps what was typed as a new revision; an edit made elsewhere in between is told, and not lost."""
    typing = job_request.as_typed(form)
    messages: list[Message] = []

    def typed_state(base: JobState) -> JobState:
        edit = form_edit(typing, base, form)
        messages.extend(edit.messages)
        return edit.mine

    def as_read(changes: Message) -> Message:
        return Message("changes_as_read", changes=changes, read=tuple(messages)) if messages else changes

    job = write_edit(typing, form, typed_state, as_read)
    kept = work_of(replace(typing, job=job))
    stage = form.get("then", "")
    if stage in STAGES:
        reach(job_request, stage)
        return redirect(kept.at(stage))
    if request.headers.get("HX-Request"):
        return _shown(request, kept, "measure")
    return redirect(kept.at("measure"))


@router.post("/choose")
def choose(request: Request, job_request: ForJob, form: Fields) -> Response:
    """Keeps the chosen count and goes on to the cut; asks where it was chosen for a bike that has changed since."""
    job_request.open_job()
    text = form.get("links", "")
    count = whole_number(text, 3) or 0
    if not LEAST_LINKS <= count <= MOST_LINKS:
        allowed = f"{LEAST_LINKS} to {MOST_LINKS} links"
        raise HTTPException(422, f"links: read {text[:20]!r}; allowed: {allowed}. Go back and choose on the rail.")
    try:
        with job_request.data.atomic() as connection:
            job = job_request.newest()
            pressed_twice = count == job.chosen_links and seen_by(form) == job.parent_id
            if not pressed_twice:
                check_newest(connection, job.history_id, seen_by(form))
            if count != job.chosen_links:
                state = replace(job.state, chosen_links=count)
                revise_job(connection, job, state, _chosen_message(job, count), now())
            reach_stage(connection, job.id, "cut")
    except Stale as stale:
        return _asked(request, job_request, "size", "nothing_chosen", stale)
    return redirect(job_request.state.url(f"/jobs/{job.id}/cut", links=None))


@router.post("/undo")
def undo_edit(request: Request, job_request: ForJob, form: Fields) -> Response:
    """Takes the edit back that the page showed; never one that was made elsewhere since."""
    job = job_request.open_job()
    stage = form.get("stage", "")
    shown = stage if stage in (*STAGES, *ASIDE) else "measure"
    try:
        with job_request.data.atomic() as connection:
            step_back(connection, job.history_id, seen_by(form))
            follow_history(connection, job.id)
    except Stale as stale:
        return _asked(request, job_request, shown, "nothing_undone", stale)
    return redirect(job_request.state.url(f"/jobs/{job.id}/{shown}", links=None))


@router.post("/book")
def book_job(request: Request, job_request: ForJob, form: Fields) -> Response:
    """Writes the chain into the bike's history and the off-cut into the bin; asks where the page saw another state."""
    job_request.open_job()
    try:
        with job_request.data.atomic() as connection:
            newest = job_request.at_newest()
            check_newest(connection, newest.job.history_id, seen_by(form))
            work = work_of(newest)
            book(connection, newest.job, _fitting(work, form), now())
    except Stale as stale:
        return _asked(request, job_request, "book", "nothing_booked", stale)
    return redirect(f"/bikes/{job_request.job.bike_id}")


@router.post("/close")
def close(job_request: ForJob) -> Response:
    """Closes the job without a booking."""
    job = job_request.open_job()
    with job_request.data.atomic() as connection:
        close_job(connection, job.id, now())
    return redirect(f"/bikes/{job.bike_id}")


@router.post("/reopen")
def reopen(job_request: ForJob) -> Response:
    """Opens a closed job again."""
    with job_request.data.atomic() as connection:
        opened = reopen_job(connection, job_request.job)
    if not opened:
        raise HTTPException(409, "This bike has another job in hand. Close that one first; nothing was changed.")
    return redirect(f"/jobs/{job_request.job.id}/{job_request.job.stage}")


@router.post("/take-back")
def take_booking_back(job_request: ForJob) -> Response:
    """Undoes the booking and opens the job again."""
    with job_request.data.atomic() as connection:
        taken_back = cancel_booking(connection, job_request.job.id, now())
    if not taken_back:
        raise HTTPException(
            409, "This booking cannot be taken back: another job of the bike is open, or it was booked again since."
        )
    return redirect(f"/jobs/{job_request.job.id}/book")


def _fitting(work: Work, form: TypedForm) -> Fitting:
    """What is booked. Raises: 422 where something is missing for that."""
    if work.sized is None:
        raise HTTPException(422, "The bike is not measured yet. Measure it first; nothing was booked.")
    bike, (cuts, _) = work.sized.bike, cuts_of(work)
    missing = sum(cut.missing_links for cut in cuts)
    if missing:
        short = Message("box_is_short_now", missing=links(missing))
        raise HTTPException(422, render(short, units_of(work.shop)))
    offcuts = tuple(Offcut(cut.offcut_links, *cut.offcut_ends) for cut in cuts if cut.offcut_ends)
    note = form.get("note", "").strip()[:LONGEST_NOTE]
    return Fitting(
        work.sized.links, bike.joiner, bike.speeds, note, _shock_message(work, form), offcuts, max(len(cuts), 1)
    )


def _shock_message(work: Work, form: TypedForm) -> Message | None:
    """The shock's pressures for the bike's history. Raises: 422 where one was noted and none put back."""
    shock = told_in(form, work.job.observed)
    if "pressure_before" not in shock:
        return None
    if "pressure_after" not in shock:
        was = shock["pressure_before"]
        raise HTTPException(422, f"Shock put back: read nothing; allowed: a pressure. It was {was}; check it.")
    return Message("shock_note", before=shock["pressure_before"], after=shock["pressure_after"])


def _chosen_message(job: JobRow, count: int) -> Message:
    if job.chosen_links:
        return Message("count_chosen_before", count=links(count), before=links(job.chosen_links))
    return Message("count_chosen", count=links(count))


def _typed_work(job_request: JobRequest, form: TypedForm) -> Work:
    """The job with what is being typed; texts stand as they were typed."""
    base = seen_state(job_request, form)
    edit = form_edit(job_request, base, form)
    kept = work_of(job_request)
    if not edit.changed:
        return kept
    newest = job_request.job.state
    mine = edit.mine if base is newest else merge_states(base, newest, edit.mine).state
    texts = tuple((path, form[path]) for path in edit.changed)
    return replace(kept, document=mine.document, messages=edit.messages, typed=texts)


def _asked(request: Request, job_request: JobRequest, stage: str, code: str, stale: Stale) -> Response:
    """The page anew, told what changed meanwhile; the next press is made from what it shows."""
    message = Message(code, last=stale.newest.message)
    if stage in ASIDE:
        return redirect(work_of(job_request).at(stage))
    return _shown(request, work_of(job_request.at_newest()), stage, (message,), 409)


def _shown(request: Request, work: Work, stage: str, told: tuple[Message, ...] = (), status: int = 200) -> HTMLResponse:
    data: Database = request.app.state.database
    view = view_or_trouble(work, lambda shown: _view(data, shown, stage, told, deferred=is_partial(request)))
    return page(request, "job.html", work.shop, {"view": view}, status, block="job")


def _view(data: Database, work: Work, stage: str, told: tuple[Message, ...], *, deferred: bool) -> object:
    views: dict[str, Callable[[], object]] = {
        "measure": lambda: measure_view(work, told, deferred=deferred),
        "size": lambda: size_view(work, told, deferred=deferred),
        "cut": lambda: cut_view(work, told, offered(data, work) if lacks_chain(work) else (), joiners_left(data, work)),
        "join": lambda: join_view(work, told),
        "book": lambda: book_view(work, told),
    }
    return views[stage]()
