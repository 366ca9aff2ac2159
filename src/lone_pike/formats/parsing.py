"""What a mechanic types, read as numbers: comma decimals, pasted units, lists and ranges.

Whatever cannot be read stays the text it was: the model then says what it may be, and nothing is lost.
"""

import re
from collections.abc import Callable
from dataclasses import dataclass
from fractions import Fraction
from typing import Any

from lone_pike.core.bike.cassettes import spread_cogs
from lone_pike.core.bike.limits import INCH_MM
from lone_pike.formats.words import LengthUnit

MM_PER = {"mm": 1.0, "cm": 10.0, "m": 1000.0} | dict.fromkeys(("in", "inch", "inches", '"', "″"), INCH_MM)
LENGTH = re.compile(r"([+-]?)(?:(\d{1,9}(?:[.,]\d{1,9})?)|(?:(\d{1,4})[\s-]+)?(\d{1,2}/\d{1,2}))\s*([a-zA-Z\"″]*)\.?")
"""A decimal number, or a whole one and a fraction ("17 3/8"), with a unit or none."""
WHOLE = re.compile(r"([+-]?\d{1,9})(?:[.,]0+)?\s*[a-zA-Z°]*")
RANGE = re.compile(r"(\d{1,3})\s*(?:-|–|to|…|\.\.)\s*(\d{1,3})(?:\s*[x×/]\s*(\d{1,2}))?")
COUNT_LIMIT = (5, 13)


@dataclass(frozen=True)
class Parsed:
    """A value as the document has it, and what was done to the text on the way, if that needs saying."""

    value: Any
    said: str = ""


def parse_length(text: str, shop_unit: LengthUnit = "mm") -> Parsed:
    """A length in mm; a bare number is in the shop's unit, and another unit is said.

    >>> parse_length("431,5"), parse_length("431.5 mm")
    (Parsed(value=431.5, said=''), Parsed(value=431.5, said=''))
    >>> parse_length("17 in")
    Parsed(value=431.8, said='“17 in” read as 431.8 mm')
    >>> parse_length("17 3/8", "in"), parse_length('17"', "in")
    (Parsed(value=441.325, said=''), Parsed(value=431.8, said=''))
    """
    stripped = text.strip()
    if not stripped:
        return Parsed(None)
    match = LENGTH.fullmatch(stripped)
    unit = match[5].lower() if match else ""
    if not match or (unit and unit not in MM_PER) or (match[4] and match[4].endswith(("/0", "/00"))):
        return Parsed(stripped)
    value = round(_number(match) * MM_PER[unit or shop_unit], 3)
    as_usual = not unit or MM_PER[unit] == MM_PER[shop_unit]
    return Parsed(value, "" if as_usual else f"“{stripped}” read as {value:g} mm")


def _number(match: re.Match[str]) -> float:
    """The number of a matched length, its fraction worked out."""
    size = float(match[2].replace(",", ".")) if match[2] else float(int(match[3] or 0) + Fraction(match[4]))
    return -size if match[1] == "-" else size


SPREAD = re.compile(r"(?P<value>.+?)\s*(?:±|\+/?-|\+-)\s*(?P<spread>[^±]+)")
ABOUT = re.compile(r"(?:about|ca\.?|~|≈)\s*(?P<value>.+)", re.IGNORECASE)


def parse_spread(text: str, usual: float, reader: Callable[[str], Parsed] = parse_length) -> tuple[str, Parsed | None]:
    """The measure's own text, and its spread where one is said: "432 ± 3", or "about 432" for the usual one.

    >>> parse_spread("432 ± 3", 5.0)
    ('432', Parsed(value=3.0, said=''))
    >>> parse_spread("about 432", 5.0), parse_spread("432", 5.0)
    (('432', Parsed(value=5.0, said='')), ('432', None))
    """
    stripped = text.strip()
    about = ABOUT.fullmatch(stripped)
    inner = about["value"] if about else stripped
    spread = SPREAD.fullmatch(inner)
    if spread:
        return spread["value"], reader(spread["spread"])
    return inner, Parsed(usual) if about else None


def parse_number(text: str) -> Parsed:
    """A number with an optional comma; a degree sign is passed over.

    >>> parse_number("12,5°").value
    12.5
    """
    stripped = text.strip().removesuffix("°").strip()
    if not stripped:
        return Parsed(None)
    match = LENGTH.fullmatch(stripped)
    return Parsed(_number(match)) if match and match[2] and not match[5] else Parsed(text.strip())


def parse_whole(text: str) -> Parsed:
    """A whole number; a word behind it ("116 links") is passed over, but "58 pairs" is turned into links.

    >>> parse_whole("116 links").value, parse_whole("58 pairs")
    (116, Parsed(value=116, said='“58 pairs” read as 116 links'))
    """
    stripped = text.strip()
    if not stripped:
        return Parsed(None)
    match = WHOLE.fullmatch(stripped)
    if not match:
        return Parsed(stripped)
    if "pair" in stripped:
        return Parsed(2 * int(match[1]), f"“{stripped}” read as {2 * int(match[1])} links")
    return Parsed(int(match[1]))


