"""The Measure form: reads the bike's document field by field, and writes typed text back into it.

Readings are compared by value. Text that cannot be read stays in the document as it was typed, and the model reports
it.
"""

from collections.abc import Collection, Mapping
from dataclasses import dataclass
from functools import lru_cache
from math import hypot
from typing import Any

from pydantic import BaseModel

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.fields import ROWS, FieldSpec, Kind, fields_of, models_in, tag_of, term_of
from lone_pike.core.messages import LengthUnit, Message, Quantity, Raw, Term, Unit, Value, mm, number
from lone_pike.formats.typed.parsing import Reading, parse_cogs, parse_quantity
from lone_pike.formats.typed.readings import parse_reading
from lone_pike.formats.typed.writing import format_reading

Document = dict[str, Any]
Form = dict[str, str]
Readings = dict[str, Reading]
Changes = dict[str, tuple[Reading, Reading]]

NOT_TYPED = ("lone_pike", "axle_mm", "limits.", "seen.")
EMPTY = Reading()
AXLE_DECIMALS = 1
"""How finely the chainstay is shown if the axle was measured as a place, mm."""

BOX, PIECES = "chain.box_links", "chain.pieces"
SLOT_FROM, SLOT_TO = "take_up.min_mm", "take_up.max_mm"
LEANED_ON = (SLOT_FROM, PIECES)
"""Fields that are needed to read another one: the slot's front end to read its length, the pieces at hand to read a
second box."""

CHAINSTAY, HEIGHT, AXLE = "chainstay_mm", "axle_height_mm", "axle_mm"


@lru_cache(maxsize=8)
def form_fields(model: type[BaseModel] = Bike) -> dict[str, FieldSpec]:
    """The fields that are typed on a page: all of the file except its version, and places that are typed in another
    form."""
    fields = fields_of(model)
    rows = tuple(f"{path}." for path, spec in fields.items() if spec.kind in ROWS)
    return {
        path: spec
        for path, spec in fields.items()
        if spec.kind is not Kind.PART and not path.startswith((*NOT_TYPED, *rows))
    }


def readings_of(document: Document, model: type[BaseModel] = Bike, *, only: Collection[str] | None = None) -> Readings:
    """The values of all fields, or of some, with their spreads. An axle's place is read as chainstay and height."""
    fields = form_fields(model)
    read = {path: fields[path] for path in only if path in fields} if only is not None else fields
    return _with_axle(document, {path: _reading(document, spec) for path, spec in read.items()})


def _with_axle(document: Document, readings: Readings) -> Readings:
    """The readings, with chainstay and height computed from the axle's place if the document has that."""
    axle = _axle(document)
    if axle is None:
        return readings
    _, height_mm = axle
    polar = {CHAINSTAY: round(hypot(*axle), AXLE_DECIMALS), HEIGHT: height_mm}
    return readings | {path: Reading(value, readings[path].spread) for path, value in polar.items() if path in readings}


def reading_at(document: Document, path: str, model: type[BaseModel] = Bike) -> Reading:
    """One field's value."""
    return _with_axle(document, {path: _reading(document, form_fields(model)[path])})[path]


def _reading(document: Document, spec: FieldSpec) -> Reading:
    value = _value_at(document, spec.path)
    if value is None and spec.kind is Kind.FLAG:
        value = spec.default
    return Reading(value, _value_at(document, f"about.{spec.spread.key}") if spec.spread else None)


def with_readings(document: Document, changed: Mapping[str, Reading], model: type[BaseModel] = Bike) -> Document:
    """The document with some fields changed, and without keys that no longer belong to it."""
    edited = dict(document)
    axle = _axle(document)
    if axle and not {CHAINSTAY, HEIGHT}.isdisjoint(changed):
        edited = _without(edited, AXLE) | {CHAINSTAY: round(hypot(*axle), 3), HEIGHT: axle[1]}
    for path, reading in changed.items():
        spec = form_fields(model)[path]
        edited = _with_value(edited, path, reading.value)
        if spec.spread:
            edited = _with_value(edited, f"about.{spec.spread.key}", reading.spread)
    return _belonging(edited, model)


