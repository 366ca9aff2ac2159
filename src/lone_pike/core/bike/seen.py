"""What was seen when a bike was proved, as its file stores it (model, section 8)."""

from collections.abc import Mapping, Sequence
from enum import StrEnum
from typing import Self

from pydantic import field_validator, model_validator

from lone_pike.core.bike.base import COG_SIZES, RING_SIZES, Document, trade_error
from lone_pike.core.bike.clock import hand_deg
from lone_pike.core.bike.fields import Kind, measured
from lone_pike.core.bike.limits import LEAST_LINKS, MOST_LINKS
from lone_pike.core.messages import Message, mm, number


class SeenState(StrEnum):
    """The state in which a chain was seen without a figure: the cage pulled straight, the chain touching itself,
    hanging, or none of these."""

    STRAIGHT = "straight"
    TOUCHING = "touching"
    HANGS = "hangs"
    FREE = "free"


class Seen(Document):
    """One observation of the chain on the bike: its gear, its count, and what was seen."""

    links: int = measured(
        Kind.COUNT, "Chain when seen", "Links of the chain that was on.", ge=LEAST_LINKS, le=MOST_LINKS
    )
    ring: int = measured(Kind.TEETH, "Ring when seen", "The ring it was on.", ge=RING_SIZES[0], le=RING_SIZES[1])
    cog: int = measured(Kind.TEETH, "Cog when seen", "The cog it was on.", ge=COG_SIZES[0], le=COG_SIZES[1])
    travel_mm: float = measured(Kind.LENGTH, "Travel when seen", "How far the wheel was up.", default=0.0, ge=0, le=400)
    clock: str | None = measured(
        Kind.TEXT,
        "Clock",
        "Where the cage pointed, as a clock's hand from the drive side.",
        allowed="a_clock",
        default=None,
    )
    clearance_mm: float | None = measured(
        Kind.LENGTH,
        "Clearance seen",
        "Guide pulley to return run, chain plates not counted.",
        default=None,
        ge=-20,
        le=300,
    )
    slack_mm: float | None = measured(
        Kind.LENGTH, "Slack seen", "The whole movement of the run at its middle.", default=None, ge=0, le=200
    )
    axle_mm: float | None = measured(
        Kind.LENGTH, "Axle seen", "Centre of crank to centre of axle, in its slot.", default=None, ge=150, le=2500
    )
    state: SeenState | None = measured(
        Kind.CHOICE, "State seen", "What it did, where nothing was measured.", default=None
    )
    spread: float | None = measured(
        Kind.RATIO, "Spread of what was seen", "How far off the figure may be, either way.", default=None, ge=0.1, le=60
    )
    taken_over: bool = measured(
        Kind.FLAG, "Taken over", "Whether the measures have learned from it already.", default=False
    )

    @field_validator("clock")
    @classmethod
    def _is_a_clock(cls, clock: str | None) -> str | None:
        if clock is not None and hand_deg(clock) is None:
            raise trade_error(Message("a_clock"), read=clock)
        return clock

    @model_validator(mode="after")
    def _is_one_thing(self) -> Self:
        given = [name for name in WHAT if getattr(self, name) is not None]
        if len(given) != 1:
            raise trade_error(
                Message("one_of_both", keys=WHAT),
                at=given[1] if given else "clock",
                read=given or None,
                missing=not given,
            )
        return self

    @property
    def what(self) -> str:
        """The key of what was seen."""
        return next(name for name in WHAT if getattr(self, name) is not None)

    @property
    def hand_deg(self) -> float | None:
        """The angle of the hand from straight down, forward positive, degrees; None if no clock was read."""
        return hand_deg(self.clock) if self.clock else None


WHAT = ("clock", "clearance_mm", "slack_mm", "axle_mm", "state")
"""What can be seen, by its key in the file."""


def check_seen(
    rows: Sequence[Seen], sizes: Mapping[str, Sequence[int]], travel_mm: float, shows: tuple[str, ...]
) -> None:
    """Checks that the bike has the rings, cogs and travel of what was seen, and a take-up that can show it. Raises: the
    trade's error."""
    for i, seen in enumerate(rows):
        for field, there in sizes.items():
            if getattr(seen, field) not in there:
                allowed = Message("one_of_sizes", sizes=tuple(number(size) for size in sorted(there)))
                raise trade_error(allowed, at=f"seen.{i}.{field}", read=getattr(seen, field))
        if seen.travel_mm > travel_mm:
            allowed = Message("between", low=mm(0), high=mm(travel_mm))
            raise trade_error(allowed, at=f"seen.{i}.travel_mm", read=seen.travel_mm)
        if seen.what not in shows:
            allowed = Message("one_of", keys=shows)
            raise trade_error(allowed, at=f"seen.{i}.{seen.what}", read=getattr(seen, seen.what))
