"""Which counts are safe at both ends, and which of them is recommended (model, section 3)."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from lone_pike.core.bike.document import Bike, EndLimits
from lone_pike.core.bike.limits import limit
from lone_pike.core.bike.teeth import Array
from lone_pike.core.chain.counting import joinable_at_or_above, step_links
from lone_pike.core.take_up.cage import Settled, TakeUp

BIG, SMALL = 0, -1
"""Big/big stands first among the gears, small/small last."""

SHOWN_BEYOND = 4
"""Counts below and above the possible ones that are still judged: rules of thumb can land there."""


@dataclass(frozen=True)
class Ends:
    """The two ends for K counts: worst big/big reserve (deg) and worst small/small clearance (mm), and the limits.

    Arrays are (V, K) for V variants of the bike. Too short is a reserve of -inf, loose one of +inf;
    where small/small hangs loose, the clearance is -inf, where it is short, +inf.
    """

    counts: tuple[int, ...]
    reserve_deg: Array
    clearance_mm: Array
    limits: EndLimits

    def at(self, which: list[int]) -> "Ends":
        """The same for some of the counts, by their index."""
        counts = tuple(self.counts[i] for i in which)
        return Ends(counts, self.reserve_deg[:, which], self.clearance_mm[:, which], self.limits)

    @cached_property
    def long_enough(self) -> NDArray[np.bool_]:
        """Counts that keep the least reserve in big/big."""
        return np.asarray(self.reserve_deg >= self.limits.least_reserve_deg)

    @cached_property
    def safe(self) -> NDArray[np.bool_]:
        """Counts that are safe at both ends."""
        return self.long_enough & (self.clearance_mm >= self.limits.least_clearance_mm)

    @cached_property
    def recommended(self) -> NDArray[np.int_]:
        """Index of the recommended count of each variant, (V,).

        The safe count whose reserve is nearest to the wanted one; where none is safe, the shortest
        that is long enough. Source: model, section 3.
        """
        far = np.where(self.safe, np.abs(self.reserve_deg - limit("wanted_reserve")), np.inf)
        return np.asarray(np.where(self.safe.any(axis=1), far.argmin(axis=1), self.long_enough.argmax(axis=1)))


def ends_of(settled: Settled, counts: Sequence[int], limits: EndLimits, variants: int = 1) -> Ends:
    """Both ends for the counts the cages have settled for; each variant's worst pose counts."""
    reserve = np.where(settled.short, -np.inf, np.where(settled.loose, np.inf, np.degrees(settled.reserve_rad)))
    clearance = np.where(settled.loose, -np.inf, np.where(settled.short, np.inf, settled.clearance_mm))

    def worst(values: Array, gear: int) -> Array:
        return np.asarray(values[:, gear, :].reshape(variants, -1, len(counts)).min(axis=1))

    return Ends(tuple(counts), worst(reserve, BIG), worst(clearance, SMALL), limits)


def counts_in_reach(bike: Bike, taken: TakeUp) -> range:
    """Every joinable count from a few too short for big/big to a few too long for small/small.

    At least one count long enough for big/big is among them.
    """
    step = step_links(bike.chain.offset_link)
    first = joinable_at_or_above(float(taken.stretched_links[:, BIG].max()), step)
    least_rad = taken.stretched_rad[:, BIG, 0] - np.radians(bike.limits.least_reserve_deg)
    long_enough = taken.scanned_links(BIG, least_rad)
    last = max(float(taken.slackest_links[:, SMALL].min()), float(long_enough.max()))
    return range(first - SHOWN_BEYOND * step, joinable_at_or_above(last, step) + SHOWN_BEYOND * step + 1, step)
