"""What every kind of take-up says of itself."""

from enum import StrEnum
from typing import ClassVar, TypeVar

from lone_pike.core.bike.base import Document
from lone_pike.core.messages import Message

Narrow = TypeVar("Narrow")


def as_a(kind: type[Narrow], thing: object) -> Narrow:
    """A part or a take-up as the class that it must be here. Raises: TypeError for any other."""
    if not isinstance(thing, kind):
        raise TypeError(f"{type(thing).__name__} is no {kind.__name__}")
    return thing


class Family(StrEnum):
    """The two families of take-ups: what turns (a cage, an arm) and what stands (an axle, a crank)."""

    TURNS = "turns"
    STANDS = "stands"


class Moves(StrEnum):
    """What is moved to tighten the chain where nothing turns."""

    AXLE = "axle"
    CRANK = "crank"
    NOTHING = "nothing"


PartNotice = tuple[str, Message]
"""A notice's code and its message."""


class TakeUpDocument(Document):
    """What every kind of take-up says of itself, so that no other place has to ask which kind it is."""

    family: ClassVar[Family]
    ring_count: ClassVar[tuple[int, int]]
    cog_count: ClassVar[tuple[int, int]]
    places_axle: ClassVar[bool] = False
    """Whether it places the axle itself, so that no chainstay is asked for."""
    has_route: ClassVar[bool] = False
    """Whether the chain may run over idlers, through tubes and from a boom."""
    is_searched: ClassVar[bool] = False
    """Whether ring, cog and count may be searched for it."""
    shows: ClassVar[tuple[str, ...]] = ()
    """What can be seen of it once the chain is on, by the file's keys."""
    serves_range: ClassVar[bool] = False
    """Whether it takes up the difference between gears, so that its capacity is asked."""

    @property
    def by_class(self) -> bool:
        """Whether a class stands in for a caliper's reading."""
        return False

    @property
    def chainstay_mm(self) -> float | None:
        """The chainstay that it stands for itself; None where it was measured."""
        return None

    @property
    def notices(self) -> tuple[PartNotice, ...]:
        """What was read otherwise than it was given."""
        return ()

    @property
    def spread_notices(self) -> tuple[PartNotice, ...]:
        """What makes the answer less sure."""
        return ()
