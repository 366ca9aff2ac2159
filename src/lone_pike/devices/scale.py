"""The scale: one line for each reading, "G", grams, and "S" if the scale says that it is steady."""

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum

READINGS, DRIFT_G = 5, 0.3
"""How many of the last readings must agree, and how closely."""


class ScaleTrouble(StrEnum):
    """Why there is no weight."""

    SILENT = "scale_silent"
    DRIFTS = "scale_drifts"


@dataclass(frozen=True)
class Weight:
    """A weight in grams, and the range of its readings."""

    grams: float
    apart_g: float


def weight_of(lines: Sequence[str]) -> Weight | ScaleTrouble:
    """The weight from the last readings; or the reason, if there are none or they do not agree.

    >>> weight_of(["G 251.0 S", "G 251.1 S", "G 251.1 S", "G 251.0 S", "G 251.1 S"])
    Weight(grams=251.1, apart_g=0.1)
    >>> weight_of(["G 240.0 U"] * 2).value, weight_of([]).value
    ('scale_drifts', 'scale_silent')
    """
    readings = [reading for line in lines[-READINGS:] if (reading := _grams(line)) is not None]
    if not readings:
        return ScaleTrouble.SILENT
    grams = sorted(value for value, steady in readings if steady)
    if len(grams) < READINGS or grams[-1] - grams[0] > DRIFT_G:
        return ScaleTrouble.DRIFTS
    return Weight(grams[READINGS // 2], round(grams[-1] - grams[0], 2))


def _grams(line: str) -> tuple[float, bool] | None:
    parts = line.split()
    if len(parts) != 3 or parts[0] != "G" or parts[2] not in ("S", "U"):
        return None
    text = parts[1]
    if not text.replace(".", "", 1).isdecimal() or not text.isascii() or len(text) > 9:
        return None
    return float(text), parts[2] == "S"
