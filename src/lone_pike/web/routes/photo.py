"""Measuring from a side photo: it is marked, the marks give measures with their doubt, and these are taken over."""

from typing import Annotated

from fastapi import APIRouter, Depends, HTTPException
from starlette.requests import Request
from starlette.responses import HTMLResponse, RedirectResponse, Response

from lone_pike.core.faults import Fault, Refused
from lone_pike.core.photo import MARKS, Mark
from lone_pike.demo.workshop import sample_photo
from lone_pike.formats.measure_form import apply_form, changes, in_words
from lone_pike.formats.observed import Observed
from lone_pike.formats.photo_file import read_photo
from lone_pike.formats.photo_notes import RING_TEETH, WORDS, notes_of, with_mark, with_photo, with_scale
from lone_pike.formats.shop import Shop
from lone_pike.formats.words import LengthUnit
from lone_pike.store.bikes import Document
from lone_pike.store.database import Database
from lone_pike.store.jobs import JobRow, Revision, job_by_id, revise
from lone_pike.store.photos import add_photo, image_of, photo_by_id
from lone_pike.web.job_page import STAGES, kept_page
from lone_pike.web.look import Look
from lone_pike.web.pages import page
from lone_pike.web.photo_page import PhotoPage
from lone_pike.web.requests import Data, InShop, Job, Looked, OpenJob, SentForm, now

router = APIRouter(prefix="/jobs/{job_id}/photo")
NUDGES = {"left": (-1, 0), "right": (1, 0), "up": (0, -1), "down": (0, 1)}
MOST_NUDGE_PX = 20


async def asked_mark(request: Request) -> str:
    """The mark that the address wants in hand."""
    return request.query_params.get("mark", "")


Asked = Annotated[str, Depends(asked_mark)]


@router.get("")
def photo_page(request: Request, job: Job, look: Looked, shop: InShop, data: Data, asked: Asked) -> HTMLResponse:
    """The photo with its marks, or how to take one."""
    return _shown(request, data, job, look, shop, asked)


@router.get("/{photo_id}.jpg")
def picture(job: Job, photo_id: int, data: Data) -> Response:
    """The picture itself; a photo never changes."""
    found = image_of(data, job.id, photo_id) if photo_id < 2**63 else None
    if found is None:
        raise HTTPException(404, "There is no such photo here.")
    return Response(found, media_type="image/jpeg", headers={"Cache-Control": "private, max-age=31536000, immutable"})


@router.post("")
def add(request: Request, job: OpenJob, sent: SentForm, look: Looked, shop: InShop, data: Data) -> Response:
    """Keeps an uploaded photo, or the drawn sample, as the job's photo."""
    try:
        file = read_photo(sample_photo() if sent.fields.get("sample") else sent.file or b"")
    except Refused as refused:
        return _shown(request, data, job, look, shop, "", refused.faults[0], 422)
    photo_id = add_photo(data, job.id, file.image, (file.width, file.height), now())
    scale = {"by": "ruler", "ruler": "300"} if sent.fields.get("sample") else _ring_of(job.document)
    observed = with_scale(with_photo(job.observed, photo_id), scale, "mm")
    _observe(data, job, observed, "Photo taken in" if notes_of(job.observed) is None else "Photo replaced")
    return _to(look.url(f"/jobs/{job.id}/photo"))


@router.post("/mark")
def mark(job: OpenJob, sent: SentForm, look: Looked, shop: InShop, data: Data) -> Response:
    """Sets a mark where the photo was pressed, or moves it a little."""
    shown, form = _photo(data, job, look, shop, ""), sent.fields
    name = next((one for one in MARKS if one == form.get("mark")), None)
    if name is None:
        raise HTTPException(422, f"mark: read nothing of the photo; allowed: {', '.join(WORDS.values())}.")
    stay = name if form.get("to") in NUDGES else ""
    place = _nudged(shown, name, form) if stay else _pressed(shown, form)
    if place is None:
        return _to(shown.url(mark=name))
    kept_in = (min(max(place[0], 0.0), shown.row.width), min(max(place[1], 0.0), shown.row.height))
    _observe(data, job, with_mark(job.observed, name, kept_in), f"{WORDS[name].capitalize()} marked")
    return _to(shown.url(mark=stay))


