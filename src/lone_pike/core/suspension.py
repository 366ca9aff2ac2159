"""Where the rear axle stands at each travel (model, section 4)."""

from dataclasses import dataclass

import numpy as np

from lone_pike.core.bike import Bike, PivotSuspension, TableSuspension
from lone_pike.core.faults import refuse
from lone_pike.core.path import Array


@dataclass(frozen=True)
class AxlePath:
    """The axle at T travels, each array (T,): place in mm, and how far the arm has swung from rest, radians."""

    travel_mm: Array
    x_mm: Array
    y_mm: Array
    swing_rad: Array

    @property
    def chainstay_mm(self) -> Array:
        """Centre of crank to centre of axle."""
        return np.hypot(self.x_mm, self.y_mm)


def axle_path(bike: Bike, travel_mm: Array) -> AxlePath:
    """The axle at each travel, wheel rise vertical, mm.

    Pivot: on a circle about it; swing = the arm's turn. Table and growth figure: at that distance from the
    crank, raised by the travel; swing = the turn of the chainstay. Source: model, section 4.
    Raises: Refused where the axle cannot rise that far.
    """
    x_mm, y_mm = bike.axle_xy_mm
    suspension = bike.suspension
    if suspension is None:
        still = np.zeros(len(travel_mm))
        return AxlePath(travel_mm, still + x_mm, still + y_mm, still)
    if isinstance(suspension, PivotSuspension):
        return _about_pivot(suspension, (x_mm, y_mm), travel_mm)
    if isinstance(suspension, TableSuspension):
        return _at_distance((x_mm, y_mm), travel_mm, _read_off(suspension, travel_mm))
    growth = suspension.growth_mm * travel_mm / suspension.travel_mm
    return _at_distance((x_mm, y_mm), travel_mm, bike.chainstay_length_mm + growth)


def _about_pivot(suspension: PivotSuspension, axle: tuple[float, float], travel_mm: Array) -> AxlePath:
    pivot_x, pivot_y = suspension.pivot_mm
    arm_x, arm_y = axle[0] - pivot_x, axle[1] - pivot_y
    arm_mm = float(np.hypot(arm_x, arm_y))
    up = arm_y + travel_mm
    if arm_x >= 0 or np.abs(up).max() >= 0.98 * arm_mm:
        reach = f"an axle behind the pivot that can rise {suspension.travel_mm:g} mm on an arm of {arm_mm:.0f} mm"
        raise refuse("suspension.pivot_mm", f"[{pivot_x:g}, {pivot_y:g}]", reach, "Measure pivot and axle again.")
    back = -np.sqrt(arm_mm**2 - up**2)
    swing = np.arctan2(up, back) - np.arctan2(arm_y, arm_x)
    return AxlePath(travel_mm, pivot_x + back, axle[1] + travel_mm, _nearest_turn(swing))


def _at_distance(axle: tuple[float, float], travel_mm: Array, chainstay_mm: Array) -> AxlePath:
    y_mm = axle[1] + travel_mm
    if (np.abs(y_mm) >= 0.95 * chainstay_mm).any():
        raise refuse("suspension.travel_mm", f"{travel_mm.max():g}", "a travel well below the chainstay")
    x_mm = -np.sqrt(chainstay_mm**2 - y_mm**2)
    swing = np.arctan2(y_mm, x_mm) - np.arctan2(axle[1], axle[0])
    return AxlePath(travel_mm, x_mm, y_mm, _nearest_turn(swing))


def _nearest_turn(angle_rad: Array) -> Array:
    """An angle within half a turn of 0."""
    return np.asarray((angle_rad + np.pi) % (2 * np.pi) - np.pi)


def _read_off(suspension: TableSuspension, travel_mm: Array) -> Array:
    """Chainstay between the rows: cubic pieces that never swing beyond their two rows (Fritsch and Carlson, 1980)."""
    at, chainstay = np.array(suspension.points, dtype=float).T
    width = np.diff(at)
    slope = np.diff(chainstay) / width
    tangent = _monotone_tangents(width, slope)
    piece = np.clip(np.searchsorted(at, travel_mm, side="right") - 1, 0, len(width) - 1)
    share = (travel_mm - at[piece]) / width[piece]
    return np.asarray(
        chainstay[piece] * (1 + 2 * share) * (1 - share) ** 2
        + chainstay[piece + 1] * share**2 * (3 - 2 * share)
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
    found = ((2 * width[0] + width[1]) * slope[0] - width[0] * slope[1]) / (width[0] + width[1])
    if found * slope[0] <= 0:
        return 0.0
    limit = 3 * slope[0]
    return float(limit if slope[0] * slope[1] < 0 and abs(found) > abs(limit) else found)
