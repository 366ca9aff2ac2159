"""A chain's wear and forecast the long way, from the handbook's words alone: fractions, and sums over a fine grid.

Nothing is shared with the product but the numbers of the model, section 9, which are written here once more.
"""

from fractions import Fraction
from itertools import product
from math import erf, exp, log, sqrt
from typing import Any

HALF_INCH = Fraction(127, 10)
RATE, TIMES, FIRST, FIRST_OFF = 0.5 / 2800, 1.7, 0.02, 0.02
STEPS, FIRST_STEPS = 500, 25

Reading = dict[str, Any]


def plain_wear(reading: Reading) -> float:
    """Percent that a chain is longer than new, by a reading that is no gauge's."""
    read = Fraction(str(reading.get("mm", 0)))
    should = reading["pitches"] * HALF_INCH
    if reading["way"] == "past":
        read = should + Fraction(str(reading["sixteenths"])) * Fraction(254, 160)
    if reading["way"] == "caliper":
        read = should + read - Fraction(str(reading["new_mm"]))
    return float(100 * (read / should - 1))


def below(x: float) -> float:
    return (1 + erf(x / sqrt(2))) / 2


def chance(reading: Reading, wear: float) -> float:
    """How likely a reading is of a chain that is worn so."""
    if reading["way"] == "gauge":
        play, off = (0.0, 0.01) if reading.get("same_way") else (0.08, 0.04)
        passed = below((wear + play - reading["passes"]) / off) if "passes" in reading else 1.0
        stopped = below((reading["stops"] - wear - play) / off) if "stops" in reading else 1.0
        return passed * stopped
    off_mm = {"ruler": 0.4, "past": 0.4, "whole": 1.0, "caliper": 0.06}[reading["way"]]
    off = 100 * off_mm / (reading["pitches"] * 12.7)
    return exp(-(((wear - plain_wear(reading)) / off) ** 2) / 2)


def plain_due(readings: list[Reading], limit: float) -> tuple[float, float, float]:
    """The km at which a chain meets its limit: below which one, five and nine of ten chances lie."""
    found = []
    for i, j in product(range(STEPS), range(FIRST_STEPS)):
        u, v = -4 + 8 * (i + 0.5) / STEPS, -2 + 4 * (j + 0.5) / FIRST_STEPS
        rate, first = RATE * exp(u * log(TIMES)), max(FIRST + v * FIRST_OFF, 0.0)
        weight = exp(-(u * u + v * v) / 2)
        for one in readings:
            weight *= chance(one, first + rate * one["km"])
        found.append((max((limit - first) / rate, 0.0), weight))
    found.sort()
    total, summed, wanted, due = sum(weight for _, weight in found), 0.0, [0.1, 0.5, 0.9], list[float]()
    for km, weight in found:
        summed += weight
        while len(due) < len(wanted) and summed >= wanted[len(due)] * total:
            due.append(km)
    return due[0], due[1], due[2]
