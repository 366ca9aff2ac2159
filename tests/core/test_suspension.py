"""Rear suspension and idlers against the tables of the model, sections 3 and 4, and what must hold for any of them."""

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.bike.measures import spreads_of
from lone_pike.core.count.answer import answer
from lone_pike.core.count.sizing import size_at, size_bike, size_in, travels_to_size
from lone_pike.core.motion.poses import end_gears, poses_as_given
from lone_pike.core.motion.suspension import axle_path
from lone_pike.formats.files.bike_file import bike_from_document
from tests.bikes import said, told, wide_document

PIVOT = {"type": "pivot", "pivot_mm": [8, 52], "travel_mm": 140}


def sprung(suspension: dict[str, Any], **changes: Any) -> Bike:
    document = wide_document(**{"axle_mm": [-440, 6], "suspension": suspension} | changes)
    return bike_from_document({key: value for key, value in document.items() if key != "chainstay_mm"})


def test_the_axle_about_the_pivot() -> None:
    """Model, section 4: t = 70 at (-441.715, 76), swing -8.917 degrees; t = 140 at (-432.436, 146), -17.910."""
    path = axle_path(sprung(PIVOT), np.array([70.0, 140.0]))
    assert path.x_mm == pytest.approx([-441.715, -432.436], abs=5e-4)
    assert path.y_mm == pytest.approx([76, 146])
    assert np.degrees(path.swing_rad) == pytest.approx([-8.917, -17.910], abs=5e-4)


def test_the_suspension_row_of_the_model_section_3() -> None:
    result = answer(sprung(PIVOT))
    assert result.bare_wrap.rest == pytest.approx(107.485, abs=5e-4)
    assert (round(result.bare_wrap.worst, 3), result.bare_wrap.worst_travel_mm) == (110.057, 140)
    assert [vote.links for vote in result.votes[:2]] == [114, 116]
    assert result.window and (result.window.min, result.window.max) == (114, 116)
    assert result.links == 116


def test_a_table_that_tells_the_turn_sizes_as_the_arm_it_was_read_off() -> None:
    """Rows every 20 mm off the model's own arm, its turn read on a gauge that stood at 40 degrees at rest."""
    arm = sprung(PIVOT)
    path = axle_path(arm, np.arange(0.0, 141.0, 20.0))
    figures = zip(path.travel_mm, path.chainstay_mm, np.degrees(path.swing_rad) + 40, strict=True)
    rows = [[float(figure) for figure in row] for row in figures]
    as_told, as_arm = answer(sprung({"type": "table", "points": rows})), answer(arm)
    assert (as_told.links, as_told.window) == (as_arm.links, as_arm.window)
    assert as_told.sizing.cage.reserve_deg(116) == pytest.approx(as_arm.sizing.cage.reserve_deg(116), abs=0.05)
    assert not [notice for notice in as_told.warnings if "turn" in notice.kind]
    backward = answer(sprung({"type": "table", "points": [[t, c, -turn] for t, c, turn in rows]}))
    assert "by 18°, the chainstay turns by -18°" in said(backward.notices[0].message)


def test_a_table_without_the_turn_carries_the_doubt_and_says_so() -> None:
    """Model, section 4: up to 0.3 links over 150 mm, which the limits have as 6 degrees; half over half the travel."""
    bare = answer(sprung({"type": "table", "points": [[0, 440.04], [75, 445]]}))
    assert spreads_of(bare.bike) == {"turn_deg": 3.0}
    assert bare.likelihood and "change the count by 0.3 links over 150 mm" in said(bare.notices[0].message)
    full = answer(sprung({"type": "table", "points": [[0, 440.04], [150, 447]]})).sizing
    turned = size_in(
        full.bike,
        full.travels_mm,
        poses_as_given(full.bike, full.travels_mm, {"turn_deg": np.array([6.0])}),
        end_gears(full.bike),
    )
    shortest = [sizing.cage.sweep.stretched_links[-1, 0, 0] for sizing in (full, turned)]
    assert shortest[0] - shortest[1] == pytest.approx(0.3, abs=0.05)


