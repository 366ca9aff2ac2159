"""Reads any field's text as its value, with the reader for its kind."""

from collections.abc import Callable

from lone_pike.core.bike.fields import FieldSpec, Kind
from lone_pike.core.messages import LengthUnit, Message
from lone_pike.formats.typed.parsing import (
    Parsed,
    Reading,
    parse_cogs,
    parse_place,
    parse_quantity,
    parse_teeth,
    split_spread,
)
from lone_pike.formats.typed.rows import parse_idler_rows, parse_piece_rows, parse_travel_rows, parse_tube_rows

LIST_READERS: dict[Kind, Callable[[str], Parsed]] = {
    Kind.TEXT: lambda text: Parsed(text.strip() or None),
    Kind.CHOICE: lambda text: Parsed(text.strip() or None),
    Kind.FLAG: lambda text: Parsed(text == "yes"),
    Kind.CHOICES: lambda text: Parsed([part for part in text.split(", ") if part]),
    Kind.TEETH_LIST: parse_teeth,
    Kind.COG_LIST: parse_cogs,
}


ROW_READERS: dict[Kind, Callable[[str, LengthUnit], Parsed]] = {
    Kind.PLACE: parse_place,
    Kind.TRAVEL_ROWS: parse_travel_rows,
    Kind.IDLER_ROWS: parse_idler_rows,
    Kind.TUBE_ROWS: parse_tube_rows,
    Kind.PIECE_ROWS: parse_piece_rows,
}


def parse(spec: FieldSpec, text: str, typed_in: LengthUnit) -> Parsed:
    """Reads any field's text as its value, without its spread."""
    if spec.kind in ROW_READERS:
        return ROW_READERS[spec.kind](text, typed_in)
    if spec.kind in LIST_READERS:
        return LIST_READERS[spec.kind](text)
    return parse_quantity(text, spec.unit, typed_in)


def parse_reading(spec: FieldSpec, text: str, typed_in: LengthUnit) -> tuple[Reading, list[Message]]:
    """Reads a field's value with its spread, and says how the text was read."""
    own, spread_text, is_about = split_spread(text) if spec.spread else (text, None, False)
    parsed = parse(spec, own, typed_in)
    spread = parse_quantity(spread_text, spec.unit, typed_in) if spread_text else Parsed(None)
    if spec.spread and is_about:
        spread = Parsed(spec.spread.usual)
    messages = [one.message for one in (parsed, spread) if one.message]
    return Reading(parsed.value, spread.value), messages
