"""Measuring from a side photo: it is marked, the marks give measures with their spread, and these are taken over."""

from collections.abc import Callable
from dataclasses import replace
from threading import BoundedSemaphore

from fastapi import APIRouter, HTTPException
from starlette.requests import Request
from starlette.responses import HTMLResponse, Response

from lone_pike.core.bike.faults import Fault, InvalidInput
from lone_pike.core.bike.photo import MARKS, Mark
from lone_pike.core.messages import LengthUnit, Message, Term
from lone_pike.demo.workshop import sample_photo
from lone_pike.formats.measure_form import with_readings
from lone_pike.formats.observed import Observed
from lone_pike.formats.parsing import whole_number
from lone_pike.formats.photo_file import read_photo
from lone_pike.formats.photo_notes import (
    A_RULER,
    RING_TEETH,
    PhotoNotes,
    notes_of,
    scale_to_begin_with,
    with_mark,
    with_photo,
    with_scale,
)
from lone_pike.store.jobs import JobState
from lone_pike.store.photos import PhotoRow, add_photo, image_of, photo_by_id
from lone_pike.web.edits import write_edit
from lone_pike.web.pages import page, redirect
from lone_pike.web.requests import LARGEST_ID, Fields, ForJob, JobRequest, SentForm, TypedForm, now
from lone_pike.web.views.photo import offers_of, photo_gear, photo_url, photo_view, shown_px
from lone_pike.web.views.work import work_of
from lone_pike.wording.terms import MARKS as MARK_WORDS

router = APIRouter(prefix="/jobs/{job_id}/photo")
NUDGES = {"left": (-1, 0), "right": (1, 0), "up": (0, -1), "down": (0, 1)}
MOST_NUDGE_PX = 20
AT_ONCE = BoundedSemaphore(2)
"""Photos that are read at the same time: each may take a hundred megabytes while it is made small."""


@router.get("")
def photo_page(request: Request, job_request: ForJob, mark: str = "") -> HTMLResponse:
    """The photo with its marks, or how to take one; mark is the one that the address wants in hand."""
    return _shown(request, job_request, mark)


@router.get("/{photo_id}.jpg")
def picture(job_request: ForJob, photo_id: int) -> Response:
    """The picture itself; a photo never changes."""
    image = image_of(job_request.data, job_request.job.id, photo_id) if 0 < photo_id < LARGEST_ID else None
    if image is None:
        raise HTTPException(404, "There is no such photo here.")
    return Response(image, media_type="image/jpeg", headers={"Cache-Control": "private, max-age=31536000, immutable"})


@router.post("")
def add(request: Request, job_request: ForJob, sent: SentForm) -> Response:
    """Keeps an uploaded photo, or the drawn sample, as the job's photo."""
    job = job_request.open_job()
    is_sample = bool(sent.fields.get("sample"))
    try:
        with AT_ONCE:
            file = read_photo(sample_photo() if is_sample else sent.file or b"")
    except InvalidInput as error:
        return _shown(request, job_request, "", next(iter(error.faults)))
    replaced = notes_of(job.observed) is not None

    def with_new(base: JobState) -> Observed:
        """Kept in the transaction that notes it: a photo that no job knows would never be seen again."""
        photo_id = add_photo(job_request.data.connection, job.id, file.image, (file.width, file.height), now())
        scale = A_RULER if is_sample else scale_to_begin_with(base.document.get("rings"))
        return with_scale(with_photo(base.observed, photo_id), scale, LengthUnit.MM)

    _observe(job_request, sent.fields, with_new, Message("photo_replaced" if replaced else "photo_taken_in"))
    return redirect(photo_url(job_request.state, job.id))


@router.post("/mark")
def mark(job_request: ForJob, form: Fields) -> Response:
    """Sets a mark where the photo was pressed, or moves it a little."""
    notes, row = _photo(job_request)
    name = next((one for one in MARKS if one == form.get("mark")), None)
    if name is None:
        raise HTTPException(422, f"mark: read nothing of the photo; allowed: {', '.join(MARK_WORDS.values())}.")
    stay = name if form.get("to") in NUDGES else ""
    place = _nudged(notes, row, name, form) if stay else _pressed(row, form)
    if place is None:
        return redirect(photo_url(job_request.state, job_request.job.id, name))
    x, y = place
    kept_in = (min(max(x, 0.0), row.width), min(max(y, 0.0), row.height))
    message = Message("mark_set", mark=Term("mark", name))
    _observe(job_request, form, lambda base: with_mark(base.observed, name, kept_in), message)
    return redirect(photo_url(job_request.state, job_request.job.id, stay))