def test_the_long_bike_of_the_model_section_3_at_boom_0() -> None:
    idlers = [
        {"run": "drive", "at_mm": [-700, -40], "teeth": 15, "chain": "under"},
        {"run": "return", "at_mm": [-720, -105], "teeth": 15, "chain": "over"},
    ]
    document = wide_document(
        rings=[46], cogs=[11, 13, 15, 18, 21, 24, 28, 32, 36], axle_mm=[-1390, -150], idlers=idlers
    )
    del document["chainstay_mm"]
    result = answer(bike_from_document(document))
    assert result.bare_wrap.rest == pytest.approx(262.706, abs=5e-4)
    assert result.window and (result.window.min, result.window.max, result.links) == (268, 276, 270)
    document["idlers"][0] |= {"chain": "over", "at_mm": [-900, -90]}
    with pytest.raises(InvalidInput) as caught:
        answer(bike_from_document(document))
    assert "does not reach the drive idler from that side: try under" in told(caught.value)
    on_small_cogs = answer(bike_from_document(document | {"idlers": [idlers[0] | {"at_mm": [-700, -40]}, idlers[1]]}))
    touched = on_small_cogs.sizing.cage.running([on_small_cogs.links]).touched
    # By hand: over 21 teeth the straight run passes 2 mm above the idler's rim, over 18 it would pass 1 mm below.
    assert touched[2].ravel().tolist() == [False] * 5 + [True] * 4


def test_sized_at_rest_is_said_to_be_short_and_from_where() -> None:
    """At rest 112 would be taken; on the travel it falls below 25 degrees somewhere, and stays above it before."""
    vote = next(vote for vote in answer(sprung(PIVOT)).votes if vote.school == "sized_at_rest")
    assert (vote.links, vote.inside) == (112, False)
    assert "4 links short of 116" in said(vote.rule)
    at_mm = vote.rule.values["first"].value
    assert size_at(sprung(PIVOT), at_mm - 25).cage.reserve_deg(112) > 25
    assert size_at(sprung(PIVOT), at_mm).cage.reserve_deg(112) < 25


pivots = st.builds(
    lambda x, y, travel: {"type": "pivot", "pivot_mm": [x, y], "travel_mm": travel},
    st.floats(-30, 40),
    st.floats(-20, 120),
    st.floats(60, 160),
)


@settings(max_examples=25)
@given(pivots)
def test_the_worst_travel_is_found_wherever_it_is(suspension: dict[str, Any]) -> None:
    """Against every millimetre of the travel sized on its own at the end gears."""
    bike = sprung(suspension)
    sizing = size_bike(bike)
    every = [size_at(bike, float(travel)) for travel in np.linspace(0, bike.travel_mm, 41)]
    assert sizing.bare_wrap_links == pytest.approx(max(one.bare_wrap_links for one in every), abs=2e-3)
    links = sizing.recommended_links
    assert sizing.cage.reserve_deg(links) == pytest.approx(min(one.cage.reserve_deg(links) for one in every), abs=0.1)
    assert sizing.cage.air_mm(links) == pytest.approx(min(one.cage.air_mm(links) for one in every), abs=0.5)


@settings(max_examples=25)
@given(pivots)
def test_a_table_sampled_from_a_pivot_gives_its_wraps(suspension: dict[str, Any]) -> None:
    """Within 0.02 links, at every travel that is sized."""
    pivot = sprung(suspension)
    rows = np.linspace(0, pivot.travel_mm, 15)
    points = np.stack([rows, axle_path(pivot, rows).chainstay_mm], axis=1).tolist()
    table = sprung({"type": "table", "points": points})
    travels = travels_to_size(pivot)
    assert axle_path(table, travels).chainstay_mm == pytest.approx(axle_path(pivot, travels).chainstay_mm, abs=0.1)
    assert size_bike(table).bare_wrap_links == pytest.approx(size_bike(pivot).bare_wrap_links, abs=0.02)


def test_growth_is_linear_and_may_shorten() -> None:
    path = axle_path(sprung({"type": "growth", "growth_mm": -12, "travel_mm": 120}), np.array([0.0, 60.0, 120.0]))
    rest = float(np.hypot(440, 6))
    assert path.chainstay_mm == pytest.approx([rest, rest - 6, rest - 12])
    result = answer(sprung({"type": "growth", "growth_mm": -12, "travel_mm": 120}))
    assert result.bare_wrap.worst_travel_mm == 0


