"""What the core has to say: a code and typed values. It is put into words elsewhere, in the reader's units.

A value is a quantity, a word of the trade by its key, a text that a person typed, another message, or a row of these.
"""

from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property, singledispatch


class Unit(StrEnum):
    """What a number counts; its word is also the end of a value's name where messages are written as data."""

    LINKS = "links"
    MM = "mm"
    DEG = "deg"
    TEETH = "teeth"
    COGS = "cogs"
    RINGS = "rings"
    ROWS = "rows"
    CHAINS = "chains"
    RIDES = "rides"
    READINGS = "readings"
    STEPS = "steps"
    LETTERS = "letters"
    INCHES = "inches"
    PERCENT = "percent"
    SHARE = "share"
    TURNS = "turns"
    KM = "km"
    PX = "px"
    BYTES = "bytes"
    NUMBER = ""


class CountWord(StrEnum):
    """Which word comes first wherever a count stands."""

    LINKS = "links"
    PAIRS = "pairs"


class LengthUnit(StrEnum):
    """What lengths are read and typed in."""

    MM = "mm"
    INCH = "in"


@dataclass(frozen=True)
class Quantity:
    """A number with its unit, and how far off it may be where that is known."""

    value: float
    unit: Unit
    spread: float = 0.0


@dataclass(frozen=True)
class Term:
    """A word of the trade, by the list it stands in and its key there."""

    kind: str
    key: str


@dataclass(frozen=True)
class Raw:
    """What was read where something else was wanted, as it came."""

    value: object

    def __hash__(self) -> int:
        return hash(repr(self.value))


@dataclass(frozen=True, init=False)
class Message:
    """A sentence to be: its code, and the values that stand in it.

    >>> Message("safe_from", low=links(110), high=links(114)).values["low"]
    Quantity(value=110, unit=<Unit.LINKS: 'links'>, spread=0.0)
    """

    code: str
    values: "dict[str, Value]"

    def __init__(self, code: str, /, **values: "Value") -> None:
        object.__setattr__(self, "code", code)
        object.__setattr__(self, "values", values)

    def __hash__(self) -> int:
        return self._hash

    @property
    def text(self) -> str:
        """The sentence in English, lengths in mm and counts in links."""
        return in_words(self)

    @cached_property
    def _hash(self) -> int:
        return hash((self.code, tuple(self.values.items())))


@singledispatch
def in_words(said: object) -> str:
    """The text of a message or a fault. The words stand above the core, in `wording`, which registers them here."""
    return repr(said)


Value = Quantity | Term | Raw | Message | str | tuple["Value", ...]


def links(value: float) -> Quantity:
    """A count or length in links."""
    return Quantity(value, Unit.LINKS)


def mm(value: float) -> Quantity:
    """A length in millimetres."""
    return Quantity(value, Unit.MM)


def deg(value: float) -> Quantity:
    """An angle in degrees."""
    return Quantity(value, Unit.DEG)


def teeth(value: float) -> Quantity:
    """A number of teeth."""
    return Quantity(value, Unit.TEETH)


def number(value: float) -> Quantity:
    """A bare number, such as a rivet's or a row's."""
    return Quantity(value, Unit.NUMBER)
