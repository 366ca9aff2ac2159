"""The boom: the handbook's long bike at its three settings, what one count serves, and what a move asks for."""

from typing import Any

import pytest

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.count.answer import Answer, answer
from lone_pike.core.count.sizing import Window
from lone_pike.formats.files.bike_file import bike_from_document
from tests.bikes import said, told, wide_document
from tests.core.test_take_up import LONG


def long_bike(boom: dict[str, Any] | None = None, **changes: Any) -> Answer:
    document = wide_document(**LONG) | ({"boom": boom} if boom else {}) | changes
    del document["chainstay_mm"]
    return answer(bike_from_document(document))


def test_the_boom_of_the_model_section_3() -> None:
    """-25: 258.825, 264-272, 266; 0: 262.706, 268-276, 270; +25: 266.591, 272-280, 274."""
    result = long_bike({"from_mm": -25, "to_mm": 25})
    assert result.boom and [setting.boom_mm for setting in result.boom.settings] == list(range(-25, 26, 5))
    rows = {setting.boom_mm: setting for setting in result.boom.settings}
    for boom_mm, bare, window, links in (
        (-25, 258.825, Window(264, 272), 266),
        (0, 262.706, Window(268, 276), 270),
        (25, 266.591, Window(272, 280), 274),
    ):
        setting = rows[boom_mm]
        assert setting.bare_wrap == pytest.approx(bare, abs=5e-4)
        assert (setting.window, setting.links) == (window, links)
    assert result.links == 270, "all else is at boom 0, the rider's own setting"
    assert result.boom.links_each_mm == pytest.approx(2 / 12.7, rel=0.02)


def test_what_a_count_serves_is_where_each_setting_sized_alone_has_it_in_its_window() -> None:
    """Every setting is sized alone, with the whole bike moved the other way in place of the ring."""
    result = long_bike({"from_mm": -40, "to_mm": 40})
    assert result.boom and result.boom.serves_mm
    low, high = result.boom.serves_mm
    for boom_mm in range(-40, 41, 4):
        moved: dict[str, Any] = {
            "axle_mm": [LONG["axle_mm"][0] - boom_mm, LONG["axle_mm"][1]],
            "idlers": [{**one, "at_mm": [one["at_mm"][0] - boom_mm, one["at_mm"][1]]} for one in LONG["idlers"]],
        }
        window = long_bike(**moved).window
        serves = bool(window and window.min <= result.links <= window.max)
        if min(abs(boom_mm - low), abs(boom_mm - high)) > 0.6:
            assert serves == (low <= boom_mm <= high), boom_mm
    assert said(result.boom.message).startswith("270 links work with the boom from -39 to +23 mm")
    assert -40 < low < -39 and 23 < high < 24, "what is told in whole mm is served"


@pytest.mark.parametrize(
    ("changes", "line"),
    [
        ({"boom": {"from_mm": 10, "to_mm": 10}}, "boom.to_mm: “10 mm” won’t do here: more than 10 mm."),
        ({"boom": {"from_mm": -20}}, "boom.to_mm: Missing: -300 to 300 mm."),
        ({"boom": {"from_mm": -20, "to_mm": 20, "angle_deg": 80}}, "boom.angle_deg: “80°” won’t do here: -60 to 60°."),
        (
            {"boom": {"from_mm": -20, "to_mm": 20}, "take_up": {"type": "none"}, "idlers": [], "cogs": [18]},
            "boom: “",
        ),
    ],
)
def test_a_boom_that_cannot_be_is_refused_in_words(changes: dict[str, Any], line: str) -> None:
    with pytest.raises(InvalidInput) as caught:
        long_bike(**changes)
    assert told(caught.value).startswith(line), told(caught.value)


def test_a_ring_that_runs_into_an_idler_within_the_boom_is_told() -> None:
    near = [{"run": "drive", "at_mm": [-170, 60], "teeth": 15, "chain": "over"}]
    with pytest.raises(InvalidInput) as caught:
        long_bike({"from_mm": -100, "to_mm": 20}, idlers=near)
    assert told(caught.value).startswith("boom: “the ring at -")


def test_the_cage_clock_votes_on_long_bikes_alone_for_the_count_that_points_there() -> None:
    """Half past four to five is 45 to 30 degrees forward of straight down (trade, section 4): nearest to 37.5."""
    result = long_bike()
    votes = {vote.school: vote.links for vote in result.votes}
    angles = {count: result.gears_at(count)[0].rest_deg for count in range(262, 280, 2)}
    known = {count: angle for count, angle in angles.items() if angle is not None}
    assert votes["cage_clock"] == min(known, key=lambda count: abs(known[count] - 37.5))
    assert "cage_clock" not in {vote.school for vote in answer(bike_from_document(wide_document())).votes}
