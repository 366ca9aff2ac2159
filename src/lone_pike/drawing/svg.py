"""Turns points into SVG path data.

Drawings have y down; the frame's y is inverted here and nowhere else. Lines are in mm. Shapes, of which a chain has
hundreds, are in whole tenths of a mm and are drawn with `scale(.1)`, which halves the work of writing them and makes
them shorter.
"""

from collections.abc import Iterable, Sequence
from functools import lru_cache
from math import cos, radians, sin

import numpy as np
from numpy.typing import NDArray

Points = NDArray[np.float64]
"""Points in the frame (x forward, y up, mm), shape (n, 2)."""

Point = Sequence[float] | NDArray[np.float64]
"""One point in the frame."""


def number(value: float) -> str:
    """A coordinate as short text.

    >>> number(-0.04), number(12.5), number(3.0)
    ('0', '12.5', '3')
    """
    text = f"{value:.1f}"
    return "0" if text == "-0.0" else text.removesuffix(".0")


def drawn(pattern: str, *lengths_mm: float) -> str:
    """Path data or a view box from a pattern with a %g for each coordinate; y is down already.

    >>> drawn("M%g %gh%g", -0.04, 12.5, 3.0)
    'M0 12.5h3'
    """
    return pattern % _to_tenths(lengths_mm)


def _to_tenths(lengths_mm: Sequence[float] | NDArray[np.float64]) -> tuple[float, ...]:
    """Lengths to a tenth of a mm, with 0 never negative, in one sequence."""
    return tuple((np.round(lengths_mm, 1) + 0.0).ravel().tolist())


def view_box(left: float, top: float, width: float, height: float) -> str:
    """The view box of a drawing, mm, y down."""
    return drawn("%g %g %g %g", left, top, width, height)


def polyline(points: Sequence[Point] | Points, *, closed: bool = False) -> str:
    """Path data through points of the frame."""
    places = np.asarray(points, dtype=np.float64) * (1.0, -1.0)
    path = "L%g %g" * len(places) % _to_tenths(places)
    return "M" + path[1:] + ("Z" if closed else "")


def lines(ends: NDArray[np.float64]) -> str:
    """Path data of many straight lines at once, each from one point of the frame to another, (n, 2, 2)."""
    return "M%.1f %.1fL%.1f %.1f" * len(ends) % tuple((ends * (1.0, -1.0)).ravel().tolist())


def tenths(length_mm: float) -> int:
    """A length in whole tenths of a mm.

    >>> tenths(4.3)
    43
    """
    return round(length_mm * 10)


def shapes(pattern: str, points: NDArray[np.float64]) -> str:
    """One shape many times, in tenths; each %s of the pattern stands for one point of a shape, (n, points, 2)."""
    drawn = pattern.replace("%s", "%d %d") * len(points)
    return drawn % tuple(np.rint(points * (10.0, -10.0)).astype(int).ravel().tolist())


def dots(centres: NDArray[np.float64]) -> str:
    """Path data of dots, in tenths: lines without length, which a round line cap makes visible."""
    return shapes("M%sh0", centres[:, None])


def hand_xy(hand_deg: float, length: float) -> tuple[float, float]:
    """The tip of a hand with a length and an angle from straight down, with forward to the right; y down, as in
    pictures."""
    angle = radians(hand_deg)
    return length * sin(angle), length * cos(angle)


def circles(centre: Point, radii_mm: Iterable[float]) -> str:
    """Path data of circles about one centre, in tenths."""
    around = "".join(map(_circle, radii_mm))
    return f"M{tenths(float(centre[0]))} {tenths(-float(centre[1]))}{around}"


@lru_cache(maxsize=256)
def _circle(radius_mm: float) -> str:
    """A circle around the current point, to which it returns."""
    r = tenths(radius_mm)
    return f"m-{r} 0a{r} {r} 0 1 0 {2 * r} 0a{r} {r} 0 1 0 -{2 * r} 0zm{r} 0"
