"""The Measure form: typed fields to the bike's document and back.

The document keeps what cannot be read as the text it was, so one check, the model's, finds every fault.
"""

import re
from collections.abc import Callable, Mapping
from dataclasses import replace
from functools import partial
from math import hypot, sqrt
from typing import Any

from lone_pike.core.bike.faults import Fault
from lone_pike.formats.parsing import (
    Parsed,
    parse_cogs,
    parse_idlers,
    parse_length,
    parse_number,
    parse_place,
    parse_rows,
    parse_spread,
    parse_teeth,
    parse_whole,
)
from lone_pike.formats.words import LengthUnit, Words

Document = dict[str, Any]
Form = dict[str, str]

CHOICES = "old_chain.changed"
NUMBERS_ALONE = re.compile(r"\[?([+-]?\d+(?:\.\d+)?(?:, [+-]?\d+(?:\.\d+)?)*)\]?")

READERS: dict[str, Callable[[str], Parsed]] = {
    "name": lambda text: Parsed(text.strip() or None),
    "rings": parse_teeth,
    "cogs": lambda text: parse_cogs(text, None),
    "take_up.class": lambda text: Parsed(text or None),
    "take_up.guide_teeth": parse_whole,
    "take_up.tension_teeth": parse_whole,
    "take_up.lean_deg": parse_number,
    "take_up.max_cog": parse_whole,
    "take_up.capacity": parse_whole,
    "suspension.type": lambda text: Parsed(text or None),
    "sheet_links": parse_whole,
    "house_rule": lambda text: Parsed(text or None),
    "chain.speeds": parse_whole,
    "chain.box_links": parse_whole,
    "chain.box_ends": lambda text: Parsed(text or None),
    "chain.joiner": lambda text: Parsed(text or None),
    "old_chain.links": parse_whole,
    "old_chain.biggest_cog": parse_whole,
    "old_chain.biggest_ring": parse_whole,
}
LENGTH_READERS: dict[str, Callable[[str, LengthUnit], Parsed]] = {
    "chainstay_mm": parse_length,
    "axle_height_mm": parse_length,
    "take_up.cage_mm": parse_length,
    "take_up.b_gap_mm": parse_length,
    "suspension.travel_mm": parse_length,
    "suspension.pivot_mm": parse_place,
    "suspension.growth_mm": parse_length,
    "suspension.points": parse_rows,
    "idlers": parse_idlers,
}
"""Fields that hold lengths, typed in the shop's unit."""

ROWS = ("suspension.points", "idlers")
"""Fields of several rows, told of as a whole."""

FLAGS: dict[str, bool] = {
    "chain.box_includes_joiner": False,
    "chain.offset_link": False,
    "take_up.extended": False,
    "old_chain.was_right": True,
}
"""Ticked boxes, with what valid_ranges where the document says nothing."""

UNSAID: dict[str, Any] = {"chain.joiner": "quick_link", **FLAGS}
"""What the form shows where the document says nothing."""

LABELS = {
    "name": "Name",
    "rings": "Rings",
    "cogs": "Cogs",
    "chainstay_mm": "Chainstay",
    "axle_mm": "Axle",
    "axle_height_mm": "Axle height",
    "about": "Spread",
    "take_up.class": "Cage class",
    "take_up.cage_mm": "Cage",
    "take_up.b_gap_mm": "Gap",
    "take_up.guide_teeth": "Guide teeth",
    "take_up.tension_teeth": "Tension teeth",
    "take_up.lean_deg": "Lean",
    "take_up.max_cog": "Rated largest cog",
    "take_up.capacity": "Rated capacity",
    "suspension.type": "Suspension",
    "suspension.travel_mm": "Travel",
    "suspension.pivot_mm": "Pivot",
    "suspension.growth_mm": "Growth",
    "suspension.points": "Travel and chainstay",
    "suspension": "Suspension",
    "idlers": "Idlers",
    "sheet_links": "Maker's sheet",
    "house_rule": "House rule",
    "take_up.extended": "Extender",
    "chain.speeds": "Number of cogs",
    "chain.box_links": "Box",
    "chain.box_includes_joiner": "Joiner counted in",
    "chain.box_ends": "Box ends",
    "chain.joiner": "Joiner",
    "chain.offset_link": "Offset link",
    "old_chain.links": "Old chain",
    "old_chain.biggest_cog": "Old largest cog",
    "old_chain.biggest_ring": "Old biggest ring",
    "old_chain.was_right": "Old chain was right",
    "old_chain.changed": "Changed parts",
}
FIELDS = (*READERS, *LENGTH_READERS, *FLAGS, CHOICES)
SPREADS = {
    "chainstay_mm": ("chainstay_mm", 5.0),
    "take_up.cage_mm": ("cage_mm", 4.0),
    "take_up.b_gap_mm": ("b_gap_mm", 2.0),
    "axle_height_mm": ("axle_height_mm", 5.0),
    "take_up.lean_deg": ("lean_deg", 5.0),
    "suspension.travel_mm": ("travel_mm", 5.0),
    "suspension.growth_mm": ("growth_mm", 3.0),
    "suspension.pivot_mm": ("pivot_mm", 5.0),
}
"""Fields that may carry a spread, "432 ± 3": its key, and what plain "about" stands for, in the key's unit."""
AXLE_FIELDS = ("chainstay_mm", "axle_height_mm")
SUSPENSION_KEYS = {"pivot": {"pivot_mm", "travel_mm"}, "table": {"points"}, "growth": {"growth_mm", "travel_mm"}}
"""What each kind of suspension valid_ranges; changing the kind takes the rest out."""


