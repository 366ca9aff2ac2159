"""The stops of the chain: the identity of each wheel on its way."""

from collections.abc import Sequence
from enum import StrEnum
from typing import NamedTuple

from lone_pike.core.bike.base import Run


class StopRole(StrEnum):
    """The purpose of a wheel."""

    RING = "ring"
    COG = "cog"
    GUIDE = "guide pulley"
    TENSION = "tension pulley"
    IDLER = "idler"


class StopId(NamedTuple):
    """One stop of a loop: its purpose, and for an idler its run and its place there, counted from the front."""

    role: StopRole
    run: Run | None = None
    place: int = 0


RING, COG = StopId(StopRole.RING), StopId(StopRole.COG)
GUIDE, TENSION = StopId(StopRole.GUIDE), StopId(StopRole.TENSION)


def idler_id(run: Run, place: int) -> StopId:
    """The stop of an idler, by its run and its place there, counted from the front."""
    return StopId(StopRole.IDLER, run, place)


def idler_of(runs: Sequence[Run], i: int) -> StopId:
    """The stop of an idler, by the list of all idlers' runs and its place in that list.

    >>> idler_of([Run.DRIVE, Run.RETURN, Run.RETURN], 2).place
    2
    """
    return idler_id(runs[i], list(runs[: i + 1]).count(runs[i]))
