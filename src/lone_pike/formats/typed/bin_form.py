"""Reads a piece for the bin, from a form or from a scanned label."""

from collections.abc import Mapping
from dataclasses import dataclass

from lone_pike.core.bike.base import MOST_COGS, MOST_WEAR_PERCENT, ChainWidth
from lone_pike.core.bike.faults import Fault, InvalidInput
from lone_pike.core.bike.limits import MOST_LINKS
from lone_pike.core.chain.cutting import End, link_kind
from lone_pike.core.chain.weighing import LABEL, PARTS
from lone_pike.core.messages import Message, Quantity, Raw, Unit

LONGEST_CODE, LONGEST_WHOLE = 60, 5
ENDS = {"I": End.INNER, "O": End.OUTER, "inner": End.INNER, "outer": End.OUTER}


@dataclass(frozen=True)
class TypedPiece:
    """A piece as it was typed."""

    links: int
    first: End
    speeds: int
    wear_percent: float
    kind: str
    width: str | None
    code: str | None

    @property
    def last(self) -> End:
        """The kind of its last link."""
        return link_kind(self.first, self.links)


def read_form(form: Mapping[str, str]) -> TypedPiece:
    """Reads a piece from the form's fields. Raises: InvalidInput by field."""
    return TypedPiece(
        links=int(_number(form, "links", 1, MOST_LINKS, Unit.LINKS)),
        first=_end(form.get("first_end", "inner")),
        speeds=int(_number(form, "speeds", 1, MOST_COGS, Unit.COGS)),
        wear_percent=_number({"wear": form.get("wear") or "0"}, "wear", 0, MOST_WEAR_PERCENT, Unit.PERCENT),
        kind="box" if form.get("kind") == "box" else "offcut",
        width=form.get("width") if form.get("width") in tuple(ChainWidth) else None,
        code=form.get("code", "").strip()[:LONGEST_CODE] or None,
    )


def read_label(line: str) -> TypedPiece:
    """Reads a piece from a scanned label. Raises: InvalidInput if it is not a label.

    >>> read_label("LP1*57*I*11*0.2*A-0042").last.value
    'inner'
    """
    parts = line.strip().split("*")
    if len(parts) != PARTS or parts[0] != LABEL:
        raise InvalidInput([Fault("label", Raw(line.strip()[:LONGEST_CODE] or None), Message("a_label"))])
    _, count, first, speeds, wear, code = parts
    return read_form({"links": count, "first_end": first, "speeds": speeds, "wear": wear, "code": code})


def read_joiners(form: Mapping[str, str]) -> tuple[int, int]:
    """Reads for how many cogs joiners are, and how many come in or, with a minus, go out. Raises: InvalidInput."""
    return _whole(form, "speeds"), _whole(form, "change")


def _whole(form: Mapping[str, str], name: str) -> int:
    """A whole number with or without its sign."""
    text = form.get(name, "").strip().replace("−", "-")
    digits = text.removeprefix("-")
    if not (digits.isascii() and digits.isdecimal() and len(digits) < LONGEST_WHOLE):
        raise InvalidInput([Fault(name, Raw(text[:LONGEST_CODE] or None), Message("a_whole_number"))])
    return int(text)


def _end(text: str) -> End:
    if text not in ENDS:
        raise InvalidInput([Fault("first_end", Raw(text), Message("one_of", keys=("inner", "outer")))])
    return ENDS[text]


def _number(form: Mapping[str, str], name: str, low: float, high: float, unit: Unit) -> float:
    text = form.get(name, "").strip().replace(",", ".")
    plain = text.replace(".", "", 1)
    whole_only = unit is not Unit.PERCENT
    if not (plain.isascii() and plain.isdecimal() and len(plain) < 8) or (whole_only and "." in text):
        read: Raw | Quantity = Raw(text or None)
    elif not low <= float(text) <= high:
        read = Quantity(float(text), unit)
    else:
        return float(text)
    allowed = Message("between", low=Quantity(low, unit), high=Quantity(high, unit))
    raise InvalidInput([Fault(name, read, allowed)])