@router.post("/scale")
def scale(request: Request, job_request: ForJob, form: Fields) -> Response:
    """Keeps what the scale is, and the gear of the photo."""
    notes, _ = _photo(job_request)
    gear = photo_gear(work_of(job_request), notes)
    ring_teeth, _ = gear or (RING_TEETH, 0)
    typed_in = LengthUnit.INCH if form.get("unit") == LengthUnit.INCH else LengthUnit.MM
    try:
        _observe(
            job_request,
            form,
            lambda base: with_scale(base.observed, form, typed_in, ring_teeth),
            Message("scale_told"),
        )
    except InvalidInput as error:
        return _shown(request, job_request, "", next(iter(error.faults)))
    return redirect(photo_url(job_request.state, job_request.job.id))


@router.post("/take")
def take(job_request: ForJob, form: Fields) -> Response:
    """Fills the ticked measures in, with their spread, as a new revision."""
    notes, row = _photo(job_request)
    offers = offers_of(work_of(job_request), notes, row)
    ticked = {offer.field: offer.reading for offer in offers if form.get(offer.field) and offer.trouble is None}

    def with_taken(base: JobState) -> JobState:
        return replace(base, document=with_readings(base.document, ticked)) if ticked else base

    write_edit(job_request, form, with_taken, lambda told: Message("from_photo", changes=told))
    return redirect(photo_url(job_request.state, job_request.job.id))


def _pressed(row: PhotoRow, form: TypedForm) -> tuple[float, float] | None:
    """Where the photo was pressed, in its own px; None where it was not."""
    x, y = (form.get(f"at.{axis}", "") for axis in "xy")
    by_key = x == y == "0"
    if by_key or not all(text.isascii() and text.isdecimal() and len(text) < 5 for text in (x, y)):
        return None
    width, _ = shown_px(row)
    share = row.width / width
    return (int(x) + 0.5) * share, (int(y) + 0.5) * share


def _nudged(notes: PhotoNotes, row: PhotoRow, name: Mark, form: TypedForm) -> tuple[float, float]:
    """The mark moved by so many px; from the photo's middle where it is not set."""
    x, y = notes.marks.get(name, (row.width / 2, row.height / 2))
    right, down = NUDGES[form["to"]]
    by = whole_number(form.get("by", ""), 3)
    px = 1 if by is None else min(by, MOST_NUDGE_PX)
    return x + right * px, y + down * px


def _observe(job_request: JobRequest, form: TypedForm, noted: Callable[[JobState], Observed], message: Message) -> None:
    """What changed in the photo's notes, merged into the newest revision."""

    def with_notes(base: JobState) -> JobState:
        return replace(base, observed=noted(base))

    write_edit(job_request, form, with_notes, lambda _: message)


def _photo(job_request: JobRequest) -> tuple[PhotoNotes, PhotoRow]:
    """The job's photo and its notes. Raises: 422 where it has none."""
    notes, row = _photo_in(job_request)
    if notes is None or row is None:
        raise HTTPException(422, "This job has no photo yet. Take one in first; nothing was changed.")
    return notes, row


def _photo_in(job_request: JobRequest) -> tuple[PhotoNotes | None, PhotoRow | None]:
    notes = notes_of(job_request.job.observed)
    return notes, photo_by_id(job_request.data, job_request.job.id, notes.photo_id) if notes else None


def _shown(request: Request, job_request: JobRequest, asked: str, fault: Fault | None = None) -> HTMLResponse:
    notes, row = _photo_in(job_request)
    view = photo_view(work_of(job_request), notes, row, asked, fault)
    return page(request, "job.html", job_request.shop, {"view": view}, 422 if fault else 200, block="job")
