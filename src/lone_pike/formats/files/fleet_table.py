"""A fleet as a table: one row for each bike, with columns named like the keys of the bike file; and the answer to each
row."""

import json
import re
from collections import Counter
from collections.abc import Callable, Iterable, Mapping
from functools import lru_cache
from typing import Any

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import Fault, InvalidInput, invalid
from lone_pike.core.bike.fields import ROWS, FieldSpec, Kind, fields_of
from lone_pike.core.count.answer import Answer, answer
from lone_pike.core.count.schools import SCHOOLS
from lone_pike.core.messages import Message, Raw
from lone_pike.formats.files.bike_file import bike_from_document

OWN, VERSION = "id", "lone_pike"
"""The column that belongs to the user and is copied to the answer; and the file's version, 1 if it is left out."""

ANSWERED = (
    *("row", OWN, "name", "links", "pairs", "min_links", "max_links", "decided_by", "bare_wrap_links", "speeds"),
    *("joiner", "warnings", "faults"),
    *(f"{school}_links" for school in SCHOOLS),
)
"""Columns of the answers. warnings holds codes; faults says what is wrong with a row that has no answer; then the count
of each method that applies."""

HOW_SURE = ("chainstay_min_mm", "chainstay_max_mm")
"""Columns for the range of chainstays in which a count holds. They take more than half of the work, so they are made
only on request."""

BEYOND, LONGEST_SHOWN = "", 60
"""The name for the cells of a row that has more cells than there are columns, and how many of their letters are
shown."""

YES, NO = frozenset({"true", "yes", "1"}), frozenset({"false", "no", "0"})
BETWEEN = re.compile(r"[\s;,]+")
WHOLE = re.compile(r"[+-]?\d{1,15}")


@lru_cache(maxsize=1)
def columns() -> dict[str, FieldSpec]:
    """The columns that a row may have, by name: the keys of the bike file, those of a part after a dot."""
    return {path: spec for path, spec in fields_of(Bike).items() if spec.kind is not Kind.PART}


def check_header(header: Iterable[str]) -> None:
    """Checks the heading of a table. Raises: InvalidInput if there are no columns, one of them is not a key of the bike
    file, or one occurs twice."""
    names = list(header)
    if not names:
        raise invalid("columns", Raw(""), Message("fleet_columns"), Message("see_columns"))
    for name in names:
        if name not in (OWN, VERSION) and name not in columns():
            raise invalid("columns", Raw(name), Message("fleet_columns"), Message("see_columns"))
        if names.count(name) > 1:
            raise invalid("columns", Raw(name), Message("column_once"))


def document_of_row(row: Mapping[str, str]) -> dict[str, Any]:
    """The document of a row. A cell that cannot be read keeps its text, and the model says what is wrong with it.

    >>> document_of_row({"name": "Reed", "rings": "34 50", "chainstay_mm": "430,5", "about.chainstay_mm": ""})
    {'lone_pike': 1, 'name': 'Reed', 'rings': [34, 50], 'chainstay_mm': 430.5}
    """
    document: dict[str, Any] = {VERSION: 1}
    for name, text in row.items():
        if not text.strip() or name == OWN:
            continue
        if name == VERSION:
            document[name] = _number(text.strip())
            continue
        *parts, key = name.split(".")
        inner = document
        for part in parts:
            inner = inner.setdefault(part, {})
        inner[key] = _value(columns()[name].kind, text.strip())
    return document


def _value(kind: Kind, text: str) -> Any:
    """The value of a cell."""
    if kind in ROWS or text[0] in "[{":
        try:
            return json.loads(text)
        except ValueError:
            return text
    return READ.get(kind, _number)(text)


def _number(text: str) -> Any:
    """A whole number, a number with a point or a comma, or else the text."""
    if WHOLE.fullmatch(text):
        return int(text)
    try:
        return float(text.replace(",", "."))
    except ValueError:
        return text


def _numbers(text: str) -> list[Any]:
    return [_number(one) for one in BETWEEN.split(text) if one]


def _flag(text: str) -> Any:
    return True if text.lower() in YES else False if text.lower() in NO else text


READ: dict[Kind, Callable[[str], Any]] = {
    Kind.TEXT: str,
    Kind.CHOICE: str,
    Kind.CHOICES: BETWEEN.split,
    Kind.FLAG: _flag,
    Kind.TEETH_LIST: _numbers,
    Kind.COG_LIST: _numbers,
    Kind.PLACE: _numbers,
}
"""How a cell of each kind of field is read; any other kind is read as a number."""


def answer_columns(*, sure: bool) -> tuple[str, ...]:
    """The columns of the answers."""
    return (*ANSWERED, *(HOW_SURE if sure else ()))


def answer_row(
    number: int, row: Mapping[str, str], fault_line: Callable[[Fault], str], *, sure: bool = False
) -> tuple[str, ...]:
    """The answer to a row, or its faults, as texts without line breaks, in the order of the columns."""
    cells = {"row": str(number), OWN: row.get(OWN, ""), "name": row.get("name", "")}
    try:
        if BEYOND in row:
            raise invalid("columns", Raw(row[BEYOND][:LONGEST_SHOWN]), Message("cells_as_columns"))
        answered = answer(bike_from_document(document_of_row(row)))
        cells |= _answered(answered) | (_how_sure(answered) if sure else {})
    except InvalidInput as error:
        cells["faults"] = " | ".join(map(fault_line, error.faults))
    return tuple(" ".join(cells.get(name, "").split()) for name in answer_columns(sure=sure))


def _answered(answer: Answer) -> dict[str, str]:
    """The values of the answer columns for a bike."""
    window = answer.window
    values: dict[str, object] = {
        "links": answer.links,
        "pairs": f"{answer.links / 2:g}",
        "min_links": window.min if window else None,
        "max_links": window.max if window else None,
        "decided_by": answer.decided_by,
        "bare_wrap_links": f"{answer.bare_wrap.worst:.2f}",
        "speeds": answer.bike.speeds,
        "joiner": answer.bike.joiner,
        "warnings": " ".join(notice.kind for notice in answer.notices),
        **{f"{vote.school}_links": vote.links for vote in answer.votes},
    }
    return {name: "" if value is None else str(value) for name, value in values.items()}


def _how_sure(answer: Answer) -> dict[str, str]:
    """The range of chainstays in which its count holds, mm; empty if no chainstay was measured."""
    held = answer.valid_ranges.get("chainstay_mm")
    ends = (held.least, held.most) if held else (None, None)
    return {name: "" if end is None else f"{end:.1f}" for name, end in zip(HOW_SURE, ends, strict=True)}


def orders(answers: Iterable[Mapping[str, str]]) -> list[tuple[str, str, str, int]]:
    """What to order for a whole fleet: number of cogs, joiner, links, and how many bikes need such a chain."""
    counts = Counter((one["speeds"], one["joiner"], one["links"]) for one in answers if one["links"])
    return sorted(((*key, many) for key, many in counts.items()), key=lambda one: (int(one[0]), one[1], int(one[2])))


ORDERED = ("speeds", "joiner", "links", "bikes")
"""The columns of the order."""
