"""The job: its stages, edits with undo, and the booking."""

from dataclasses import dataclass, replace

from fastapi import APIRouter, HTTPException
from starlette.requests import Request
from starlette.responses import HTMLResponse, Response

from lone_pike.formats.bike_file import bike_from_document, write_bike
from lone_pike.formats.measure_form import apply_form, changes, form_of, in_words
from lone_pike.formats.observed import LABELS, Observed, changes_in_words, observed_of
from lone_pike.store.bikes import Document
from lone_pike.store.database import Database
from lone_pike.store.jobs import (
    Fitting,
    JobRow,
    Revision,
    book,
    cancel_booking,
    reach_stage,
    revise,
    revision_of,
    undo,
)
from lone_pike.web.job_page import STAGES, JobPage, page_at
from lone_pike.web.pages import is_partial, page, redirect
from lone_pike.web.requests import Fields, ForJob, JobRequest, TypedForm, now

router = APIRouter(prefix="/jobs/{job_id}")
TALLY_STEP = 10
LONGEST_TEXT = 200_000


@router.get("")
def latest_stage(desk: ForJob) -> Response:
    """To the stage the job was last seen at, or to its bike once it is booked."""
    job = desk.job
    return redirect(f"/bikes/{job.bike_id}" if job.booked_at else f"/jobs/{job.id}/{job.stage}")


@router.get("/bike.json")
def bike_file(desk: ForJob) -> Response:
    """The bike's file."""
    headers = {"Content-Disposition": 'attachment; filename="bike.json"'}
    return Response(write_bike(bike_from_document(desk.job.document)), media_type="application/json", headers=headers)


@router.get("/tally")
def tally(request: Request, desk: ForJob, at: str = "0") -> Response:
    """Counting along in tens, up to the rivet."""
    view = page_at(desk, "cut")
    cut = view.cut
    if cut is None or cut.push_from_start is None:
        return redirect(view.at("cut"))
    end = cut.push_from_start
    reached = min(int(at) if at.isdecimal() and len(at) < 4 else 0, end)
    context = {"view": view, "reached": reached, "end": end, "next": min(reached + TALLY_STEP, end), "cut": cut}
    return page(request, "tally.html", desk.shop, context, block="tally")


@router.get("/{stage}")
def stage_page(request: Request, desk: ForJob, stage: str) -> HTMLResponse:
    """One stage of the job."""
    if stage not in STAGES:
        raise HTTPException(404, f"There is no stage {stage!r} here; there are {', '.join(STAGES.values())}.")
    if not desk.job.booked_at and desk.job.stage != stage:
        reach_stage(desk.data, desk.job.id, stage)
    return _shown(request, page_at(desk, stage))


@router.post("/typed")
def typed(request: Request, desk: ForJob, form: Fields) -> HTMLResponse:
    """The job as it would be with what is being typed; nothing is kept yet."""
    return _shown(request, _typed_page(desk.as_typed(form), form))


@router.post("/sure")
def sure(request: Request, desk: ForJob, form: Fields) -> HTMLResponse:
    """How sure the count is with what is being typed: sent after the page that needs it."""
    typing = desk.as_typed(form)
    return page(request, "sure.html", typing.shop, {"view": _typed_page(typing, form)})


@router.post("/measure")
def keep_measures(request: Request, desk: ForJob, form: Fields) -> Response:
    """Keeps what was typed as a new revision; an edit made elsewhere in between is told, and not lost."""
    typing = desk.as_typed(form)
    kept = replace(typing, job=_keep(typing, form))
    if form.get("then") in STAGES:
        return redirect(page_at(kept, form["then"]).at())
    if request.headers.get("HX-Request"):
        return _shown(request, page_at(kept, "measure"))
    return redirect(page_at(kept, "measure").at())


@router.post("/choose")
def choose(desk: ForJob, form: Fields) -> Response:
    """Keeps the chosen count and goes on to the cut."""
    job = desk.open_job()
    text = form.get("links", "")
    links = int(text) if text.isdecimal() and len(text) <= 3 else 0
    if not 20 <= links <= 400:
        raise HTTPException(
            422, f"links: read {text[:20]!r}; allowed: 20 to 400 links. Go back and choose on the rail."
        )
    if links != job.chosen_links:
        before = f", before it was {job.chosen_links} links" if job.chosen_links else ""
        with desk.data.atomic() as connection:
            newest = desk.newest()
            note = f"Count chosen: {links} links{before}"
            revise(connection, newest, replace(newest.revision, chosen_links=links, note=note), now())
    return redirect(desk.look.url(f"/jobs/{job.id}/cut", links=None))


@router.post("/undo")
def undo_edit(desk: ForJob, form: Fields) -> Response:
    """Takes the last edit back."""
    undo(desk.data, desk.job.id)
    stage = form.get("stage", "")
    shown = stage if stage in (*STAGES, "photo") else "measure"
    return redirect(desk.look.url(f"/jobs/{desk.job.id}/{shown}", links=None))