def _belonging(document: Document, model: type[BaseModel]) -> Document:
    """The document without empty parts, and without keys that belong to another kind of a part than its present one."""
    kept = dict(document)
    for name, keys_of_kind in _kinds_of_parts(model).items():
        part = kept.get(name)
        if not isinstance(part, dict):
            continue
        if "type" not in part:
            kept.pop(name)
        elif part["type"] in keys_of_kind:
            keys = keys_of_kind[part["type"]]
            kept[name] = {key: value for key, value in part.items() if key in keys}
    if "links" not in kept.get("old_chain", {"links": 0}):
        kept.pop("old_chain")
    return kept


@lru_cache(maxsize=8)
def _kinds_of_parts(model: type[BaseModel]) -> dict[str, dict[str, frozenset[str]]]:
    """The parts of a document that have kinds, with the keys of each kind."""
    parts = {}
    for name, info in model.model_fields.items():
        kinds = {tag: part for part in models_in(info.annotation) if (tag := tag_of(part))}
        if kinds:
            parts[info.alias or name] = {
                tag: frozenset(inner.alias or key for key, inner in part.model_fields.items())
                for tag, part in kinds.items()
            }
    return parts


LONGEST_TEXT, LONGEST_ROWS = 400, 40_000
"""The longest text of a field, and of one with rows: far longer than anything a mechanic types or pastes."""


@dataclass(frozen=True)
class ParsedForm:
    """What a form changed in the readings it was made from, and messages about how its texts were read."""

    changed: Readings
    messages: tuple[Message, ...]


def parse_form(
    readings: Readings, form: Mapping[str, str], typed_in: LengthUnit = LengthUnit.MM, model: type[BaseModel] = Bike
) -> ParsedForm:
    """The fields of a form whose values differ from the readings; lengths without a unit are in typed_in.

    Fields that are not in the form stay as they are. A text that is too long for its field is cut, with a message.
    """
    changed: Readings = {}
    form, messages = _cut_to_longest(_boxes_apart(readings, form), form_fields(model))
    fields = form_fields(model)
    for path in filter(form.__contains__, fields):
        spec = fields[path]
        shown = format_reading(spec, readings[path], typed_in)
        if form[path] == shown and not readings[path].is_unread:
            continue
        reading, messages_of_text = _typed_reading(spec, form, typed_in, readings, changed)
        # The page shows rounded values, so a text that reads the same as the shown one is no change.
        if reading != readings[path] and reading != parse_reading(spec, shown, typed_in)[0]:
            changed[path] = reading
            messages += [Message("field_read", field=term_of(path), told=one) for one in messages_of_text]
    return ParsedForm(changed, tuple(messages))


def _boxes_apart(readings: Readings, form: Mapping[str, str]) -> Mapping[str, str]:
    """The form with a second box, typed after the first one ("116 116"), as a piece at hand that begins with an inner
    link. If it is sent again, it is not added again."""
    first, *others = form.get(BOX, "").replace("+", " ").split()[:2] or [""]
    if not others or not (first.isdecimal() and others[0].isdecimal()):
        return form
    rows = form.get(PIECES, format_reading(form_fields()[PIECES], readings[PIECES], LengthUnit.MM)).strip().split("\n")
    second = f"{others[0]} inner"
    return {**form, BOX: first, PIECES: "\n".join(filter(None, rows if second in rows else [*rows, second]))}


def _typed_reading(
    spec: FieldSpec, form: Mapping[str, str], typed_in: LengthUnit, readings: Readings, changed: Readings
) -> tuple[Reading, list[Message]]:
    """Reads a field's typed text as a value, and says how it was read."""
    if spec.kind is Kind.COG_LIST:
        return _cogs(form)
    reading, messages_of_text = parse_reading(spec, form[spec.path], typed_in)
    if spec.path == SLOT_TO and form[spec.path].strip().startswith("+"):
        return _behind_slot_from(readings, changed, reading), messages_of_text
    return reading, messages_of_text


def _behind_slot_from(readings: Readings, changed: Readings, length: Reading) -> Reading:
    """Reads the slot's rear end, typed as "+" and the slot's length."""
    front = changed.get(SLOT_FROM, readings[SLOT_FROM]).value
    if not isinstance(front, int | float) or not isinstance(length.value, int | float):
        return length
    return Reading(round(front + length.value, 3))


