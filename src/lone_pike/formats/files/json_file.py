"""Reads a JSON file as a document: its bytes, its text and its keys, whatever they mean."""

import json
from typing import Any

from lone_pike.core.bike.faults import invalid
from lone_pike.core.messages import Message, Quantity, Raw, Unit, number

LARGEST_BYTES = 256 * 1024
MOST_DIGITS, DEEPEST = 40, 20
"""The most digits of a number, and the deepest nesting of lists and objects; no real file reaches these."""


def read_document(data: bytes | str) -> Any:
    """Parses a file. Raises: InvalidInput if it is too large, not UTF-8 or not JSON."""
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
    return document


def _object(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    """An object of the file. Raises: InvalidInput if a key occurs twice, because one of the two would be lost."""
    found = dict(pairs)
    if len(found) < len(pairs):
        twice = next(key for i, (key, _) in enumerate(pairs) if key in dict(pairs[:i]))
        raise invalid("file", Raw(twice[:MOST_DIGITS]), Message("each_key_once"))
    return found


def _whole(digits: str) -> int:
    """A whole number of the file. Raises: InvalidInput if it has too many digits for any measure."""
    if len(digits) > MOST_DIGITS:
        raise invalid("file", Raw(f"{digits[:MOST_DIGITS]}…"), Message("digits_at_most", most=number(MOST_DIGITS)))
    return int(digits)


def _check_texts(text: str, document: Any) -> None:
    """Checks the parsed document. Raises: InvalidInput for a lone surrogate, which cannot be written to a file, and for
    nesting that is too deep."""
    if "\\u" in text and any("\ud800" <= char <= "\udfff" for char in json.dumps(document, ensure_ascii=False)):
        raise invalid("file", Message("half_a_character"), Message("utf8"))
    if _depth(document) > DEEPEST:
        raise invalid("file", Message("lists_without_end"), Message("json_schema"))


def _depth(value: Any) -> int:
    """How deeply lists and objects are nested; counted no further than any bike's file goes."""
    level, depth = [value], 0
    while level and depth <= DEEPEST:
        inside = [list(one.values()) if isinstance(one, dict) else one for one in level if isinstance(one, dict | list)]
        level, depth = [part for parts in inside for part in parts], depth + 1
    return depth