@router.post("/book")
def book_job(desk: ForJob, form: Fields) -> Response:
    """Writes the chain into the bike's history and the off-cut into the bin."""
    job, view = desk.open_job(), page_at(desk, "book")
    if view.answer is None:
        raise HTTPException(422, "The bike is not measured yet. Measure it first; nothing was booked.")
    bike, cut = view.answer.sizing.bike, view.cut
    if cut and cut.missing_links:
        missing = desk.shop.words.both(cut.missing_links)
        raise HTTPException(422, f"The box is {missing} short. Measure again or take another box.")
    shock = observed_of(job.observed, job.observed, form)
    if "pressure_before" in shock and "pressure_after" not in shock:
        was = shock["pressure_before"]
        raise HTTPException(
            422, f"{LABELS['pressure_after']}: read nothing; allowed: a pressure. It was {was}; check it."
        )
    note = ". ".join(filter(None, [form.get("note", "").strip()[:500], _shock_note(shock)]))
    offcut = (cut.offcut_links, cut.offcut_ends) if cut else (0, None)
    book(desk.data, job, Fitting(view.links, bike.chain.joiner, bike.speeds, note, *offcut), now())
    return redirect(f"/bikes/{job.bike_id}")


@router.post("/take-back")
def take_booking_back(desk: ForJob) -> Response:
    """Undoes the booking and opens the job again."""
    if not cancel_booking(desk.data, desk.job.id):
        raise HTTPException(409, "This booking can no longer be taken back: the bike has a later job.")
    return redirect(f"/jobs/{desk.job.id}/book")


@dataclass(frozen=True)
class Edit:
    """A form against the revision it was made from and the newest one: fields with what they were and are."""

    base: Revision
    document: Document
    mine: dict[str, tuple[str, str]]
    theirs: dict[str, tuple[str, str]]
    said: list[str]


def _edit_of(desk: JobRequest, newest: JobRow, form: TypedForm) -> Edit:
    """Only the fields this form changed, on top of the newest document."""
    base = _base_of(desk.data, newest, form)
    cut_off = {field: text[:LONGEST_TEXT] for field, text in form.items()}
    typed_document, said = apply_form(base.document, cut_off, desk.shop.unit if "unit" in form else "mm")
    mine = changes(base.document, typed_document)
    document, _ = apply_form(newest.document, {field: new for field, (_, new) in mine.items()})
    return Edit(base, document, mine, changes(base.document, newest.document), said)


def _typed_page(desk: JobRequest, form: TypedForm) -> JobPage:
    edit = _edit_of(desk, desk.job, form)
    if edit.document == desk.job.document:
        return page_at(desk, "measure")
    kept = form_of(desk.job.document, desk.shop.unit)
    shown = {**kept, **{field: form.get(field, new) for field, (_, new) in edit.mine.items()}}
    return JobPage(desk.job, "measure", desk.look, desk.shop, edit.document, shown, tuple(edit.said))


def _shock_note(shock: Observed) -> str:
    """The shock's pressures for the bike's history; empty where none was noted."""
    if "pressure_before" not in shock:
        return ""
    return f"Shock {shock['pressure_before']} before, {shock['pressure_after']} put back"


def _keep(desk: JobRequest, form: TypedForm) -> JobRow:
    """The edit as a revision on top of the newest one."""
    desk.open_job()
    with desk.data.atomic() as connection:
        newest = desk.newest()
        edit = _edit_of(desk, newest, form)
        changed = changes(newest.document, edit.document)
        observed = observed_of(edit.base.observed, newest.observed, form)
        if changed or observed != newest.observed:
            clashes = _clashes(edit.mine, edit.theirs) if changed else []
            told = [in_words(changed), changes_in_words(newest.observed, observed), *edit.said, *clashes]
            note = ". ".join(filter(None, told))
            edited = replace(newest.revision, document=edit.document, observed=observed, note=note)
            revise(connection, newest, edited, now())
    return desk.newest()


def _base_of(data: Database, job: JobRow, form: TypedForm) -> Revision:
    """The revision the form was made from; the newest where it does not say, or says nonsense."""
    base = form.get("base", "")
    found = revision_of(data, job.id, int(base)) if base.isdecimal() and len(base) < 19 else None
    return found or job.revision


def _clashes(mine: dict[str, tuple[str, str]], theirs: dict[str, tuple[str, str]]) -> list[str]:
    elsewhere = {field: change for field, change in theirs.items() if change[1] != mine.get(field, ("", ""))[1]}
    if not elsewhere:
        return []
    both = [field for field in elsewhere if field in mine]
    told = f"Meanwhile another tab changed {in_words(elsewhere)}"
    return [f"{told}; yours stands now, undo brings theirs back" if both else f"{told}; both are kept"]


def _shown(request: Request, view: JobPage) -> HTMLResponse:
    view = replace(view, swapped=is_partial(request))
    return page(request, "job.html", view.shop, {"view": view, "stages": STAGES}, block="job")
