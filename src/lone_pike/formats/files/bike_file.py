"""The bike file: JSON in and out (model, section 7)."""

import json
from functools import cache, lru_cache
from typing import Any

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import NOTHING, Fault, InvalidInput, invalid
from lone_pike.core.messages import Message, Raw
from lone_pike.formats.files.json_file import read_document

AXLE = ("chainstay_mm", "axle_mm")
CACHE_SIZE = 256


def read_bike(data: bytes | str | dict[str, Any]) -> Bike:
    """Reads a bike from its file, given as bytes, as text, or as the parsed document.

    Raises: InvalidInput with every fault: not UTF-8, not JSON, too large, or fields that the model refuses.
    """
    if isinstance(data, dict):
        return bike_from_document(data)
    return bike_from_document(read_document(data))


def bike_from_document(document: Any) -> Bike:
    """Reads a bike from its parsed document. Raises: InvalidInput with every fault."""
    if not isinstance(document, dict):
        raise invalid("file", Raw(document), Message("one_json_object"))
    try:
        return _bike_of(json.dumps(document))
    except InvalidInput as error:
        raise InvalidInput([*error.faults, *_missing_axle(document, error)]) from None


def _missing_axle(document: dict[str, Any], error: InvalidInput) -> list[Fault]:
    """A fault for a missing chainstay. The model does not check this while there are other faults, and all of them are
    to be shown at once."""
    has_axle = any(document.get(key) is not None for key in AXLE)
    take_up = document.get("take_up")
    slotted = isinstance(take_up, dict) and take_up.get("type") == "slot"
    if has_axle or slotted or any(fault.field in AXLE for fault in error.faults):
        return []
    return [Fault("chainstay_mm", NOTHING, Message("one_of_both", keys=AXLE))]


@lru_cache(maxsize=CACHE_SIZE)
def _bike_of(text: str) -> Bike:
    """A bike from the text of its document, cached, because most requests need the same bike as the one before."""
    return Bike.model_validate_json(text)


def document_of(bike: Bike) -> dict[str, Any]:
    """The document of a bike: only what was given, without defaults."""
    return bike.model_dump(mode="json", by_alias=True, exclude_unset=True)


def write_bike(bike: Bike) -> bytes:
    """The bytes of a bike's file; reads back as the same bike."""
    return (json.dumps(document_of(bike), ensure_ascii=False, indent=1) + "\n").encode()


@cache
def schema() -> dict[str, Any]:
    """JSON Schema of the bike file; made once, so it is not to be changed."""
    return Bike.model_json_schema(by_alias=True)
