"""The measures of a bike that can be wrong: their values, their spreads, and which errors are tried."""

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.fields import FieldSpec, Kind, Spread, fields_of
from lone_pike.core.bike.limits import limit
from lone_pike.core.bike.take_up import Family
from lone_pike.core.bike.teeth import Array, tip_radius_mm

Measure = str
"""A measure's key, with the unit in its name. A place counts as two measures, forward and up: pivot_x_mm,
pivot_y_mm."""

Errors = Mapping[Measure, Array]
"""For each measure in doubt, the errors to add to it, all of one length."""

ALL_BUT = 0.98
IDLER_REACH_MM = 24.0
ALWAYS: tuple[Measure, ...] = ("chainstay_mm", "cage_mm", "b_gap_mm")
"""The measures of every derailleur bike. Errors in other measures are followed only if they are marked as doubtful."""


def measures_of_table() -> dict[Measure, FieldSpec]:
    """Every measure that can be in doubt, with its field.

    >>> sorted(measures_of_table())[:3]
    ['axle_height_mm', 'b_gap_mm', 'cage_mm']
    """
    measures: dict[Measure, FieldSpec] = {}
    for spec in fields_of(Bike).values():
        if spec.spread:
            stem = spec.spread.key.removesuffix("_mm")
            names = [f"{stem}_x_mm", f"{stem}_y_mm"] if spec.kind is Kind.PLACE else [spec.spread.key]
            measures |= dict.fromkeys(names, spec)
    turn = replace(fields_of(Bike)["suspension.points"], kind=Kind.ANGLE, label="Turn of the derailleur's part")
    measures["turn_deg"] = replace(turn, spread=Spread("turn_deg", limit("linkage_turn"), 30.0, 24.0))
    height = replace(fields_of(Bike)["idlers"], label="Idler's height")
    for i in range(height.most or 0):
        key = idler_measure(i)
        measures[key] = replace(height, spread=Spread(key, limit("tape"), 30.0, IDLER_REACH_MM))
    return measures


def idler_measure(i: int) -> Measure:
    """The height of an idler, by its place in the list.

    >>> idler_measure(0)
    'idler_1_mm'
    """
    return f"idler_{i + 1}_mm"


MEASURES = measures_of_table()


def values_of(bike: Bike) -> dict[Measure, float]:
    """The value of each measure that this bike has."""
    values: dict[Measure, float] = {
        "chainstay_mm": bike.chainstay_length_mm,
        "axle_height_mm": bike.axle_xy_mm[1],
    }
    if bike.take_up.family is Family.TURNS:
        values |= bike.caged.measures(bike.gap_mm)
    if bike.suspension:
        values |= bike.suspension.measures
    return values | {idler_measure(i): idler.at_mm[1] for i, idler in enumerate(bike.idlers)}


def spreads_of(bike: Bike) -> dict[Measure, float]:
    """The measures in doubt, with their spreads. A cage known only by its class has a large one."""
    spreads = {measure: bike.about.root.get(_key(measure), 0.0) for measure in values_of(bike)}
    if bike.take_up.by_class:
        spreads["cage_mm"] = max(spreads["cage_mm"], limit("cage_class_doubt"))
    if bike.suspension and bike.suspension.leaves_turn_open:
        spreads["turn_deg"] = limit("linkage_turn") * bike.travel_mm / limit("linkage_travel")
    spreads |= {idler_measure(i): idler.about_mm or 0.0 for i, idler in enumerate(bike.idlers)}
    return {measure: spread for measure, spread in spreads.items() if spread > 0}


def _key(measure: Measure) -> str:
    spread = MEASURES[measure].spread
    return spread.key if spread else measure


def reach_of(measure: Measure) -> float:
    """The largest error of a measure that is tried, in its unit."""
    spread = MEASURES[measure].spread
    return spread.reach if spread else 0.0


def least_mm(bike: Bike, measure: Measure) -> float:
    """The smallest value that a measure can have: below it ring and cog, or the two pulleys, would overlap, or a gap
    would be out of bounds."""
    if measure == "b_gap_mm":
        return float(MEASURES[measure].low or 0.0)
    wheels: tuple[int, ...] = ()
    if measure == "chainstay_mm":
        wheels = (bike.largest_ring, bike.largest_cog)
    if measure == "cage_mm":
        wheels = (bike.caged.guide_teeth, bike.caged.tension_teeth)
    return sum(map(tip_radius_mm, wheels))


def most_too_much(bike: Bike, measure: Measure) -> float:
    """The most by which a measure can be too large: nearly its whole distance from its smallest value."""
    if measure not in (*ALWAYS, "travel_mm"):
        return np.inf
    return ALL_BUT * (values_of(bike)[measure] - least_mm(bike, measure))


def error_of(errors: Errors | None, measure: Measure) -> Array | float:
    """The errors of one measure as a column (V, 1), to combine with a row of travels; 0 if it is not in doubt."""
    return errors[measure][:, None] if errors and measure in errors else 0.0