def test_a_table_never_swings_beyond_its_rows() -> None:
    """Monotone interpolation: flat stays flat, and nothing overshoots a turning point."""
    bike = sprung({"type": "table", "points": [[0, 440], [40, 446], [80, 446], [120, 441]]})
    between = axle_path(bike, np.linspace(0, 120, 241)).chainstay_mm
    assert between.max() == pytest.approx(446)
    assert between[80:161] == pytest.approx(446)


@pytest.mark.parametrize(
    ("suspension", "field"),
    [
        ({"type": "coil"}, "suspension.type"),
        ({"type": "pivot", "pivot_mm": [8, 52], "travel_mm": 0}, "suspension.travel_mm"),
        ({"type": "pivot", "pivot_mm": [-430, 6], "travel_mm": 140}, "suspension.pivot_mm"),
        ({"type": "pivot", "pivot_mm": [8, 52], "travel_mm": 140, "points": []}, "suspension.points"),
        ({"type": "table", "points": [[0, 440]]}, "suspension.points"),
        ({"type": "table", "points": [[5, 440], [20, 441]]}, "suspension.points.0"),
        ({"type": "table", "points": [[0, 440], [20, 441], [20, 442]]}, "suspension.points.2"),
        ({"type": "table", "points": [[0, 440], [40, 441], [20, 442]]}, "suspension.points.2"),
        ({"type": "table", "points": [[0, 440], [20, "x"]]}, "suspension.points.1.1"),
        ({"type": "table", "points": [[0, 440, 0], [20, 441]]}, "suspension.points.1"),
        ({"type": "table", "points": [[0, 440], [20, 441, -3]]}, "suspension.points.1"),
        ({"type": "table", "points": [[0, 440, 0], [20, 441, -61]]}, "suspension.points.1.2"),
        ({"type": "table", "points": [[0, 440, 0, 0], [20, 441, 1, 0]]}, "suspension.points.0"),
        ({"type": "table", "points": [[i / 100, 440.0] for i in range(10_000)]}, "suspension.points"),
    ],
)
def test_a_suspension_that_cannot_be_is_refused_by_field_and_row(suspension: dict[str, Any], field: str) -> None:
    with pytest.raises(InvalidInput) as caught:
        answer(sprung(suspension))
    assert caught.value.faults[0].field == field


def test_ring_and_cog_that_overlap_on_the_way_are_refused() -> None:
    shortening = {"type": "growth", "growth_mm": -60, "travel_mm": 60}
    with pytest.raises(InvalidInput) as caught:
        answer(sprung(shortening, rings=[70], cogs=[11, 20, 30, 40, 60], axle_mm=[-300, 0]))
    assert "at 60 mm of travel" in told(caught.value)


def test_growth_in_doubt_is_followed_to_where_another_count_would_be_recommended() -> None:
    def growing(growth_mm: float, **changes: Any) -> Bike:
        return sprung({"type": "growth", "growth_mm": growth_mm, "travel_mm": 100}, **changes)

    growth = answer(growing(20, about={"growth_mm": 4})).valid_ranges["growth_mm"]
    assert growth.value == 20 and growth.least
    links = size_bike(growing(20)).recommended_links
    assert size_bike(growing(growth.least + 0.3)).recommended_links == links
    assert size_bike(growing(growth.least - 0.3)).recommended_links != links


@pytest.mark.parametrize(("place", "field"), [({"axle_mm": [-252, 0]}, "axle_mm"), ({}, "chainstay_mm")])
def test_an_axle_too_near_is_named_by_the_field_it_was_told_in(place: dict[str, Any], field: str) -> None:
    document = wide_document(rings=[70], cogs=[11, 20, 30, 40, 60], chainstay_mm=252)
    document = {key: value for key, value in document.items() if not (place and key == "chainstay_mm")} | place
    with pytest.raises(InvalidInput) as caught:
        answer(bike_from_document(document))
    assert [fault.field for fault in caught.value.faults] == [field]
