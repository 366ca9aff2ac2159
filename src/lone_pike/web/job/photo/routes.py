"""Measuring from a side photo: marks in it give measures with their spread, which can be taken over."""

from fastapi import APIRouter
from starlette.responses import HTMLResponse, Response

from lone_pike.core.bike.faults import Fault, InvalidInput
from lone_pike.core.bike.photo import MARKS, Mark, Point
from lone_pike.core.messages import LengthUnit
from lone_pike.core.refusals import Unfit
from lone_pike.demo.workshop import sample_photo
from lone_pike.formats.files.photo_file import read_photo
from lone_pike.formats.typed.parsing import whole_number
from lone_pike.store.paging import RowId
from lone_pike.store.photos import PhotoRow, image_of
from lone_pike.web.dear import dear_work
from lone_pike.web.job.photo.view import photo_url, photo_view, shown_px
from lone_pike.web.job.work import work_of
from lone_pike.web.pages import page, redirect, unchanging_jpeg
from lone_pike.web.thing import Fields, ForJob, JobRequest, SentPhoto, TypedForm, seen_by
from lone_pike.workshop.clock import now
from lone_pike.workshop.photos import JobPhoto, photo_of, photo_there, set_mark, set_scale, take_measures, take_photo_in

router = APIRouter(prefix="/jobs/{job_id}/photo")
NUDGES = {"left": (-1, 0), "right": (1, 0), "up": (0, -1), "down": (0, 1)}
MOST_NUDGE_PX = 20


@router.get("")
def photo_page(job_request: ForJob, mark: str = "") -> HTMLResponse:
    """The photo with its marks, or how to take one; mark is the one that the address selects."""
    return _shown(job_request, mark)


@router.get("/{photo_id}.jpg")
def picture(job_request: ForJob, photo_id: RowId) -> Response:
    """The picture itself; a photo never changes."""
    return unchanging_jpeg(image_of(job_request.data, job_request.job.id, photo_id))


@router.post("")
def add(job_request: ForJob, sent: SentPhoto) -> Response:
    """Stores an uploaded photo, or the drawn sample, as the job's photo."""
    is_sample = bool(sent.fields.get("sample"))
    try:
        file = dear_work(job_request.request).photos.run(read_photo, sample_photo() if is_sample else sent.file or b"")
    except InvalidInput as error:
        return _shown(job_request, "", next(iter(error.faults)))
    saw = seen_by(sent.fields)
    take_photo_in(job_request.data, job_request.job.id, saw, file, now(), with_ruler=is_sample)
    return redirect(_url(job_request))


@router.post("/mark")
def mark(job_request: ForJob, form: Fields) -> Response:
    """Sets a mark where the photo was pressed, or moves it a little."""
    photo = photo_there(job_request.data, job_request.job)
    name = next((one for one in MARKS if one == form.get("mark")), None)
    if name is None:
        raise Unfit("no_such_mark")
    stay = name if form.get("to") in NUDGES else ""
    place = _nudged(photo, name, form) if stay else _pressed(photo.row, form)
    if place is None:
        return redirect(_url(job_request, name))
    set_mark(job_request.data, job_request.job.id, seen_by(form), name, place, now())
    return redirect(_url(job_request, stay))


@router.post("/scale")
def scale(job_request: ForJob, form: Fields) -> Response:
    """Stores the scale and the gear of the photo."""
    unit = LengthUnit.INCH if form.get("unit") == LengthUnit.INCH else LengthUnit.MM
    try:
        set_scale(job_request.data, job_request.job.id, seen_by(form), form, unit, now())
    except InvalidInput as error:
        return _shown(job_request, "", next(iter(error.faults)))
    return redirect(_url(job_request))


@router.post("/take")
def take(job_request: ForJob, form: Fields) -> Response:
    """Takes over the ticked measures with their spread, as a new revision."""
    ticked = [name for name, text in form.items() if text]
    take_measures(job_request.data, job_request.job.id, seen_by(form), ticked, now())
    return redirect(_url(job_request))


def _url(job_request: JobRequest, mark: str = "") -> str:
    return photo_url(job_request.state, job_request.job.id, mark)


def _pressed(row: PhotoRow, form: TypedForm) -> Point | None:
    """Where the photo was pressed, in its own px; None if it was not."""
    x, y = (form.get(f"at.{axis}", "") for axis in "xy")
    by_key = x == y == "0"
    if by_key or not all(text.isascii() and text.isdecimal() and len(text) < 5 for text in (x, y)):
        return None
    width, _ = shown_px(row)
    share = row.width / width
    return (int(x) + 0.5) * share, (int(y) + 0.5) * share


def _nudged(photo: JobPhoto, name: Mark, form: TypedForm) -> Point:
    """The place of the mark moved by some px; it starts in the middle of the photo if it is not set."""
    x, y = photo.notes.marks.get(name, (photo.row.width / 2, photo.row.height / 2))
    right, down = NUDGES[form["to"]]
    by = whole_number(form.get("by", ""), 3)
    px = 1 if by is None else min(by, MOST_NUDGE_PX)
    return x + right * px, y + down * px


def _shown(job_request: JobRequest, asked: str, fault: Fault | None = None) -> HTMLResponse:
    photo = photo_of(job_request.data, job_request.job)
    view = photo_view(work_of(job_request), photo, asked, fault)
    status = 422 if fault else 200
    return page(job_request.request, "job/job.html", job_request.shop, {"view": view}, status, block="job")
