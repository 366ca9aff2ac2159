"""Cage dials: a ring-by-cog board, each cell a clock hand of the cage in that gear."""

from dataclasses import dataclass
from math import cos, radians, sin

from lone_pike.core.judging.sizing import Gear

CELL, HAND, LABEL = 72, 20, 26


@dataclass(frozen=True)
class Dial:
    """One gear's cell: its centre on the board, and the tip of the hand from there, SVG coordinates."""

    gear: Gear
    x: float
    y: float
    hand: str
    shown: bool
    words: str


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
    cage = f"cage at {gear.clock}, {gear.reserve_deg:.0f}° left" if gear.clock else "no rest for the cage"
    return Dial(gear, x, y, hand, shown, f"{gear.ring} × {gear.cog}: {gear.state}, {cage}")
