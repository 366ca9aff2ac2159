"""A typical bike of its kind, drawn in faint line while a job's own is not all measured; it firms up part by part."""

from functools import cache
from typing import Any

from lone_pike.core.take_up.kinds import KINDS, TakeUpKind, kind_named
from lone_pike.drawing.scene.side_view import SideView, side_view
from lone_pike.drawing.scene.small_view import SmallView, small_view
from lone_pike.store.bikes import Document
from lone_pike.web.views.job.work import Work
from lone_pike.workshop.answers import answer_to

NAMED = {"lone_pike": 1, "name": "typical"}


def typical_side(work: Work) -> SideView | None:
    """The drawing of a typical bike with all that is measured of the job's own, lettered; None where the two clash."""
    kind = kind_named(work.form["take_up.type"])
    measured = {part: known for part, fields in kind.drawn if (known := _measured(work, fields))}
    answered = answer_to(_completed(kind, measured)).answer
    if answered is None:
        return None
    lacking = tuple(part for part, _ in kind.drawn if part not in measured)
    return side_view(answered.sizing, answered.gears[0], answered.links, lettered=True, lacking=lacking)


@cache
def typical_small(kind: str) -> SmallView | None:
    """A typical bike of its kind as a small drawing."""
    answered = answer_to(NAMED | dict(KINDS[kind].typical)).answer
    return small_view(answered.sizing, answered.gears[0], answered.links) if answered else None


def _measured(work: Work, fields: tuple[str, ...]) -> dict[str, Any]:
    """Those of a part's fields that the document has, and that are not wrong."""
    values = {field: _value_at(work.document, field) for field in fields}
    return {field: value for field, value in values.items() if value is not None and field not in work.faults}


def _value_at(document: Document, field: str) -> Any:
    part, _, key = field.partition(".")
    value = document.get(part)
    return value.get(key) if key and isinstance(value, dict) else None if key else value


def _completed(kind: TakeUpKind, measured: dict[str, dict[str, Any]]) -> Document:
    """The typical bike with the measured parts in place of its own."""
    bike, take_up = NAMED | dict(kind.typical), dict(kind.typical["take_up"])
    fields_of_part = dict(kind.drawn)
    for part, known in measured.items():
        for field in fields_of_part[part]:
            (take_up if "." in field else bike).pop(field.rpartition(".")[2], None)
        for field, value in known.items():
            (take_up if "." in field else bike)[field.rpartition(".")[2]] = value
    return {**bike, "take_up": take_up}