def form_of(document: Document, unit: LengthUnit = "mm") -> Form:
    """The document's fields as they stand in the form, lengths in the shop's unit.

    An axle's place stands there as its distance and its height.
    """
    found = {field: _as_text(_value_at(document, field)) for field in (*READERS, *FLAGS, CHOICES)}
    lengths = {field: _value_at(document, field) for field in LENGTH_READERS}
    axle = _axle(document)
    if axle:
        lengths |= {"chainstay_mm": round(hypot(*axle), 1), "axle_height_mm": axle[1]}
    found |= {field: _length_text(value, Words(unit=unit)) for field, value in lengths.items()}
    for field, (key, _) in SPREADS.items():
        spread = _value_at(document, f"about.{key}")
        if spread and found[field]:
            words = Words(unit=unit if field in LENGTH_READERS else "mm")
            found[field] = f"{found[field]} ± {_length_text(spread, words)}"
    return found


def _axle(document: Document) -> tuple[float, float] | None:
    """The axle's place, where the document has one that can be read."""
    place = document.get("axle_mm")
    readable = isinstance(place, list) and len(place) == 2 and all(isinstance(part, int | float) for part in place)
    return (float(place[0]), float(place[1])) if readable and place else None


def _with_axle(document: Document, changed: Mapping[str, Any]) -> Document:
    """Distance and height as the document has them: a place where there is a height, else the distance alone."""
    axle = _axle(document)
    chainstay = changed.get("chainstay_mm", hypot(*axle) if axle else document.get("chainstay_mm"))
    height = changed.get("axle_height_mm", axle[1] if axle else None)
    rest = _without(_without(document, "axle_mm"), "chainstay_mm")
    if height and isinstance(chainstay, int | float) and isinstance(height, int | float) and abs(height) < chainstay:
        return rest | {"axle_mm": [-round(sqrt(chainstay**2 - height**2), 2), height]}
    return rest if chainstay is None else rest | {"chainstay_mm": chainstay}


def apply_form(document: Document, form: Mapping[str, str], unit: LengthUnit = "mm") -> tuple[Document, list[str]]:
    """The document with the form's fields in it, and what was done to them on the way.

    Fields that are not in the form stay as they are; an emptied field is taken out. Bare lengths are in unit.
    """
    found, said, axle = dict(document), [], {}
    shown = form_of(document, unit)
    for field, text in form.items():
        if field not in FIELDS or text == shown[field]:
            continue
        if field in SPREADS:
            key, usual = SPREADS[field]
            text, spread = parse_spread(text, usual, _spread_reader(field, unit))
            found = _with_value(found, f"about.{key}", spread.value if spread else None)
        typed = _typed(field, text, form, unit)
        if field in AXLE_FIELDS:
            axle[field] = typed.value
        else:
            found = _with_value(found, field, typed.value)
        if typed.said:
            said.append(f"{LABELS[field]}: {typed.said}")
    if axle:
        found = _with_axle(found, axle)
    suspension = found.get("suspension")
    if suspension:
        held = SUSPENSION_KEYS.get(suspension.get("type", ""), set())
        kept = {key: value for key, value in suspension.items() if key == "type" or key in held}
        found = {**found, "suspension": kept} if "type" in suspension else _without(found, "suspension")
    if "links" not in found.get("old_chain", {"links": 0}):
        found.pop("old_chain")
    return found, said


