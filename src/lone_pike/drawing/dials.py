"""Cage dials: a ring-by-cog board, each cell a clock hand of the cage in that gear."""

from dataclasses import dataclass
from math import cos, radians, sin

from lone_pike.core.messages import Message, Term, deg, number
from lone_pike.core.take_up.protocol import Gear

CELL, HAND, LABEL = 72, 20, 26


@dataclass(frozen=True)
class Dial:
    """One gear's cell: its centre on the board, and the tip of the hand from there, SVG coordinates."""

    gear: Gear
    x: float
    y: float
    hand: str
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


def dials(gears: tuple[Gear, ...], shown: tuple[int, int]) -> Dials:
    """The board of all gears; big rings on top, big cogs left, as the cage winds up."""
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
    angle = radians(gear.cage_deg or 0.0)
    hand = f"{HAND * sin(angle):.1f} {HAND * cos(angle):.1f}"
    return Dial(gear, x, y, hand, shown, gear_message(gear))


def gear_message(gear: Gear) -> Message:
    """A gear with its cage, as it is told to those who do not see the dial."""
    ring, cog, state = number(gear.ring), number(gear.cog), Term("state", gear.state)
    if gear.clock is None or gear.reserve_deg is None:
        return Message("no_rest_in_gear", ring=ring, cog=cog, state=state)
    return Message("cage_in_gear", ring=ring, cog=cog, state=state, clock=gear.clock, reserve=deg(gear.reserve_deg))
