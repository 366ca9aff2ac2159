"""What every kind of take-up declares about itself."""

from enum import StrEnum
from typing import ClassVar, TypeVar

from lone_pike.core.bike.base import Document
from lone_pike.core.messages import Notice

Narrow = TypeVar("Narrow")


def as_a(kind: type[Narrow], thing: object) -> Narrow:
    """A part or a take-up, checked to be of the class that is needed. Raises: TypeError otherwise."""
    if not isinstance(thing, kind):
        raise TypeError(f"{type(thing).__name__} is no {kind.__name__}")
    return thing


class Family(StrEnum):
    """The two families of take-ups: what turns (a cage, an arm) and what stands (an axle, a crank)."""

    TURNS = "turns"
    STANDS = "stands"


class Moves(StrEnum):
    """What is moved to tighten the chain if nothing turns."""

    AXLE = "axle"
    CRANK = "crank"
    NOTHING = "nothing"


"""A notice's code and its message."""


class TakeUpDocument(Document):
    """What every kind of take-up declares about itself, so that no other code has to ask which kind it is."""

    family: ClassVar[Family]
    ring_count: ClassVar[tuple[int, int]]
    cog_count: ClassVar[tuple[int, int]]
    places_axle: ClassVar[bool] = False
    """Whether it places the axle itself, so that no chainstay is asked for."""
    has_route: ClassVar[bool] = False
    """Whether the chain may run over idlers, through tubes and from a boom."""
    is_searched: ClassVar[bool] = False
    """Whether rings, cogs and counts can be searched for it."""
    shows: ClassVar[tuple[str, ...]] = ()
    """What can be seen of it when the chain is on, by the file's keys."""
    serves_range: ClassVar[bool] = False
    """Whether it takes up the difference between gears, so that it has a capacity."""

    @property
    def by_class(self) -> bool:
        """Whether a length class takes the place of a measured length."""
        return False

    @property
    def chainstay_mm(self) -> float | None:
        """The chainstay that follows from its own measures; None if the chainstay was measured."""
        return None

    @property
    def notices(self) -> tuple[Notice, ...]:
        """Notices about values that were read differently from how they were given."""
        return ()

    @property
    def spread_notices(self) -> tuple[Notice, ...]:
        """Notices about what makes the answer less sure."""
        return ()
