"""What was marked in a job's photo, kept with what else was observed at the stand."""

import re
from dataclasses import dataclass
from typing import Any

from lone_pike.core.bike.faults import invalid, shown
from lone_pike.core.bike.photo import MARKS, Mark, Photo, Point, ring_across_mm
from lone_pike.formats.observed import Observed
from lone_pike.formats.parsing import parse_length, parse_whole
from lone_pike.formats.words import LengthUnit

ID, MARK, RING, RULER, GEAR = "photo", "photo.", "photo.ring", "photo.ruler", "photo.gear"
RULER_MM, RING_TEETH = 300.0, 32
SCALE_MM = (50.0, 2000.0)
TEETH = (16, 70)
A_RULER = {"by": "ruler"}

WORDS: dict[Mark, str] = {
    "crank": "crank centre",
    "axle": "axle",
    "guide": "guide pulley",
    "tension": "tension pulley",
    "pivot": "pivot",
    "scale_from": "scale from",
    "scale_to": "scale to",
}
PRESSED: dict[Mark, str] = {mark: f"the {word}" for mark, word in WORDS.items()} | {
    "scale_from": "one end of the scale",
    "scale_to": "its other end",
}
"""The same as what is to be pressed."""

PLACE = re.compile(r"(\d{1,4}(?:\.\d)?) (\d{1,4}(?:\.\d)?)")


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

    def photo(self, width_px: int) -> Photo:
        """The marks as the core measures them."""
        return Photo(width_px, self.marks, self.scale_mm)


def notes_of(observed: Observed) -> PhotoNotes | None:
    """The photo's notes; None where the job has none."""
    photo_id = observed.get(ID, "")
    if not photo_id.isdecimal():
        return None
    ring = observed.get(RING, "")
    places = {mark: PLACE.fullmatch(observed.get(MARK + mark, "")) for mark in MARKS}
    gear = re.fullmatch(r"(\d{1,2}) (\d{1,2})", observed.get(GEAR, ""))
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
    """The biggest ring where the rings are known, else a ruler."""
    known = isinstance(rings, list) and rings and all(isinstance(teeth, int) for teeth in rings)
    if known and TEETH[0] <= min(rings) and max(rings) <= TEETH[1]:
        return {"by": "ring", "ring": str(max(rings))}
    return A_RULER


def with_scale(observed: Observed, form: dict[str, str], unit: LengthUnit, ring_teeth: int = RING_TEETH) -> Observed:
    """The scale and the gear as a form tells them.

    Parameters: ring_teeth, what a ring has where the form does not say. Raises: InvalidInput, naming the field.
    """
    found = dict(observed)
    if form.get("by") == "ring":
        teeth = parse_whole(form.get("ring", str(ring_teeth))).value
        if not isinstance(teeth, int) or not TEETH[0] <= teeth <= TEETH[1]:
            raise invalid("ring", shown(form.get("ring", "")), f"{TEETH[0]} to {TEETH[1]} teeth")
        found[RING] = str(teeth)
    elif form.get("by") == "ruler":
        length = parse_length(form.get("ruler", f"{RULER_MM} mm"), unit).value
        if not isinstance(length, float) or not SCALE_MM[0] <= length <= SCALE_MM[1]:
            raise invalid("ruler", shown(form.get("ruler", "")), f"{SCALE_MM[0]:.0f} to {SCALE_MM[1]:.0f} mm")
        found.pop(RING, None)
        found[RULER] = f"{length:g}"
    if re.fullmatch(r"\d{1,2} \d{1,2}", form.get("gear", "")):
        found[GEAR] = form["gear"]
    return found
