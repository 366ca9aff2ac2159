"""Routes at the seams: idlers reached late, far off, side by side or out of play, runs that rub, tubes beside them."""

from math import pi, sin
from typing import Any

import pytest

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.chain.stops import COG, RING, TENSION
from lone_pike.core.count.answer import Answer, answer
from lone_pike.core.route.threading import walk_of
from lone_pike.core.route.tubes import tube_fits
from lone_pike.formats.files.bike_file import bike_from_document
from tests.bikes import told

HIGH_PIVOT = {
    "rings": [32],
    "cogs": [10, 14, 20, 30, 51],
    "axle_mm": [-440, 5],
    "take_up": {"type": "derailleur", "cage_mm": 93, "b_gap_mm": 8},
    "suspension": {"type": "pivot", "pivot_mm": [5, 95], "travel_mm": 170},
    "idlers": [
        {"run": "drive", "at_mm": [8, 112], "teeth": 16, "chain": "over"},
        {"run": "return", "at_mm": [-95, -50], "teeth": 12, "chain": "under"},
    ],
}
FAR_OFF = {"run": "return", "at_mm": [-219.7, -330], "teeth": 13, "chain": "over"}
SIDE_BY_SIDE = [
    {"run": "drive", "at_mm": [-700, -60], "teeth": 15, "chain": "under"},
    {"run": "return", "at_mm": [-700, -60], "teeth": 15, "chain": "over"},
]


LONG_BIKE = {
    "rings": [46],
    "cogs": [11, 13, 15, 18, 21, 24, 28, 32, 36],
    "axle_mm": [-1390, -150],
    "take_up": {"type": "derailleur", "cage_mm": 92, "b_gap_mm": 6},
}


def named(**bike: Any) -> dict[str, Any]:
    return {"lone_pike": 1, "name": "Knot", **bike}


def crossed_by(overlap_mm: float) -> list[dict[str, Any]]:
    """Two idlers of 15 teeth above each other, the drive run under the upper, the return run over the lower."""
    lower_mm, radius_mm = -105.0, 12.7 / 2 / sin(pi / 15)
    upper_mm = lower_mm + 2 * radius_mm - overlap_mm
    upper, lower = ({"teeth": 15, "at_mm": [-720, height_mm]} for height_mm in (upper_mm, lower_mm))
    return [{"run": "drive", "chain": "under"} | upper, {"run": "return", "chain": "over"} | lower]


def test_an_idler_that_is_reached_late_in_the_travel_is_reached() -> None:
    """The lower idler of a high pivot is touched from 120 mm on; so it is at rest, and under a stricter shop.

    The count and the empty window are an independent reference's.
    """
    found = answer(bike_from_document(named(**HIGH_PIVOT)))
    assert (found.links, found.window) == (124, None)
    assert any(vote.school == "sized_at_rest" for vote in found.votes)
    assert answer(bike_from_document(named(**HIGH_PIVOT, limits={"least_reserve_deg": 45}))).links >= 124


@pytest.mark.parametrize("chainstay_mm", [400, 430, 450])
def test_an_idler_far_off_the_chain_is_not_gone_round(chainstay_mm: float) -> None:
    """It lies 250 mm below the chain that is to pass over it: no such chain touches it."""
    few = {"rings": [34], "cogs": [13, 15, 17, 20, 25], "chainstay_mm": chainstay_mm}
    take_up = {"type": "derailleur", "cage_mm": 92}
    with pytest.raises(InvalidInput) as caught:
        answer(bike_from_document(named(**few, take_up=take_up, idlers=[FAR_OFF])))
    assert [fault.field for fault in caught.value.faults] == ["idlers.0.chain"]
    assert "does not reach the return idler" in told(caught.value)


def test_two_idlers_of_different_runs_may_share_an_axle() -> None:
    found = answer(bike_from_document(named(**LONG_BIKE, idlers=SIDE_BY_SIDE)))
    assert found.window and "route_through" not in [notice.kind for notice in found.warnings]


