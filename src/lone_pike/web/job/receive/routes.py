"""Receive: what is wrong, the old chain gauged, and pictures from before anything comes off."""

from fastapi import APIRouter
from starlette.responses import Response

from lone_pike.formats.files.photo_file import read_photo
from lone_pike.formats.typed.parsing import whole_number
from lone_pike.store.paging import RowId, row_id
from lone_pike.store.photos import picture_of
from lone_pike.web.dear import dear_work
from lone_pike.web.job.receive.view import count_old_view
from lone_pike.web.job.stages import changed_at
from lone_pike.web.job.work import work_of
from lone_pike.web.pages import page, redirect, unchanging_jpeg
from lone_pike.web.thing import Fields, ForJob, JobRequest, SentPhoto, seen_by
from lone_pike.workshop import jobs, receiving
from lone_pike.workshop.clock import now

router = APIRouter(prefix="/jobs/{job_id}")
WRONG = ("observed.complaint", "observed.symptom")
"""The complaint: its words and the picture that was pressed."""


@router.post("/receive")
def keep(job_request: ForJob, form: Fields) -> Response:
    """Stores what was typed and ticked."""
    jobs.keep_measures(job_request.data, job_request.job.id, seen_by(form), form, job_request.shop.unit, now())
    return redirect(_url(job_request))


@router.post("/complaint")
def complain(job_request: ForJob, form: Fields) -> Response:
    """Stores the complaint and nothing else; the counter may do this too."""
    wrong = {name: form[name] for name in WRONG if name in form}
    jobs.keep_measures(job_request.data, job_request.job.id, seen_by(form), wrong, job_request.shop.unit, now())
    return redirect(_url(job_request))


@router.get("/count-old")
def count_old(job_request: ForJob, at: str = "0") -> Response:
    """The old chain counted along in tens and ones."""
    view = count_old_view(work_of(job_request), at)
    return page(job_request.request, "job/receive/count_old.html", job_request.shop, {"view": view}, block="count")


@router.post("/gauge")
def gauge(job_request: ForJob, form: Fields) -> Response:
    """Adds a reading of the old chain's wear."""
    data, job_id, unit = job_request.data, job_request.job.id, job_request.shop.unit
    return changed_at(
        job_request, "receive", form, lambda: receiving.gauge(data, job_id, form, unit, now()), _url(job_request)
    )


@router.post("/reading-out")
def let_reading_go(job_request: ForJob, form: Fields) -> Response:
    """Removes a reading."""
    place = whole_number(form.get("place", ""), 2)
    receiving.let_reading_go(job_request.data, job_request.job.id, -1 if place is None else place, now())
    return redirect(_url(job_request))


@router.post("/pictures")
def add_picture(job_request: ForJob, sent: SentPhoto) -> Response:
    """Adds a picture with a caption."""

    def add() -> None:
        file = dear_work(job_request.request).photos.run(read_photo, sent.file or b"")
        word = sent.fields.get("word", "")
        receiving.take_picture_in(job_request.data, job_request.job.id, file, word, now())

    return changed_at(job_request, "receive", sent.fields, add, _url(job_request))


@router.post("/picture-out")
def remove_picture(job_request: ForJob, form: Fields) -> Response:
    """Removes a picture; an undo brings it back."""
    receiving.remove_picture(job_request.data, job_request.job.id, row_id(form.get("picture", "")), now())
    return redirect(_url(job_request))


@router.get("/pictures/{picture_id}.jpg")
def picture(job_request: ForJob, picture_id: RowId) -> Response:
    """The picture itself, which never changes."""
    return unchanging_jpeg(picture_of(job_request.data, job_request.job.id, picture_id))


def _url(job_request: JobRequest) -> str:
    return job_request.state.url(f"/jobs/{job_request.job.id}/receive")
