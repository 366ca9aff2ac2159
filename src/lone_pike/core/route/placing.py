"""Where the joiners of a loop are on its route: outside tubes, off the wheels, one on the drive run."""

from dataclasses import dataclass
from itertools import permutations

import numpy as np

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.limits import PITCH_MM
from lone_pike.core.bike.teeth import Array
from lone_pike.core.chain.crossing import Point, reaches_of
from lone_pike.core.chain.path import ChainPath
from lone_pike.core.chain.stops import COG, RING, StopId
from lone_pike.core.route.tubes import in_tubes_links, stops_links

Stretch = tuple[float, float]
"""A stretch of the loop, from one link to another."""

STEP_LINKS = 0.5
MOST_ORDERED = 6


@dataclass(frozen=True)
class JoinerPlace:
    """The place of a joiner: links along the loop from its first stop, its point in mm, and the straight part it is on.
    between names the stops at the two ends of that part, and is empty on a wheel. in_tube: whether it is in a tube."""

    at_links: float
    at_mm: Point | None
    between: tuple[StopId, StopId] | None
    in_tube: bool
    on_drive_run: bool


@dataclass(frozen=True)
class Placing:
    """The order of the runs round the loop, by index, and the place of the joiner behind each of them."""

    order: tuple[int, ...]
    joiners: tuple[JoinerPlace, ...]


def place_joiners(bike: Bike, path: ChainPath, runs_links: tuple[float, ...], *, fixed_order: bool = False) -> Placing:
    """Where to lay the runs so that as few joiners as possible are in a tube or on a wheel, and one is on the drive
    run.

    Parameters: path, the loop at rest; runs_links, each run with the joiner behind it; fixed_order, whether the runs
    keep their order. Of equally good ways, the one that keeps joiners farthest from tubes and wheels is chosen.
    """
    total, tubes = float(path.links), in_tubes_links(bike, path)
    bad_links, drive = [*tubes, *stops_links(path)], _drive_links(path)
    turns = np.arange(0.0, total, STEP_LINKS)
    tried = [
        _best_turn(runs_links, order, turns, total, bad_links, drive) for order in _orders(runs_links, fixed_order)
    ]
    best = min(tried, key=lambda one: one.score)
    return Placing(best.order, tuple(_place(path, at, tubes, drive) for at in best.places_links))


@dataclass(frozen=True)
class _Turn:
    """The best way to lay one order of the runs: its score, lower is better, and the places of its joiners."""

    score: tuple[float, float, float]
    order: tuple[int, ...]
    places_links: tuple[float, ...]


def _orders(runs_links: tuple[float, ...], fixed: bool) -> list[tuple[int, ...]]:
    """Every order of the runs round the loop."""
    orders = [(0, *rest) for rest in permutations(range(1, len(runs_links)))]
    return orders[:1] if fixed or len(runs_links) > MOST_ORDERED else orders


def _best_turn(
    runs_links: tuple[float, ...],
    order: tuple[int, ...],
    turns: Array,
    total: float,
    bad_links: list[Stretch],
    drive: Stretch,
) -> _Turn:
    ends = np.cumsum([runs_links[i] for i in order])
    places = (turns[:, None] + ends - ends[-1]) % total
    room = np.min([_room(places, stretch, total) for stretch in bad_links], axis=0)
    bad = (room <= 0).sum(axis=1)
    off_drive = ~((places >= drive[0]) & (places <= drive[1])).any(axis=1)
    nearest = room.min(axis=1)
    k = int(np.lexsort((-nearest, off_drive, bad))[0])
    return _Turn((float(bad[k]), float(off_drive[k]), -float(nearest[k])), order, tuple(places[k].tolist()))


def _room(places: Array, stretch: Stretch, total: float) -> Array:
    """The distances of places along the loop from a stretch of it, links; negative inside the stretch."""
    start, end = stretch
    past = (places - start) % total
    length = end - start
    return np.where(past <= length, -1.0, np.minimum(past - length, total - past))


def _drive_links(path: ChainPath) -> Stretch:
    """The drive run as a stretch of the loop, links: from where the chain leaves the cog to where it meets the ring."""
    names = [stop.name for stop in [*path.stops[1:], path.stops[0]]]
    stretches = dict(zip(names, stops_links(path), strict=True))
    leaves = 0.0 if path.stops[0].name == COG else stretches[COG][1]
    return leaves, stretches[RING][0]


def _place(path: ChainPath, at_links: float, tubes: list[Stretch], drive: Stretch) -> JoinerPlace:
    """A place along the loop, described by the straight part that it is on."""
    in_tube = any(first <= at_links <= last for first, last in tubes)
    leaving = 0.0
    for reach, (arrives, leaves) in zip(reaches_of(path), _touched_stretches(path), strict=True):
        if leaving <= at_links <= arrives:
            share = (at_links - leaving) * PITCH_MM / (reach.length_mm or 1.0)
            at = tuple(a + share * (b - a) for a, b in zip(reach.start, reach.end, strict=True))
            on_drive = drive[0] <= at_links <= drive[1]
            return JoinerPlace(at_links, (at[0], at[1]), (reach.leaves, reach.comes_to), in_tube, on_drive)
        leaving = leaves
    return JoinerPlace(at_links, None, None, in_tube, on_drive_run=False)


def _touched_stretches(path: ChainPath) -> list[Stretch]:
    """The stretch of chain on each wheel that it touches, in the order of the straight parts."""
    following = [*path.touched[1:], path.touched[0]]
    return [stretch for stretch, touches in zip(stops_links(path), following, strict=True) if touches]
