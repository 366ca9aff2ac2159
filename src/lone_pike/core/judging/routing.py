"""Whether the chain can run as the idlers are told: none never reached, none in a pulley's way, no runs crossed."""

import numpy as np

from lone_pike.core.bike.base import Run
from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import invalid
from lone_pike.core.bike.parts import Idler
from lone_pike.core.bike.teeth import tip_radius_mm
from lone_pike.core.chain.crossing import crossing
from lone_pike.core.chain.path import Path
from lone_pike.core.messages import Message, Raw, Term, mm, number
from lone_pike.core.motion.poses import COG, RING, idler_name
from lone_pike.core.take_up.cage import BIG, SMALL, Cage
from lone_pike.core.take_up.caged_loop import GUIDE, TENSION


def check_route(cage: Cage, counts: list[int]) -> None:
    """Refuses idlers that contradict the run of the chain at the counts that might be cut to.

    Raises: InvalidInput, naming the idler that no gear reaches, that a pulley runs into, or the runs that cross.
    """
    path = cage.running(counts)
    for i, idler in enumerate(cage.bike.idlers):
        _check_reached(cage.bike, path, i, idler)
        _check_clear_of_cage(cage.bike, path, i, idler)
    if cage.bike.idlers:
        for ring, cog in (cage.gear_teeth[BIG], cage.gear_teeth[SMALL]):
            crossed = crossing(cage.resting_path(ring, cog, counts[0]), COG, RING)
            if crossed:
                first, second = (_stop_message(cage.bike, name) for name in crossed)
                read = Message("runs_cross", first=first, second=second)
                raise invalid("idlers", read, Message("runs_apart"), Message("figure_of_eight"))


def _check_reached(bike: Bike, path: Path, i: int, idler: Idler) -> None:
    """An idler that the taut chain touches in no gear, at no travel and no count, stands on its wrong side."""
    if not np.any(path.touched[path.index(_name(bike, i))]):
        other = Term("other_side", idler.chain)
        hint = Message("idler_not_reached", run=Term("run", idler.run), other=other)
        raise invalid(f"idlers.{i}.chain", Term("side", idler.chain), Message("side_that_touches"), hint)


def _check_clear_of_cage(bike: Bike, path: Path, i: int, idler: Idler) -> None:
    """An idler that the cage would swing into."""
    x_mm, y_mm = idler.at_mm
    for pulley, teeth in ((GUIDE, bike.caged.guide_teeth), (TENSION, bike.caged.tension_teeth)):
        stop, least = path.stop(pulley), tip_radius_mm(teeth) + tip_radius_mm(idler.teeth)
        if np.any(np.hypot(stop.x_mm - x_mm, stop.y_mm - y_mm) <= least):
            wheel = Term("stop", pulley)
            allowed = Message("idler_away_from", low=mm(least), wheel=wheel)
            hint = Message("idler_overlaps", wheel=wheel)
            raise invalid(f"idlers.{i}.at_mm", Raw(list(idler.at_mm)), allowed, hint)


def _name(bike: Bike, i: int) -> str:
    run = bike.idlers[i].run
    return idler_name(run, sum(one.run is run for one in bike.idlers[: i + 1]))


def _stop_message(bike: Bike, name: str) -> Message:
    for run in Run:
        for place in range(1, len(bike.idlers) + 1):
            if name == idler_name(run, place):
                return Message("idler_of_run", run=Term("run", run), place=number(place))
    return Message("the_stop", stop=Term("stop", name))
