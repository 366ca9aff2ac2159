"""Compares the straight runs of a loop: where two cross, and where two come too near."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from math import cos, dist, hypot, isfinite, sin

from lone_pike.core.chain.path import ChainPath
from lone_pike.core.chain.stops import StopId

Point = tuple[float, float]


@dataclass(frozen=True)
class Reach:
    """A straight run: the stops at its two ends, and where it starts and ends, mm."""

    leaves: StopId
    comes_to: StopId
    start: Point
    end: Point

    @property
    def length_mm(self) -> float:
        """The vector from its start to its end."""
        return hypot(self.end[0] - self.start[0], self.end[1] - self.start[1])

    def shares_a_wheel(self, other: "Reach") -> bool:
        """Whether it meets another at a wheel."""
        return not {self.leaves, self.comes_to}.isdisjoint({other.leaves, other.comes_to})


@dataclass(frozen=True)
class Meeting:
    """Two runs at their nearest: the distance, mm (0 if they cross), and the place between them."""

    first: Reach
    second: Reach
    apart_mm: float
    at_mm: Point


def reaches_of(path: ChainPath) -> list[Reach]:
    """Every straight run of a loop of plain numbers, in the chain's direction of travel; empty if circles overlap."""
    touched = [i for i, touches in enumerate(path.touched) if touches]
    reaches = []
    for i, following in zip(touched, [*touched[1:], touched[0]], strict=True):
        stop, heading, span = path.stops[i], float(path.headings_rad[i]), float(path.spans_mm[i])
        if not isfinite(span):
            return []
        ahead, radius_mm = (cos(heading), sin(heading)), float(stop.signed_radius_mm)
        start = (float(stop.x_mm) - radius_mm * ahead[1], float(stop.y_mm) + radius_mm * ahead[0])
        end = (start[0] + span * ahead[0], start[1] + span * ahead[1])
        reaches.append(Reach(stop.name, path.stops[following].name, start, end))
    return reaches


@dataclass(frozen=True)
class BothRuns:
    """The straight parts of a loop in two groups: those of the drive run, and the others."""

    drive: tuple[Reach, ...]
    rest: tuple[Reach, ...]

    @cached_property
    def meetings(self) -> tuple[Meeting, ...]:
        """Every part of the drive run with every other part, at their nearest, in the chain's direction of travel.

        Two that meet at a wheel are met there, and are reported only where they cross. Source: model, section 1.
        """
        pairs = (meeting_of(one, other) for one in self.drive for other in self.rest)
        return tuple(met for met in pairs if met)

    @cached_property
    def crossings(self) -> tuple[Meeting, ...]:
        """Where the two runs cross, in order along the drive run."""
        crossed = [met for met in self.meetings if not met.apart_mm]
        return tuple(sorted(crossed, key=lambda met: (self.drive.index(met.first), dist(met.first.start, met.at_mm))))

    def overlap_mm(self) -> float:
        """The largest distance between the runs between two crossings, mm; 0 if they never cross."""
        crossed = self.crossings
        return max((self._deep_mm(*pair) for pair in zip(crossed[::2], crossed[1::2], strict=False)), default=0.0)

    def _deep_mm(self, one: Meeting, other: Meeting) -> float:
        between = [
            _from_to(run, *sorted((run.index(at_one), run.index(at_other))))
            for run, at_one, at_other in (
                (self.drive, one.first, other.first),
                (self.rest, one.second, other.second),
            )
        ]
        (drive, drive_bends), (rest, rest_bends) = between
        far = [min(away_mm(bend, part) for part in rest) for bend in drive_bends]
        far += [min(away_mm(bend, part) for part in drive) for bend in rest_bends]
        return max(far, default=0.0)


def _from_to(run: Sequence[Reach], first: int, last: int) -> tuple[Sequence[Reach], list[Point]]:
    """The parts of a run between two of its parts, and the points where it bends there."""
    parts = run[first : last + 1]
    return parts, [part.end for part in parts[:-1]] + [part.start for part in parts[1:]]


def both_runs(path: ChainPath, apart: StopId, back: StopId) -> BothRuns:
    """The straight parts of a loop of plain numbers; empty if circles overlap.

    Parameters: apart, the stop where the drive run begins; back, where it ends.
    """
    runs = reaches_of(path)
    leaves = [run.leaves for run in runs]
    if apart not in leaves or back not in leaves:
        return BothRuns((), ())
    first = leaves.index(apart)
    turned = runs[first:] + runs[:first]
    ends = [run.leaves for run in turned].index(back)
    return BothRuns(tuple(turned[:ends]), tuple(turned[ends:]))


def meeting_of(one: Reach, other: Reach) -> Meeting | None:
    """Where two runs cross or are nearest; None if they only meet at a wheel."""
    crossed = _crossed_at(one, other)
    if crossed:
        return Meeting(one, other, 0.0, crossed)
    return None if one.shares_a_wheel(other) else _nearest(one, other)


def away_mm(point: Point, run: Reach) -> float:
    """The distance of a point from a run, mm."""
    return _foot(point, run)[0]


def _crossed_at(one: Reach, other: Reach) -> Point | None:
    """Where two straight runs cross between their ends."""
    (ax, ay), (bx, by), (cx, cy), (dx, dy) = one.start, one.end, other.start, other.end
    ux, uy, vx, vy = bx - ax, by - ay, dx - cx, dy - cy
    turn = ux * vy - uy * vx
    if turn == 0:
        return None
    along = ((cx - ax) * vy - (cy - ay) * vx) / turn
    across = ((cx - ax) * uy - (cy - ay) * ux) / turn
    return (ax + along * ux, ay + along * uy) if 0 < along < 1 and 0 < across < 1 else None


def _nearest(one: Reach, other: Reach) -> Meeting:
    """Two runs that do not cross are nearest at an end of one of them."""
    pairs = [(end, other) for end in (one.start, one.end)] + [(end, one) for end in (other.start, other.end)]
    apart, end, foot = min((*_foot(end, run)[:1], end, _foot(end, run)[1]) for end, run in pairs)
    return Meeting(one, other, apart, ((end[0] + foot[0]) / 2, (end[1] + foot[1]) / 2))


def _foot(point: Point, run: Reach) -> tuple[float, Point]:
    """The distance of a point from a run, and the nearest place on the run."""
    (px, py), (ax, ay), (bx, by) = point, run.start, run.end
    ux, uy = bx - ax, by - ay
    share = ((px - ax) * ux + (py - ay) * uy) / (ux * ux + uy * uy or 1.0)
    share = min(max(share, 0.0), 1.0)
    foot = (ax + share * ux, ay + share * uy)
    return hypot(px - foot[0], py - foot[1]), foot
