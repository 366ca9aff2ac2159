"""What a mechanic types, read as values: comma decimals, fractions, pasted units, lists, ranges and rows.

Whatever cannot be read stays the text it was: the model then says what it may be, and nothing is lost. Every
reader takes time linear in the text.
"""

import re
from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from lone_pike.core.bike.cassettes import spread_cogs
from lone_pike.core.bike.fields import FieldSpec, Kind
from lone_pike.core.bike.limits import INCH_MM, LINKS_PER_PAIR
from lone_pike.core.messages import LengthUnit, Message, Quantity, Unit, number

MM_PER = {"mm": 1.0, "cm": 10.0, "m": 1000.0} | dict.fromkeys(("in", "inch", "inches", '"', "″"), INCH_MM)
WORDS: dict[Unit, dict[str, float]] = {
    Unit.MM: MM_PER,
    Unit.LINKS: {"link": 1, "links": 1, "pair": LINKS_PER_PAIR, "pairs": LINKS_PER_PAIR},
    Unit.DEG: dict.fromkeys(("°", "deg", "degree", "degrees"), 1.0),
    Unit.TEETH: dict.fromkeys(("t", "tooth", "teeth"), 1.0),
    Unit.COGS: dict.fromkeys(("cog", "cogs", "speed", "speeds"), 1.0),
}
"""What may stand behind a number, and how much of the unit it is."""

WHOLE_UNITS = frozenset({Unit.LINKS, Unit.TEETH, Unit.COGS})
VULGAR = {"½": 1 / 2, "¼": 1 / 4, "¾": 3 / 4, "⅛": 1 / 8, "⅜": 3 / 8, "⅝": 5 / 8, "⅞": 7 / 8}
FRACTION = r"(?:\d{1,4}[ -])?\d{1,2}/\d{1,2}"
PLAIN = r"\d{1,9}(?:[.,]\d{1,9})?"
NUMBER = rf"[+−-]?(?:{FRACTION}|\d{{0,6}}[{''.join(VULGAR)}]|{PLAIN})"
QUANTITY = re.compile(rf"({NUMBER}) ?([^\W\d]*|[°\"″])\.?")
"""A number, or a whole one and a fraction ("17 3/8", "57½"), with a unit or none."""

CLOCK = re.compile(r"(\d{1,2}):([0-5]\d)")
"""A clock hand: "4:30"."""

RANGE = re.compile(r"(\d{1,3}) ?(?:-|–|to|…|\.\.) ?(\d{1,3})(?: ?[x×/] ?(\d{1,2}))?")
COG_COUNTS = (5, 13)
IDLER = re.compile(r"(drive|return)[ ,]+(over|under)[ ,]+(\d{1,3}) ?(?:t|teeth)?[ ,]+(.+)")
TUBE = re.compile(r"(drive|return)[ ,]+(\d{1,2})[ ,]+(.+)")
TUBE_LENGTHS = ("length_mm", "inner_mm", "behind_mm", "front_cage_mm")
PIECE = re.compile(r"(\d{1,4}) ?(?:links?)?[ ,]*(inner|outer)?[ ,]*(\d{1,2}(?:[.,]\d{1,3})?)? ?%?(?: ?bin (\d{1,15}))?")
SPREAD_MARKS = ("±", "+/-", "+-")
ABOUT = ("about ", "ca. ", "ca ", "~", "≈")


@dataclass(frozen=True)
class Parsed:
    """A value as the document has it, and what was done to the text on the way, if that needs saying."""

    value: Any
    message: Message | None = None


@dataclass(frozen=True)
class Reading:
    """A field's value, and how far off it may be where that is told."""

    value: Any = None
    spread: Any = None

    @property
    def is_unread(self) -> bool:
        """Whether it is a text that could not be read."""
        return isinstance(self.value, str)


def collapsed(text: str) -> str:
    """The text with single blanks."""
    return " ".join(text.split())


