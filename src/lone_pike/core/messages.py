"""Messages of the core: a code and typed values. They are put into words elsewhere, in the reader's units.

A value is a quantity, a term of the trade by its key, a text that a person typed, another message, or a row of these.
"""

from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property


class Unit(StrEnum):
    """Units of numbers. Their names also end the names of values when messages are written as data."""

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
    """Whether counts are written in links or in pairs first."""

    LINKS = "links"
    PAIRS = "pairs"


class LengthUnit(StrEnum):
    """The unit in which lengths are read and typed."""

    MM = "mm"
    INCH = "in"


@dataclass(frozen=True)
class Quantity:
    """A number with its unit, and its spread if that is known."""

    value: float
    unit: Unit
    spread: float = 0.0


@dataclass(frozen=True)
class Term:
    """A term of the trade, by its list and its key in it."""

    kind: str
    key: str


@dataclass(frozen=True)
class Raw:
    """A value that was read in place of an expected one, unchanged."""

    value: object

    def __hash__(self) -> int:
        return hash(repr(self.value))


@dataclass(frozen=True, init=False)
class Message:
    """A sentence that is not in words yet: its code and its values.

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

    @cached_property
    def _hash(self) -> int:
        return hash((self.code, tuple(self.values.items())))


class NoticeKind(StrEnum):
    """What a notice is about: the warnings of an answer, and the troubles of a route among them."""

    COGS_SORTED = "cogs_sorted"
    SLOT_SWAPPED = "slot_swapped"
    CAGE_CLASS = "cage_class"
    JOINER_SPEEDS = "joiner_speeds"
    CONFLICT = "conflict"
    CAPACITY = "capacity"
    LARGEST_COG = "largest_cog"
    TURN_NOT_TOLD = "turn_not_told"
    TURNS_AGAINST = "turns_against"
    ROUTE_NEVER_RUNS = "route_never_runs"
    ROUTE_NOT_REACHED = "route_not_reached"
    ROUTE_IDLE = "route_idle"
    ROUTE_WOUND = "route_wound"
    ROUTE_IN_THE_WAY = "route_in_the_way"
    ROUTE_CROSSED = "route_crossed"
    ROUTE_RUBBING = "route_rubbing"
    ROUTE_THROUGH = "route_through"
    ROUTE_MISPLACED = "route_misplaced"
    ROUTE_OVERLAPS = "route_overlaps"
    WINDOW_EMPTY = "window_empty"
    BOX_SHORT = "box_short"
    MEND = "mend"
    NEAR_EDGE = "near_edge"


@dataclass(frozen=True)
class Notice:
    """Something the mechanic must know: what it is about, and its sentence."""

    kind: NoticeKind
    message: Message


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
