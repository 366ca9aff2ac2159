"""Whether the chain can run over the idlers as described, and where a mechanic should check again.

Some troubles make the bike invalid: an idler that is never reached, one in the way of a pulley, runs that cross. The
others are warnings.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from functools import partial
from math import dist

import numpy as np

from lone_pike.core.bike.base import Run
from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import Fault, InvalidInput
from lone_pike.core.bike.limits import PITCH_MM, limit
from lone_pike.core.bike.parts import Idler
from lone_pike.core.bike.teeth import pitch_radius_mm, tip_radius_mm
from lone_pike.core.chain.crossing import BothRuns, Meeting, Point, away_mm, both_runs, reaches_of
from lone_pike.core.chain.path import ChainPath, Stop
from lone_pike.core.chain.stops import COG, GUIDE, RING, TENSION, StopId, idler_of
from lone_pike.core.messages import Message, NoticeKind, Raw, Term, deg, mm, number
from lone_pike.core.motion.overlaps import overlaps_at_rest
from lone_pike.core.motion.poses import boom_poses, end_gears, poses_as_given
from lone_pike.core.take_up.cage import BIG, SMALL, Cage
from lone_pike.core.take_up.caged_loop import cage_measures, caged_loop

DRAFT_CAGE_RAD = np.radians(np.arange(-30.0, 100.0, 10.0))
DRAFT_PLUMB = 3


@dataclass(frozen=True)
class RouteTrouble:
    """Something to check on the route: its kind, its place, its sentence, and its fault if it makes the bike
    invalid."""

    kind: NoticeKind
    at_mm: Point
    message: Message
    fault: Fault | None = None


@dataclass(frozen=True)
class RouteDraft:
    """A route that may be wrong: its loop in big/big with the cage, if there is one, hanging; its pulleys' centres
    (guide, tension); and its troubles."""

    path: ChainPath | None
    pulleys_mm: tuple[Point, Point]
    troubles: tuple[RouteTrouble, ...]


def route_troubles(cage: Cage, counts: list[int]) -> tuple[RouteTrouble, ...]:
    """What a mechanic should check on the route: warnings for the counts to which the chain may be cut.

    Whether the bike is invalid does not depend on the count or on a shop's limits. An idler is refused only if the
    chain never reaches it: in no gear, at no travel or boom setting, and at no count that goes round. Runs are checked
    in the gears in which the chain does not hang.

    Raises: InvalidInput with every trouble that keeps the chain from running.
    """
    usual = cage.usual_count
    resting = [cage.resting_path(*cage.gear_teeth[end], usual) for end in (BIG, SMALL) if cage.is_taut(end, usual)]
    troubles = tuple(_troubles(cage.bike, cage.running(counts), resting, partial(_is_reached_somewhere, cage)))
    refused = {trouble.fault.field: trouble.fault for trouble in reversed(troubles) if trouble.fault}
    if refused:
        raise InvalidInput(refused.values())
    return troubles


def _is_reached_somewhere(cage: Cage, idler: StopId) -> bool:
    """Whether the chain reaches an idler in some gear, pose, boom setting or count."""
    return any(_is_reached(path, idler) for path in (cage.running(cage.counts_of_all()), *_with_boom(cage)))


def _reached_nowhere_else(_: StopId) -> bool:
    """Always true, for a route that is only drawn: nothing is checked that the drawing does not show."""
    return False


def _with_boom(cage: Cage) -> Iterator[ChainPath]:
    """The loops with the boom at its two ends, at any count that goes round there."""
    bike = cage.bike
    if bike.boom is None:
        return
    ends_mm = np.array([bike.boom.from_mm, bike.boom.to_mm])
    with np.errstate(invalid="ignore"):
        moved = boom_poses(bike, bike.boom, ends_mm, np.zeros(1))
        loop = caged_loop(moved, cage_measures(bike, moved), cage.wheels)
        yield loop.turned(DRAFT_CAGE_RAD.reshape(1, 1, -1)).path


def _is_reached(path: ChainPath, stop: StopId) -> bool:
    """Whether the chain touches a stop in any loop that can be."""
    place = path.index(stop)
    return bool(np.any(np.asarray(path.touched[place]) & ~np.isnan(path.wraps_rad[place])))


def drafted(bike: Bike) -> RouteDraft:
    """The route of a bike as described, right or wrong, for a drawing that shows what is wrong."""
    poses, gears = poses_as_given(bike, np.zeros(1)), end_gears(bike)
    with np.errstate(invalid="ignore"):
        running = caged_loop(poses, cage_measures(bike, poses), gears).turned(DRAFT_CAGE_RAD.reshape(1, 1, -1)).path
        hanging = [running.only(0, gear, DRAFT_PLUMB) for gear in (BIG, SMALL)]
        pulleys = (_place_of(hanging[BIG].stop(GUIDE)), _place_of(hanging[BIG].stop(TENSION)))
        troubles = [_of_overlap(bike, fault, pulleys[0]) for fault in overlaps_at_rest(bike)]
        if not troubles:
            troubles = [*_troubles(bike, running, hanging, _reached_nowhere_else)]
    runs = bool(reaches_of(hanging[BIG]))
    if not (runs or troubles):
        troubles = [RouteTrouble(NoticeKind.ROUTE_NEVER_RUNS, pulleys[0], Message("route_never_runs"))]
    return RouteDraft(hanging[BIG] if runs else None, pulleys, tuple(troubles))


def _place_of(stop: Stop) -> Point:
    return float(np.asarray(stop.x_mm).item()), float(np.asarray(stop.y_mm).item())


def _troubles(
    bike: Bike, running: ChainPath, resting: Sequence[ChainPath], is_reached_elsewhere: Callable[[StopId], bool]
) -> Iterator[RouteTrouble]:
    """All troubles: those of each idler over all loops, and those between runs in big/big and small/small.

    An idler that none of these loops touches has no trouble if it is reached elsewhere.
    """
    for i, idler in enumerate(bike.idlers):
        stop = idler_of(bike.idler_runs, i)
        if _is_reached(running, stop) or not is_reached_elsewhere(stop):
            yield from _of_idler(bike, running, i, idler)
        yield from _in_the_way(bike, running, i, idler)
    yield from _once_each([*_between_runs(bike, resting), *_through_idlers(bike, resting)])


def _of_idler(bike: Bike, path: ChainPath, i: int, idler: Idler) -> Iterator[RouteTrouble]:
    """Checks for an idler that the chain never touches, at which it hardly turns, or round which it goes more than half
    way."""
    stop, named = idler_of(bike.idler_runs, i), _named(bike, i)
    place, other = path.index(stop), Term("other_side", idler.chain)
    if not _is_reached(path, stop):
        hint = Message("idler_not_reached", run=Term("run", idler.run), other=other)
        fault = Fault(f"idlers.{i}.chain", Term("side", idler.chain), Message("side_that_touches"), hint)
        yield RouteTrouble(
            NoticeKind.ROUTE_NOT_REACHED, idler.at_mm, Message("route_not_reached", idler=named, other=other), fault
        )
        return
    most = float(np.degrees(np.fmax.reduce(np.where(path.touched[place], path.wraps_rad[place], 0.0), axis=None)))
    if most < limit("least_idler_wrap"):
        yield RouteTrouble(NoticeKind.ROUTE_IDLE, idler.at_mm, Message("route_idle", idler=named, wrap=deg(most)))
    if most > limit("most_idler_wrap"):
        yield RouteTrouble(
            NoticeKind.ROUTE_WOUND, idler.at_mm, Message("route_wound", idler=named, other=other, wrap=deg(most))
        )


def _in_the_way(bike: Bike, path: ChainPath, i: int, idler: Idler) -> Iterator[RouteTrouble]:
    """Checks for an idler into which the cage would swing."""
    x_mm, y_mm = idler.at_mm
    for pulley, teeth in ((GUIDE, bike.caged.guide_teeth), (TENSION, bike.caged.tension_teeth)):
        stop, least = path.stop(pulley), tip_radius_mm(teeth) + tip_radius_mm(idler.teeth)
        if np.any(np.hypot(stop.x_mm - x_mm, stop.y_mm - y_mm) <= least):
            wheel = Term("stop", pulley.role)
            allowed = Message("idler_away_from", low=mm(least), wheel=wheel)
            fault = Fault(f"idlers.{i}.at_mm", Raw(list(idler.at_mm)), allowed, Message("idler_overlaps", wheel=wheel))
            message = Message("route_in_the_way", idler=_named(bike, i), wheel=wheel)
            yield RouteTrouble(NoticeKind.ROUTE_IN_THE_WAY, idler.at_mm, message, fault)
            return


def _between_runs(bike: Bike, paths: Sequence[ChainPath]) -> Iterator[RouteTrouble]:
    """Checks for runs that cross an odd number of times, which makes a figure of eight; otherwise for the two nearest
    runs, if they are closer than the height of a chain. Two that cross twice lie over each other in between and rub."""
    both = [both_runs(path, COG, RING) for path in paths]
    for runs in both:
        if _are_crossed(bike, runs):
            yield from _crossed(bike, runs)
            return
    nearest = min((met for runs in both for met in runs.meetings), key=lambda met: met.apart_mm, default=None)
    if nearest and nearest.apart_mm < limit("plate_height"):
        i = min(range(len(bike.idlers)), key=lambda each: dist(bike.idlers[each].at_mm, nearest.at_mm))
        values = {"apart": mm(nearest.apart_mm), "high": mm(limit("plate_height"))}
        message = Message("route_rubbing" if nearest.apart_mm else "route_over_twice", idler=_named(bike, i), **values)
        yield RouteTrouble(NoticeKind.ROUTE_RUBBING, nearest.at_mm, message)


def _are_crossed(bike: Bike, runs: BothRuns) -> bool:
    """Whether the runs make a figure of eight: they cross and do not cross back, or are swapped in between.

    Runs that overlap by less than the height of a chain only rub; beside idlers in two planes they pass each other.
    """
    crossed = runs.crossings
    if len(crossed) % 2 and not any(map(_only_touches, crossed)):
        return True
    return runs.overlap_mm() >= limit("plate_height") and not all(_in_two_planes(bike, met) for met in crossed)


def _only_touches(met: Meeting) -> bool:
    """Whether two runs cross where one of them bends: they may cross back on the wheel, where there is no straight
    part."""
    ends = (met.first.start, met.first.end, met.second.start, met.second.end)
    return min(dist(met.at_mm, end) for end in ends) < PITCH_MM / 2


def _in_two_planes(bike: Bike, met: Meeting) -> bool:
    """Whether a crossing is beside two idlers that overlap in the side view, and so are side by side on the bike."""
    stops = {met.first.leaves, met.first.comes_to, met.second.leaves, met.second.comes_to}
    beside = [i for i in range(len(bike.idlers)) if idler_of(bike.idler_runs, i) in stops]
    return any(_on_one_axle(bike, i, idler_of(bike.idler_runs, k)) for i in beside for k in beside)


def _crossed(bike: Bike, runs: BothRuns) -> Iterator[RouteTrouble]:
    """The places where the runs cross."""
    for meeting in runs.crossings:
        names = {
            "first": stop_message(bike.idler_runs, meeting.first.leaves),
            "second": stop_message(bike.idler_runs, meeting.second.leaves),
        }
        fault = Fault("idlers", Message("runs_cross", **names), Message("runs_apart"), Message("figure_of_eight"))
        yield RouteTrouble(NoticeKind.ROUTE_CROSSED, meeting.at_mm, Message("route_crossed"), fault)


def _through_idlers(bike: Bike, paths: Sequence[ChainPath]) -> Iterator[RouteTrouble]:
    """Checks for a run that passes through an idler of the other run."""
    for path in paths:
        for i, idler in enumerate(bike.idlers):
            for run in reaches_of(path):
                ends = (run.leaves, run.comes_to)
                is_other_run = idler.run not in {stop.run for stop in ends} and _run_of(*ends) is not idler.run
                is_beside = any(_on_one_axle(bike, i, stop) for stop in ends)
                if is_other_run and not is_beside and away_mm(idler.at_mm, run) < pitch_radius_mm(idler.teeth):
                    named = _named(bike, i)
                    message = Message("route_through", run=stop_message(bike.idler_runs, run.leaves), idler=named)
                    yield RouteTrouble(NoticeKind.ROUTE_THROUGH, idler.at_mm, message)


def _on_one_axle(bike: Bike, i: int, stop: StopId) -> bool:
    """Whether a stop is an idler beside this one, in another plane."""
    others = [one for k, one in enumerate(bike.idlers) if idler_of(bike.idler_runs, k) == stop and k != i]
    idler = bike.idlers[i]
    return any(dist(one.at_mm, idler.at_mm) <= tip_radius_mm(one.teeth) + tip_radius_mm(idler.teeth) for one in others)


def _run_of(leaves: StopId, comes_to: StopId) -> Run:
    """Whether a straight run belongs to the drive run or to the return run."""
    drive = leaves == COG or comes_to == RING or leaves.run is Run.DRIVE
    return Run.DRIVE if drive else Run.RETURN


def _once_each(troubles: Sequence[RouteTrouble]) -> Iterator[RouteTrouble]:
    """Removes repeated sentences at the same place, because both end gears report the same."""
    seen: list[tuple[Message, Point]] = []
    for trouble in troubles:
        if (trouble.message, trouble.at_mm) not in seen:
            seen.append((trouble.message, trouble.at_mm))
            yield trouble


def _of_overlap(bike: Bike, fault: Fault, guide_mm: Point) -> RouteTrouble:
    """The trouble of a part that overlaps another, with its place."""
    part, _, place = fault.field.partition(".")
    if part == "idlers":
        i = int(place.split(".")[0])
        return RouteTrouble(
            NoticeKind.ROUTE_MISPLACED, bike.idlers[i].at_mm, Message("route_misplaced", idler=_named(bike, i)), fault
        )
    axle_x, axle_y = bike.axle_xy_mm
    at_mm = guide_mm if part == "take_up" else (axle_x / 2, axle_y / 2)
    return RouteTrouble(NoticeKind.ROUTE_OVERLAPS, at_mm, fault.hint or fault.allowed, fault)


def _named(bike: Bike, i: int) -> Message:
    return idler_message(bike.idler_runs, i)


def idler_message(runs: Sequence[Run], i: int) -> Message:
    """The name of an idler, from the runs of all idlers and its place among them."""
    return stop_message(runs, idler_of(runs, i))


def stop_message(runs: Sequence[Run], stop: StopId) -> Message:
    """The name of a stop: for an idler its run, and its place there if the run has several."""
    if stop.run is None:
        return Message("the_stop", stop=Term("stop", stop.role))
    run = Term("run", stop.run)
    if list(runs).count(stop.run) > 1:
        return Message("idler_of_run", run=run, place=number(stop.place))
    return Message("only_idler_of_run", run=run)
