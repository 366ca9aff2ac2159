"""The measures of a bike that may be off: what each is called, and how far its error is followed."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np

from lone_pike.core.bike.document import Bike, GrowthSuspension, PivotSuspension
from lone_pike.core.bike.limits import limit
from lone_pike.core.bike.teeth import Array, pitch_radius_mm

Measure = Literal[
    "chainstay_mm",
    "cage_mm",
    "b_gap_mm",
    "axle_height_mm",
    "lean_deg",
    "travel_mm",
    "growth_mm",
    "pivot_x_mm",
    "pivot_y_mm",
]
"""Each in the unit of its name; a pivot is off forward and up on its own."""

Errors = Mapping[Measure, Array]
"""For each measure that is in doubt the errors to add to it, all of one length."""

ALL_BUT = 0.98


def unit_behind(name: str) -> str:
    """What stands behind a number, by the unit in the name of its measure.

    >>> unit_behind("lean_deg"), unit_behind("cage_mm")
    ('°', ' mm')
    """
    return "°" if name.endswith("_deg") else " mm"


@dataclass(frozen=True)
class Kind:
    """A measure's name in the trade, its spread's name in the file, and how far its error is followed, in its unit."""

    word: str
    about: str
    reach: float

    @property
    def unit(self) -> str:
        """As it stands behind a number."""
        return unit_behind(self.about)


KINDS: dict[Measure, Kind] = {
    "chainstay_mm": Kind("chainstay", "chainstay_mm", 16.0),
    "cage_mm": Kind("cage", "cage_mm", 24.0),
    "b_gap_mm": Kind("gap", "b_gap_mm", 12.0),
    "axle_height_mm": Kind("axle height", "axle_height_mm", 24.0),
    "lean_deg": Kind("lean", "lean_deg", 16.0),
    "travel_mm": Kind("travel", "travel_mm", 24.0),
    "growth_mm": Kind("growth", "growth_mm", 16.0),
    "pivot_x_mm": Kind("pivot", "pivot_mm", 24.0),
    "pivot_y_mm": Kind("pivot", "pivot_mm", 24.0),
}
ALWAYS: tuple[Measure, ...] = ("chainstay_mm", "cage_mm", "b_gap_mm")
"""What every derailleur bike is measured by; the others are followed where they are said to be in doubt."""


def values_of(bike: Bike) -> dict[Measure, float]:
    """What the bike has for each measure that applies to it."""
    found: dict[Measure, float] = {
        "chainstay_mm": bike.chainstay_length_mm,
        "cage_mm": bike.take_up.cage_length_mm,
        "b_gap_mm": bike.gap_mm,
        "axle_height_mm": bike.axle_xy_mm[1],
        "lean_deg": bike.take_up.lean_deg,
    }
    suspension = bike.suspension
    if isinstance(suspension, PivotSuspension):
        found |= {"pivot_x_mm": suspension.pivot_mm[0], "pivot_y_mm": suspension.pivot_mm[1]}
    if isinstance(suspension, GrowthSuspension):
        found["growth_mm"] = suspension.growth_mm
    if isinstance(suspension, PivotSuspension | GrowthSuspension):
        found["travel_mm"] = suspension.travel_mm
    return found


def spreads_of(bike: Bike) -> dict[Measure, float]:
    """The measures in doubt, with how far off they may be; a class in place of a caliper is wide."""
    found = {measure: float(getattr(bike.about, KINDS[measure].about)) for measure in values_of(bike)}
    if bike.take_up.cage_mm is None:
        found["cage_mm"] = max(found["cage_mm"], limit("cage_class_doubt"))
    return {measure: spread for measure, spread in found.items() if spread > 0}


def least_mm(bike: Bike, measure: Measure) -> float:
    """Below this the measure cannot be: ring and cog, or the two pulleys, or the teeth would overlap."""
    wheels = {
        "chainstay_mm": (bike.biggest_ring, bike.biggest_cog),
        "cage_mm": (bike.take_up.guide_teeth, bike.take_up.tension_teeth),
    }.get(measure, ())
    return sum(float(pitch_radius_mm(teeth)) + limit("tooth_tip") for teeth in wheels)


def most_too_much(bike: Bike, measure: Measure) -> float:
    """By how much a measure can be told too much at the most: all but a little of what it has to spare."""
    if measure not in (*ALWAYS, "travel_mm"):
        return np.inf
    return ALL_BUT * (values_of(bike)[measure] - least_mm(bike, measure))


def error_of(errors: Errors | None, measure: Measure) -> Array | float:
    """The errors of one measure as a column, (V, 1), to meet travels in a row; 0 where it is not in doubt."""
    return errors[measure][:, None] if errors and measure in errors else 0.0
