"""Schools that need more than the bare wrap, and what decides the count."""

from typing import Any

import pytest

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.chain.path import CLOCKWISE, Stop, trace
from lone_pike.core.chain.stops import COG, RING
from lone_pike.core.count.answer import Answer, answer
from lone_pike.core.count.schools import Vote
from lone_pike.core.count.sizing import size_bike
from lone_pike.formats.files.bike_file import bike_from_document
from tests.bikes import WIDE_COGS, bike, document, said, told, wide_bike, wide_document


def vote_of(result: Answer, school: str) -> Vote:
    return next(vote for vote in result.votes if vote.school == school)


@pytest.mark.parametrize(("sheet", "links"), [(4, 112), (2, 110), (118, 118)])
def test_a_sheet_adds_to_the_wrap_or_is_a_total_and_outranks(sheet: int, links: int) -> None:
    """The check bike's wrap of 106.222 joins at 108."""
    result = answer(wide_bike(sheet_links=sheet, house_rule="bare_wrap_1_pair"))
    assert (result.links, result.decided_by) == (links, "makers_sheet")
    assert result.recommended_links == 112


def test_a_sheet_outside_the_window_is_a_conflict_that_is_shown() -> None:
    codes = {warning.kind: said(warning.message) for warning in answer(wide_bike(sheet_links=118)).warnings}
    assert "The maker's sheet says 118" in codes["conflict"] and "gives 112" in codes["conflict"]


def test_the_house_rule_decides_and_the_window_does_not_move() -> None:
    result = answer(wide_bike(house_rule="bare_wrap_1_pair"))
    assert (result.links, result.decided_by) == (110, "bare_wrap_1_pair")
    assert result.window == answer(wide_bike()).window


def test_a_sheet_figure_between_added_and_total_is_refused() -> None:
    with pytest.raises(InvalidInput) as caught:
        wide_bike(sheet_links=30)
    assert "0 to 12 links to add to the bare wrap, or a total of 60 to 400 links" in told(caught.value)


def test_an_extender_adds_a_pair_to_the_rule_in_use() -> None:
    extended = wide_document()["take_up"] | {"extended": True}
    assert vote_of(answer(wide_bike(take_up=extended)), "bare_wrap_1_pair").links == 112


def test_least_tension_is_the_last_count_before_the_cage_hangs() -> None:
    result = answer(wide_bike())
    links = vote_of(result, "least_tension").links
    assert result.sizing.take_up.gears(links)[-1].state != "loose"
    assert result.sizing.take_up.gears(links + 2)[-1].state == "loose"


@pytest.mark.parametrize(
    ("old", "links"),
    [
        ({"links": 110, "changed": ["cogs"], "biggest_cog": 42}, 112),
        ({"links": 112, "changed": ["cogs", "rings"], "biggest_cog": 44, "biggest_ring": 29}, 114),
        ({"links": 112, "changed": ["rings"], "biggest_ring": 31}, 112),
    ],
)
def test_a_change_of_teeth_asks_for_what_the_wrap_grows(old: dict[str, Any], links: int) -> None:
    """The growth of the wrap is traced here on its own; a part of a pair is never taken off."""

    def wrap(ring: int, cog: int) -> float:
        return float(trace([Stop(RING, 0.0, 0.0, ring, CLOCKWISE), Stop(COG, -432.0, 0.0, cog, CLOCKWISE)]).links)

    vote = vote_of(answer(wide_bike(old_chain=old)), "old_chain")
    asked = wrap(30, 46) - wrap(old.get("biggest_ring", 30), old.get("biggest_cog", 46))
    assert vote.links == links
    assert f"{asked:+.1f} links" in said(vote.rule)


def test_each_mend_of_an_empty_window_opens_it_and_a_lesser_one_does_not() -> None:
    broken = bike([30, 46], WIDE_COGS, 432, 56, 6)
    result = answer(broken)
    assert result.window is None and result.mend
    cog = result.mend.largest_cog
    assert cog
    for largest, opens in ((cog, True), (cog + 1, False)):
        cogs = tuple(min(one, largest) for one in broken.cogs)
        assert (size_bike(broken.model_copy(update={"cogs": cogs})).window is not None) == opens


