"""Reads what a mechanic types as values: comma decimals, fractions, pasted units, lists, ranges and rows.

A text that cannot be read stays a text; the model then says what is allowed, and nothing is lost. Every reader takes
time linear in the text.
"""

import re
from dataclasses import dataclass
from fractions import Fraction
from math import cos, radians, sin
from typing import Any

from lone_pike.core.bike.cassettes import spread_cogs
from lone_pike.core.bike.clock import LAST_HOUR, forward_of_down_deg, hand_deg
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
"""The words that may follow a number, and their factor to the unit."""

WHOLE_UNITS = frozenset({Unit.LINKS, Unit.TEETH, Unit.COGS})
VULGAR = {"½": 1 / 2, "¼": 1 / 4, "¾": 3 / 4, "⅛": 1 / 8, "⅜": 3 / 8, "⅝": 5 / 8, "⅞": 7 / 8}
FRACTION = r"(?:\d{1,4}[ -])?\d{1,2}/\d{1,2}"
PLAIN = r"(?:\d{1,9}(?:[.,]\d{1,9})?|[.,]\d{1,9})"
NUMBER = rf"[+−-]?(?:{FRACTION}|\d{{0,6}}[{''.join(VULGAR)}]|{PLAIN})"
QUANTITY = re.compile(rf"({NUMBER}) ?([^\W\d]*|[°\"″])\.?")
"""A number, or a whole number and a fraction ("17 3/8", "57½"), with or without a unit."""

POINTED = re.compile(r"(.+?)(?: at |, ?| )(\d{1,2}):([0-5]\d)")
"""A distance and a clock hand: "72 at 5:30"."""

RANGE = re.compile(r"(\d{1,3}) ?(?:-|–|to|…|\.\.) ?(\d{1,3})(?:(?: ?[x×/,] ?| )(\d{1,2}) ?(?:s|sp|speeds?|cogs)?)?")
COG_COUNTS = (2, 13)
SPREAD_MARKS = ("±", "+/-", "+-")
ABOUT = ("about ", "ca. ", "ca ", "~", "≈")


def whole_number(text: str, digits: int) -> int | None:
    """Reads a plain whole number with a limited number of digits, as in addresses and forms; None if it is not one.

    >>> whole_number("114", 3), whole_number("1140", 3), whole_number("-1", 3), whole_number("", 3)
    (114, None, None, None)
    """
    return int(text) if text.isascii() and text.isdecimal() and len(text) <= digits else None


@dataclass(frozen=True)
class Parsed:
    """A value for the document, and a message about how the text was read, if that needs saying."""

    value: Any
    message: Message | None = None


@dataclass(frozen=True)
class Reading:
    """A field's value, and its spread if that was typed."""

    value: Any = None
    spread: Any = None

    @property
    def is_unread(self) -> bool:
        """Whether it is a text that could not be read."""
        return isinstance(self.value, str)


def collapsed(text: str) -> str:
    """The text with single spaces."""
    return " ".join(text.split())


def parse_quantity(text: str, unit: Unit, typed_in: LengthUnit = LengthUnit.MM) -> Parsed:
    """Reads a number with a unit. A length without one is in the shop's unit; a conversion is announced.

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
    value = hand_deg(typed) if unit is Unit.DEG else None
    if value is not None:
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


def _figure(text: str) -> float | None:
    """The number in a text that QUANTITY matched, with its fraction added; None if the fraction divides by zero."""
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
    """Splits a text into the measure, its spread if one was typed, and whether it says "about".

    >>> split_spread("432 ± 3"), split_spread("about 432")
    (('432', '3', False), ('432', None, True))
    """
    typed = collapsed(text)
    prefix = next((word for word in ABOUT if typed.lower().startswith(word)), "")
    inner = typed[len(prefix) :].strip()
    for mark in SPREAD_MARKS:
        value, found_mark, spread = inner.partition(mark)
        if found_mark and value.strip() and spread.strip():
            return value.strip(), spread.strip(), False
    return (inner, None, True) if prefix and inner else (text, None, False)


def parse_teeth(text: str) -> Parsed:
    """Reads a list of tooth counts, in any order and with any separators, and sorts it; sorting is announced.

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
    typed_sizes, sorted_sizes = (tuple(number(size) for size in row) for row in (sizes, in_order))
    return Parsed(in_order, Message("teeth_sorted", typed=typed_sizes, sorted=sorted_sizes))


def parse_cogs(text: str, count: int | None = None) -> Parsed:
    """Reads cogs as a list, or as a range with the number of cogs: "11-46" and 11, "11-46 x 11" or "11-46 11s".

    >>> parse_cogs("11-46", 11).message.code, parse_cogs("11–30 11s").message.code
    ('cogs_spread', 'cogs_spread')
    >>> parse_cogs("1-5 x 5").value, parse_cogs("0-5 x 5").value
    ([1, 2, 3, 4, 5], '0-5 x 5')
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
    message = Message("cogs_spread", count=Quantity(cogs, Unit.COGS), **ends)
    return Parsed(list(spread_cogs(smallest, largest, cogs)), message)


def is_range_alone(text: str) -> bool:
    """Whether a text is a range of cogs without their number.

    >>> is_range_alone("11-46"), is_range_alone("11-46 11")
    (True, False)
    """
    match = RANGE.fullmatch(collapsed(text))
    return match is not None and match[3] is None


def parse_lengths(text: str, wanted: int, typed_in: LengthUnit = LengthUnit.MM) -> list[float] | None:
    """Reads a given number of lengths, mm; None if there are more or fewer. A comma may be a decimal comma or a
    separator.

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
    """Reads two lengths, forward and up, mm; or a distance and its direction on a clock face.

    >>> parse_place("8, 52").value, parse_place("72 at 5:00").value
    ([8.0, 52.0], [36.0, -62.4])
    """
    pointed = POINTED.fullmatch(collapsed(text))
    away_mm = parse_quantity(pointed[1], Unit.MM, typed_in).value if pointed else None
    if pointed and isinstance(away_mm, float) and int(pointed[2]) <= LAST_HOUR:
        turn_rad = radians(forward_of_down_deg(int(pointed[2]), int(pointed[3])))
        place = [round(away_mm * sin(turn_rad), 1), round(-away_mm * cos(turn_rad), 1)]
        return Parsed(place)
    return Parsed(parse_lengths(text, 2, typed_in) or text.strip() or None)
