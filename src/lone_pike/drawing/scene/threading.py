"""Drawings of the walk along the route: the chain as far as it is laid, the place of the hand, and the wrong way beside
the right one."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from lone_pike.core.chain.path import ChainPath, Stop, trace
from lone_pike.core.chain.stops import GUIDE, RING, TENSION, StopId
from lone_pike.core.count.sizing import Sizing
from lone_pike.core.messages import Message
from lone_pike.core.practice.of_bike import NOTHING
from lone_pike.core.route.threading import FRONT, TAB, Walk, WalkStep
from lone_pike.core.take_up.protocol import Gear
from lone_pike.drawing.scene.bicycle import capsule
from lone_pike.drawing.scene.chain import ChainShapes, chain_shapes, loop_of, parted_shapes, rivets
from lone_pike.drawing.scene.side_view import SideView, box_of, resting_loop, side_view, slack_run
from lone_pike.drawing.scene.wheel import Wheel, wheels_of
from lone_pike.drawing.svg import circles, polyline, view_box

AROUND_MM = 34.0
TAB_HALF_MM, FRONT_MM = 9.0, (54.0, 15.0)


@dataclass(frozen=True)
class PassingWay:
    """One way past a place: the chain and its wheels; guard is a tab or a front derailleur's cage, in front of the
    chain or behind it."""

    chain: ChainShapes
    wheels: tuple[Wheel, ...]
    hubs: str
    guard: str
    guard_over: bool
    is_right: bool


@dataclass(frozen=True)
class Ways:
    """The right and the wrong way past the same place; cage is the cage's plate, the same in both."""

    view_box: str
    ways: tuple[PassingWay, PassingWay]
    cage: str


def threaded_view(sizing: Sizing, gear: Gear, links: int, walk: Walk, step: WalkStep | None) -> SideView:
    """The bike with the chain as far as it is laid at a step; the whole chain if no step is left."""
    side = side_view(sizing, gear, links)
    loop = resting_loop(sizing, gear, links)
    points = rivets(loop, links, slack_run(loop))
    joiners = [int(one.at_links) | 1 for one in walk.placing.joiners]
    place, count = np.arange(len(points)), len(points)
    laid = np.ones(count, dtype=bool)
    if step:
        laid[:] = False
        if step.from_links is not None:
            length = (walk.joined_at_links - step.from_links) % count
            laid = (place - int(step.from_links)) % count <= length
    on, off = parted_shapes(points, laid, joiners)
    hand = None
    if step and step.from_links is not None:
        x_mm, y_mm = points[int(step.from_links) % count].tolist()
        hand = (x_mm, -y_mm)
    return replace(side, chain=on, to_come=off, hand=hand, touch=None, reserve_arc="")


def ways_past(sizing: Sizing, gear: Gear, links: int, step: WalkStep) -> Ways | None:
    """The two ways past a step's place; None if only one is known."""
    if step.wrong is None or step.stop is None:
        return None
    right = _resting(sizing, gear, links)
    stop = right.stop(step.stop)
    by_layer = step.key in (TAB, FRONT)
    wrong = right if by_layer else trace([_turned(one) if one.name == stop.name else one for one in right.stops])
    if not np.isfinite(float(wrong.links)):
        return None
    guard = _guard(right, step)
    shift = step.key == FRONT
    return Ways(
        view_box=_box(right, step, step.stop),
        ways=(
            _way(right, guard, over=True, is_right=True),
            _way(wrong, _guard(right, step, aside_mm=26.0) if shift else guard, over=shift, is_right=False),
        ),
        cage=_cage(right),
    )


@dataclass(frozen=True)
class Led:
    """The whole chain on its way round, right or wrong at one place, and the box of its cage for a close view."""

    view_box: str
    near_box: str
    way: PassingWay
    cage: str


SWAPPED = {"runs": RING, "guide": GUIDE, "tension": TENSION}
"""The stops that the chain passes on the wrong side, by what goes wrong."""


