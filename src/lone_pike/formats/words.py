"""The shop's words: links or pairs first, millimetres or inches.

The core writes every sentence in links and millimetres, each number with its word: "Safe from 110 to 114 links",
"1.2 mm more". That is the form it is computed, filed and remembered in; here it is turned into what the shop reads.
"""

import re
from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from lone_pike.core.bike.limits import INCH_MM, LINKS_PER_PAIR
from lone_pike.core.chain.counting import pairs_words

CountWord = Literal["links", "pairs"]
LengthUnit = Literal["mm", "in"]

FINER_IN_INCHES, MOST_DECIMALS = 2, 3
"""Decimals an inch needs more than a millimetre to say as much, up to what an inch caliper reads."""

NUMBER = r"[+-]?\d+(?:\.\d+)?"
RUN = rf"(?<![\d.])({NUMBER}(?:(?:,? or | up to | to | ± | → |, ){NUMBER})*)"
"""Numbers that share the word behind the last one."""
LENGTHS = re.compile(rf"{RUN} mm\b")
COUNTS = re.compile(rf"{RUN} links?\b")
QUOTED = re.compile(r"(“[^”]*”|\"[^\"]*\")")


def unit_named(text: str | None) -> LengthUnit:
    """The unit that a form or an address names; mm where it names none."""
    return "in" if text == "in" else "mm"


@dataclass(frozen=True)
class Words:
    """How a shop wants counts and lengths said.

    >>> Words(first="pairs", unit="in").say("At 112 links, small/small keeps 38 mm of air.")
    'At 56 pairs, small/small keeps 1.50 in of air.'
    """

    first: CountWord = "links"
    unit: LengthUnit = "mm"

    @property
    def other(self) -> CountWord:
        """The word that comes second."""
        return "pairs" if self.first == "links" else "links"

    @property
    def unit_word(self) -> str:
        """The unit as it stands in a sentence."""
        return "inches" if self.unit == "in" else "mm"

    def say(self, text: str) -> str:
        """A sentence of the core in the shop's words; what is quoted stays as it was read.

        >>> Words(unit="in").say("“43 mm” read as 43 mm, allowed: 35 to 150 mm")
        '“43 mm” read as 1.69 in, allowed: 1.38 to 5.91 in'
        """
        if self.unit == "mm" and self.first == "links":
            return text
        parts = QUOTED.split(text)
        return "".join(part if i % 2 else self._said(part) for i, part in enumerate(parts))

    def _said(self, text: str) -> str:
        if self.unit == "in":
            text = LENGTHS.sub(lambda found: f"{_each(found[1], _inches)} in", text)
            text = text.replace("in mm", "in inches")
        if self.first == "pairs":
            text = COUNTS.sub(lambda found: f"{_each(found[1], _pairs)} {_pair_or_pairs(found[1])}", text)
        return text

    def read(self, text: str) -> str:
        """What a field read and what it allows: lengths turned, counts left, for they are typed in links."""
        return Words(unit=self.unit).say(text)

    def count(self, links: int) -> str:
        """A count as a bare number in the first word, for where the word stands beside it.

        >>> Words().count(95), Words(first="pairs").count(95)
        ('95', '47½')
        """
        return str(links) if self.first == "links" else pairs_words(links).split()[0]

    def one(self, links: int) -> str:
        """A count with the first word alone."""
        return _links_words(links) if self.first == "links" else pairs_words(links)

    def rest(self, links: int) -> str:
        """What stands beside the bare number: its word, and the count in the other."""
        return self.both(links).split(" ", 1)[1]

    def both(self, links: int) -> str:
        """A count in both words, the shop's first.

        >>> Words().both(116), Words(first="pairs").both(116)
        ('116 links · 58 pairs', '58 pairs · 116 links')
        """
        said = _links_words(links), pairs_words(links)
        return " · ".join(said if self.first == "links" else reversed(said))

    def length(self, length_mm: float, decimals: int = 0) -> str:
        """A length with its unit, as finely as so many decimals of a millimetre.

        >>> Words().length(38.04), Words(unit="in").length(38.04)
        ('38 mm', '1.50 in')
        """
        return self.say(f"{length_mm:.{decimals}f} mm")

    def mark(self, length_mm: float) -> str:
        """A length beside an axis, without its unit.

        >>> Words().mark(100), Words(unit="in").mark(100)
        ('100', '3.9')
        """
        return f"{length_mm:g}" if self.unit == "mm" else f"{length_mm / INCH_MM:.1f}"

    def number(self, length_mm: float) -> str:
        """A length as it stands in a field, without its unit; short, and read back the same to 0.02 mm.

        >>> Words().number(431.5), Words(unit="in").number(431.8), Words(unit="in").number(-20)
        ('431.5', '17', '-0.787')
        """
        if self.unit == "mm":
            return f"{length_mm:.7g}"
        return f"{length_mm / INCH_MM:.3f}".rstrip("0").rstrip(".")


def _links_words(links: int) -> str:
    return f"{links} {'link' if links == 1 else 'links'}"


def _each(run: str, turned: Callable[[str], str]) -> str:
    return re.sub(NUMBER, lambda found: turned(found[0]), run)


def _decimals(number: str) -> int:
    return len(number.partition(".")[2])


def _inches(number: str) -> str:
    sign = "+" if number.startswith("+") else ""
    return f"{sign}{float(number) / INCH_MM:.{min(_decimals(number) + FINER_IN_INCHES, MOST_DECIMALS)}f}"


def _pairs(number: str) -> str:
    sign = number[0] if number[0] in "+-" else ""
    bare = number.lstrip("+-")
    if not _decimals(number):
        return sign + pairs_words(int(bare)).split()[0]
    return sign + f"{float(bare) / LINKS_PER_PAIR:.{_decimals(number) + 1}f}".rstrip("0").rstrip(".")


def _pair_or_pairs(run: str) -> str:
    return "pair" if run.lstrip("+-") in ("1", "2") else "pairs"
