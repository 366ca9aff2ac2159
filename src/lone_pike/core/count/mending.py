"""The range of gears that a take-up can serve on this bike, and what would help if that is not enough."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import takewhile
from operator import itemgetter

import numpy as np

from lone_pike.core.bike.limits import limit
from lone_pike.core.count.sizing import Sizing
from lone_pike.core.messages import Message, Term, mm, number
from lone_pike.core.motion.poses import Gears, poses_as_given
from lone_pike.core.take_up.kinds import take_up_of
from lone_pike.core.take_up.protocol import Trial

FIRST_TRIED = 4

WAYS = {
    "largest_cog": "mend_largest_cog",
    "smallest_ring": "mend_smallest_ring",
    "another_cog": "mend_another_cog",
    "another_ring": "mend_another_ring",
}
"""The sentence for each kind of change except the cage's."""


@dataclass(frozen=True)
class Mend:
    """For each kind of change, the smallest one that makes a count safe; kinds that never do are left out. of_cage says
    whether a cage could be changed at all."""

    nearest: Mapping[str, str | int]
    of_cage: bool = True

    @property
    def largest_cog(self) -> int | None:
        """The largest cog that would work; None if a smaller cog does not help."""
        cog = self.nearest.get("largest_cog")
        return None if cog is None else int(cog)

    @property
    def message(self) -> Message:
        """The mends in one sentence."""
        ways = tuple(_way(kind, change) for kind, change in self.nearest.items())
        if ways:
            return Message("mend", ways=ways)
        return Message("no_mend" if self.of_cage else "no_mend_fixed")


def _way(kind: str, change: str | int) -> Message:
    """One kind of change in words."""
    if kind == "cage_class":
        return Message("mend_cage_class", cage=Term("cage_class", str(change)), length=mm(limit(f"{change}_cage")))
    return Message(WAYS[kind], teeth=number(int(change)))


def largest_cog_served(sizing: Sizing, mend: Mend | None) -> int | None:
    """The largest cog with which some count is still safe at both ends, all else unchanged; None if there is none.

    Parameters: mend, what makes a count safe if none is.
    """
    if mend:
        return mend.largest_cog
    opening = takewhile(itemgetter(1), tried(sizing, sizing.take_up.with_larger_cogs()))
    return max((int(trial.change) for trial, _ in opening), default=sizing.bike.largest_cog)


def mend_of(sizing: Sizing) -> Mend:
    """For each kind of change, the first trial with a safe count."""
    kinds = sizing.take_up.mends()
    nearest = {kind: next((trial for trial, opens in tried(sizing, row) if opens), None) for kind, row in kinds.items()}
    return Mend({kind: trial.change for kind, trial in nearest.items() if trial}, of_cage="cage_class" in kinds)


def tried(sizing: Sizing, trials: Sequence[Trial]) -> Iterator[tuple[Trial, bool]]:
    """Each trial in order, and whether some count is safe with it. They are sized in batches of growing size, because a
    small change is usually enough."""
    done, some = 0, FIRST_TRIED
    while done < len(trials):
        row = trials[done : done + some]
        yield from zip(row, have_windows(sizing, row), strict=True)
        done, some = done + some, 2 * some


def have_windows(sizing: Sizing, trials: Sequence[Trial]) -> list[bool]:
    """For each trial, whether a count is safe at both ends. The end gears of all trials are sized at once."""
    bike, travels_mm = sizing.bike, sizing.travels_mm
    errors = {measure: np.array([trial.errors[measure] for trial in trials]) for measure in trials[0].errors}
    rings, cogs = (
        np.repeat(np.array(ends, dtype=float)[:, :, None], len(travels_mm), axis=0)
        for ends in ([trial.rings for trial in trials], [trial.cogs for trial in trials])
    )
    with np.errstate(invalid="ignore"):
        take_up = take_up_of(bike, poses_as_given(bike, travels_mm, errors), Gears(rings, cogs), errors)
        counts = take_up.counts_of_all()
        if not counts:
            return [False] * len(trials)
        margins = take_up.margins(counts, len(trials))
    return [bool(row.any()) for row in margins.safe]