@pytest.mark.parametrize(
    ("cage_mm", "rings"), [(56.0, [30, 46]), (62.0, [30, 36]), (82.0, [30, 40]), (94.0, [34, 46]), (54.0, [22, 52])]
)
def test_the_mend_is_the_very_first_change_that_opens_the_window(cage_mm: float, rings: list[int]) -> None:
    """Every change of each kind is sized on its own, nearest first; cages from just too short to far too short."""
    broken = bike(rings, WIDE_COGS, 432, cage_mm, 6)
    result = answer(broken)
    assert result.window is None and result.mend
    for kind, sizes, field, clip in (
        ("largest_cog", range(45, 20, -1), "cogs", min),
        ("smallest_ring", range(min(rings) + 1, max(rings)), "rings", max),
    ):
        first = next(
            (
                size
                for size in sizes
                if size_bike(
                    broken.model_copy(update={field: tuple(clip(one, size) for one in getattr(broken, field))})
                ).window
            ),
            None,
        )
        assert result.mend.nearest.get(kind) == first


@pytest.mark.parametrize("broken", [bike([30, 46], WIDE_COGS, 432, 70, 6), bike([34, 46], WIDE_COGS, 432, 70, 6)])
def test_the_warning_names_the_mend(broken: Bike) -> None:
    result = answer(broken)
    assert "mend" in {warning.kind for warning in result.warnings}


@pytest.mark.parametrize(("sheet", "links"), [(4, 124), (130, 130), (110, None)])
def test_a_sheet_is_judged_also_where_big_big_asks_for_more_than_small_small_can_hold(
    sheet: int, links: int | None
) -> None:
    """22 and 52 teeth on a short cage: the wrap of big/big joins at 120, where small/small has long gone loose."""
    far_too_small = document([22, 52], [10, 13, 24, 29, 37, 43, 51], 432, 54, 6) | {"sheet_links": sheet}
    if links:
        assert answer(bike_from_document(far_too_small)).links == links
        return
    with pytest.raises(InvalidInput) as caught:
        answer(bike_from_document(far_too_small))
    assert "a total of 120 to 132 links on this bike" in told(caught.value)


@pytest.mark.parametrize(("cogs", "pairs"), [(11, 1), (12, 2)])
def test_shops_that_go_by_cogs_add_a_pair_up_to_eleven_and_two_from_twelve(cogs: int, pairs: int) -> None:
    """Trade, section 4. The wide bike's bare wrap of 106.222 joins at 108."""
    result = answer(wide_bike(chain={"speeds": cogs}, house_rule="by_cogs"))
    assert (result.links, result.decided_by) == (108 + 2 * pairs, "by_cogs")


def test_tight_and_quiet_is_a_pair_above_the_shortest_that_goes_round() -> None:
    """The wide bike is stretched at 106.729 links (model, section 2): 108 goes round, and a pair is 110."""
    votes = {vote.school: vote.links for vote in answer(wide_bike()).votes}
    assert votes["tight_and_quiet"] == 110


def test_the_slack_tests_air_is_the_shops() -> None:
    """Model, section 2: in small/small 110 links leave 54.1 mm of air, 112 leave 38.0."""

    def slack_test(air_mm: float) -> tuple[int, float]:
        result = answer(wide_bike(limits={"slack_air_mm": air_mm}))
        count = next(vote.links for vote in result.votes if vote.school == "slack_test")
        return count, next(gear for gear in result.gears_at(count) if gear.cog == 11).clearance_mm or 0.0

    (none, _), (finger, air_mm) = slack_test(0.0), slack_test(15.0)
    assert finger <= none and air_mm >= 15.0


@pytest.mark.parametrize(
    ("old", "says"),
    [(106, "is 2 pairs too short"), (112, "is right for these gears"), (120, "is 3 pairs too long")],
)
def test_the_old_chain_is_held_against_the_new_gears(old: int, says: str) -> None:
    """The wide bike's window is 110 to 114 (model, section 3)."""
    result = answer(wide_bike(old_chain={"links": old}))
    assert says in said(next(vote.rule for vote in result.votes if vote.school == "old_chain"))
