"""Points to SVG path data. Drawings are y down: the frame's y is turned over here, once."""

from collections.abc import Iterable, Sequence

import numpy as np
from numpy.typing import NDArray

Points = NDArray[np.float64]
"""Points in the frame (x forward, y up, mm), shape (n, 2)."""

Point = Sequence[float] | NDArray[np.float64]
"""One point in the frame."""


def number(value: float) -> str:
    """A coordinate, short.

    >>> number(-0.04), number(12.5), number(3.0)
    ('0', '12.5', '3')
    """
    text = f"{value:.1f}"
    return "0" if text == "-0.0" else text.removesuffix(".0")


def xy(x_mm: float, y_mm: float) -> str:
    """A point of the frame as SVG coordinates."""
    return f"{number(x_mm)} {number(-y_mm)}"


def polyline(points: Iterable[Point], *, closed: bool = False) -> str:
    """Path data through points of the frame."""
    return "M" + "L".join(xy(float(point[0]), float(point[1])) for point in points) + ("Z" if closed else "")


def shapes(pattern: str, points: NDArray[np.float64]) -> str:
    """The same shape many times: each %s of the pattern takes one of a shape's points, (n, points, 2)."""
    drawn = pattern.replace("%s", "%.1f %.1f") * len(points)
    return drawn % tuple((points * (1.0, -1.0)).ravel())


def discs(centres: NDArray[np.float64], radius_mm: float) -> str:
    """Path data of many circles of one size."""
    r, across = number(radius_mm), number(2 * radius_mm)
    left = centres - (radius_mm, 0.0)
    return shapes(f"M%sa{r} {r} 0 1 0 {across} 0a{r} {r} 0 1 0 -{across} 0Z", left[:, None])


def dots(centres: NDArray[np.float64]) -> str:
    """Path data of dots: runs of no length, made round by their stroke."""
    return shapes("M%sh0", centres[:, None])


def disc(centre: Point, radius_mm: float) -> str:
    """Path data of a circle."""
    return discs(np.array([centre], dtype=float), radius_mm)