def parse_quantity(text: str, unit: Unit, typed_in: LengthUnit = LengthUnit.MM) -> Parsed:
    """A number in a unit; a bare length is in the shop's unit, and a change of unit is told.

    >>> parse_quantity("431,5", Unit.MM).value, parse_quantity("431.5 mm", Unit.MM).value
    (431.5, 431.5)
    >>> parse_quantity("17 in", Unit.MM).message.values["value"].value
    431.8
    >>> parse_quantity("17 3/8", Unit.MM, LengthUnit.INCH).value, parse_quantity("58 PAIRS", Unit.LINKS).value
    (441.325, 116)
    >>> parse_quantity("57½ pairs", Unit.LINKS).value, parse_quantity("58 psi", Unit.LINKS).value
    (115, '58 psi')
    >>> parse_quantity("4:30", Unit.DEG).value
    45.0
    """
    typed = collapsed(text)
    if not typed:
        return Parsed(None)
    hand = CLOCK.fullmatch(typed) if unit is Unit.DEG else None
    if hand:
        value = _forward_of_down_deg(int(hand[1]), int(hand[2]))
        return Parsed(value, Message("read_as", typed=typed, value=Quantity(value, unit)))
    match = QUANTITY.fullmatch(typed)
    word = match[2].lower() if match else ""
    words = WORDS.get(unit, {})
    if not match or (word and word not in words):
        return Parsed(text.strip())
    usual = MM_PER[typed_in] if unit is Unit.MM else 1.0
    figure = _figure(match[1])
    if figure is None:
        return Parsed(text.strip())
    value = round(figure * words.get(word, usual), 3)
    if unit in WHOLE_UNITS:
        if value != int(value):
            return Parsed(text.strip())
        value = int(value)
    if words.get(word, usual) == usual:
        return Parsed(value)
    code = "read_as_count" if unit is Unit.LINKS else "read_as"
    return Parsed(value, Message(code, typed=typed, value=Quantity(value, unit)))


def _forward_of_down_deg(hours: int, minutes: int) -> float:
    """A clock hand seen from the drive side as an angle forward of straight down, -180 to 180 degrees.

    >>> _forward_of_down_deg(6, 0), _forward_of_down_deg(4, 30), _forward_of_down_deg(9, 0)
    (0.0, 45.0, -90.0)
    """
    return (180 - 30 * (hours % 12 + minutes / 60) + 180) % 360 - 180


def _figure(text: str) -> float | None:
    """The number of a text that QUANTITY matched, fractions worked out; None for a fraction of nothing."""
    sign = -1.0 if text[0] in "-−" else 1.0
    bare = text.lstrip("+-−")
    if bare[-1] in VULGAR:
        return sign * (float(bare[:-1] or 0) + VULGAR[bare[-1]])
    if "/" not in bare:
        return sign * float(bare.replace(",", "."))
    whole, _, fraction = bare.replace("-", " ").rpartition(" ")
    top, _, bottom = fraction.partition("/")
    return sign * float(int(whole or 0) + Fraction(int(top), int(bottom))) if int(bottom) else None


def split_spread(text: str) -> tuple[str, str | None, bool]:
    """A measure's own text, that of its spread where one is told, and whether it is said to be about right.

    >>> split_spread("432 ± 3"), split_spread("about 432")
    (('432', '3', False), ('432', None, True))
    """
    typed = collapsed(text)
    prefix = next((word for word in ABOUT if typed.lower().startswith(word)), "")
    inner = typed[len(prefix) :].strip()
    for mark in SPREAD_MARKS:
        value, told, spread = inner.partition(mark)
        if told and value.strip() and spread.strip():
            return value.strip(), spread.strip(), False
    return (inner, None, True) if prefix and inner else (text, None, False)


def parse_teeth(text: str) -> Parsed:
    """A list of tooth counts, in any order and with any marks between, sorted; sorting is told.

    >>> parse_teeth("46/33").value
    [33, 46]
    """
    typed = collapsed(text)
    if not typed:
        return Parsed(None)
    parts = [part for part in re.split(r"[\s,;/|+·×-]+", typed.strip("[]() tT.")) if part]
    if not parts or not all(re.fullmatch(r"\d{1,9}[tT]?", part) for part in parts):
        return Parsed(text.strip())
    sizes = [int(part.rstrip("tT")) for part in parts]
    in_order = sorted(sizes)
    if sizes == in_order:
        return Parsed(sizes)
    told, in_order_told = (tuple(number(size) for size in row) for row in (sizes, in_order))
    return Parsed(in_order, Message("teeth_sorted", typed=told, sorted=in_order_told))


