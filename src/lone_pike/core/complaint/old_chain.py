"""The old chain beside the new one: how level ends mislead, and whether it still serves (trade, sections 1 and 13)."""

from dataclasses import dataclass

from lone_pike.core.bike.limits import LINKS_PER_PAIR, PITCH_MM
from lone_pike.core.count.sizing import Sizing
from lone_pike.core.take_up.protocol import Safety
from lone_pike.core.wear.gauging import PERCENT


@dataclass(frozen=True)
class Level:
    """An old and a new chain of as many links laid beside each other: how much longer the old one is, and how many
    links more a new one has that is cut level with it."""

    links: int
    longer_mm: float
    misleads_links: float


@dataclass(frozen=True)
class Serves:
    """Whether the old chain serves the gears as they are: its safety, and pairs to add, or with a minus to take off,
    until it does; 0 where it does."""

    safety: Safety
    pairs: int


def level_ends(links: int, wear_percent: float) -> Level:
    """What level ends would tell.

    >>> round(level_ends(116, 0.8).misleads_links, 2), round(level_ends(116, 0.75).longer_mm)
    (0.93, 11)
    """
    grown = links * wear_percent / PERCENT
    return Level(links, grown * PITCH_MM, grown)


def serves(sizing: Sizing, old_links: int) -> Serves:
    """Whether a chain of so many links serves the bike as it is measured now."""
    safety = sizing.safety(old_links)
    if safety is Safety.SAFE:
        return Serves(safety, 0)
    nearest = sizing.recommended_links
    if sizing.window:
        nearest = sizing.window.min if safety is Safety.SHORT else sizing.window.max
    away = nearest - old_links
    pairs = -(-abs(away) // LINKS_PER_PAIR) * (1 if away > 0 else -1)
    return Serves(safety, pairs)
