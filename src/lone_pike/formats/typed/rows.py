"""Reads rows that a mechanic types or pastes: travels, idlers, tubes and pieces. A row that cannot be read stays a
text."""

import re
from collections.abc import Mapping
from typing import Any

from lone_pike.core.bike.limits import MOST_TUBES
from lone_pike.core.messages import LengthUnit, Unit
from lone_pike.formats.typed.parsing import Parsed, collapsed, parse_lengths, parse_quantity, split_spread

IDLER = re.compile(r"(drive|return)[ ,]+(over|under)[ ,]+(\d{1,3}) ?(?:t|teeth)?[ ,]+(.+)")
TURN_UNIT = re.compile(r" ?(?:°|deg|degrees?)$")
THREE_BY_COMMA = re.compile("[^, ]+,[^, ]+,[^, ]+")
TUBE = re.compile(r"(drive|return)[ ,]+(\d{1,2})[ ,]+(.+)")
TUBE_LENGTHS = ("length_mm", "inner_mm", "behind_mm", "front_cage_mm")
TUBE_COLUMNS = 2 + len(TUBE_LENGTHS)
NOTHING_TYPED = "?"
"""Stands for an empty column in a row, so that the columns after it keep their places."""

PIECE = re.compile(
    r"(\d{1,4}) ?(?:links?)?(?:[ ,]*(inner|outer))?(?:[ ,]+(\d{1,2}(?:[.,]\d{1,3})?) ?%?)?(?:[ ,]*bin (\d{1,15}))?[ ,]*"
)


def parse_travel_rows(text: str, typed_in: LengthUnit = LengthUnit.MM) -> Parsed:
    """Reads rows of travel and chainstay, with the turn if it was measured: one row on each line, or separated by ";".

    A heading is skipped; a row that cannot be read stays as it was typed.

    >>> parse_travel_rows("travel, chainstay\\n0, 431\\n70 436,5").value
    [[0.0, 431.0], [70.0, 436.5]]
    >>> parse_travel_rows("0 431 0; 70 436,5 -8,9°").value
    [[0.0, 431.0, 0.0], [70.0, 436.5, -8.9]]
    """
    lines = _lines(text)
    if lines and not re.search(r"\d", lines[0]):
        lines = lines[1:]
    if not lines:
        return Parsed(text.strip() or None)
    return Parsed([_travel_row(line, typed_in) for line in lines])


def _travel_row(line: str, typed_in: LengthUnit) -> list[float] | str:
    own = TURN_UNIT.sub("", collapsed(line))
    two = None if THREE_BY_COMMA.fullmatch(own) else parse_lengths(line, 2, typed_in)
    if two:
        return two
    before, _, last = own.rpartition(" " if " " in own else ",")
    lengths, turn_deg = parse_lengths(before, 2, typed_in), parse_quantity(last, Unit.DEG).value
    return [*lengths, turn_deg] if lengths and isinstance(turn_deg, float) else line


def parse_idler_rows(text: str, typed_in: LengthUnit = LengthUnit.MM) -> Parsed:
    """Reads idlers, one in each row: run, side, teeth, and the centre from the crank, forward and up.

    >>> parse_idler_rows("drive over 18 -14 82,5").value
    [{'run': 'drive', 'at_mm': [-14.0, 82.5], 'teeth': 18, 'chain': 'over'}]
    """
    return Parsed([_idler(line, typed_in) for line in _lines(text)] or None)


def _idler(line: str, typed_in: LengthUnit) -> dict[str, Any] | str:
    own, spread_text, _ = split_spread(line)
    match = IDLER.fullmatch(collapsed(own).lower())
    place = parse_lengths(match[4], 2, typed_in) if match else None
    about = parse_quantity(spread_text, Unit.MM, typed_in).value if spread_text else None
    if match is None or place is None or isinstance(about, str):
        return line
    idler = {"run": match[1], "at_mm": place, "teeth": int(match[3]), "chain": match[2]}
    return idler | ({"about_mm": about} if about is not None else {})


def parse_tube_rows(text: str, typed_in: LengthUnit = LengthUnit.MM) -> Parsed:
    """Reads tubes, one in each row: run, part counted from the ring, length, bore, distance from the rear end to the
    wheel behind it, and last, if there is one, how far the front derailleur's cage reaches back.

    >>> parse_tube_rows("drive 1 420 12 40").value
    [{'run': 'drive', 'part': 1, 'length_mm': 420.0, 'inner_mm': 12.0, 'behind_mm': 40.0}]
    """
    return Parsed([_tube(line, typed_in) for line in _lines(text)] or None)


def _tube(line: str, typed_in: LengthUnit) -> dict[str, Any] | str:
    match = TUBE.fullmatch(collapsed(line).lower())
    rest = match[3] if match else ""
    lengths = parse_lengths(rest, 3, typed_in) or parse_lengths(rest, 4, typed_in)
    if match is None or lengths is None:
        return line
    return {"run": match[1], "part": int(match[2]), **dict(zip(TUBE_LENGTHS, lengths, strict=False))}


def tube_columns(text: str) -> list[list[str]]:
    """The texts of each tube's columns: run, part, then lengths; a text that could not be read stays in its column.

    >>> tube_columns("drive 1 420 12 40")
    [['drive', '1', '420', '12', '40', '']]
    """
    last = TUBE_COLUMNS - 1
    rows = [[*line.replace(", ", " ").split(), *[""] * last] for line in _lines(text)]
    columns = [[*row[:last], " ".join(row[last:]).strip()] for row in rows]
    return [["" if word == NOTHING_TYPED else word for word in row] for row in columns]


def tube_text(form: Mapping[str, str]) -> str:
    """Makes rows of tubes from their columns, named tube.ROW.COLUMN; a row without any number is left out.

    >>> tube_text({"tube.0.0": "drive", "tube.0.1": "1", "tube.0.2": "420 mm", "tube.0.3": "", "tube.0.4": "40"})
    'drive 1 420mm ? 40'
    """
    rows = [
        ["".join(form.get(f"tube.{row}.{column}", "").split()) for column in range(TUBE_COLUMNS)]
        for row in range(MOST_TUBES)
    ]
    filled = [row[:5] + [one for one in row[5:] if one] for row in rows if any(row[1:])]
    return "\n".join(" ".join(one or NOTHING_TYPED for one in row) for row in filled)


def parse_piece_rows(text: str, _: LengthUnit = LengthUnit.MM) -> Parsed:
    """Reads loose pieces, one in each row: links, the kind of the first one, and the wear in percent if it is worn.

    >>> parse_piece_rows("115 inner; 56 outer 0,2 %").value
    [{'links': 115, 'first_end': 'inner'}, {'links': 56, 'first_end': 'outer', 'wear_percent': 0.2}]
    """
    return Parsed([_piece(line) for line in _lines(text)] or None)


def _piece(line: str) -> dict[str, Any] | str:
    match = PIECE.fullmatch(collapsed(line).lower())
    if match is None:
        return line
    piece: dict[str, Any] = {"links": int(match[1]), "first_end": match[2] or "inner"}
    piece |= {"wear_percent": float(match[3].replace(",", "."))} if match[3] else {}
    return piece | ({"bin_id": int(match[4])} if match[4] else {})


def _lines(text: str) -> list[str]:
    return [line.strip() for line in re.split(r"[\n;]", text.replace("\t", " ")) if line.strip()]
