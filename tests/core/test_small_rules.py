"""Rules that stand on their own: spacings, counting, faults, how far a cage serves."""

import json
from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from lone_pike.core.bike.cassettes import COMMON, spread_cogs
from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.bike.measures import ALWAYS
from lone_pike.core.chain.counting import joinable_at_or_above, joinable_nearest
from lone_pike.core.count.answer import answer
from lone_pike.core.count.sizing import size_bike
from lone_pike.core.seen.learning import Learned, MeasureLearned
from lone_pike.core.seen.telling import moved_measures
from lone_pike.core.take_up.crank import crank_deg
from lone_pike.core.take_up.protocol import Margins
from lone_pike.core.take_up.sights import least_between
from lone_pike.formats.files.bike_file import bike_from_document, read_bike, schema
from lone_pike.wording.render import fault_line, shown_raw
from tests.bikes import UNITS, road_bike, triple_bike, wide_bike, wide_document


@given(st.integers(9, 20), st.integers(5, 13), st.integers(0, 35))
def test_a_spread_has_its_ends_and_rises(smallest: int, count: int, room: int) -> None:
    cogs = spread_cogs(smallest, smallest + count - 1 + room, count)
    assert (len(cogs), cogs[0], cogs[-1]) == (count, smallest, smallest + count - 1 + room)
    assert all(later > earlier for earlier, later in pairwise(cogs))


def test_common_spacings_are_cassettes_that_the_file_takes() -> None:
    for cogs in COMMON:
        assert answer(wide_bike(cogs=list(cogs))).sizing.bike.cogs == cogs


@given(st.floats(20, 400), st.sampled_from([1, 2]))
def test_joinable_counts_lie_where_they_should(links: float, step: int) -> None:
    above, nearest = joinable_at_or_above(links, step), joinable_nearest(links, step)
    assert above % step == 0 and links <= above + 1e-6 and above - links < step
    assert nearest % step == 0 and abs(nearest - links) <= step / 2


@given(st.integers(0, 400))
def test_both_words_always_agree(links: int) -> None:
    count, pairs = (part.split()[0] for part in UNITS.format_count(links).split(" · "))
    whole = pairs.removesuffix("½")
    assert int(count) == 2 * int(whole or 0) + (1 if pairs.endswith("½") else 0)


@given(st.text(max_size=300))
def test_what_was_read_is_shown_on_one_short_line(text: str) -> None:
    line = shown_raw(text)
    assert len(line) <= 60 and "\n" not in line and line.isprintable()


@given(st.binary(max_size=200))
def test_no_bytes_break_the_reader(data: bytes) -> None:
    with pytest.raises(InvalidInput) as caught:
        read_bike(data)
    assert all(fault.field and fault_line(fault, UNITS) for fault in caught.value.faults)


MONSTERS = {
    "a number of 5 000 digits": ("9" * 5000, "numbers of up to 40 digits"),
    "one of 5 000 digits with a sign": ("-" + "9" * 5000, "numbers of up to 40 digits"),
    "a list in lists, 400 deep": ("[" * 400 + "]" * 400, "lists within lists without end"),
    "an object in objects, 400 deep": ('{"a":' * 400 + "1" + "}" * 400, "lists within lists without end"),
    "lists without end": ("[" * 100_000, "lists within lists without end"),
    "half of a character": (r'"\ud800"', "half of a character"),
    "a key twice": ('{"a": 1, "a": 2}', "each key once"),
    "no number at all": ("NaN", "chainstay_mm"),
    "a number beyond all": ("1e999", "chainstay_mm"),
}


@pytest.mark.parametrize("name", MONSTERS)
@pytest.mark.parametrize("field", ["chainstay_mm", "name"])
def test_a_monstrous_file_is_a_fault_and_no_more(name: str, field: str) -> None:
    text, says = MONSTERS[name]
    with pytest.raises(InvalidInput) as caught:
        read_bike(f'{{"lone_pike": 1, "{field}": {text}}}')
    lines = [fault_line(fault, UNITS) for fault in caught.value.faults]
    assert any(says.replace("chainstay_mm", field) in line for line in lines), lines
    json.dumps(lines, ensure_ascii=False).encode()


@pytest.mark.parametrize(
    ("text", "says"), [('{"lone_pike": 1,', "the end of the file"), ('{"lone_pike": 1 a}', "file: “a}” won’t do here")]
)
def test_a_file_that_is_no_json_says_what_stands_there(text: str, says: str) -> None:
    with pytest.raises(InvalidInput) as caught:
        read_bike(text)
    assert says in fault_line(caught.value.faults[0], UNITS)


@pytest.mark.parametrize(("travel", "hint"), [(40, "the same travel again"), (30, "less than the 40 mm before it")])
def test_a_row_of_travel_that_does_not_rise_says_whether_it_stands_twice_or_falls(travel: int, hint: str) -> None:
    rows = [[0, 432], [40, 436], [travel, 438]]
    with pytest.raises(InvalidInput) as caught:
        wide_bike(suspension={"type": "table", "points": rows})
    assert hint in fault_line(caught.value.faults[0], UNITS)


def test_every_field_of_the_schema_says_how_it_is_measured_and_what_is_allowed() -> None:
    told = schema()
    for model in (told, *told["$defs"].values()):
        for name, field in model.get("properties", {}).items():
            assert field.get("description") and (field.get("title") or "$ref" in field), name


