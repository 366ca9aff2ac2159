"""Each bike of the sample workshop shows the decision its story tells."""

from lone_pike.core.judging.answer import Answer, answer
from lone_pike.demo.workshop import sample
from lone_pike.formats.bike_file import bike_from_document

ANSWERS = {row["document"]["name"]: answer(bike_from_document(row["document"])) for row in sample()["bikes"]}


def vote(found: Answer, school: str) -> int:
    return next(vote.links for vote in found.votes if vote.school == school)


def test_otter_the_cassette_grew() -> None:
    found = ANSWERS["Otter"]
    old = found.sizing.bike.old_chain
    assert old and old.links < found.links == vote(found, "old_chain")


def test_heron_the_common_rule_sits_at_the_long_edge() -> None:
    found = ANSWERS["Heron"]
    assert found.window and vote(found, "bare_wrap_1_pair") == found.window.max > found.links


def test_bittern_needs_more_than_it_is_rated_for_and_one_count_is_safe() -> None:
    found = ANSWERS["Bittern"]
    assert found.window and found.window.min == found.window.max
    assert found.capacity.rated and found.capacity.needed > found.capacity.rated
    assert found.served.meaning and found.served.meaning.code == "over_rating_but_serves"


def test_grebe_a_class_stands_in_and_the_answer_says_so() -> None:
    assert "cage_class" in {warning.code for warning in ANSWERS["Grebe"].warnings}


def test_dunlin_no_count_serves_all_gears_and_a_longer_cage_would() -> None:
    found = ANSWERS["Dunlin"]
    assert found.window is None and found.mend and found.mend.cage_class == "long"


def test_osprey_sized_at_rest_is_too_short() -> None:
    found = ANSWERS["Osprey"]
    assert found.window and vote(found, "sized_at_rest") < found.window.min
    assert found.bare_wrap.worst_travel_mm == found.sizing.bike.travel_mm


def test_dipper_needs_most_in_mid_travel() -> None:
    found = ANSWERS["Dipper"]
    assert 0 < found.bare_wrap.worst_travel_mm < found.sizing.bike.travel_mm


def test_cormorants_idler_keeps_the_growth_down() -> None:
    found = ANSWERS["Cormorant"]
    without = answer(found.sizing.bike.model_copy(update={"idlers": ()}))
    assert found.bare_wrap.worst - found.bare_wrap.rest < without.bare_wrap.worst - without.bare_wrap.rest - 1


def test_all_names_are_unlike_and_none_is_without_a_story() -> None:
    assert len(ANSWERS) == len(sample()["bikes"])
    assert all(len(row["story"]) > 30 for row in sample()["bikes"])
