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
MOST_DIGITS, DEEPEST = 40, 20
"""Digits of a number, and lists and objects in each other: no bike has so many."""


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
        document = json.loads(text, object_pairs_hook=_object, parse_int=_whole)
    except json.JSONDecodeError as error:
        here = text[error.pos : error.pos + 20]
        at = {"line": number(error.lineno), "column": number(error.colno)}
        read_here = Raw(here) if here else Message("end_of_file")
        raise invalid("file", read_here, Message("json", problem=error.msg, **at)) from None
    except RecursionError:
        raise invalid("file", Message("lists_without_end"), Message("json_schema")) from None
    _check_texts(text, document)
    return bike_from_document(document)


def _object(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    """An object of the file. Raises: InvalidInput where a key stands in it twice: one of both would be lost."""
    found = dict(pairs)
    if len(found) < len(pairs):
        twice = next(key for i, (key, _) in enumerate(pairs) if key in dict(pairs[:i]))
        raise invalid("file", Raw(twice[:MOST_DIGITS]), Message("each_key_once"))
    return found


def _whole(digits: str) -> int:
    """A whole number of the file. Raises: InvalidInput for one that no measure has."""
    if len(digits) > MOST_DIGITS:
        raise invalid("file", Raw(f"{digits[:MOST_DIGITS]}…"), Message("digits_at_most", most=number(MOST_DIGITS)))
    return int(digits)


def _check_texts(text: str, document: Any) -> None:
    """Raises: InvalidInput for half a character, which no file can be written with, and for lists in lists in lists."""
    if "\\u" in text and any("\ud800" <= char <= "\udfff" for char in json.dumps(document, ensure_ascii=False)):
        raise invalid("file", Message("half_a_character"), Message("utf8"))
    if _depth(document) > DEEPEST:
        raise invalid("file", Message("lists_without_end"), Message("json_schema"))


def _depth(value: Any) -> int:
    """How deep lists and objects lie in each other, looked at no deeper than any bike's file is."""
    level, depth = [value], 0
    while level and depth <= DEEPEST:
        inside = [list(one.values()) if isinstance(one, dict) else one for one in level if isinstance(one, dict | list)]
        level, depth = [part for parts in inside for part in parts], depth + 1
    return depth


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
