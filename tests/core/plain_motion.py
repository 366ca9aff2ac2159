"""The second, plain way for where a bike stands along its travel (model, section 4)."""

from dataclasses import dataclass
from itertools import pairwise
from math import atan2, hypot, pi, radians, sqrt
from typing import Any


@dataclass(frozen=True)
class Pose:
    """Where a bike stands at one travel: the axle, and how far the arm has swung."""

    x: float
    y: float
    swing: float


def pose_of(bike: dict[str, Any], travel: float) -> Pose:
    """The axle of model 4."""
    x, y = bike.get("axle_mm") or (-bike["chainstay_mm"], 0.0)
    suspension = bike.get("suspension")
    if not suspension:
        return Pose(x, y, 0.0)
    if suspension["type"] == "pivot":
        px, py = suspension["pivot_mm"]
        arm, up = hypot(x - px, y - py), y + travel - py
        back = -sqrt(arm * arm - up * up)
        return Pose(px + back, y + travel, turned(atan2(up, back) - atan2(y - py, x - px)))
    if suspension["type"] == "table":
        rows = suspension["points"]
        (t1, c1, *turn), (t2, c2, *next_turn) = next(two for two in pairwise(rows) if travel <= two[1][0])
        share = (travel - t1) / (t2 - t1)
        away = c1 + (c2 - c1) * share
        if turn:
            swing = radians(turn[0] + (next_turn[0] - turn[0]) * share - rows[0][2])
            return Pose(-sqrt(away * away - (y + travel) ** 2), y + travel, swing)
    else:
        away = hypot(x, y) + suspension["growth_mm"] * travel / suspension["travel_mm"]
    x2 = -sqrt(away * away - (y + travel) ** 2)
    return Pose(x2, y + travel, turned(atan2(y + travel, x2) - atan2(y, x)))


def travels_of(bike: dict[str, Any]) -> list[float]:
    """Rest to bottomed out; finer than the core's even ones, and every millimetre about no worst in particular."""
    suspension = bike.get("suspension") or {}
    full = suspension.get("travel_mm") or suspension.get("points", [[0.0]])[-1][0]
    return [full * i / 24 for i in range(25)] if full else [0.0]


def turned(angle: float) -> float:
    return (angle + pi) % (2 * pi) - pi
