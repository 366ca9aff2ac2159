"""The bike file: JSON in and out (model, section 7)."""

import json
from functools import lru_cache
from typing import Any

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import NOTHING, Fault, InvalidInput, invalid
from lone_pike.core.messages import Message, Quantity, Raw, Unit, number

LARGEST_BYTES = 256 * 1024
AXLE = ("chainstay_mm", "axle_mm")
CACHE_SIZE = 256


def read_bike(data: bytes | str | dict[str, Any]) -> Bike:
    """A bike from its file: as bytes, as text, or as the parsed document.

    Raises: InvalidInput with every fault: not UTF-8, not JSON, too large, or fields that the model refuses.
    """
    if isinstance(data, dict):
        return bike_from_document(data)
    data = data.encode() if isinstance(data, str) else data
    if len(data) > LARGEST_BYTES:
        size, most = (Quantity(count, Unit.BYTES) for count in (len(data), LARGEST_BYTES))
        raise invalid("file", Message("file_size", size=size), Message("up_to", most=most), Message("one_small_file"))
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        read = Message("byte_at", byte=hex(data[error.start]), place=number(error.start))
        raise invalid("file", read, Message("utf8")) from None
    try:
        document = json.loads(text)
    except json.JSONDecodeError as error:
        here = text[error.pos : error.pos + 20]
        at = {"line": number(error.lineno), "column": number(error.colno)}
        read_here = Raw(here) if here else Message("end_of_file")
        raise invalid("file", read_here, Message("json", problem=error.msg, **at)) from None
    except RecursionError:
        raise invalid("file", Message("lists_without_end"), Message("json_schema")) from None
    return bike_from_document(document)


def bike_from_document(document: Any) -> Bike:
    """A bike from its parsed document. Raises: InvalidInput with every fault."""
    if not isinstance(document, dict):
        raise invalid("file", Raw(document), Message("one_json_object"))
    try:
        return _bike_of(json.dumps(document))
    except InvalidInput as error:
        raise InvalidInput([*error.faults, *_missing_axle(document, error)]) from None


def _missing_axle(document: dict[str, Any], error: InvalidInput) -> list[Fault]:
    """A fault for a missing chainstay, which the model does not look for while there are others: all at once."""
    has_axle = any(document.get(key) is not None for key in AXLE)
    take_up = document.get("take_up")
    slotted = isinstance(take_up, dict) and take_up.get("type") == "slot"
    if has_axle or slotted or any(fault.field in AXLE for fault in error.faults):
        return []
    return [Fault("chainstay_mm", NOTHING, Message("one_of_both", keys=AXLE))]


@lru_cache(maxsize=CACHE_SIZE)
def _bike_of(text: str) -> Bike:
    """A bike from the text of its document, kept: most requests ask for the bike that the one before it asked for."""
    return Bike.model_validate_json(text)


def document_of(bike: Bike) -> dict[str, Any]:
    """The document of a bike: what was given, nothing filled in."""
    return bike.model_dump(mode="json", by_alias=True, exclude_unset=True)


def write_bike(bike: Bike) -> bytes:
    """The bytes of a bike's file; reads back as the same bike."""
    return (json.dumps(document_of(bike), ensure_ascii=False, indent=1) + "\n").encode()


def schema() -> dict[str, Any]:
    """JSON Schema of the bike file."""
    return Bike.model_json_schema(by_alias=True)