def parse_teeth(text: str) -> Parsed:
    """A list of tooth counts, in any order and with any marks between, sorted; sorting is said.

    >>> parse_teeth("46/33")
    Parsed(value=[33, 46], said='46, 33 sorted to 33, 46')
    """
    stripped = text.strip()
    if not stripped:
        return Parsed(None)
    parts = re.split(r"[\s,;/|+·×-]+", stripped.strip("[]() tT."))
    if not all(re.fullmatch(r"\d{1,9}[tT]?", part) for part in parts):
        return Parsed(stripped)
    teeth = [int(part.rstrip("tT")) for part in parts]
    in_order = sorted(teeth)
    said = f"{', '.join(map(str, teeth))} sorted to {', '.join(map(str, in_order))}" if teeth != in_order else ""
    return Parsed(list(in_order), said)


def parse_cogs(text: str, count: int | None) -> Parsed:
    """Cogs as a list, or as a range with the number of cogs, "11-46" and 11, or "11-46 x 11".

    >>> parse_cogs("11-46", 11).said
    '11-46 spread over 11 cogs; only the ends decide the count'
    """
    match = RANGE.fullmatch(text.strip())
    if not match:
        return parse_teeth(text)
    smallest, biggest = sorted((int(match[1]), int(match[2])))
    cogs = int(match[3]) if match[3] else count
    fits = cogs is not None and COUNT_LIMIT[0] <= cogs <= COUNT_LIMIT[1] and biggest - smallest >= cogs - 1
    if cogs is None or not fits or smallest < 1:
        return Parsed(text.strip())
    return Parsed(
        list(spread_cogs(smallest, biggest, cogs)),
        f"{smallest}-{biggest} spread over {cogs} cogs; only the ends decide the count",
    )


def parse_place(text: str, shop_unit: LengthUnit = "mm") -> Parsed:
    """Two lengths, x and y, in mm; bare numbers are in the shop's unit.

    >>> parse_place("8, 52").value, parse_place("-8,5 52").value
    ([8.0, 52.0], [-8.5, 52.0])
    """
    stripped = text.strip()
    if not stripped:
        return Parsed(None)
    parts = re.split(r"\s*;\s*|\s+", stripped) if re.search(r"[;\s]", stripped) else stripped.split(",")
    values = [parse_length(part.rstrip(","), shop_unit).value for part in parts]
    if len(values) != 2 or not all(isinstance(value, float) for value in values):
        return Parsed(stripped)
    return Parsed([value for value in values if isinstance(value, float)])


def parse_rows(text: str, shop_unit: LengthUnit = "mm") -> Parsed:
    """Rows of travel and chainstay, pasted or typed: a row a line, or rows with ";" between.

    A heading of words is passed over; a row that cannot be read stays as it was typed.

    >>> parse_rows("travel, chainstay\\n0, 431\\n70 436,5").value
    [[0.0, 431.0], [70.0, 436.5]]
    """
    lines = [line.strip() for line in re.split(r"[\n;]", text.replace("\t", " ")) if line.strip()]
    if lines and not re.search(r"\d", lines[0]):
        lines = lines[1:]
    if not lines:
        return Parsed(text.strip() or None)
    return Parsed([_row(line, shop_unit) for line in lines])


def _row(line: str, shop_unit: LengthUnit) -> list[float] | str:
    spaced = re.split(r"\s+", re.sub(r",\s+", " ", line))
    parts = spaced if len(spaced) == 2 else line.split(",")
    values = [parse_length(part, shop_unit).value for part in parts]
    return (
        [value for value in values if isinstance(value, float)]
        if len(values) == 2 and all(isinstance(value, float) for value in values)
        else line
    )


IDLER = re.compile(r"(drive|return)[\s,]+(over|under)[\s,]+(\d{1,3})\s*t?[\s,]+(-?[\d.]+)[\s,]+(-?[\d.]+)")


def parse_idlers(text: str, shop_unit: LengthUnit = "mm") -> Parsed:
    """Idlers, a row each: run, side, teeth, and the centre from the crank, forward and up.

    >>> parse_idlers("drive over 18 -14 82").value
    [{'run': 'drive', 'at_mm': [-14.0, 82.0], 'teeth': 18, 'chain': 'over'}]
    """
    lines = [line.strip() for line in re.split(r"[\n;]", text) if line.strip()]
    return Parsed([_idler(line, shop_unit) for line in lines] or None)


def _idler(line: str, shop_unit: LengthUnit) -> dict[str, Any] | str:
    match = IDLER.fullmatch(line.lower())
    place = parse_place(f"{match[4]};{match[5]}", shop_unit).value if match else None
    if match is None or not isinstance(place, list):
        return line
    return {"run": match[1], "at_mm": place, "teeth": int(match[3]), "chain": match[2]}
