"""Every bound of every field: what stands on it is accepted, one step beyond it is refused by that field's name."""

from collections.abc import Iterator
from copy import deepcopy
from typing import Any

import pytest

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import Fault, InvalidInput
from lone_pike.core.bike.fields import Kind, fields_of
from tests.bikes import wide_document

PLACE, TENTH, WHOLE = (-2500, 2500), 0.1, 1
BOUNDS = {
    "rings": (16, 70),
    "cogs": (9, 60),
    "chainstay_mm": (150, 2500),
    "axle_height_mm": PLACE,
    "axle_mm": PLACE,
    "take_up.cage_mm": (35, 150),
    "take_up.guide_teeth": (8, 20),
    "take_up.tension_teeth": (8, 20),
    "take_up.rest_deg": (-180, 60),
    "take_up.b_gap_mm": (1, 30),
    "take_up.lean_deg": (-30, 60),
    "take_up.max_cog": (9, 60),
    "take_up.capacity": (4, 80),
    "take_up.pivot_mm": PLACE,
    "take_up.ring_runout_mm": (0, 5),
    "take_up.wheel_turn_mm": (500, 3000),
    "take_up.min_mm": (150, 2500),
    "take_up.max_mm": (150, 2500),
    "take_up.radius_mm": (1, 40),
    "take_up.crank_deg": (-180, 180),
    "suspension.travel_mm": (1, 400),
    "suspension.pivot_mm": PLACE,
    "suspension.points": (0, 400),
    "suspension.growth_mm": (-60, 120),
    "idlers.at_mm": PLACE,
    "idlers.teeth": (8, 40),
    "idlers.about_mm": (0, 30),
    "tubes.part": (1, 7),
    "tubes.length_mm": (20, 2000),
    "tubes.inner_mm": (6, 40),
    "tubes.behind_mm": (-100, 2000),
    "tubes.front_cage_mm": (0, 200),
    "boom.from_mm": (-300, 300),
    "boom.to_mm": (-300, 300),
    "boom.angle_deg": (-60, 60),
    "chain.speeds": (1, 13),
    "chain.box_links": (20, 600),
    "chain.wear_percent": (0, 5),
    "chain.pieces.links": (1, 600),
    "chain.pieces.wear_percent": (0, 5),
    "chain.pieces.bin_id": (1, 2**53),
    "old_chain.links": (20, 600),
    "old_chain.biggest_cog": (9, 60),
    "old_chain.biggest_ring": (16, 70),
    "sheet_links": (0, 400),
    "limits.least_reserve_deg": (15, 45),
    "limits.least_clearance_mm": (0, 40),
    "limits.slack_air_mm": (0, 30),
    "limits.tube_clear_mm": (5, 100),
    "search.rings": (16, 70),
    "search.cogs": (9, 60),
    "search.ratio": (0.3, 8),
    "search.slack_mm": (0, 100),
    "seen.links": (20, 600),
    "seen.ring": (16, 70),
    "seen.cog": (9, 60),
    "seen.travel_mm": (0, 400),
    "seen.clearance_mm": (-20, 300),
    "seen.slack_mm": (0, 200),
    "seen.axle_mm": (150, 2500),
    "seen.spread": (0.1, 60),
}
"""Regression: the least and the most of each field, as they are agreed today."""

PARTS: dict[str, Any] = {
    "idlers": [{"run": "drive", "at_mm": [-200, 60], "teeth": 15, "chain": "over"}],
    "tubes": [{"run": "return", "part": 1, "length_mm": 100}],
    "boom": {"from_mm": -10, "to_mm": 10},
    "chain": {"pieces": [{"links": 40, "first_end": "inner"}]},
    "old_chain": {"links": 112, "was_right": True},
    "search": {"rings": [40, 42], "cogs": [15, 17]},
    "limits": {},
    "seen": [{"links": 112, "ring": 30, "cog": 46, "clock": "4:05"}],
}
KINDS = {"take_up": ("derailleur", "arm", "slot", "eccentric", "none"), "suspension": ("pivot", "table", "growth")}
WHOLE_KINDS = {Kind.TEETH, Kind.COUNT, Kind.COGS, Kind.TEETH_LIST, Kind.COG_LIST}


def held(path: str, value: float) -> object:
    """A value as its field holds it: alone, in a list, as both figures of a place, or in a row."""
    kind = fields_of(Bike)[path].kind
    if kind is Kind.TRAVEL_ROWS:
        return [[0, 432], [value, 432]]
    if path in ("rings", "cogs"):
        return [value]
    return [value, value] if kind in (Kind.PLACE, Kind.TEETH_LIST) else value


def documents(path: str, value: object) -> Iterator[dict[str, Any]]:
    """A bike with one value set, for each kind of the part that it belongs to."""
    first, *_ = keys = path.split(".")
    for kind in KINDS.get(first, ("",)):
        document = deepcopy(wide_document() | {part: PARTS[part] for part in (first,) if part in PARTS})
        if kind:
            document[first] = {"type": kind}
        here: Any = document
        for key in keys[:-1]:
            here = here[key][0] if isinstance(here[key], list) else here[key]
        here[keys[-1]] = value
        yield document


def faults_of(document: dict[str, Any]) -> tuple[Fault, ...]:
    try:
        Bike.model_validate(document)
    except InvalidInput as error:
        return error.faults
    return ()


def refused(path: str, value: float) -> bool:
    """Whether every kind refuses the value for its own bounds, and names the field and what it may hold."""
    allowed = fields_of(Bike)[path].allowed

    def is_refused(document: dict[str, Any]) -> bool:
        return any(
            ".".join(part for part in fault.field.split(".") if not part.isdecimal()) == path
            and (fault.allowed == allowed or fault.allowed.code == "no_such_key")
            for fault in faults_of(document)
        )

    return all(is_refused(document) for document in documents(path, held(path, value)))


def test_every_bounded_field_stands_in_the_table() -> None:
    assert set(BOUNDS) == {path for path, spec in fields_of(Bike).items() if spec.low is not None}


@pytest.mark.parametrize(("path", "low", "high"), [(path, *bounds) for path, bounds in BOUNDS.items()])
def test_a_bound_is_accepted_and_one_step_beyond_is_refused(path: str, low: float, high: float) -> None:
    step = WHOLE if fields_of(Bike)[path].kind in WHOLE_KINDS else TENTH
    if path == "chain.pieces.bin_id":
        step = 2
    verdicts = [refused(path, value) for value in (low - step, low, high, high + step)]
    assert verdicts == [True, False, False, True]
