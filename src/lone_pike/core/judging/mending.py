"""How much range a cage can really serve on this bike, and what would mend it where that is too little."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import TypeVar

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.bike.limits import limit
from lone_pike.core.judging.sizing import has_window

Change = TypeVar("Change")
LARGEST_COG = 60


@dataclass(frozen=True)
class Mend:
    """The nearest change of each kind that opens the window; None where none of that kind does."""

    cage_class: str | None
    largest_cog: int | None
    smallest_ring: int | None

    @property
    def words(self) -> str:
        """The mends in one sentence."""
        ways = []
        if self.cage_class:
            ways.append(f"a {self.cage_class} cage ({limit(self.cage_class + '_cage'):.0f} mm)")
        if self.largest_cog:
            ways.append(f"a largest cog of {self.largest_cog}")
        if self.smallest_ring:
            ways.append(f"a smallest ring of {self.smallest_ring}")
        if not ways:
            return "No cage class, and no change of one end of the gears, would serve all of them."
        return f"What would mend it: {', or '.join(ways)}."


def largest_cog_served(bike: Bike, mend: Mend | None) -> int | None:
    """The largest cog with which some count is still safe at both ends, all else as it is; None where none is found.

    Parameters: mend, what opens the window where it is empty.
    """
    if mend:
        return mend.largest_cog
    cog = bike.biggest_cog
    while cog < LARGEST_COG and _serves(bike.model_copy(update={"cogs": _grown(bike.cogs, cog + 1)})):
        cog += 1
    return cog


def mend_of(bike: Bike) -> Mend:
    """Tries the cage classes longer than this cage, then smaller largest cogs, then bigger smallest rings."""
    cages = [name for name in ("short", "medium", "long") if limit(f"{name}_cage") > bike.take_up.cage_length_mm]
    cogs = range(bike.biggest_cog - 1, bike.smallest_cog + len(bike.cogs) - 2, -1)
    rings = range(bike.smallest_ring + 1, bike.biggest_ring) if len(bike.rings) > 1 else range(0)
    return Mend(
        cage_class=_first(cages, lambda name: _with_cage(bike, limit(f"{name}_cage"))),
        largest_cog=_first(cogs, lambda cog: bike.model_copy(update={"cogs": _capped(bike.cogs, cog)})),
        smallest_ring=_first(rings, lambda ring: bike.model_copy(update={"rings": _raised(bike.rings, ring)})),
    )


def _first(values: Iterable[Change], changed: Callable[[Change], Bike]) -> Change | None:
    return next((value for value in values if _serves(changed(value))), None)


def _serves(bike: Bike) -> bool:
    try:
        return has_window(bike)
    except InvalidInput:
        return False


def _with_cage(bike: Bike, cage_mm: float) -> Bike:
    return bike.model_copy(update={"take_up": bike.take_up.model_copy(update={"cage_mm": cage_mm})})


def _capped(cogs: tuple[int, ...], largest: int) -> tuple[int, ...]:
    return tuple(min(cog, largest) for cog in cogs)


def _grown(cogs: tuple[int, ...], largest: int) -> tuple[int, ...]:
    return (*sorted(cogs)[:-1], largest)


def _raised(rings: tuple[int, ...], smallest: int) -> tuple[int, ...]:
    return tuple(max(ring, smallest) for ring in rings)
