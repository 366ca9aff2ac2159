"""Writes numbers in the shop's units, links or pairs first, millimetres or inches; and days in words."""

from dataclasses import dataclass
from datetime import date
from functools import lru_cache

from lone_pike.core.bike.limits import INCH_MM, LINKS_PER_PAIR
from lone_pike.core.messages import CountWord, LengthUnit, Quantity, Unit

FINER_IN_INCHES, MOST_DECIMALS = 2, 3
"""How many more decimals inches need than millimetres to be as exact, up to the resolution of an inch caliper."""

HALF = "½"
CACHE_SIZE = 1024


SINGULARS = {"pairs": "pair", "links": "link", "teeth": "tooth", "cogs": "cog", "rings": "ring", "rows": "row"}
SINGULARS |= {"steps": "step", "letters": "letter", "chains": "chain", "rides": "ride", "readings": "reading"}
NO_BLANK = {Unit.DEG: "°", Unit.PERCENT: "%"}


@dataclass(frozen=True)
class DisplayUnits:
    """The units in which a shop wants counts and lengths."""

    first: CountWord = CountWord.LINKS
    unit: LengthUnit = LengthUnit.MM

    @property
    def unit_word(self) -> str:
        """The unit's name for a sentence."""
        return "inches" if self.unit is LengthUnit.INCH else "mm"

    def write(self, quantity: Quantity, decimals: int | None = None, sign: str = "") -> str:
        """A quantity with its unit.

        >>> DisplayUnits(CountWord.PAIRS).write(Quantity(2, Unit.LINKS))
        '1 pair'
        >>> DisplayUnits(unit=LengthUnit.INCH).write(Quantity(38.04, Unit.MM), 0)
        '1.50 in'
        """
        figure, unit = self.bare(quantity, decimals, sign), quantity.unit
        if unit is Unit.NUMBER:
            return figure
        if unit in NO_BLANK:
            return figure + NO_BLANK[unit]
        word = self._word(unit)
        if figure.lstrip("+-") in ("1", HALF):
            word = SINGULARS.get(word, word)
        return f"{figure} {word}".rstrip()

    def bare(self, quantity: Quantity, decimals: int | None = None, sign: str = "") -> str:
        """A quantity without its unit, for places where the unit stands beside it or after the next number."""
        value, unit = quantity.value, quantity.unit
        if unit is Unit.SHARE:
            return f"{value:.{decimals or 0}%}"
        if unit is Unit.BYTES:
            return _bytes(value)
        figure = f"{value:.7g}" if decimals is None else f"{value:.{decimals}f}"
        if unit is Unit.MM and self.unit is LengthUnit.INCH:
            figure = _in_inches(value, figure)
        if unit is Unit.LINKS and self.first is CountWord.PAIRS:
            figure = _in_pairs(value, decimals)
        figure = "0" if figure == "-0" else figure
        text = f"+{figure}" if sign and not figure.startswith("-") else figure
        spread = f" ± {self.bare(Quantity(quantity.spread, quantity.unit), decimals)}" if quantity.spread else ""
        return text + spread

    def _word(self, unit: Unit) -> str:
        if unit is Unit.LINKS:
            return str(self.first)
        if unit is Unit.MM:
            return str(self.unit)
        return "" if unit in (Unit.SHARE, Unit.BYTES) else str(unit)

    @lru_cache(maxsize=CACHE_SIZE)  # noqa: B019
    def count(self, count: int) -> str:
        """A count as a number in the shop's first unit, for places where the unit stands beside it.

        >>> DisplayUnits().count(95), DisplayUnits(CountWord.PAIRS).count(95)
        ('95', '47½')
        """
        return self.bare(Quantity(count, Unit.LINKS))

    @lru_cache(maxsize=CACHE_SIZE)  # noqa: B019 - a handful of frozen values
    def one(self, count: int) -> str:
        """A count in the shop's first unit."""
        return self.write(Quantity(count, Unit.LINKS))

    @lru_cache(maxsize=CACHE_SIZE)  # noqa: B019
    def format_count(self, count: int) -> str:
        """A count in links and pairs, the shop's first unit first.

        >>> DisplayUnits().format_count(116), DisplayUnits(CountWord.PAIRS).format_count(116)
        ('116 links · 58 pairs', '58 pairs · 116 links')
        """
        other = CountWord.PAIRS if self.first is CountWord.LINKS else CountWord.LINKS
        return f"{self.one(count)} · {DisplayUnits(other).one(count)}"

    def beside(self, count: int) -> str:
        """The text beside a bare number: its unit, and the count in the other unit."""
        return self.format_count(count).split(" ", 1)[1]

    def in_pairs(self, count: float) -> str:
        """A count that was typed in links, written in pairs.

        >>> DisplayUnits().in_pairs(118)
        '59 pairs'
        """
        return DisplayUnits(CountWord.PAIRS, self.unit).one(int(count))

    def length(self, length_mm: float, decimals: int = 0) -> str:
        """A length with its unit, as exact as some decimals of a millimetre.

        >>> DisplayUnits().length(38.04)
        '38 mm'
        """
        return self.write(Quantity(length_mm, Unit.MM), decimals)

    def mark(self, length_mm: float) -> str:
        """A length for an axis, without its unit.

        >>> DisplayUnits().mark(100), DisplayUnits(unit=LengthUnit.INCH).mark(100)
        ('100', '3.9')
        """
        return f"{length_mm:g}" if self.unit is LengthUnit.MM else f"{length_mm / INCH_MM:.1f}"


def pairs_of(count: float) -> float:
    """Pairs in a count of links.

    >>> pairs_of(116)
    58.0
    """
    return count / LINKS_PER_PAIR


def _in_inches(length_mm: float, figure_mm: str) -> str:
    decimals = min(len(figure_mm.partition(".")[2]) + FINER_IN_INCHES, MOST_DECIMALS)
    return f"{length_mm / INCH_MM:.{decimals}f}"


def _in_pairs(count: float, decimals: int | None) -> str:
    """Links as pairs: whole links to the half, fractions of a link with the same exactness."""
    pairs = pairs_of(count)
    if count != int(count) or decimals:
        return f"{pairs:.{(decimals or 1) + 1}f}".rstrip("0").rstrip(".")
    whole, half = divmod(abs(int(count)), LINKS_PER_PAIR)
    sign = "-" if count < 0 else ""
    return f"{sign}{whole or ''}{HALF}" if half else f"{sign}{whole}"


def _bytes(size: float) -> str:
    return f"{f'{size / 1e6:.1f}'.removesuffix('.0')} MB" if size >= 1e6 else f"{size / 1e3:.0f} kB"


MONTHS = (
    *("January", "February", "March", "April", "May", "June"),
    *("July", "August", "September", "October", "November", "December"),
)


def spoken(day: date, today: date) -> str:
    """A day in words, with its year if that is not this year.

    >>> spoken(date(2026, 3, 12), date(2026, 1, 1)), spoken(date(2027, 3, 12), date(2026, 1, 1))
    ('12 March', '12 March 2027')
    """
    year = f" {day.year}" if day.year != today.year else ""
    return f"{day.day} {MONTHS[day.month - 1]}{year}"
