"""What was marked in a job's photo, kept with what else was observed at the stand."""

import re
from dataclasses import dataclass
from typing import Any

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import invalid
from lone_pike.core.bike.fields import fields_of
from lone_pike.core.bike.photo import MARKS, Mark, Photo, Point, ring_across_mm
from lone_pike.core.messages import LengthUnit, Message, Raw, Unit, mm, teeth
from lone_pike.formats.records.observed import Observed
from lone_pike.formats.typed.parsing import parse_quantity

ID, MARK, RING, RULER, GEAR = "photo", "photo.", "photo.ring", "photo.ruler", "photo.gear"
RULER_MM, RING_TEETH = 300.0, 32
SCALE_MM = (50.0, 2000.0)
RING_SIZES = (int(fields_of(Bike)["rings"].low or 0), int(fields_of(Bike)["rings"].high or 0))
"""Teeth that a ring may have, as the file has them."""

A_RULER = {"by": "ruler"}
PLACE = re.compile(r"(\d{1,4}(?:\.\d)?) (\d{1,4}(?:\.\d)?)")
GEAR_TOLD = re.compile(r"(\d{1,2}) (\d{1,2})")


@dataclass(frozen=True)
class PhotoNotes:
    """A job's photo: its id, its marks in px, the scale as told, and the gear it was taken in where that is told."""

    photo_id: int
    marks: dict[Mark, Point]
    ring_teeth: int | None
    ruler_mm: float
    gear: tuple[int, int] | None

    @property
    def scale_mm(self) -> float:
        """Length of the scale: a ring across its tips, else the ruler."""
        return ring_across_mm(self.ring_teeth) if self.ring_teeth else self.ruler_mm

    def photo(self, size_px: tuple[int, int]) -> Photo:
        """The marks as the core measures them."""
        return Photo(size_px, self.marks, self.scale_mm)


def notes_of(observed: Observed) -> PhotoNotes | None:
    """The photo's notes; None where the job has none."""
    photo_id = observed.get(ID, "")
    if not photo_id.isdecimal():
        return None
    ring = observed.get(RING, "")
    places = {mark: PLACE.fullmatch(observed.get(MARK + mark, "")) for mark in MARKS}
    gear = GEAR_TOLD.fullmatch(observed.get(GEAR, ""))
    return PhotoNotes(
        photo_id=int(photo_id),
        marks={mark: (float(place[1]), float(place[2])) for mark, place in places.items() if place},
        ring_teeth=int(ring) if ring.isdecimal() else None,
        ruler_mm=float(observed.get(RULER, RULER_MM)),
        gear=(int(gear[1]), int(gear[2])) if gear else None,
    )


def with_photo(observed: Observed, photo_id: int) -> Observed:
    """Another photo: what was marked in the one before goes with it."""
    return {name: text for name, text in observed.items() if not name.startswith(ID)} | {ID: str(photo_id)}


def with_mark(observed: Observed, mark: Mark, place: Point) -> Observed:
    """One mark set anew."""
    return observed | {MARK + mark: f"{place[0]:.1f} {place[1]:.1f}"}


def scale_to_begin_with(rings: Any) -> dict[str, str]:
    """The largest ring where the rings are known, else a ruler."""
    known = isinstance(rings, list) and rings and all(isinstance(size, int) for size in rings)
    if known and RING_SIZES[0] <= min(rings) and max(rings) <= RING_SIZES[1]:
        return {"by": "ring", "ring": str(max(rings))}
    return A_RULER


def with_scale(
    observed: Observed, form: dict[str, str], typed_in: LengthUnit, ring_teeth: int = RING_TEETH
) -> Observed:
    """The scale and the gear as a form tells them.

    Parameters: ring_teeth, what a ring has where the form does not say. Raises: InvalidInput, naming the field.
    """
    notes = dict(observed)
    if form.get("by") == "ring":
        size = parse_quantity(form.get("ring", str(ring_teeth)), Unit.TEETH).value
        if not isinstance(size, int) or not RING_SIZES[0] <= size <= RING_SIZES[1]:
            low, high = map(teeth, RING_SIZES)
            raise invalid("ring", Raw(form.get("ring", "")), Message("between", low=low, high=high))
        notes[RING] = str(size)
    elif form.get("by") == "ruler":
        length = parse_quantity(form.get("ruler", f"{RULER_MM} mm"), Unit.MM, typed_in).value
        if not isinstance(length, float) or not SCALE_MM[0] <= length <= SCALE_MM[1]:
            shortest, longest = map(mm, SCALE_MM)
            raise invalid("ruler", Raw(form.get("ruler", "")), Message("between", low=shortest, high=longest))
        notes.pop(RING, None)
        notes[RULER] = f"{length:g}"
    if GEAR_TOLD.fullmatch(form.get("gear", "")):
        notes[GEAR] = form["gear"]
    return notes
