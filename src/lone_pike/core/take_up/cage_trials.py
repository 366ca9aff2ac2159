"""Derailleur bikes that differ from a bike in a single thing, to see for which of them some count is safe."""

from collections.abc import Mapping, Sequence

from lone_pike.core.bike.base import CageClass
from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.limits import limit
from lone_pike.core.take_up.protocol import Trial

LARGEST_COG_TRIED = 60


def mending_trials(bike: Bike) -> Mapping[str, Sequence[Trial]]:
    """Bikes with longer cages by class, smaller largest cogs, or larger smallest rings, the smallest change first."""
    now_mm = bike.derailleur.cage_length_mm
    longer = {name: limit(f"{name}_cage") - now_mm for name in CageClass}
    cogs = range(bike.largest_cog - 1, bike.smallest_cog + len(bike.cogs) - 2, -1)
    rings = range(bike.smallest_ring + 1, bike.largest_ring) if len(bike.rings) > 1 else range(0)
    return {
        "cage_class": [_trial(bike, name, longer_mm=more) for name, more in longer.items() if more > 0],
        "largest_cog": [_trial(bike, cog, cog=cog) for cog in cogs],
        "smallest_ring": [_trial(bike, ring, ring=ring) for ring in rings],
    }


def larger_cog_trials(bike: Bike) -> Sequence[Trial]:
    """Bikes with the largest cog a tooth larger, then two, and so on."""
    return [_trial(bike, cog, cog=cog) for cog in range(bike.largest_cog + 1, LARGEST_COG_TRIED + 1)]


def _trial(bike: Bike, change: str | int, ring: int = 0, cog: int = 0, longer_mm: float = 0.0) -> Trial:
    """The bike with another smallest ring, another largest cog, or a longer cage."""
    return Trial(
        change,
        rings=(bike.largest_ring, ring or bike.smallest_ring),
        cogs=(cog or bike.largest_cog, bike.smallest_cog),
        errors={"cage_mm": longer_mm},
    )
