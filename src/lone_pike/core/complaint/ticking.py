"""Which part turns as often as a tick is heard (trade, section 13; model, section 8)."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from math import log


class Turning(StrEnum):
    """The parts that turn."""

    CHAIN = "chain"
    COG = "cog"
    GUIDE = "guide"
    TENSION = "tension"
    CRANK = "crank"


@dataclass(frozen=True)
class Drive:
    """One gear: teeth of ring, cog and pulleys, None where there are no pulleys, and the chain's links."""

    ring: int
    cog: int
    links: int
    guide: int | None = None
    tension: int | None = None


@dataclass(frozen=True)
class Suspect:
    """A part, or several that turn alike, and how many turns of the crank it needs for one turn."""

    parts: tuple[Turning, ...]
    turns: float


@dataclass(frozen=True)
class Ticking:
    """The suspects, the most likely first, and the gear that best distinguishes the first two; None if no gear is
    better than this one."""

    suspects: tuple[Suspect, ...]
    better_gear: tuple[int, int] | None


SAME = 1e-6


def suspects_of(drive: Drive) -> tuple[Suspect, ...]:
    """How often each part turns.

    Equation: turns of the crank = links / ring for the chain, teeth / ring for a cog or a pulley, one for the ring,
    cranks and their bearings. Source: model, section 8.

    >>> [(one.parts[0].value, round(one.turns, 2)) for one in suspects_of(Drive(30, 15, 112, 11, 11))]
    [('chain', 3.73), ('cog', 0.5), ('guide', 0.37), ('crank', 1.0)]
    """
    teeth = {
        Turning.CHAIN: drive.links,
        Turning.COG: drive.cog,
        Turning.GUIDE: drive.guide,
        Turning.TENSION: drive.tension,
        Turning.CRANK: drive.ring,
    }
    by_turns: dict[float, list[Turning]] = {}
    for part, count in teeth.items():
        if count:
            by_turns.setdefault(count / drive.ring, []).append(part)
    return tuple(Suspect(tuple(parts), turns) for turns, parts in by_turns.items())


def ticking_of(drive: Drive, turns: float, gears: Sequence[tuple[int, int]]) -> Ticking:
    """The parts, ordered by how well their period matches the tick.

    Parameters: turns of the crank from tick to tick, more than 0; gears that the bike has.
    """
    suspects = tuple(sorted(suspects_of(drive), key=lambda one: abs(log(turns / one.turns))))
    first, second = (suspects[i].parts[0] for i in (0, 1))
    here = _apart(drive, first, second)
    best = max(gears, key=lambda gear: _apart(_in(drive, gear), first, second), default=None)
    better = best is not None and _apart(_in(drive, best), first, second) > here * BETTER
    return Ticking(suspects, best if better else None)


BETTER = 1.15
"""How many times better another gear must distinguish two parts to be worth shifting to."""


def _in(drive: Drive, gear: tuple[int, int]) -> Drive:
    return Drive(gear[0], gear[1], drive.links, drive.guide, drive.tension)


def _apart(drive: Drive, first: Turning, second: Turning) -> float:
    """How different the periods of two parts are, as the logarithm of their ratio."""
    turns = {part: one.turns for one in suspects_of(drive) for part in one.parts}
    return abs(log(turns[first] / turns[second]))
