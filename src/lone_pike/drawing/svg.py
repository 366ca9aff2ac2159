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


def disc(centre: Point, radius_mm: float) -> str:
    """Path data of a circle."""
    r, across = number(radius_mm), number(2 * radius_mm)
    start = xy(float(centre[0]) - radius_mm, float(centre[1]))
    return f"M{start}a{r} {r} 0 1 0 {across} 0a{r} {r} 0 1 0 -{across} 0Z"
