"""Presses on the route: rows of idlers made anew."""

import pytest

from lone_pike.core.bike.base import Run
from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.messages import LengthUnit
from lone_pike.formats.typed.idler_form import Row, added, described, moved, nudged, removed, swapped, taped
from tests.bikes import SAMPLES
from tests.bikes import told as in_words

ROWS: list[Row] = SAMPLES["Pintail"]["idlers"]
AXLE = (-1390.0, -150.0)


def test_each_run_stays_front_to_back_wherever_an_idler_is_put() -> None:
    more = added(ROWS, Run.DRIVE, AXLE, 93.0, 73.0)
    assert [row["run"] for row in more.idlers] == ["drive", "drive", "return"]
    assert more.place is not None
    behind = moved(more.idlers, more.place, (-1000, 0))
    assert behind.place == 1 and behind.idlers[1]["at_mm"] == [-1000, 0]
    ahead = nudged(behind.idlers, 1, "right", 10.0)
    assert ahead.idlers[1]["at_mm"] == [-990, 0]
    assert removed(ahead.idlers, 1).idlers == tuple(ROWS)
    assert swapped(swapped(ROWS).idlers).idlers == tuple(ROWS)


def test_an_idler_that_is_added_presses_14_mm_on_the_straight_run() -> None:
    """Half way between crank and axle, the drive run of these wheels passes 83 mm above their middle, the return run 83
    mm below it; 15 teeth have a pitch radius of 30.5 mm, and places are rounded to 5."""
    for run, above in ((Run.DRIVE, 1), (Run.RETURN, -1)):
        added_to = added([], run, AXLE, 93.0, 73.0)
        (row,) = added_to.idlers
        x, y = row["at_mm"]
        rim = y - above * 30.5
        assert x == -695 and (-75 + above * 83 - rim) * above == pytest.approx(14, abs=3)
        assert row["chain"] == ("under" if run is Run.DRIVE else "over")


def test_fields_are_read_in_the_shops_unit_and_what_cannot_be_is_named() -> None:
    inches = described(ROWS, 0, {"idler.forward": "-27 1/2", "idler.up": "-1,5", "idler.teeth": "16t"}, LengthUnit.INCH)
    assert inches.idlers[0]["at_mm"] == pytest.approx([-698.5, -38.1]) and inches.idlers[0]["teeth"] == 16
    for form, line in (
        ({"idler.teeth": "90"}, "idlers.0.teeth: “90 teeth” won’t do here: 8 to 40 teeth."),
        ({"idler.forward": "far", "idler.up": "1"}, "idlers.0.at_mm: “far” won’t do here: two lengths"),
        ({"idler.forward": "-9000", "idler.up": "1"}, "idlers.0.at_mm: “-9000 mm” won’t do here: two lengths"),
    ):
        with pytest.raises(InvalidInput) as caught:
            described(ROWS, 0, form, LengthUnit.MM)
        assert in_words(caught.value).startswith(line)


def test_tapes_keep_the_idler_on_its_side_and_tell_its_doubt() -> None:
    """From crank and axle to (-700, -40): 701.1 and 698.7 mm."""
    placed = taped(ROWS, 0, {"tape.crank": "701.1", "tape.axle": "698.7"}, LengthUnit.MM, AXLE)
    assert placed.idlers[0]["at_mm"] == pytest.approx([-700, -40], abs=3)
    assert placed.idlers[0]["about_mm"] > 2
    assert "about_mm" not in moved(placed.idlers, 0, (-700, -40)).idlers[0]


@pytest.mark.parametrize(("to", "right", "up"), [("left", -1, 0), ("right", 1, 0), ("up", 0, 1), ("down", 0, -1)])
def test_a_nudge_moves_an_idler_that_way_and_keeps_its_doubt(to: str, right: int, up: int) -> None:
    rows = [ROWS[0] | {"at_mm": [-700, -40], "about_mm": 3}, *ROWS[1:]]
    (row, *_) = nudged(rows, 0, to, 2.5).idlers
    assert (row["at_mm"], row["about_mm"]) == ([-700 + 2.5 * right, -40 + 2.5 * up], 3)