@router.post("/scale")
def scale(request: Request, job: OpenJob, sent: SentForm, look: Looked, shop: InShop, data: Data) -> Response:
    """Keeps what the scale is, and the gear of the photo."""
    shown = _photo(data, job, look, shop, "")
    try:
        unit: LengthUnit = "in" if sent.fields.get("unit") == "in" else "mm"
        observed = with_scale(job.observed, sent.fields, unit, shown.gear[0] if shown.gear else RING_TEETH)
    except Refused as refused:
        return _shown(request, data, job, look, shop, "", refused.faults[0], 422)
    if observed != job.observed:
        _observe(data, job, observed, "Scale of the photo told")
    return _to(shown.url())


@router.post("/take")
def take(job: OpenJob, sent: SentForm, look: Looked, shop: InShop, data: Data) -> Response:
    """Fills the ticked measures in, with their doubt, as a new revision."""
    shown = _photo(data, job, look, shop, "")
    ticked = {offer.field: offer.text for offer in shown.offers if sent.fields.get(offer.field) and not offer.trouble}
    with data.atomic() as connection:
        newest = job_by_id(data, job.id) or job
        document, _ = apply_form(newest.document, ticked)
        changed = changes(newest.document, document)
        if changed:
            note = f"From the photo: {in_words(changed)}"
            revise(connection, newest, Revision(document, newest.chosen_links, newest.observed, note), now())
    return _to(shown.url())


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


def _ring_of(document: Document) -> dict[str, str]:
    """The scale to begin with: the biggest ring where it is known, else a ruler."""
    rings = document.get("rings")
    known = isinstance(rings, list) and rings and all(isinstance(teeth, int) and 16 <= teeth <= 70 for teeth in rings)
    return {"by": "ring", "ring": str(max(rings))} if known and rings else {"by": "ruler", "ruler": "300"}


def _observe(data: Database, job: JobRow, observed: Observed, note: str) -> None:
    """What changed in the photo's notes, on top of the newest revision."""
    with data.atomic() as connection:
        newest = job_by_id(data, job.id) or job
        mine = {name: text for name, text in observed.items() if job.observed.get(name) != text}
        gone = set(job.observed) - set(observed)
        merged = {name: text for name, text in newest.observed.items() if name not in gone} | mine
        revise(connection, newest, Revision(newest.document, newest.chosen_links, merged, note), now())


def _photo(data: Database, job: JobRow, look: Look, shop: Shop, asked: str) -> PhotoPage:
    found = _photo_or_none(data, job, look, shop, asked)
    if found is None:
        raise HTTPException(422, "This job has no photo yet. Take one in first; nothing was changed.")
    return found


def _photo_or_none(data: Database, job: JobRow, look: Look, shop: Shop, asked: str) -> PhotoPage | None:
    notes = notes_of(job.observed)
    row = photo_by_id(data, job.id, notes.photo_id) if notes else None
    return PhotoPage(kept_page(job, "photo", look, shop), notes, row, asked) if notes and row else None


def _shown(
    request: Request,
    data: Database,
    job: JobRow,
    look: Look,
    shop: Shop,
    asked: str,
    fault: Fault | None = None,
    status: int = 200,
) -> HTMLResponse:
    photo = _photo_or_none(data, job, look, shop, asked)
    view = photo.view if photo else kept_page(job, "photo", look, shop)
    context = {"view": view, "stages": STAGES, "photo": photo, "fault": fault or (photo.fault if photo else None)}
    return page(request, "job.html", shop, context, status, block="job")


def _to(url: str) -> Response:
    return RedirectResponse(url, 303)
