"""How much range a take-up can really serve on this bike, and what would mend it where that is too little."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

import numpy as np

from lone_pike.core.bike.limits import limit
from lone_pike.core.judging.sizing import Sizing
from lone_pike.core.messages import Message, Term, mm, number
from lone_pike.core.motion.poses import Gears, poses_of
from lone_pike.core.take_up.families import take_up_of
from lone_pike.core.take_up.protocol import Trial

WAYS = {
    "largest_cog": "mend_largest_cog",
    "smallest_ring": "mend_smallest_ring",
    "another_cog": "mend_another_cog",
    "another_ring": "mend_another_ring",
}
"""What is told of each kind of change but the cage's."""


@dataclass(frozen=True)
class Mend:
    """The nearest change of each kind that opens the window, by kind; only those that do."""

    nearest: Mapping[str, str | int]

    @property
    def largest_cog(self) -> int | None:
        """The largest cog that would be served; None where that is not what mends it."""
        cog = self.nearest.get("largest_cog")
        return None if cog is None else int(cog)

    @property
    def message(self) -> Message:
        """The mends in one sentence."""
        ways = tuple(_way(kind, change) for kind, change in self.nearest.items())
        return Message("mend", ways=ways) if ways else Message("no_mend")


def _way(kind: str, change: str | int) -> Message:
    """One kind of change."""
    if kind == "cage_class":
        return Message("mend_cage_class", cage=Term("cage_class", str(change)), length=mm(limit(f"{change}_cage")))
    return Message(WAYS[kind], teeth=number(int(change)))


def largest_cog_served(sizing: Sizing, mend: Mend | None) -> int | None:
    """The largest cog with which some count is still safe at both ends, all else as it is; None where none is found.

    Parameters: mend, what opens the window where it is empty.
    """
    if mend:
        return mend.largest_cog
    cog = sizing.bike.largest_cog
    trials = sizing.take_up.with_larger_cogs()
    for trial, opens in zip(trials, have_windows(sizing, trials), strict=True):
        if not opens:
            break
        cog = int(trial.change)
    return cog


def mend_of(sizing: Sizing) -> Mend:
    """The first bike of each kind of change that has a window."""
    kinds = sizing.take_up.mends()
    trials = [trial for row in kinds.values() for trial in row]
    opens = dict(zip(map(id, trials), have_windows(sizing, trials), strict=True))
    nearest = {kind: next((trial.change for trial in row if opens[id(trial)]), None) for kind, row in kinds.items()}
    return Mend({kind: change for kind, change in nearest.items() if change is not None})


def have_windows(sizing: Sizing, trials: Sequence[Trial]) -> list[bool]:
    """Whether any count is safe at both ends, for each trial; all end gears are sized at once."""
    if not trials:
        return []
    bike, travels_mm = sizing.bike, sizing.travels_mm
    errors = {measure: np.array([trial.errors[measure] for trial in trials]) for measure in trials[0].errors}
    rings, cogs = (
        np.repeat(np.array(ends, dtype=float)[:, :, None], len(travels_mm), axis=0)
        for ends in ([trial.rings for trial in trials], [trial.cogs for trial in trials])
    )
    with np.errstate(invalid="ignore"):
        take_up = take_up_of(bike, poses_of(bike, travels_mm, errors), Gears(rings, cogs), errors)
        margins = take_up.margins(take_up.counts_of_all(), len(trials))
    return [bool(row.any()) for row in margins.safe]
