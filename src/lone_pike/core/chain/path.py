"""The chain as a taut loop round toothed circles (model, section 1).

Frame: drive-side view, millimetres, x forward, y up. Every number of a stop may be an array;
all arrays of one loop broadcast together, so one call traces many loops.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray

from lone_pike.core.bike.limits import PITCH_MM
from lone_pike.core.bike.teeth import Number, bend_links, pitch_radius_mm
from lone_pike.core.chain.stops import StopId

TURN_RAD = 2 * np.pi
QUARTER_RAD = TURN_RAD / 4
CLOCKWISE, COUNTER_CLOCKWISE = 1, -1


HALF_ROUND_RAD = TURN_RAD / 2
ROUND_ALL_RAD = 0.75 * TURN_RAD
"""A larger wrap than this means that the chain does not reach the stop from that side."""

EPSILON = 1e-9


@dataclass(frozen=True)
class Stop:
    """One toothed wheel that the chain passes, in its direction of travel. The taut chain may lift off an idler."""

    name: StopId
    x_mm: Number
    y_mm: Number
    teeth: Number
    wind: Number
    idler: bool = False

    @cached_property
    def signed_radius_mm(self) -> Number:
        """Pitch radius, positive where the chain winds clockwise."""
        return self.wind * pitch_radius_mm(self.teeth)

    @cached_property
    def bend_links(self) -> Number:
        """The difference between a radian of wrap on it as a polygon and as an arc, links."""
        return bend_links(self.teeth)


Touched = bool | np.bool_ | NDArray[np.bool_]
"""Whether the chain touches a stop; an idler that it does not touch is out of play."""


@dataclass(frozen=True)
class ChainPath:
    """A traced loop. Entry i of each list belongs to stop i; span i runs from stop i to the next stop that the chain
    touches.

    Spans are in mm, wraps and headings in radians, nan where two circles overlap. A stop that is out of play has a
    wrap and a span of 0, and the heading of the run that passes it.
    """

    stops: tuple[Stop, ...]
    spans_mm: tuple[Number, ...]
    headings_rad: tuple[Number, ...]
    wraps_rad: tuple[Number, ...]
    touched: tuple[Touched, ...]

    def index(self, name: StopId) -> int:
        """The index of a stop in the loop."""
        return self._places[name]

    @cached_property
    def _places(self) -> dict[StopId, int]:
        return {stop.name: i for i, stop in enumerate(self.stops)}

    def stop(self, name: StopId) -> Stop:
        """A stop of the loop by its identity."""
        return self.stops[self.index(name)]

    def wrap_rad(self, name: StopId) -> Number:
        """How far the chain turns about a stop, radians."""
        return self.wraps_rad[self.index(name)]

    def heading_into(self, name: StopId) -> Number:
        """Heading of the run that arrives at a stop, radians."""
        return self.headings_rad[self.index(name) - 1]

    def only(self, *place: int) -> "ChainPath":
        """One loop out of many, as plain numbers, chosen by its place on each axis. An axis of length 1 counts for all
        places.
        """

        places: dict[tuple[int, ...], tuple[int, ...]] = {(): ()}

        def one(values: Number | Touched) -> float:
            if not isinstance(values, np.ndarray):
                return float(values)
            shape = values.shape
            if shape not in places:
                places[shape] = tuple([min(at, size - 1) for at, size in zip(place, shape, strict=True)])
            return float(values.item(places[shape]))

        stops = [Stop(s.name, one(s.x_mm), one(s.y_mm), one(s.teeth), s.wind, s.idler) for s in self.stops]
        spans, headings, wraps = (tuple(map(one, run)) for run in (self.spans_mm, self.headings_rad, self.wraps_rad))
        return ChainPath(tuple(stops), spans, headings, wraps, tuple(map(bool, map(one, self.touched))))

    @property
    def links(self) -> Number:
        """Length of the loop in links: sum(span / p) + sum(z wrap / 2 pi).

        Links bend as polygons, so wrap counts teeth, not arc length (model, section 1). Returns: links; nan where
        two circles overlap. Range: 9 teeth and up within a hundredth of a link whatever the teeth's phase.
        Source: rollers seated tooth by tooth and a taut hull round them, counted in the tests.
        """
        wrapped = sum([stop.teeth * wrap for stop, wrap in zip(self.stops, self.wraps_rad, strict=True)])
        return sum(self.spans_mm) / PITCH_MM + wrapped / TURN_RAD


Run = tuple[Number, Number]
"""A straight run of chain: heading in radians, length in mm."""


def tangent(here: Stop, there: Stop) -> Run:
    """The straight run from one stop to the next, touching both on the right side.

    Equation: R = wind r; psi = phi + asin((R_b - R_a) / d); span = sqrt(d^2 - (R_b - R_a)^2) (model, section 1).
    Parameters: two stops, lengths in mm. Returns: heading in radians, span in mm; nan where the circles overlap.
    Range: any two circles apart. Source: common tangents of two circles (Euclid, Elements III).
    """
    dx, dy = there.x_mm - here.x_mm, there.y_mm - here.y_mm
    lift = there.signed_radius_mm - here.signed_radius_mm
    span = np.sqrt(dx * dx + dy * dy - lift * lift)
    return np.arctan2(dy, dx) + np.arctan2(lift, span), span


def run_over(stops: Sequence[Stop]) -> tuple[list[Run], list[Touched]]:
    """The taut run over stops from the first to the last, which touches only idlers that press on it.

    Returns: the run that leaves each stop but the last, and whether each of them is touched. An idler that the chain
    would have to go round almost completely does not press: without it the chain passes on the right side. All such
    idlers are left out at once, and those that press after all are added again. Where circles overlap numpy warns of an
    invalid root. Source: model, section 1.
    """
    touched: list[Touched] = [True] * (len(stops) - 1)
    if True not in [stop.idler for stop in stops]:
        return [tangent(here, there) for here, there in pairwise(stops)], touched
    for _ in range(2 * len(stops)):
        runs = _run_touching(stops, touched)
        pressing = [_presses(stops, runs, touched, i) if stop.idler else True for i, stop in enumerate(stops[:-1])]
        if all(np.array_equal(now, then) for now, then in zip(pressing, touched, strict=True)):
            break
        touched = pressing
    return runs, touched


def _run_touching(stops: Sequence[Stop], touched: Sequence[Touched]) -> list[Run]:
    """The runs over the touched stops. A stop that is passed gets the heading of the run beside it, and no span."""
    ahead, runs = stops[-1], []
    for stop, touches in zip(stops[-2::-1], touched[::-1], strict=True):
        runs.append(tangent(stop, ahead))
        ahead = stop if touches is True else _either(touches, stop, ahead)
    runs.reverse()
    for i, touches in enumerate(touched):
        if touches is not True:
            heading, span = runs[i]
            runs[i] = np.where(touches, heading, runs[i - 1][0]), np.where(touches, span, 0.0)
    return runs


def _presses(stops: Sequence[Stop], runs: Sequence[Run], touched: Sequence[Touched], i: int) -> Touched:
    """Whether an idler presses on the chain: it is touched and stays in touch, or the chain would pass it on the wrong
    side of its rim."""
    stop, (into, _), (out_of, _) = stops[i], runs[i - 1], runs[i]
    wrap = within_turn(stop.wind * (into - out_of))
    pressed = wrap <= ROUND_ALL_RAD
    most_round = pressed & (wrap > HALF_ROUND_RAD)
    if np.any(most_round):
        pressed = pressed & ~(most_round & np.asarray(_clears_without(stops, runs, touched, i)))
    pressed = pressed | np.isnan(into - out_of)
    if touched[i] is True:
        return True if pressed.all() else np.asarray(pressed)
    before, span = last_touched(stops[:i], [length for _, length in runs[:i]], touched[:i])
    ahead_x, ahead_y = np.cos(into), np.sin(into)
    dx, dy = stop.x_mm - before.x_mm, stop.y_mm - before.y_mm
    along, left = dx * ahead_x + dy * ahead_y, dy * ahead_x - dx * ahead_y
    over_rim = stop.wind * (before.signed_radius_mm - left - stop.signed_radius_mm)
    pushes = (along > 0) & (along < span) & (over_rim < -EPSILON)
    return np.asarray(np.where(touched[i], pressed, pushes))


def _clears_without(stops: Sequence[Stop], runs: Sequence[Run], touched: Sequence[Touched], i: int) -> Touched:
    """Whether the chain, drawn straight past an idler, is on that idler's right side by itself.

    An idler far off the chain is not pressed on, however little the chain would have to go round it.
    """
    before, _ = last_touched(stops[:i], [length for _, length in runs[:i]], touched[:i])
    after = stops[-1]
    for stop, touches in zip(stops[-2:i:-1], touched[:i:-1], strict=True):
        after = stop if touches is True else _either(touches, stop, after)
    heading, _ = tangent(before, after)
    dx, dy = stops[i].x_mm - before.x_mm, stops[i].y_mm - before.y_mm
    left = dy * np.cos(heading) - dx * np.sin(heading)
    over_rim = stops[i].wind * (before.signed_radius_mm - left - stops[i].signed_radius_mm)
    return np.asarray(over_rim >= -EPSILON)


def last_touched(stops: Sequence[Stop], spans_mm: Sequence[Number], touched: Sequence[Touched]) -> tuple[Stop, Number]:
    """The last stop that the chain touches, and the length of the run that leaves it, mm."""
    stop, span, seen, i = stops[-1], spans_mm[-1], touched[-1], len(stops) - 1
    while seen is not True and not np.all(seen):
        i -= 1
        stop, span = _either(seen, stop, stops[i]), np.where(seen, span, spans_mm[i])
        seen = np.asarray(seen | np.asarray(touched[i]))
    return stop, span


def _either(where: Touched, here: Stop, there: Stop) -> Stop:
    """A stop that is one of two at each place of the arrays, by a condition."""
    return Stop(
        here.name,
        np.where(where, here.x_mm, there.x_mm),
        np.where(where, here.y_mm, there.y_mm),
        np.where(where, here.teeth, there.teeth),
        np.where(where, here.wind, there.wind),
    )


def close(stops: Sequence[Stop], runs: Sequence[Run], touched: Sequence[Touched]) -> ChainPath:
    """The ChainPath from its stops, the run that leaves each of them, and whether each is touched.

    Parameters: as many runs as stops. Returns: the ChainPath, wraps in radians.
    """
    headings, spans = zip(*runs, strict=True)
    return ChainPath(tuple(stops), spans, headings, wraps_rad(stops, (headings[-1], *headings)), tuple(touched))


def wraps_rad(stops: Sequence[Stop], headings_rad: Sequence[Number]) -> tuple[Number, ...]:
    """How far the chain turns at each stop, from the heading into the first stop and out of each.

    Equation: the turn between incoming and outgoing heading, in the wind's sense, modulo 2 pi (model, section 1).
    Returns: radians, 0 to 2 pi.
    """
    turned = zip(stops, pairwise(headings_rad), strict=True)
    return tuple([within_turn(stop.wind * (into - out_of)) for stop, (into, out_of) in turned])


def within_turn(angle_rad: Number) -> Number:
    """An angle modulo 2 pi, radians; several times faster on arrays than the general remainder."""
    return angle_rad - TURN_RAD * np.floor(angle_rad / TURN_RAD)


def trace(stops: Sequence[Stop]) -> ChainPath:
    """The taut loop over the stops in order, closed from the last to the first.

    Parameters: two stops or more, the first no idler. Returns: the ChainPath; nan lengths where circles overlap
    (model, section 1).

    >>> from lone_pike.core.chain.stops import COG, RING
    >>> bare = trace([Stop(RING, 0.0, 0.0, 32, CLOCKWISE), Stop(COG, -438.0, 0.0, 50, CLOCKWISE)])
    >>> round(float(bare.links), 4)
    110.2145
    """
    with np.errstate(invalid="ignore"):
        return close(stops, *run_over([*stops, stops[0]]))


def beside_run_mm(stop: Stop, run: Run, x_mm: Number, y_mm: Number) -> Number:
    """How far a point is to the right of the run that leaves a stop, seen in the chain's direction of travel, mm.

    Beside the run this is the distance from its line, negative on the left; before its start or past its end it is the
    distance from that end.
    """
    heading, span_mm = run
    ahead_x, ahead_y = np.cos(heading), np.sin(heading)
    dx, dy = x_mm - stop.x_mm, y_mm - stop.y_mm
    right_mm = stop.signed_radius_mm + dx * ahead_y - dy * ahead_x
    along_mm = dx * ahead_x + dy * ahead_y
    past_mm = along_mm - np.minimum(np.maximum(along_mm, 0), span_mm)
    return np.where(past_mm == 0, right_mm, np.hypot(past_mm, right_mm))
