"""Measuring from a side photo: it is marked, the marks give measures with their doubt, and these are taken over."""

from dataclasses import replace

from fastapi import APIRouter, HTTPException
from starlette.requests import Request
from starlette.responses import HTMLResponse, Response

from lone_pike.core.bike.faults import Fault, InvalidInput
from lone_pike.core.bike.photo import MARKS, Mark
from lone_pike.demo.workshop import sample_photo
from lone_pike.formats.measure_form import apply_form, changes, in_words
from lone_pike.formats.observed import Observed, merged
from lone_pike.formats.photo_file import read_photo
from lone_pike.formats.photo_notes import (
    A_RULER,
    RING_TEETH,
    WORDS,
    notes_of,
    scale_to_begin_with,
    with_mark,
    with_photo,
    with_scale,
)
from lone_pike.formats.words import unit_named
from lone_pike.store.jobs import revise
from lone_pike.store.photos import add_photo, image_of, photo_by_id
from lone_pike.web.job_page import STAGES, JobPage, page_at
from lone_pike.web.pages import page, redirect
from lone_pike.web.photo_page import PhotoPage
from lone_pike.web.requests import Fields, ForJob, JobRequest, SentForm, now

router = APIRouter(prefix="/jobs/{job_id}/photo")
NUDGES = {"left": (-1, 0), "right": (1, 0), "up": (0, -1), "down": (0, 1)}
MOST_NUDGE_PX = 20


@router.get("")
def photo_page(request: Request, desk: ForJob, mark: str = "") -> HTMLResponse:
    """The photo with its marks, or how to take one; mark is the one that the address wants in hand."""
    return _shown(request, desk, mark)


@router.get("/{photo_id}.jpg")
def picture(desk: ForJob, photo_id: int) -> Response:
    """The picture itself; a photo never changes."""
    found = image_of(desk.data, desk.job.id, photo_id) if photo_id < 2**63 else None
    if found is None:
        raise HTTPException(404, "There is no such photo here.")
    return Response(found, media_type="image/jpeg", headers={"Cache-Control": "private, max-age=31536000, immutable"})


@router.post("")
def add(request: Request, desk: ForJob, sent: SentForm) -> Response:
    """Keeps an uploaded photo, or the drawn sample, as the job's photo."""
    job = desk.open_job()
    try:
        file = read_photo(sample_photo() if sent.fields.get("sample") else sent.file or b"")
    except InvalidInput as refused:
        return _shown(request, desk, "", refused.faults[0])
    photo_id = add_photo(desk.data, job.id, file.image, (file.width, file.height), now())
    scale = A_RULER if sent.fields.get("sample") else scale_to_begin_with(job.document.get("rings"))
    observed = with_scale(with_photo(job.observed, photo_id), scale, "mm")
    _observe(desk, observed, "Photo taken in" if notes_of(job.observed) is None else "Photo replaced")
    return redirect(desk.look.url(f"/jobs/{job.id}/photo"))


@router.post("/mark")
def mark(desk: ForJob, form: Fields) -> Response:
    """Sets a mark where the photo was pressed, or moves it a little."""
    shown = _photo(desk)
    name = next((one for one in MARKS if one == form.get("mark")), None)
    if name is None:
        raise HTTPException(422, f"mark: read nothing of the photo; allowed: {', '.join(WORDS.values())}.")
    stay = name if form.get("to") in NUDGES else ""
    place = _nudged(shown, name, form) if stay else _pressed(shown, form)
    if place is None:
        return redirect(shown.url(mark=name))
    kept_in = (min(max(place[0], 0.0), shown.row.width), min(max(place[1], 0.0), shown.row.height))
    _observe(desk, with_mark(desk.job.observed, name, kept_in), f"{WORDS[name].capitalize()} marked")
    return redirect(shown.url(mark=stay))


@router.post("/scale")
def scale(request: Request, desk: ForJob, form: Fields) -> Response:
    """Keeps what the scale is, and the gear of the photo."""
    shown = _photo(desk)
    ring_teeth = shown.gear[0] if shown.gear else RING_TEETH
    try:
        observed = with_scale(desk.job.observed, form, unit_named(form.get("unit")), ring_teeth)
    except InvalidInput as refused:
        return _shown(request, desk, "", refused.faults[0])
    if observed != desk.job.observed:
        _observe(desk, observed, "Scale of the photo told")
    return redirect(shown.url())


@router.post("/take")
def take(desk: ForJob, form: Fields) -> Response:
    """Fills the ticked measures in, with their doubt, as a new revision."""
    shown = _photo(desk)
    ticked = {offer.field: offer.text for offer in shown.offers if form.get(offer.field) and not offer.trouble}
    desk.open_job()
    with desk.data.atomic() as connection:
        newest = desk.newest()
        document, _ = apply_form(newest.document, ticked)
        changed = changes(newest.document, document)
        if changed:
            note = f"From the photo: {in_words(changed)}"
            revise(connection, newest, replace(newest.revision, document=document, note=note), now())
    return redirect(shown.url())


def _pressed(shown: PhotoPage, form: dict[str, str]) -> tuple[float, float] | None:
    """Where the photo was pressed, in its own px; None where it was not."""
    at = [form.get(f"at.{axis}", "") for axis in "xy"]
    by_key = at == ["0", "0"]
    if by_key or not all(text.isdecimal() and len(text) < 5 for text in at):
        return None
    share = shown.row.width / shown.shown_px[0]
    return (int(at[0]) + 0.5) * share, (int(at[1]) + 0.5) * share


def _nudged(shown: PhotoPage, name: Mark, form: dict[str, str]) -> tuple[float, float]:
    """The mark moved by so many px; from the photo's middle where it is not set."""
    x, y = shown.notes.marks.get(name, (shown.row.width / 2, shown.row.height / 2))
    right, down = NUDGES[form["to"]]
    by = form.get("by", "")
    px = min(int(by), MOST_NUDGE_PX) if by.isdecimal() and len(by) < 4 else 1
    return x + right * px, y + down * px


def _observe(desk: JobRequest, observed: Observed, note: str) -> None:
    """What changed in the photo's notes, on top of the newest revision."""
    before = desk.open_job().observed
    with desk.data.atomic() as connection:
        newest = desk.newest()
        by_now = merged(before, newest.observed, observed)
        revise(connection, newest, replace(newest.revision, observed=by_now, note=note), now())


def _photo(desk: JobRequest) -> PhotoPage:
    found = _photo_in(page_at(desk, "photo"), desk, "")
    if found is None:
        raise HTTPException(422, "This job has no photo yet. Take one in first; nothing was changed.")
    return found


def _photo_in(view: JobPage, desk: JobRequest, asked: str) -> PhotoPage | None:
    notes = notes_of(desk.job.observed)
    row = photo_by_id(desk.data, desk.job.id, notes.photo_id) if notes else None
    return PhotoPage(view, notes, row, asked) if notes and row else None


def _shown(request: Request, desk: JobRequest, asked: str, fault: Fault | None = None) -> HTMLResponse:
    view = page_at(desk, "photo")
    photo = _photo_in(view, desk, asked)
    context = {"view": view, "stages": STAGES, "photo": photo, "fault": fault or (photo.fault if photo else None)}
    return page(request, "job.html", desk.shop, context, 422 if fault else 200, block="job")