def changes(before: Document, after: Document) -> dict[str, tuple[str, str]]:
    """Fields that differ, with what they were and are."""
    old, new = form_of(before), form_of(after)
    return {field: (old[field], new[field]) for field in FIELDS if old[field] != new[field]}


def in_words(changed: Mapping[str, tuple[str, str]]) -> str:
    """A change in words.

    >>> in_words({"chainstay_mm": ("432", "435"), "rings": ("30", "")})
    'Chainstay 432 → 435 mm, Rings 30 → –'
    """
    return ", ".join(
        _rows_in_words(field, old, new)
        if field in ROWS
        else f"{LABELS[field]} {old or '–'} → {new or '–'}{' mm' if field in LENGTH_READERS and new else ''}"
        for field, (old, new) in changed.items()
    )


def _rows_in_words(field: str, old: str, new: str) -> str:
    before, after = old.splitlines(), new.splitlines()
    return f"{LABELS[field]} {len(before)} → {len(after)} rows, {sum(row not in before for row in after)} new"


def faults_by_field(faults: tuple[Fault, ...]) -> dict[str, Fault]:
    """The first fault of each form field, lengths with their unit; what belongs to none stands under ''."""
    found: dict[str, Fault] = {}
    for fault in faults:
        length = NUMBERS_ALONE.fullmatch(fault.read) if fault.field.endswith("_mm") else None
        fault = replace(fault, read=f"{length[1]} mm") if length else fault
        fields = sorted((one for one in LABELS if f"{fault.field}.".startswith(f"{one}.")), key=len, reverse=True)
        found.setdefault(fields[0] if fields else "", fault)
    if "suspension" in found:
        found.setdefault("suspension.type", found.pop("suspension"))
    if "about" in found:
        fault = found.pop("about")
        fields = [field for field, (key, _) in SPREADS.items() if fault.field.endswith(key)]
        found.setdefault(fields[0] if fields else "", fault)
    if "axle_mm" in found:
        found.setdefault("chainstay_mm", found.pop("axle_mm"))
    return found


def _without(document: Document, key: str) -> Document:
    return {name: value for name, value in document.items() if name != key}


def _spread_reader(field: str, unit: LengthUnit) -> Callable[[str], Parsed]:
    """How the spread of a field is read: as a length, or for an angle as a number."""
    return partial(parse_length, shop_unit=unit) if field in LENGTH_READERS else parse_number


def _typed(field: str, text: str, form: Mapping[str, str], unit: LengthUnit) -> Parsed:
    if field in LENGTH_READERS:
        return LENGTH_READERS[field](text, unit)
    if field in FLAGS:
        return Parsed(text == "yes")
    if field == CHOICES:
        return Parsed([part for part in text.split(", ") if part])
    if field == "cogs":
        count = parse_whole(form.get("chain.speeds", "")).value
        return parse_cogs(text, count if isinstance(count, int) else None)
    return READERS[field](text)


def _value_at(document: Document, field: str) -> Any:
    value: Any = document
    for part in field.split("."):
        value = value.get(part) if isinstance(value, dict) else None
    return UNSAID.get(field) if value is None else value


def _with_value(document: Document, field: str, value: Any) -> Document:
    head, _, rest = field.partition(".")
    changed = dict(document)
    new = _with_value(changed.get(head) or {}, rest, value) if rest else value
    if new is None or new == {}:
        changed.pop(head, None)
    else:
        changed[head] = new
    return changed


def _as_text(value: Any) -> str:
    if value is None:
        return ""
    if isinstance(value, bool):
        return "yes" if value else ""
    if isinstance(value, list):
        return (" " if all(isinstance(part, int) for part in value) else ", ").join(_as_text(part) for part in value)
    return f"{value:g}" if isinstance(value, float) else str(value)


def _length_text(value: Any, words: Words) -> str:
    """A length, a pair of them, or rows of lengths or idlers; what is no length stands there as it was typed."""
    if isinstance(value, bool) or value is None:
        return _as_text(value)
    if isinstance(value, int | float):
        return words.number(value)
    if isinstance(value, dict):
        place = " ".join(_length_text(part, words) for part in value.get("at_mm", []))
        return f"{value.get('run')} {value.get('chain')} {value.get('teeth')} {place}"
    if isinstance(value, list) and any(isinstance(part, list | dict) for part in value):
        return "\n".join(_length_text(part, words).replace(", ", " ") for part in value)
    if isinstance(value, list):
        return ", ".join(_length_text(part, words) for part in value)
    return str(value)