@pytest.mark.parametrize("apart_mm", [0.0, 4.0, 8.0])
def test_runs_that_lie_over_each_other_by_less_than_a_chain_rub_and_are_sized(apart_mm: float) -> None:
    """The drive idler is let down past the return run, which lies 8.6 mm high, by less than that."""
    level = answer(bike_from_document(named(**LONG_BIKE, idlers=SIDE_BY_SIDE[:1]))).links
    found = answer(bike_from_document(named(**LONG_BIKE, idlers=crossed_by(apart_mm))))
    assert abs(found.links - level) <= 8
    assert "route_rubbing" in [notice.kind for notice in found.warnings]


def test_a_folding_bikes_two_cogs_and_a_childs_short_stay_are_sized() -> None:
    folding = {"rings": [44], "cogs": [12, 17], "chainstay_mm": 400, "take_up": {"type": "derailleur", "cage_mm": 56}}
    child = {"rings": [28], "cogs": [14, 18, 22, 28], "chainstay_mm": 180}
    for bike in (folding, child | {"take_up": {"type": "derailleur", "cage_mm": 56}}):
        assert answer(bike_from_document(named(**bike))).window
    slot = {"rings": [28], "cogs": [14], "take_up": {"type": "slot", "min_mm": 230, "max_mm": 255}}
    assert answer(bike_from_document(named(**slot))).fits


def with_tubes(*tubes: tuple[str, int, float, float], **changes: Any) -> Answer:
    """A long bike whose idlers are out of play in its largest gear: the chain passes above one and below the other."""
    idle = [
        {"run": "drive", "at_mm": [-700, -27], "teeth": 11, "chain": "over"},
        {"run": "return", "at_mm": [-700, -170], "teeth": 11, "chain": "under"},
    ]
    rows = [
        {"run": run, "part": part, "length_mm": length_mm, "inner_mm": 12.0, "behind_mm": behind_mm}
        for run, part, length_mm, behind_mm in tubes
    ]
    return answer(bike_from_document(named(**LONG_BIKE, idlers=idle, tubes=rows, **changes)))


def test_tubes_beside_idlers_out_of_play_lie_on_the_straight_that_is_there() -> None:
    """The return run goes straight from ring to tension pulley, the drive run from cog to ring; both parts are one."""
    result = with_tubes(("return", 1, 300.0, 40.0), ("return", 2, 300.0, 500.0), ("drive", 2, 200.0, 60.0))
    cage = result.sizing.cage
    path = cage.resting_path(46, 36, result.links)
    first, second, drive = tube_fits(result.bike, path)
    for fit in (first, second):
        assert (fit.front_wheel, fit.rear_wheel) == (RING, TENSION)
        assert not fit.cut_front_mm and not fit.cut_rear_mm
    assert (drive.front_wheel, drive.rear_wheel) == (RING, COG)
    keys = [step.key for step in walk_of(result.bike, path, (float(result.links),)).steps]
    assert keys.index("tube_1") < keys.index("tube_2"), "from the pulley on, the rear one first"


def test_a_cage_stops_where_it_runs_into_an_idler_however_narrow_the_place() -> None:
    """The plain way: from 78 to 88 degrees the circles overlap, so 106 keep 7.6 degrees and 108 keep 17.3."""
    take_up = {"cage_mm": 103.8, "guide_teeth": 11, "tension_teeth": 13, "b_gap_mm": 10.4, "lean_deg": 10.3}
    gears = {"rings": [34, 36], "cogs": [12, 13, 18, 29, 36, 37], "axle_mm": [-400.6, 16.3]}
    idlers = [{"run": "return", "at_mm": [-226.3, -114.2], "teeth": 13, "chain": "over"}]
    found = answer(bike_from_document(named(**gears, take_up={"type": "derailleur"} | take_up, idlers=idlers)))
    assert found.window and (found.window.min, found.window.max, found.links) == (110, 114, 114)
    assert found.sizing.cage.reserve_deg(110) == pytest.approx(27.12, abs=0.05)
