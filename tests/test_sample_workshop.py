"""Each bike of the sample workshop shows the decision its story tells."""

from lone_pike.core.count.answer import Answer, answer
from lone_pike.core.route.routing import drafted
from lone_pike.demo.workshop import sample
from lone_pike.formats.files.bike_file import bike_from_document
from lone_pike.formats.typed.idler_form import rows_of, swapped
from tests.bikes import CROSSED, SAMPLES, sample_answer


def vote(result: Answer, school: str) -> int:
    return next(vote.links for vote in result.votes if vote.school == school)


def test_otter_the_cassette_grew() -> None:
    result = sample_answer("Otter")
    old = result.sizing.bike.old_chain
    assert old and old.links < result.links == vote(result, "old_chain")


def test_heron_the_common_rule_sits_at_the_long_edge() -> None:
    result = sample_answer("Heron")
    assert result.window and vote(result, "bare_wrap_1_pair") == result.window.max > result.links


def test_bittern_needs_more_than_it_is_rated_for_and_one_count_is_safe() -> None:
    result = sample_answer("Bittern")
    assert result.window and result.window.min == result.window.max
    assert result.capacity.rated and result.capacity.needed > result.capacity.rated
    assert result.served.meaning and result.served.meaning.code == "over_rating_but_serves"


def test_grebe_a_class_stands_in_and_the_answer_says_so() -> None:
    assert "cage_class" in {warning.kind for warning in sample_answer("Grebe").warnings}


def test_dunlin_no_count_serves_all_gears_and_a_longer_cage_would() -> None:
    result = sample_answer("Dunlin")
    assert result.window is None and result.mend and result.mend.nearest["cage_class"] == "long"


def test_osprey_sized_at_rest_is_too_short() -> None:
    result = sample_answer("Osprey")
    assert result.window and vote(result, "sized_at_rest") < result.window.min
    assert result.bare_wrap.worst_travel_mm == result.sizing.bike.travel_mm


def test_dipper_needs_most_in_mid_travel() -> None:
    result = sample_answer("Dipper")
    assert 0 < result.bare_wrap.worst_travel_mm < result.sizing.bike.travel_mm


def test_cormorants_idler_keeps_the_growth_down() -> None:
    result = sample_answer("Cormorant")
    without = answer(result.sizing.bike.model_copy(update={"idlers": ()}))
    assert result.bare_wrap.worst - result.bare_wrap.rest < without.bare_wrap.worst - without.bare_wrap.rest - 1


def test_godwits_runs_are_crossed_and_swapping_them_mends_it() -> None:
    crossed = bike_from_document(SAMPLES[CROSSED])
    marks = [trouble for trouble in drafted(crossed).troubles if trouble.kind == "route_crossed"]
    first, last = (trouble.at_mm[0] for trouble in marks)
    assert crossed.axle_xy_mm[0] < first < crossed.idlers[0].at_mm[0] < crossed.idlers[1].at_mm[0] < last < 0
    mended = swapped(rows_of(SAMPLES[CROSSED])).idlers
    result = answer(bike_from_document({**SAMPLES[CROSSED], "idlers": [*mended]}))
    assert result.window and not result.sizing.troubles


def test_all_names_are_unlike_and_none_is_without_a_story() -> None:
    assert len(SAMPLES) == len(sample()["bikes"])
    assert all(len(row["story"]) > 30 for row in sample()["bikes"])