@pytest.mark.parametrize("bike", [wide_bike(), road_bike(), triple_bike()], ids=["wide", "road", "triple"])
def test_every_measures_edge_changes_the_count_and_just_within_does_not(bike: object) -> None:
    """All three measures, each way, on the check bikes."""
    result = answer(bike)
    for measure in ALWAYS:
        hold = result.valid_ranges[measure]
        for edge_mm, sign in ((hold.least, -1), (hold.most, 1)):
            if edge_mm is None:
                continue
            for inside, same in ((0.25, True), (-0.25, False)):
                value = edge_mm - sign * inside
                part = {measure: value}
                changed = (
                    result.sizing.bike.model_copy(update=part)
                    if measure == "chainstay_mm"
                    else result.sizing.bike.model_copy(
                        update={"take_up": result.sizing.bike.derailleur.model_copy(update=part)}
                    )
                )
                assert (size_bike(changed).recommended_links == result.links) == same, (measure, sign)


def test_the_largest_cog_served_is_the_last_that_leaves_a_window() -> None:
    served = answer(wide_bike()).served.largest_cog
    assert served and served > 46
    for cog, opens in ((served, True), (served + 1, False)):
        cogs = [*wide_document()["cogs"][:-1], cog]
        assert (size_bike(wide_bike(cogs=cogs)).window is not None) == opens


def test_computed_capacity_is_needed_and_what_more_the_largest_cog_allows() -> None:
    """The check bike needs 46 - 11 = 35 teeth; each tooth more that is served is a tooth of capacity more."""
    served = answer(wide_bike()).served
    assert served.largest_cog and served.capacity == 35 + served.largest_cog - 46
    doubled = answer(triple_bike()).served
    assert doubled.largest_cog and doubled.capacity == (44 - 24) + (doubled.largest_cog - 11)


def test_valid_ranges_run_from_their_least_to_their_most() -> None:
    for valid in answer(wide_bike()).valid_ranges.values():
        if valid.least is not None and valid.most is not None:
            assert valid.least <= valid.value <= valid.most


def test_a_miscounted_tooth_gives_what_a_bike_with_it_would_get() -> None:
    sensitivity = answer(wide_bike()).sensitivity
    rings = tuple(size_bike(wide_bike(rings=[ring])).recommended_links for ring in (29, 31))
    cogs = tuple(size_bike(wide_bike(cogs=[*wide_document()["cogs"][:-1], cog])).recommended_links for cog in (45, 47))
    assert (sensitivity.ring_miscounted, sensitivity.cog_miscounted) == (rings, cogs)


@pytest.mark.parametrize("chainstay_mm", range(425, 441, 3))
def test_a_tooth_more_or_less_is_found_wherever_the_chainstay_puts_the_count(chainstay_mm: int) -> None:
    sensitivity = answer(wide_bike(chainstay_mm=chainstay_mm)).sensitivity
    larger = wide_document()["cogs"][:-1]
    rings, cogs = (
        tuple(size_bike(wide_bike(chainstay_mm=chainstay_mm, **change)).recommended_links for change in changes)
        for changes in (
            ({"rings": [29]}, {"rings": [31]}),
            ({"cogs": [*larger, 45]}, {"cogs": [*larger, 47]}),
        )
    )
    assert (sensitivity.ring_miscounted, sensitivity.cog_miscounted) == (rings, cogs)


def test_the_least_between_uneven_travels_is_the_parabolas_own() -> None:
    """(t - 16)^2 + 5 is least at 5, on either side of the nearest travel that was computed."""
    for at in ([0.0, 10.0, 40.0], [0.0, 20.0, 25.0], [3.0, 15.0, 16.5, 60.0]):
        travel = np.array(at)
        assert least_between(travel, (travel - 16) ** 2 + 5) == pytest.approx(5)


def test_a_count_that_keeps_just_what_is_asked_is_safe() -> None:
    found = Margins((110, 112, 114), np.array([[-0.1, 0.0, 4.0]]), np.array([[3.0, 0.0, -0.1]]), 0.0)
    assert found.long_enough.tolist() == [[False, True, True]] and found.safe.tolist() == [[False, True, False]]


def test_a_crank_at_the_ends_of_its_circle_points_at_the_axle_or_away_from_it() -> None:
    """Level with the axle: nearest is straight back, 90 degrees behind straight down; farthest is straight forward."""
    bike = bike_from_document(
        {
            "lone_pike": 1,
            "name": "Otter",
            "rings": [42],
            "cogs": [17],
            "chainstay_mm": 420,
            "take_up": {"type": "eccentric", "radius_mm": 8},
        }
    )
    ends = np.array([420.0 - 8, 420.0 + 8])
    assert crank_deg(bike, ends, 420.0, 8.0).tolist() == pytest.approx([-90, 90])
    assert crank_deg(bike, ends + np.array([-1e-11, 1e-11]), 420.0, 8.0).tolist() == pytest.approx([-90, 90])
    assert np.isnan(crank_deg(bike, np.array([411.0, 429.0]), 420.0, 8.0)).all()


def test_the_measure_that_moved_farthest_by_its_own_spread_is_told_first() -> None:
    """5 mm of a spread of 20 is less than 3 mm of a spread of 4; what hardly moved is not told."""
    moved = (
        MeasureLearned("chainstay_mm", 430.0, 20.0, 435.0, 4.0),
        MeasureLearned("cage_mm", 92.0, 4.0, 89.0, 2.0),
        MeasureLearned("gap_mm", 6.0, 4.0, 6.1, 4.0),
    )
    found = moved_measures(Learned(112, 0.9, None, moved, (), {112: 0.9}))
    assert [one.key for one in found] == ["cage_mm", "chainstay_mm"]
