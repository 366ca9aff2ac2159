"""Runs of a loop that cross each other: a chain laid in a figure of eight."""

from collections.abc import Iterator
from math import cos, sin

from lone_pike.core.chain.path import Path

Point = tuple[float, float]
Reach = tuple[str, Point, Point]
"""A straight run: the stop it leaves, where it starts, and where it ends."""


def crossing(path: Path, apart: str, back: str) -> tuple[str, str] | None:
    """The stops left by two runs that cross: one of the drive run, and one of the rest; None where none do.

    Parameters: path, a loop of plain numbers; apart, the stop where the drive run begins; back, where it ends.
    Source: model, section 1.
    """
    runs = list(_runs(path))
    names = [name for name, *_ in runs]
    turned = runs[names.index(apart) :] + runs[: names.index(apart)]
    ends = [name for name, *_ in turned].index(back)
    for name, start, end in turned[:ends]:
        for other, other_start, other_end in turned[ends:]:
            if _cross(start, end, other_start, other_end):
                return name, other
    return None


def _runs(path: Path) -> Iterator[Reach]:
    for stop, heading, span, touched in zip(path.stops, path.headings_rad, path.spans_mm, path.touched, strict=True):
        if touched:
            ahead = (cos(heading), sin(heading))
            radius_mm = float(stop.signed_radius_mm)
            start = (float(stop.x_mm) - radius_mm * ahead[1], float(stop.y_mm) + radius_mm * ahead[0])
            yield stop.name, start, (start[0] + float(span) * ahead[0], start[1] + float(span) * ahead[1])


def _cross(a: Point, b: Point, c: Point, d: Point) -> bool:
    """Whether two straight runs cross between their ends."""

    def side(p: Point, q: Point, r: Point) -> float:
        return (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0])

    return side(a, b, c) * side(a, b, d) < 0 and side(c, d, a) * side(c, d, b) < 0
