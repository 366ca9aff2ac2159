"""The marks in a job's photo, stored with the other notes of the job."""

import re
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any

from lone_pike.core.bike.base import RING_SIZES
from lone_pike.core.bike.faults import invalid
from lone_pike.core.bike.photo import MARKS, Care, Mark, Photo, Point, ring_across_mm
from lone_pike.core.messages import LengthUnit, Message, Raw, Unit, mm, teeth
from lone_pike.formats.typed.parsing import parse_quantity

RULER_MM, RING_TEETH = 300.0, 32
SCALE_MM = (50.0, 2000.0)
"""The fewest and most teeth of a ring, as in the file."""

A_RULER = {"by": "ruler"}
GEAR_TYPED = re.compile(r"(\d{1,2}) (\d{1,2})")
ID, RING, RULER, GEAR, CARE = "id", "ring", "ruler_mm", "gear", "care"


@dataclass(frozen=True)
class PhotoNotes:
    """A job's photo: its id, its marks in px, its scale, the gear it was taken in if one was chosen, and the care
    taken."""

    photo_id: int
    marks: Mapping[Mark, Point] = field(default_factory=dict)
    ring_teeth: int | None = None
    ruler_mm: float = RULER_MM
    gear: tuple[int, int] | None = None
    care: frozenset[Care] = frozenset()

    @property
    def scale_mm(self) -> float:
        """Length of the scale: a ring from tip to tip, else the ruler."""
        return ring_across_mm(self.ring_teeth) if self.ring_teeth else self.ruler_mm

    def photo(self, size_px: tuple[int, int]) -> Photo:
        """The marks as the core measures them."""
        return Photo(size_px, self.marks, self.scale_mm, self.care)


def photo_parts(notes: PhotoNotes) -> dict[str, Any]:
    """The photo's notes one by one, as they are stored and merged."""
    marks: dict[str, Any] = {mark: list(place) for mark, place in notes.marks.items()}
    ring = {RING: notes.ring_teeth} if notes.ring_teeth else {}
    gear = {GEAR: list(notes.gear)} if notes.gear else {}
    care = {CARE: sorted(notes.care)} if notes.care else {}
    return {ID: notes.photo_id, RULER: notes.ruler_mm, **ring, **gear, **care, **marks}


def photo_recorded(record: Mapping[str, Any]) -> PhotoNotes | None:
    """Reads the photo's notes in a record of the data file; None if the job has no photo."""
    kept = record.get("photo")
    if isinstance(kept, str):
        kept = _of_older(kept, record)
    if not isinstance(kept, dict) or ID not in kept:
        return None
    return PhotoNotes(
        photo_id=kept[ID],
        marks={mark: (kept[mark][0], kept[mark][1]) for mark in MARKS if mark in kept},
        ring_teeth=kept.get(RING),
        ruler_mm=kept.get(RULER, RULER_MM),
        gear=(kept[GEAR][0], kept[GEAR][1]) if GEAR in kept else None,
        care=frozenset(one for one in Care if one in kept.get(CARE, ())),
    )


def _of_older(photo_id: str, record: Mapping[str, Any]) -> dict[str, Any]:
    """Reads the notes of an older record, in which each of them was a text of its own."""
    texts = {name.removeprefix("photo."): text.split() for name, text in record.items() if name.startswith("photo.")}
    marks: dict[str, Any] = {mark: [float(part) for part in texts[mark]] for mark in MARKS if mark in texts}
    gear = {GEAR: [int(part) for part in texts["gear"]]} if "gear" in texts else {}
    ring = {RING: int(texts["ring"][0])} if "ring" in texts else {}
    ruler = {RULER: float(texts["ruler"][0])} if "ruler" in texts else {}
    return {ID: int(photo_id), **marks, **gear, **ring, **ruler}


def with_mark(notes: PhotoNotes, mark: Mark, place: Point) -> PhotoNotes:
    """The notes with one mark set, to a tenth of a px."""
    x, y = (round(part, 1) for part in place)
    return replace(notes, marks={**notes.marks, mark: (x, y)})


def scale_to_begin_with(rings: Any) -> dict[str, str]:
    """The default scale: the largest ring if the rings are known, else a ruler."""
    known = isinstance(rings, list) and rings and all(isinstance(size, int) for size in rings)
    if known and RING_SIZES[0] <= min(rings) and max(rings) <= RING_SIZES[1]:
        return {"by": "ring", "ring": str(max(rings))}
    return A_RULER


def with_scale(
    notes: PhotoNotes, form: Mapping[str, str], typed_in: LengthUnit, ring_teeth: int = RING_TEETH
) -> PhotoNotes:
    """Reads the scale, the gear and the care taken from a form.

    Parameters: ring_teeth, the teeth of the ring if the form does not say.
    Raises: InvalidInput, naming the field.
    """
    if form.get("by") == "ring":
        size = parse_quantity(form.get("ring", str(ring_teeth)), Unit.TEETH).value
        if not isinstance(size, int) or not RING_SIZES[0] <= size <= RING_SIZES[1]:
            low, high = map(teeth, RING_SIZES)
            raise invalid("ring", Raw(form.get("ring", "")), Message("between", low=low, high=high))
        notes = replace(notes, ring_teeth=size)
    elif form.get("by") == "ruler":
        length = parse_quantity(form.get("ruler", f"{RULER_MM} mm"), Unit.MM, typed_in).value
        if not isinstance(length, float) or not SCALE_MM[0] <= length <= SCALE_MM[1]:
            shortest, longest = map(mm, SCALE_MM)
            raise invalid("ruler", Raw(form.get("ruler", "")), Message("between", low=shortest, high=longest))
        notes = replace(notes, ring_teeth=None, ruler_mm=float(f"{length:g}"))
    if form.get(CARE):
        notes = replace(notes, care=frozenset(one for one in Care if form.get(f"{CARE}.{one}")))
    gear = GEAR_TYPED.fullmatch(form.get("gear", ""))
    return replace(notes, gear=(int(gear[1]), int(gear[2]))) if gear else notes
