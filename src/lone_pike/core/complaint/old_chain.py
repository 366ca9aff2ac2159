"""The old chain beside the new one: how level ends mislead, and whether it can still be used (trade, sections 1 and
13)."""

from dataclasses import dataclass

from lone_pike.core.bike.limits import LINKS_PER_PAIR, PITCH_MM
from lone_pike.core.count.sizing import Sizing
from lone_pike.core.take_up.protocol import Safety
from lone_pike.core.wear.gauging import PERCENT


@dataclass(frozen=True)
class Level:
    """An old and a new chain with the same number of links, side by side: how much longer the old one is, and how many
    links too many a new chain gets if it is cut level with it."""

    links: int
    longer_mm: float
    misleads_links: float


@dataclass(frozen=True)
class Serves:
    """Whether the old chain is safe in the present gears: its safety, and the pairs to add, or with a minus to remove,
    until it is; 0 if it is."""

    safety: Safety
    pairs: int


def level_ends(links: int, wear_percent: float) -> Level:
    """What a comparison at level ends would say.

    >>> round(level_ends(116, 0.8).misleads_links, 2), round(level_ends(116, 0.75).longer_mm)
    (0.93, 11)
    """
    grown = links * wear_percent / PERCENT
    return Level(links, grown * PITCH_MM, grown)


def serves(sizing: Sizing, old_links: int) -> Serves:
    """Whether a chain with this number of links is safe on the bike as it is measured now."""
    safety = sizing.safety(old_links)
    if safety is Safety.SAFE:
        return Serves(safety, 0)
    nearest = sizing.recommended_links
    if sizing.window:
        nearest = sizing.window.min if safety is Safety.SHORT else sizing.window.max
    away = nearest - old_links
    pairs = -(-abs(away) // LINKS_PER_PAIR) * (1 if away > 0 else -1)
    return Serves(safety, pairs)
