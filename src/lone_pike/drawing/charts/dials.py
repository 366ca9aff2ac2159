"""Cage dials: a board of rings by cogs, with the cage as a clock hand in each cell."""

from dataclasses import dataclass

from lone_pike.core.messages import Message, Term, Value, deg, number
from lone_pike.core.take_up.protocol import Gear
from lone_pike.drawing.svg import hand_xy

CELL, HAND, LABEL = 72, 20, 26


@dataclass(frozen=True)
class Dial:
    """One gear's cell: its centre on the board, and the tips of its hands from there, SVG coordinates.

    hand is the cage with the bike in the stand; worst, the worst of the travel, is empty if it is the same or the dial
    shows one travel.
    """

    gear: Gear
    x: float
    y: float
    hand: str
    worst: str
    shown: bool
    message: Message


@dataclass(frozen=True)
class Dials:
    """The board with its headings."""

    width: int
    height: int
    cogs: tuple[tuple[int, float], ...]
    rings: tuple[tuple[int, float], ...]
    dials: tuple[Dial, ...]

    @property
    def has_rows(self) -> bool:
        """Whether there are several rings, with a row of dials for each."""
        return len(self.rings) > 1


def dials(gears: tuple[Gear, ...], shown: tuple[int, int]) -> Dials:
    """The board of all gears, with large rings on top and large cogs on the left."""
    rings = sorted({gear.ring for gear in gears}, reverse=True)
    cogs = sorted({gear.cog for gear in gears}, reverse=True)
    across = {cog: LABEL + 14 + CELL * (i + 0.5) for i, cog in enumerate(cogs)}
    down = {ring: LABEL + CELL * (i + 0.5) for i, ring in enumerate(rings)}
    return Dials(
        width=LABEL + 14 + CELL * len(cogs),
        height=LABEL + CELL * len(rings),
        cogs=tuple(across.items()),
        rings=tuple(down.items()),
        dials=tuple(_dial(gear, across[gear.cog], down[gear.ring], (gear.ring, gear.cog) == shown) for gear in gears),
    )


def _dial(gear: Gear, x: float, y: float, shown: bool) -> Dial:
    seen = gear.cage_deg if gear.rest_deg is None else gear.rest_deg
    differs = gear.rest_clock is not None and gear.clock is not None and gear.rest_clock != gear.clock
    return Dial(gear, x, y, _tip(seen), _tip(gear.cage_deg) if differs else "", shown, gear_message(gear))


def _tip(cage_deg: float | None) -> str:
    """The tip of a hand that points like the cage; straight down is down, forward is to the right."""
    x, y = hand_xy(cage_deg or 0.0, HAND)
    return f"{x:.1f} {y:.1f}"


def gear_message(gear: Gear) -> Message:
    """A gear and its cage in words, for those who cannot see the dial."""
    ring, cog, state = number(gear.ring), number(gear.cog), Term("state", gear.state)
    if gear.clock is None or gear.reserve_deg is None:
        return Message("no_rest_in_gear", ring=ring, cog=cog, state=state)
    values: dict[str, Value] = {
        "ring": ring,
        "cog": cog,
        "state": state,
        "clock": gear.clock,
        "reserve": deg(gear.reserve_deg),
    }
    if gear.rest_clock and gear.rest_clock != gear.clock:
        return Message("cage_on_travel", rest=gear.rest_clock, **values)
    return Message("cage_in_gear", **values)