def led_path(sizing: Sizing, gear: Gear, links: int, wrong: str) -> ChainPath:
    """The loop with one thing wrong on its way; the right loop if nothing is wrong, or only the tab."""
    right = _resting(sizing, gear, links)
    if wrong not in SWAPPED:
        return right
    return trace([_turned(one) if one.name == SWAPPED[wrong] else one for one in right.stops])


def led_view(sizing: Sizing, gear: Gear, links: int, wrong: str) -> Led:
    """The chain with one thing wrong on its way, drawn."""
    right = _resting(sizing, gear, links)
    tab = WalkStep(TAB, Message("walk_tab"))
    x, y = _between_pulleys(right)
    half = sizing.bike.caged.cage_length_mm / 2 + AROUND_MM
    way = _way(led_path(sizing, gear, links, wrong), _guard(right, tab), over=wrong != TAB, is_right=wrong == NOTHING)
    return Led(
        _with_cage(box_of(sizing), x - half),
        view_box(x - half, -y - half, 2 * half, 2 * half),
        way,
        _cage(right),
    )


def _with_cage(box: str, left: float) -> str:
    """A box made wider, so that it begins no later than at a given place on the left."""
    x, y, width, height = map(float, box.split())
    more = max(x - left, 0.0)
    return view_box(x - more, y, width + more, height)


def _resting(sizing: Sizing, gear: Gear, links: int) -> ChainPath:
    return sizing.cage.resting_path(gear.ring, gear.cog, links)


def _turned(stop: Stop) -> Stop:
    return replace(stop, wind=-stop.wind, idler=False)


def _way(path: ChainPath, guard: str, *, over: bool, is_right: bool) -> PassingWay:
    loop = loop_of(path)
    points = rivets(loop, int(loop.links), slack_run(loop))
    return PassingWay(
        chain=chain_shapes(points, joiner_at=-1),
        wheels=wheels_of(loop, points),
        hubs="".join(circles(centre, [3.0]) for centre in loop.centres_mm),
        guard=guard,
        guard_over=over,
        is_right=is_right,
    )


def _box(path: ChainPath, step: WalkStep, at: StopId) -> str:
    """A square about the stop of a step."""
    stop = path.stop(at)
    x, y, half = float(stop.x_mm), float(stop.y_mm), abs(float(stop.signed_radius_mm)) + AROUND_MM
    if step.key == TAB:
        x, y = _between_pulleys(path)
    if step.key == FRONT:
        y, half = y + abs(float(stop.signed_radius_mm)), 62.0
        x -= 20.0
    return view_box(x - half, -y - half, 2 * half, 2 * half)


def _between_pulleys(path: ChainPath) -> tuple[float, float]:
    guide, tension = path.stop(GUIDE), path.stop(TENSION)
    return (float(guide.x_mm) + float(tension.x_mm)) / 2, (float(guide.y_mm) + float(tension.y_mm)) / 2


def _cage(path: ChainPath) -> str:
    names = [stop.name for stop in path.stops]
    if GUIDE not in names:
        return ""
    guide, tension = path.stop(GUIDE), path.stop(TENSION)
    return capsule((float(guide.x_mm), float(guide.y_mm)), (float(tension.x_mm), float(tension.y_mm)), TAB_HALF_MM)


def _guard(path: ChainPath, step: WalkStep, aside_mm: float = 0.0) -> str:
    """The tab across the cage's middle, or the front derailleur's cage over the ring."""
    if step.key == TAB:
        x, y = _between_pulleys(path)
        return polyline([(x - 15.0, y + 3.0), (x + 15.0, y - 3.0)])
    if step.key == FRONT:
        ring = path.stop(RING)
        heading = float(path.heading_into(RING))
        ahead = np.array([np.cos(heading), np.sin(heading)])
        up = np.array([-ahead[1], ahead[0]])
        top = np.array([float(ring.x_mm), float(ring.y_mm)]) + up * abs(float(ring.signed_radius_mm))
        middle = top - ahead * 24.0 + up * aside_mm
        long_mm, half_mm = FRONT_MM
        corners: Sequence[np.ndarray] = [
            middle + ahead * side * long_mm / 2 + up * height * half_mm
            for side, height in ((-1, -1), (1, -1), (1, 1), (-1, 1))
        ]
        return polyline(corners, closed=True)
    return ""
