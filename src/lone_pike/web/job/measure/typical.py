"""A typical bike of its kind, drawn in faint lines until the job's bike is measured; measured parts are drawn
firmly."""

from dataclasses import dataclass, replace
from functools import cache
from typing import Any

from lone_pike.core.messages import Term
from lone_pike.core.route.routing import drafted
from lone_pike.core.take_up.kinds import KINDS, TakeUpKind, kind_named
from lone_pike.drawing.scene.drafted import drafted_view
from lone_pike.drawing.scene.side_view import SideView, side_view
from lone_pike.drawing.scene.small_view import SmallView, small_view
from lone_pike.store.bikes import Document
from lone_pike.web.job.work import Work
from lone_pike.workshop.answers import answer_to
from lone_pike.workshop.idlers import routed_bike

NAMED = {"lone_pike": 1, "name": "typical"}


@dataclass(frozen=True)
class KindChoice:
    """One kind of take-up: its key, and a drawing of a typical bike."""

    key: str
    word: Term
    side: SmallView | None
    chosen: bool


def kinds_offered(chosen: str = "") -> tuple[KindChoice, ...]:
    """All kinds of take-up, each with a typical bike."""
    return tuple(KindChoice(kind, Term("take_up.type", kind), typical_small(kind), kind == chosen) for kind in KINDS)


def typical_side(work: Work) -> SideView | None:
    """The drawing of a typical bike with all that is measured of the job's bike, with letters; clashes are marked. None
    if it cannot be drawn."""
    kind = kind_named(work.form["take_up.type"])
    measured = {part: known for part, fields in kind.drawn if (known := _measured(work, fields))}
    document = _completed(kind, measured)
    answered = answer_to(document).answer
    lacking = tuple(part for part, _ in kind.drawn if part not in measured)
    if answered is None:
        bike = routed_bike(document, work.shop)
        return replace(drafted_view(bike, drafted(bike), lettered=True), lacking=lacking) if bike else None
    return side_view(answered.sizing, answered.gears[0], answered.links, lettered=True, lacking=lacking)


@cache
def typical_small(kind: str) -> SmallView | None:
    """A typical bike of its kind as a small drawing."""
    answered = answer_to(NAMED | dict(KINDS[kind].typical)).answer
    return small_view(answered.sizing, answered.gears[0], answered.links) if answered else None


def _measured(work: Work, fields: tuple[str, ...]) -> dict[str, Any]:
    """The fields of a part that the document has and that have no fault."""
    values = {field: _value_at(work.document, field) for field in fields}
    return {field: value for field, value in values.items() if value is not None and field not in work.faults}


def _value_at(document: Document, field: str) -> Any:
    part, _, key = field.partition(".")
    value = document.get(part)
    return value.get(key) if key and isinstance(value, dict) else None if key else value


def _completed(kind: TakeUpKind, measured: dict[str, dict[str, Any]]) -> Document:
    """The typical bike with its parts replaced by the measured ones."""
    bike, take_up = NAMED | dict(kind.typical), dict(kind.typical["take_up"])
    fields_of_part = dict(kind.drawn)
    for part, known in measured.items():
        for field in fields_of_part[part]:
            (take_up if "." in field else bike).pop(field.rpartition(".")[2], None)
        for field, value in known.items():
            (take_up if "." in field else bike)[field.rpartition(".")[2]] = value
    return {**bike, "take_up": take_up}
