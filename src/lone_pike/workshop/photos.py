"""Side photos: storing them, their marks and their scale, and taking over the measures that they give."""

from collections.abc import Collection, Mapping
from dataclasses import dataclass, replace
from typing import TypeGuard

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import Fault, InvalidInput
from lone_pike.core.bike.fields import FieldSpec
from lone_pike.core.bike.limits import limit
from lone_pike.core.bike.measures import MEASURES
from lone_pike.core.bike.photo import Mark, Photo, Point, Read, Taken, Wheels, taken_from
from lone_pike.core.messages import LengthUnit, Message, Term
from lone_pike.core.refusals import Unfit
from lone_pike.formats.files.photo_file import PhotoFile
from lone_pike.formats.records.photo_notes import (
    A_RULER,
    RING_TEETH,
    PhotoNotes,
    scale_to_begin_with,
    with_mark,
    with_scale,
)
from lone_pike.formats.typed.measure_form import form_fields, readings_of, with_readings
from lone_pike.formats.typed.parsing import Reading
from lone_pike.store.bikes import Document
from lone_pike.store.database import Database
from lone_pike.store.jobs import JobRow, JobState
from lone_pike.store.photos import PhotoRow, add_photo, photo_by_id
from lone_pike.workshop.edits import edit_job, job_there

LEAST_SPREAD = 0.1
GAP = "b_gap_mm"


@dataclass(frozen=True)
class JobPhoto:
    """A job's photo and what was marked in it."""

    notes: PhotoNotes
    row: PhotoRow


@dataclass(frozen=True)
class PhotoMeasure:
    """A measure from the photo: its field, its reading, whether the bike has this value already, whether its box is
    ticked at first, and why it cannot be taken over, if it cannot."""

    field: FieldSpec
    reading: Reading
    now: Reading
    wanted: bool
    trouble: Message | None

    @property
    def taken(self) -> bool:
        """Whether the bike's measure is this one."""
        return self.now == self.reading


def take_photo_in(
    database: Database, job_id: int, saw: int | None, file: PhotoFile, now: str, *, with_ruler: bool = False
) -> None:
    """Stores a photo for the job.

    Parameters: with_ruler, whether its scale is a ruler even if the rings are known.
    Raises: NotThere, NotOpen.
    """
    replaced = job_there(database, job_id).observed.photo is not None

    def with_new(base: JobState) -> JobState:
        """Stored in the same transaction as the note that names it; a photo that no job names would never be found
        again."""
        photo_id = add_photo(database.connection, job_id, file.image, (file.width, file.height), now)
        scale = A_RULER if with_ruler else scale_to_begin_with(base.document.get("rings"))
        return _with_photo(base, with_scale(PhotoNotes(photo_id), scale, LengthUnit.MM))

    message = Message("photo_replaced" if replaced else "photo_taken_in")
    edit_job(database, job_id, saw, with_new, now, lambda _: message)


def set_mark(database: Database, job_id: int, saw: int | None, mark: Mark, place: Point, now: str) -> None:
    """Sets a mark in the job's photo, px; a place outside the photo is moved to its edge.

    Raises: Unfit if the job has no photo; NotThere, NotOpen.
    """
    row = photo_there(database, job_there(database, job_id)).row
    kept = (min(max(place[0], 0.0), row.width), min(max(place[1], 0.0), row.height))

    def with_new(base: JobState) -> JobState:
        return _with_photo(base, with_mark(base.observed.photo, mark, kept)) if base.observed.photo else base

    edit_job(database, job_id, saw, with_new, now, lambda _: Message("mark_set", mark=Term("mark", mark)))


def set_scale(
    database: Database, job_id: int, saw: int | None, form: Mapping[str, str], unit: LengthUnit, now: str
) -> None:
    """Stores the photo's scale and the gear it was taken in.

    Raises: InvalidInput, by field; Unfit if the job has no photo; NotThere, NotOpen.
    """
    job = job_there(database, job_id)
    ring_teeth, _ = photo_gear(job.document, photo_there(database, job).notes) or (RING_TEETH, 0)

    def with_new(base: JobState) -> JobState:
        notes = base.observed.photo
        return _with_photo(base, with_scale(notes, form, unit, ring_teeth)) if notes else base

    edit_job(database, job_id, saw, with_new, now, lambda _: Message("scale_told"))


