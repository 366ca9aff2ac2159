"""Faults of an input, as data; they are put into words elsewhere."""

from collections.abc import Iterable
from dataclasses import dataclass

from lone_pike.core.messages import Message, Quantity, Raw, Term


@dataclass(frozen=True)
class Fault:
    """One fault: the field as it is named in the file, what was read, what is allowed, and a hint how to mend it."""

    field: str
    read: Quantity | Term | Raw | Message
    allowed: Message
    hint: Message | None = None

    @property
    def is_missing(self) -> bool:
        """Whether nothing was read, so that it is something still to do and not a mistake."""
        return self.read == NOTHING

    @property
    def row(self) -> int | None:
        """The row of a table, counted from 1, if the field is one."""
        place = self.field.rpartition("points.")[2].split(".")[0]
        return int(place) + 1 if "points." in self.field and place.isdecimal() else None


NOTHING = Raw(None)


class InvalidInput(Exception):
    """The input cannot be used; has one Fault or more."""

    def __init__(self, faults: Iterable[Fault]) -> None:
        self.faults = tuple(faults)
        super().__init__(self.faults)

    def __str__(self) -> str:
        """The fields and the codes of what they may hold; the words are in `wording`, above the core."""
        return "\n".join(f"{fault.field}: {fault.allowed.code}" for fault in self.faults)


def invalid(
    field: str, read: Quantity | Term | Raw | Message, allowed: Message, hint: Message | None = None
) -> InvalidInput:
    """An InvalidInput with a single fault."""
    return InvalidInput([Fault(field, read, allowed, hint)])
