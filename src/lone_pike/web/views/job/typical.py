"""A typical bike of its kind, drawn in faint line while a job's own is not all measured; it firms up part by part."""

from functools import cache
from typing import Any

from lone_pike.drawing.scene.side_view import SideView, side_view
from lone_pike.drawing.scene.small_view import SmallView, small_view
from lone_pike.store.bikes import Document
from lone_pike.web.views.job.work import Work
from lone_pike.workshop.answers import answer_to

TYPICAL_BIKE: Document = {
    "lone_pike": 1,
    "name": "typical",
    "rings": [32],
    "cogs": [11, 13, 15, 17, 20, 23, 26, 30, 34, 40, 46],
    "chainstay_mm": 435,
    "take_up": {"type": "derailleur", "class": "long", "b_gap_mm": 6},
}
SINGLE: Document = {"rings": [42], "cogs": [16], "chainstay_mm": 434.9}
TYPICAL: dict[str, Document] = {
    "derailleur": TYPICAL_BIKE,
    "slot": {**TYPICAL_BIKE, **SINGLE, "chainstay_mm": None, "take_up": {"type": "slot", "min_mm": 405, "max_mm": 425}},
    "eccentric": TYPICAL_BIKE | SINGLE | {"take_up": {"type": "eccentric", "radius_mm": 8}},
    "none": TYPICAL_BIKE | SINGLE | {"take_up": {"type": "none"}},
    "arm": TYPICAL_BIKE | SINGLE | {"take_up": {"type": "arm", "cage_mm": 56, "pivot_mm": [14, -68]}},
}
PARTS = {
    "rings": ("rings",),
    "cogs": ("cogs",),
    "chainstay": ("chainstay_mm", "axle_mm"),
    "cage": ("take_up.cage_mm", "take_up.class"),
    "gap": ("take_up.b_gap_mm",),
    "pivot": ("take_up.pivot_mm",),
    "slot": ("take_up.min_mm", "take_up.max_mm"),
    "eccentric": ("take_up.radius_mm",),
}
OF_KIND = {
    "derailleur": ("rings", "cogs", "chainstay", "cage", "gap"),
    "slot": ("rings", "cogs", "slot"),
    "eccentric": ("rings", "cogs", "chainstay", "eccentric"),
    "none": ("rings", "cogs", "chainstay"),
    "arm": ("rings", "cogs", "chainstay", "cage", "pivot"),
}
"""What is drawn firm once it is measured: any one of its fields tells it."""


def typical_side(work: Work) -> SideView | None:
    """The drawing of a typical bike with all that is measured of the job's own, lettered; None where the two clash."""
    kind = work.form["take_up.type"]
    kind = kind if kind in TYPICAL else "derailleur"
    told = {part: _told(work, PARTS[part]) for part in OF_KIND[kind]}
    measured = {part: fields for part, fields in told.items() if fields}
    answered = answer_to(_completed(TYPICAL[kind], measured)).answer
    if answered is None:
        return None
    lacking = tuple(part for part in OF_KIND[kind] if part not in measured)
    return side_view(answered.sizing, answered.gears[0], answered.links, lettered=True, lacking=lacking)


@cache
def typical_small(kind: str) -> SmallView | None:
    """A typical bike of its kind as a small drawing."""
    answered = answer_to(TYPICAL[kind]).answer
    return small_view(answered.sizing, answered.gears[0], answered.links) if answered else None


def _told(work: Work, fields: tuple[str, ...]) -> dict[str, Any]:
    """Those of a part's fields that the document has, and that are not wrong."""
    values = {field: _value_at(work.document, field) for field in fields}
    return {field: value for field, value in values.items() if value is not None and field not in work.faults}


def _value_at(document: Document, field: str) -> Any:
    part, _, key = field.partition(".")
    value = document.get(part)
    return value.get(key) if key and isinstance(value, dict) else None if key else value


def _completed(typical: Document, measured: dict[str, dict[str, Any]]) -> Document:
    """The typical bike with the measured parts in place of its own."""
    bike, take_up = dict(typical), dict(typical["take_up"])
    for part, fields in measured.items():
        for field in PARTS[part]:
            (take_up if "." in field else bike).pop(field.rpartition(".")[2], None)
        for field, value in fields.items():
            (take_up if "." in field else bike)[field.rpartition(".")[2]] = value
    return {**bike, "take_up": take_up}