def take_measures(database: Database, job_id: int, saw: int | None, fields: Collection[str], now: str) -> None:
    """Takes over the photo's measures for some fields, with their spread. Raises: Unfit where the job has no photo."""
    job = job_there(database, job_id)
    photo = photo_there(database, job)
    ticked = {
        one.field.path: one.reading
        for one in photo_measures(job.document, photo)
        if one.field.path in fields and one.trouble is None
    }

    def with_taken(base: JobState) -> JobState:
        return replace(base, document=with_readings(base.document, ticked)) if ticked else base

    edit_job(database, job_id, saw, with_taken, now, lambda changes: Message("from_photo", changes=changes))


def _with_photo(state: JobState, notes: PhotoNotes) -> JobState:
    return replace(state, observed=replace(state.observed, photo=notes))


def photo_of(database: Database, job: JobRow) -> JobPhoto | None:
    """The job's photo; None where it has none yet."""
    notes = job.observed.photo
    row = photo_by_id(database, job.id, notes.photo_id) if notes else None
    return JobPhoto(notes, row) if notes and row else None


def photo_there(database: Database, job: JobRow) -> JobPhoto:
    """The job's photo. Raises: Unfit where it has none yet."""
    photo = photo_of(database, job)
    if photo is None:
        raise Unfit("no_photo_yet")
    return photo


def photo_measures(document: Document, photo: JobPhoto) -> tuple[PhotoMeasure, ...]:
    """The measures that the marks give, ticked where the bike has no figure from a caliper; none if the marks
    contradict each other."""
    return read_photo_measures(document, photo)[0]


def read_photo_measures(document: Document, photo: JobPhoto) -> tuple[tuple[PhotoMeasure, ...], Fault | None]:
    """The measures of a photo, and the fault if its marks contradict each other."""
    readings = readings_of(document)
    guide = readings["take_up.guide_teeth"].value or int(limit("pulley"))
    gear, wheels = photo_gear(document, photo.notes), None
    if gear and isinstance(guide, int):
        wheels = Wheels(guide, gear[1], max(document["cogs"]))
    try:
        taken = taken_from(photo_in_px(photo), wheels)
    except InvalidInput as error:
        return (), error.faults[0]
    has_pivot = readings["suspension.type"].value == "pivot"
    read = {name: one for name, one in taken.items() if name != "pivot_mm" or has_pivot}
    return tuple(_measure(name, one, readings) for name, one in read.items()), None


def photo_in_px(photo: JobPhoto) -> Photo:
    """The photo as the core measures it."""
    return photo.notes.photo((photo.row.width, photo.row.height))


def photo_gears(document: Document) -> tuple[tuple[int, int], ...]:
    """Gears in which the photo may have been taken, largest first; none until rings and cogs are known."""
    rings, cogs = document.get("rings"), document.get("cogs")
    if not (_are_sizes(rings) and _are_sizes(cogs)):
        return ()
    return tuple((ring, cog) for ring in sorted(rings, reverse=True) for cog in sorted(cogs, reverse=True))


def photo_gear(document: Document, notes: PhotoNotes) -> tuple[int, int] | None:
    """The gear of the photo: the noted one, else big/big; None until rings and cogs are known."""
    gears = photo_gears(document)
    return notes.gear if notes.gear in gears else next(iter(gears), None)


def _measure(name: Read, taken: Taken, readings: Mapping[str, Reading]) -> PhotoMeasure:
    spec = form_fields(Bike)[MEASURES[{"pivot_mm": "pivot_x_mm"}.get(name, str(name))].path]
    spread = round(max(taken.spread, LEAST_SPREAD), 1)
    values = [round(value, 1) for value in taken.values]
    reading, now = Reading(values if len(values) > 1 else values[0], spread), readings[spec.path]
    trouble = _trouble(spec, reading, spread)
    wanted = trouble is None and now != reading and (now.value is None or now.spread is not None)
    return PhotoMeasure(spec, reading, now, wanted, trouble)


def _trouble(spec: FieldSpec, reading: Reading, spread: float) -> Message | None:
    """Why a measure from the photo cannot be taken over: it is out of bounds, or its spread is too wide."""
    low, high = spec.low or 0.0, spec.high or 0.0
    if spec.spread and spec.spread.key == GAP and not low <= reading.value <= high:
        return Message("gap_unlike")
    return Message("too_rough") if spec.spread is None or spread > spec.spread.most else None


def _are_sizes(sizes: object) -> TypeGuard[list[int]]:
    return isinstance(sizes, list) and bool(sizes) and all(isinstance(size, int) for size in sizes)
