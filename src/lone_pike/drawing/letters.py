"""A measure's letter on a drawing."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Letter:
    """A measure's letter on the drawing, the line it stands for, and the instrument laid there, in SVG coordinates."""

    letter: str
    x: float
    y: float
    line: str
    instrument: str
