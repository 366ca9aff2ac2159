"""Turns pydantic's errors about a document into the trade's own faults."""

import json
from collections.abc import Iterable
from typing import Any, Self

from pydantic import BaseModel, ValidationError
from pydantic_core import ErrorDetails

from lone_pike.core.bike.base import Document
from lone_pike.core.bike.faults import NOTHING, Fault, InvalidInput
from lone_pike.core.bike.fields import ROW_TAGS, FieldSpec, fields_of, models_in, tag_of
from lone_pike.core.messages import Message, Quantity, Raw, Unit, number

Location = Iterable[int | str]
MOST_FAULTS = 40
"""The most faults of one document that are listed; nobody reads more, and a document with more is not a bike."""


class WholeDocument(Document):
    """Base of complete documents, such as a bike's. A wrong one raises InvalidInput with every fault."""

    @classmethod
    def model_validate(cls, obj: Any, **options: Any) -> Self:
        """Reads the document from parsed JSON. Raises: InvalidInput."""
        return cls.model_validate_json(json.dumps(obj), **options)

    @classmethod
    def model_validate_json(cls, json_data: str | bytes | bytearray, **options: Any) -> Self:
        """Reads the document from its text. Raises: InvalidInput."""
        try:
            return super().model_validate_json(json_data, **options)
        except ValidationError as error:
            raise _invalid_by_model(error, cls) from None


def _invalid_by_model(error: ValidationError, model: type[BaseModel]) -> InvalidInput:
    """The faults of a document that its model does not accept."""
    details = error.errors(include_url=False)
    faults = [_fault(detail, model) for detail in details[:MOST_FAULTS]]
    fields = {fault.field for fault in faults}
    kept = [fault for fault in faults if not any(field.startswith(f"{fault.field}.") for field in fields)]
    if len(details) > MOST_FAULTS:
        more = Message("more_faults", more=number(len(details) - MOST_FAULTS))
        kept.append(Fault("file", more, Message("json_schema")))
    return InvalidInput(kept)


def spec_at(place: str, model: type[BaseModel]) -> FieldSpec | None:
    """The field to which a place belongs: the place itself, or the nearest field above it, without row numbers."""
    path = ".".join(part for part in place.split(".") if not part.isdecimal())
    fields = fields_of(model)
    while path and path not in fields:
        path = path.rpartition(".")[0]
    return fields.get(path)


def read_as(value: object, spec: FieldSpec | None) -> Quantity | Raw:
    """What was read, with its unit if it is a number of a field that has one."""
    numeric = isinstance(value, int | float) and not isinstance(value, bool)
    if spec and numeric and spec.unit not in (Unit.NUMBER, Unit.LETTERS):
        return Quantity(float(str(value)), spec.unit)
    return Raw(value)


def _fault(detail: ErrorDetails, model: type[BaseModel]) -> Fault:
    context: dict[str, Any] = detail.get("ctx", {})
    path, owner = _place(detail["loc"], model)
    at = ".".join(filter(None, [*path, context.get("at", "")]))
    if detail["type"] in ("union_tag_invalid", "union_tag_not_found"):
        at = f"{at}.type"
        tag = detail["input"].get("type") if isinstance(detail["input"], dict) else None
        return Fault(at, Raw(tag), _allowed(at, model))
    if detail["type"] == "extra_forbidden":
        return _unknown_key(at, detail["input"], owner)
    spec = spec_at(at, model)
    missing = detail["type"] == "missing" or context.get("missing")
    read = NOTHING if missing else read_as(context.get("read", detail["input"]), spec)
    return Fault(at or "file", read, context.get("allowed") or _allowed(at, model), context.get("hint"))


def _allowed(place: str, model: type[BaseModel]) -> Message:
    spec = spec_at(place, model)
    return spec.allowed if spec else Message("an_object")


def _place(location: Location, model: type[BaseModel]) -> tuple[list[str], type[BaseModel]]:
    """A place in the document without union tags, and the model that contains it."""
    path, here, owner = [], [model], model
    for part in location:
        if part in ROW_TAGS:
            continue
        if isinstance(part, int):
            path.append(str(part))
            continue
        fields = {info.alias or name: info for kind in here for name, info in kind.model_fields.items()}
        tagged = [kind for kind in here if tag_of(kind) == part]
        if tagged and part not in fields:
            here, owner = tagged, tagged[0]
            continue
        path.append(part)
        owner = next((kind for kind in here if part in _keys(kind)), here[0])
        here = models_in(fields[part].annotation) or here if part in fields else here
    return path, owner


def _unknown_key(field: str, read: object, owner: type[BaseModel]) -> Fault:
    return Fault(field, Raw(read), Message("no_such_key"), Message("known_keys", keys=_keys(owner)))


def _keys(model: type[BaseModel]) -> tuple[str, ...]:
    return tuple(info.alias or name for name, info in model.model_fields.items())