def _cut_to_longest(form: Mapping[str, str], fields: Mapping[str, FieldSpec]) -> tuple[Form, list[Message]]:
    """The form with texts cut to the length that their fields allow, and messages about what was cut."""
    longest = {path: _longest(spec) for path, spec in fields.items() if path in form}
    cut = [path for path, most in longest.items() if len(form[path]) > most]
    if not cut:
        return dict(form), []
    messages = [
        Message(
            "text_cut", field=term_of(path), most=Quantity(longest[path], Unit.LETTERS), length=number(len(form[path]))
        )
        for path in cut
    ]
    return {**form, **{path: form[path][: longest[path]] for path in cut}}, messages


def _longest(spec: FieldSpec) -> int:
    return LONGEST_ROWS if spec.kind in ROWS else LONGEST_TEXT


def _cogs(form: Mapping[str, str]) -> tuple[Reading, list[Message]]:
    """Reads cogs; if only a range is typed, they are spread over their number."""
    count = parse_quantity(form.get("chain.speeds", ""), Unit.COGS).value
    parsed = parse_cogs(form["cogs"], count if isinstance(count, int) else None)
    return Reading(parsed.value), [parsed.message] if parsed.message else []


def form_of(readings: Readings, typed_in: LengthUnit = LengthUnit.MM, model: type[BaseModel] = Bike) -> Form:
    """The texts of the fields in the form, with lengths in the shop's unit."""
    return {path: format_reading(spec, readings[path], typed_in) for path, spec in form_fields(model).items()}


def change_message(changes: Changes, model: type[BaseModel] = Bike) -> Message:
    """One message about all changes, for the history."""
    return Message("fields_changed", changes=change_messages(changes, model))


def change_messages(changes: Changes, model: type[BaseModel] = Bike) -> tuple[Message, ...]:
    """One message about each change."""
    fields = form_fields(model)
    return tuple(_change(fields[path], *pair) for path, pair in changes.items())


def _change(spec: FieldSpec, before: Reading, after: Reading) -> Message:
    field = term_of(spec.path)
    if spec.kind in ROWS:
        old, new = (reading.value if isinstance(reading.value, list) else [] for reading in (before, after))
        fresh = number(sum(row not in old for row in new))
        return Message("rows_changed", field=field, before=number(len(old)), after=number(len(new)), new=fresh)
    if before.value is None:
        return Message("field_filled", field=field, after=_value(spec, after))
    if after.value is None:
        return Message("field_emptied", field=field, before=_value(spec, before))
    return Message("field_changed", field=field, before=_value(spec, before), after=_value(spec, after))


def _value(spec: FieldSpec, reading: Reading) -> Value:
    """A reading as a value of a message."""
    value, spread = reading.value, reading.spread if isinstance(reading.spread, int | float) else 0.0
    if isinstance(value, bool):
        return Message("yes" if value else "no")
    if isinstance(value, int | float):
        return Quantity(value, Unit.NUMBER if spec.kind is Kind.COGS else spec.unit, spread)
    if spec.kind is Kind.TEXT or not isinstance(value, str | list):
        return str(value)
    if spec.kind is Kind.CHOICE:
        return Term(spec.path, str(value))
    if isinstance(value, str):
        return Raw(value)
    if spec.kind is Kind.CHOICES:
        return tuple(Term(spec.path, str(one)) for one in value)
    if not all(isinstance(one, int | float) for one in value):
        return Raw(value)
    if spec.kind is Kind.PLACE and len(value) == 2:
        return Message("place", forward=mm(value[0]), up=Quantity(value[1], Unit.MM, spread))
    return tuple(number(one) for one in value)


def _axle(document: Document) -> tuple[float, float] | None:
    """The axle's place, if the document has one that can be read."""
    place = document.get(AXLE)
    readable = isinstance(place, list) and len(place) == 2 and all(isinstance(part, int | float) for part in place)
    return (float(place[0]), float(place[1])) if readable and place else None


def _without(document: Document, key: str) -> Document:
    return {name: value for name, value in document.items() if name != key}


def _value_at(document: Document, path: str) -> Any:
    value: Any = document
    for part in path.split("."):
        value = value.get(part) if isinstance(value, dict) else None
    return value


def _with_value(document: Document, path: str, value: Any) -> Document:
    head, _, rest = path.partition(".")
    changed = dict(document)
    inner = changed.get(head)
    new = _with_value(inner if isinstance(inner, dict) else {}, rest, value) if rest else value
    if new is None or new == {}:
        changed.pop(head, None)
    else:
        changed[head] = new
    return changed