def parse_cogs(text: str, count: int | None = None) -> Parsed:
    """Cogs as a list, or as a range with the number of cogs, "11-46" and 11, or "11-46 x 11".

    >>> parse_cogs("11-46", 11).message.code
    'cogs_spread'
    """
    match = RANGE.fullmatch(collapsed(text))
    if not match:
        return parse_teeth(text)
    smallest, largest = sorted((int(match[1]), int(match[2])))
    cogs = int(match[3]) if match[3] else count
    fits = cogs is not None and COG_COUNTS[0] <= cogs <= COG_COUNTS[1] and largest - smallest >= cogs - 1
    if cogs is None or not fits or smallest < 1:
        return Parsed(text.strip())
    ends = {"smallest": number(smallest), "largest": number(largest)}
    told = Message("cogs_spread", count=Quantity(cogs, Unit.COGS), **ends)
    return Parsed(list(spread_cogs(smallest, largest, cogs)), told)


def parse_lengths(text: str, wanted: int, typed_in: LengthUnit = LengthUnit.MM) -> list[float] | None:
    """So many lengths in a row, mm; None where there are not so many. A comma may be a decimal's or stand between.

    >>> parse_lengths("-8,5 52", 2), parse_lengths("8,52", 2), parse_lengths("70 mm; 436,5 mm", 2)
    ([-8.5, 52.0], [8.0, 52.0], [70.0, 436.5])
    """
    typed = collapsed(text)
    for pattern in (NUMBER, NUMBER.replace("[.,]", "[.]")):
        piece = re.compile(rf"[ ,;]*({pattern}) ?([a-zA-Z]*|[\"″])\.?(?=[ ,;]|$)")
        lengths, at = [], 0
        while match := piece.match(typed, at):
            lengths.append(parse_quantity(f"{match[1]} {match[2]}", Unit.MM, typed_in).value)
            at = match.end()
        if len(lengths) == wanted and at == len(typed.rstrip(" ,;")) and all(isinstance(v, float) for v in lengths):
            return lengths
    return None


def parse_place(text: str, typed_in: LengthUnit = LengthUnit.MM) -> Parsed:
    """Two lengths, forward and up, mm.

    >>> parse_place("8, 52").value
    [8.0, 52.0]
    """
    return Parsed(parse_lengths(text, 2, typed_in) or text.strip() or None)


def parse_travel_rows(text: str, typed_in: LengthUnit = LengthUnit.MM) -> Parsed:
    """Rows of travel and chainstay, pasted or typed: a row a line, or rows with ";" between.

    A heading of words is passed over; a row that cannot be read stays as it was typed.

    >>> parse_travel_rows("travel, chainstay\\n0, 431\\n70 436,5").value
    [[0.0, 431.0], [70.0, 436.5]]
    """
    lines = _lines(text)
    if lines and not re.search(r"\d", lines[0]):
        lines = lines[1:]
    if not lines:
        return Parsed(text.strip() or None)
    return Parsed([parse_lengths(line, 2, typed_in) or line for line in lines])


def parse_idler_rows(text: str, typed_in: LengthUnit = LengthUnit.MM) -> Parsed:
    """Idlers, a row each: run, side, teeth, and the centre from the crank, forward and up.

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
    """Tubes, a row each: run, part from the ring, length, bore, rear end to the wheel behind; last, where there is one,
    how far the front derailleur's cage reaches back.

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


def _lines(text: str) -> list[str]:
    return [line.strip() for line in re.split(r"[\n;]", text.replace("\t", " ")) if line.strip()]


def parse_piece_rows(text: str, _: LengthUnit = LengthUnit.MM) -> Parsed:
    """Loose pieces, a row each: links, the kind of the first one, and the wear in percent where it is worn.

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
    """The value of any field's text, without its spread."""
    if spec.kind in ROW_READERS:
        return ROW_READERS[spec.kind](text, typed_in)
    if spec.kind in LIST_READERS:
        return LIST_READERS[spec.kind](text)
    return parse_quantity(text, spec.unit, typed_in)


def parse_reading(spec: FieldSpec, text: str, typed_in: LengthUnit) -> tuple[Reading, list[Message]]:
    """A field's value with its spread, and what was done to the text on the way."""
    own, spread_text, is_about = split_spread(text) if spec.spread else (text, None, False)
    parsed = parse(spec, own, typed_in)
    spread = parse_quantity(spread_text, spec.unit, typed_in) if spread_text else Parsed(None)
    if spec.spread and is_about:
        spread = Parsed(spec.spread.usual)
    messages = [one.message for one in (parsed, spread) if one.message]
    return Reading(parsed.value, spread.value), messages
