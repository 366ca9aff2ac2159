"""The bike file: JSON in and out (model, section 7)."""

import json
from typing import Any

from pydantic import ValidationError

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import invalid, invalid_by_model, shown

LARGEST_BYTES = 256 * 1024


def read_bike(data: bytes) -> Bike:
    """A bike from the bytes of its file.

    Raises: InvalidInput with every fault: not UTF-8, not JSON, too large, or fields that the model refuses.
    """
    if len(data) > LARGEST_BYTES:
        allowed = f"up to {LARGEST_BYTES // 1024} kB"
        raise invalid("file", f"{len(data) / 1e6:.1f} MB", allowed, "A bike is one small file.")
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise invalid("file", f"byte {data[error.start]:#04x} at {error.start}", "UTF-8 text") from None
    try:
        document = json.loads(text)
    except json.JSONDecodeError as error:
        here = text[error.pos : error.pos + 20] or "the end of the file"
        place = f"line {error.lineno}, column {error.colno}"
        raise invalid("file", shown(here), f"JSON ({error.msg} at {place})") from None
    except RecursionError:
        raise invalid("file", "lists within lists without end", "JSON as the schema has it") from None
    return bike_from_document(document)


def bike_from_document(document: Any) -> Bike:
    """A bike from its parsed document. Raises: InvalidInput with every fault."""
    if not isinstance(document, dict):
        raise invalid("file", shown(document), "one JSON object, the bike")
    try:
        return Bike.model_validate_json(json.dumps(document))
    except ValidationError as error:
        raise invalid_by_model(error, Bike) from None


def document_of(bike: Bike) -> dict[str, Any]:
    """The document of a bike: what was given, nothing filled in."""
    return bike.model_dump(mode="json", by_alias=True, exclude_unset=True)


def write_bike(bike: Bike) -> bytes:
    """The bytes of a bike's file; reads back as the same bike."""
    return (json.dumps(document_of(bike), ensure_ascii=False, indent=1) + "\n").encode()


def schema() -> dict[str, Any]:
    """JSON Schema of the bike file."""
    return Bike.model_json_schema(by_alias=True)
