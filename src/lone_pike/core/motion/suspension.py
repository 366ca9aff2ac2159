"""Where the rear axle is at each travel (model, section 4)."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from math import atan, sin

import numpy as np

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import invalid
from lone_pike.core.bike.limits import limit
from lone_pike.core.bike.measures import Errors, error_of
from lone_pike.core.bike.suspensions import GrowthSuspension, PivotSuspension, TableSuspension
from lone_pike.core.bike.teeth import Array
from lone_pike.core.messages import Message, Raw, mm

STEEPEST_ARM = sin(atan(limit("steepest_growth")))
"""How far above or below its pivot the axle may be, as a share of the arm's length, before it moves sideways too
fast."""


@dataclass(frozen=True)
class AxlePath:
    """The axle at T travels, each array (T,), or (V, T) for V sets of errors.

    AxleAt in mm, and how far the arm has swung from rest, radians.
    """

    travel_mm: Array
    x_mm: Array
    y_mm: Array
    swing_rad: Array

    @property
    def chainstay_mm(self) -> Array:
        """Centre of crank to centre of axle."""
        return np.hypot(self.x_mm, self.y_mm)


def axle_path(bike: Bike, travel_mm: Array, errors: Errors | None = None) -> AxlePath:
    """The axle at each travel, wheel rise vertical, mm; with errors, for each set of them.

    Pivot: on a circle about it; swing = the arm's turn. Table and growth figure: at that distance from the crank,
    raised by the travel; swing = the turn that the table tells, or that of the chainstay. Source: model, section 4.
    Raises: InvalidInput where the axle cannot rise that far; with errors it stops there instead.
    """
    rest = _at_rest(bike, errors)
    suspension = bike.suspension
    if suspension is None:
        still = np.zeros(len(travel_mm))
        return AxlePath(travel_mm, still + rest[0], still + rest[1], still)
    return PATHS[suspension.type](suspension, rest, travel_mm, errors)


AxleAt = tuple[float | Array, float | Array]


def _at_rest(bike: Bike, errors: Errors | None) -> AxleAt:
    """The axle at rest, at the measured distance and height plus their errors."""
    x_mm, y_mm = bike.axle_xy_mm
    if not errors or not {"chainstay_mm", "axle_height_mm"} & set(errors):
        return x_mm, y_mm
    chainstay_mm = np.hypot(x_mm, y_mm) + error_of(errors, "chainstay_mm")
    height_mm = y_mm + error_of(errors, "axle_height_mm")
    return np.sign(x_mm) * _leg(chainstay_mm, height_mm), height_mm


def _risen(full_mm: float, travel_mm: Array, errors: Errors | None) -> Array:
    """The travels if the full travel has an error."""
    return np.asarray(travel_mm * (1 + error_of(errors, "travel_mm") / full_mm))


def _leg(long_mm: float | Array, short_mm: float | Array) -> Array:
    """The other leg of a right triangle; nearly zero if the one is as long as the hypotenuse."""
    return np.asarray(np.sqrt(np.maximum(np.square(long_mm) - np.square(short_mm), 1.0)))


def _along_table(suspension: TableSuspension, rest: AxleAt, travel_mm: Array, errors: Errors | None) -> AxlePath:
    at_mm, rows_mm, *_ = np.array(suspension.points, dtype=float).T
    chainstay_mm = _read_off(at_mm, rows_mm, travel_mm) + error_of(errors, "chainstay_mm")
    path = _at_distance(rest, travel_mm, chainstay_mm, errors)
    return replace(path, swing_rad=_carried_rad(suspension, path.swing_rad, travel_mm, errors))


def _by_growth(suspension: GrowthSuspension, rest: AxleAt, travel_mm: Array, errors: Errors | None) -> AxlePath:
    full_mm = suspension.travel_mm
    growth = (suspension.growth_mm + error_of(errors, "growth_mm")) * travel_mm / full_mm
    return _at_distance(rest, _risen(full_mm, travel_mm, errors), np.hypot(*rest) + growth, errors)


def _about_pivot(suspension: PivotSuspension, rest: AxleAt, travel_mm: Array, errors: Errors | None) -> AxlePath:
    rise_mm = _risen(suspension.travel_mm, travel_mm, errors)
    pivot_x = suspension.pivot_mm[0] + error_of(errors, "pivot_x_mm")
    pivot_y = suspension.pivot_mm[1] + error_of(errors, "pivot_y_mm")
    arm_x, arm_y = rest[0] - pivot_x, rest[1] - pivot_y
    arm_mm, up = np.hypot(arm_x, arm_y), arm_y + rise_mm
    if not errors and (arm_x >= 0 or np.abs(up).max() >= STEEPEST_ARM * arm_mm):
        allowed = Message("arm_that_rises", travel=mm(suspension.travel_mm), arm=mm(float(arm_mm)))
        raise invalid("suspension.pivot_mm", Raw(list(suspension.pivot_mm)), allowed, Message("measure_pivot_again"))
    back = -_leg(arm_mm, up)
    swing = np.arctan2(up, back) - np.arctan2(arm_y, arm_x)
    return AxlePath(rise_mm, pivot_x + back, rest[1] + rise_mm, _nearest_turn(swing))


def _at_distance(rest: AxleAt, rise_mm: Array, chainstay_mm: Array, errors: Errors | None) -> AxlePath:
    y_mm = rest[1] + rise_mm
    if not errors and (np.abs(y_mm) >= 0.95 * chainstay_mm).any():
        raise invalid("suspension.travel_mm", mm(float(rise_mm.max())), Message("travel_below_chainstay"))
    x_mm = -_leg(chainstay_mm, y_mm)
    swing = np.arctan2(y_mm, x_mm) - np.arctan2(rest[1], rest[0])
    return AxlePath(rise_mm, x_mm, y_mm, _nearest_turn(swing))


PATHS: dict[str, Callable[..., AxlePath]] = {
    "pivot": _about_pivot,
    "table": _along_table,
    "growth": _by_growth,
}
"""How the axle moves, by the kind of the suspension."""


def _nearest_turn(angle_rad: Array) -> Array:
    """An angle reduced to half a turn on either side of 0."""
    return np.asarray((angle_rad + np.pi) % (2 * np.pi) - np.pi)


def _carried_rad(suspension: TableSuspension, chainstay_rad: Array, travel_mm: Array, errors: Errors | None) -> Array:
    """How far the part with the derailleur has turned since the first row: as the table says; otherwise like the
    chainstay, plus its error, which grows up to the last row."""
    if suspension.tells_turn:
        at_mm, _, turn_deg = np.array(suspension.points, dtype=float).T
        return np.radians(_read_off(at_mm, turn_deg - turn_deg[0], travel_mm))
    return chainstay_rad + np.radians(error_of(errors, "turn_deg") * travel_mm / suspension.travel_mm)


def _read_off(at: Array, rows: Array, travel_mm: Array) -> Array:
    """Interpolates between the rows with cubic pieces that never overshoot their two rows (Fritsch and Carlson,
    1980)."""
    width = np.diff(at)
    slope = np.diff(rows) / width
    tangent = _monotone_tangents(width, slope)
    piece = np.clip(np.searchsorted(at, travel_mm, side="right") - 1, 0, len(width) - 1)
    share = (travel_mm - at[piece]) / width[piece]
    return np.asarray(
        rows[piece] * (1 + 2 * share) * (1 - share) ** 2
        + rows[piece + 1] * share**2 * (3 - 2 * share)
        + width[piece] * share * (1 - share) * (tangent[piece] * (1 - share) - tangent[piece + 1] * share)
    )


def _monotone_tangents(width: Array, slope: Array) -> Array:
    """Slopes at the rows: weighted harmonic means, 0 at a turning point, one-sided at the ends."""
    if len(slope) == 1:
        return np.array([slope[0], slope[0]])
    before, after = 2 * width[1:] + width[:-1], width[1:] + 2 * width[:-1]
    with np.errstate(divide="ignore", invalid="ignore"):
        inner = (before + after) / (before / slope[:-1] + after / slope[1:])
    inner = np.where(slope[:-1] * slope[1:] > 0, inner, 0.0)
    return np.concatenate([[_end_tangent(width[:2], slope[:2])], inner, [_end_tangent(width[:-3:-1], slope[:-3:-1])]])


def _end_tangent(width: Array, slope: Array) -> float:
    """Slope at an end row from its two nearest pieces, kept from overshooting."""
    tangent = ((2 * width[0] + width[1]) * slope[0] - width[0] * slope[1]) / (width[0] + width[1])
    if tangent * slope[0] <= 0:
        return 0.0
    steepest = 3 * slope[0]
    return float(steepest if slope[0] * slope[1] < 0 and abs(tangent) > abs(steepest) else tangent)
