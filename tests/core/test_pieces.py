"""Loops of several pieces: against trying all of them, and replayed on chains made of letters."""

from itertools import permutations, product

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lone_pike.core.bike.limits import limit
from lone_pike.core.chain.cutting import End
from lone_pike.core.chain.pieces import KeptRun, Loose, most_reach, plan_pieces
from lone_pike.core.chain.plan import cuts_for, missing_links
from lone_pike.core.count.answer import answer
from lone_pike.formats.files.answer_json import answer_json
from tests.bikes import said, wide_bike

PIECES = st.lists(st.tuples(st.integers(1, 7), st.sampled_from(list(End))), min_size=1, max_size=4)


def letters(piece: Loose) -> str:
    """The piece as it lies: i an inner link, o an outer one."""
    return ("io" if piece.first is End.INNER else "oi") * piece.links


def kept(run: KeptRun) -> str:
    """The run as it lies in the loop, the piece turned end for end where the plan says so."""
    lies = letters(run.piece)[: run.piece.links][run.start : run.start + run.links]
    return lies[::-1] if run.turned else lies


def closes(runs: list[str], joiner_links: int) -> bool:
    """Whether runs, joined in turn, make a loop: with a link between both ends are inner, without they are unlike."""
    meets = [(run[-1], runs[(i + 1) % len(runs)][0]) for i, run in enumerate(runs)]
    return all(pair == ("i", "i") if joiner_links else pair[0] != pair[1] for pair in meets)


def by_trying_all(pieces: list[Loose], links: int, joiner_links: int) -> tuple[int, int] | None:
    """The least number of runs and then the least waste, of every order of every set, cut in every way."""
    for count in range(1, len(pieces) + 1):
        wastes = []
        for order in permutations(pieces, count):
            whole = [letters(piece)[: piece.links] for piece in order]
            cut = [{run[a:b] for a in range(len(run)) for b in range(a + 1, len(run) + 1)} for run in whole]
            ways = [sorted(runs | {run[::-1] for run in runs}) for runs in cut]
            for runs in product(*ways):
                if sum(map(len, runs)) + count * joiner_links == links and closes(list(runs), joiner_links):
                    wastes.append(sum(map(len, whole)) - sum(map(len, runs)))
                    break
        if wastes:
            return count, min(wastes)
    return None


@settings(max_examples=40)
@given(PIECES, st.integers(1, 9), st.sampled_from([0, 1]))
def test_the_plan_is_what_trying_all_finds(told: list[tuple[int, End]], half: int, joiner_links: int) -> None:
    pieces = [Loose(i, links, first) for i, (links, first) in enumerate(told)]
    _is_the_best(pieces, 2 * half, joiner_links)


@settings(max_examples=40)
@given(st.lists(st.tuples(st.integers(3, 6), st.sampled_from(list(End))), min_size=4, max_size=4), st.integers(3, 11))
def test_sets_found_by_their_totals_are_as_good(told: list[tuple[int, End]], half: int) -> None:
    """The same few pieces, planned as many are: by the totals their sets can have."""
    pieces = [Loose(i, links, first) for i, (links, first) in enumerate(told)]
    for joiner_links in (0, 1):
        best = by_trying_all(pieces, 2 * half, joiner_links)
        few = plan_pieces(pieces, 2 * half, joiner_links)
        by_totals = _by_totals(pieces, 2 * half, joiner_links)
        assert (by_totals is None) == (best is None) == (few is None)
        if by_totals and best:
            assert (len(by_totals), sum(run.piece.links - run.links for run in by_totals)) == best


@settings(max_examples=100)
@given(
    st.lists(st.tuples(st.integers(3, 30), st.sampled_from(list(End)), st.integers(0, 40)), min_size=3, max_size=9),
    st.integers(5, 40),
    st.sampled_from([0, 1]),
)
def test_totals_keep_like_wear_as_trying_every_set_does(
    told: list[tuple[int, End, int]], half: int, joiner_links: int
) -> None:
    pieces = [Loose(i, links, first, wear / 100) for i, (links, first, wear) in enumerate(told)]
    plans = plan_pieces(pieces, 2 * half, joiner_links), _by_totals(pieces, 2 * half, joiner_links)
    for plan in filter(None, plans):
        wears = [run.piece.wear_percent for run in plan]
        assert max(wears) - min(wears) <= limit("like_wear") + 1e-6
    few, by_totals = [plan and (len(plan), sum(run.piece.links for run in plan)) for plan in plans]
    assert few == by_totals


def _by_totals(pieces: list[Loose], links: int, joiner_links: int) -> tuple[KeptRun, ...] | None:
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr("lone_pike.core.chain.pieces.FEW", 0)
        return plan_pieces(pieces, links, joiner_links)


def _is_the_best(pieces: list[Loose], links: int, joiner_links: int) -> None:
    plan, best = plan_pieces(pieces, links, joiner_links), by_trying_all(pieces, links, joiner_links)
    assert (plan is None) == (best is None)
    if plan and best:
        runs = [kept(run) for run in plan]
        assert sum(map(len, runs)) + len(runs) * joiner_links == links
        assert closes(runs, joiner_links)
        assert [run[0] == "i" for run in runs] == [run.begins is End.INNER for run in plan]
        assert len({run.piece.place for run in plan}) == len(plan)
        assert (len(plan), sum(run.piece.links - run.links for run in plan)) == best


@pytest.mark.parametrize("joiner_links", [0, 1])
def test_forty_pieces_are_planned(joiner_links: int) -> None:
    pieces = [Loose(i, 6 + 7 * i % 83, End.INNER if i % 3 else End.OUTER, i % 4 * 0.1) for i in range(40)]
    plan = plan_pieces(pieces, 270, joiner_links)
    assert plan and closes([kept(run) for run in plan], joiner_links)
    assert sum(run.links for run in plan) + len(plan) * joiner_links == 270


def test_pieces_of_unlike_wear_do_not_go_together() -> None:
    worn, new = Loose(1, 41, End.INNER, 0.6), Loose(2, 41, End.INNER, 0.0)
    assert plan_pieces([worn, new], 60, 1) is None
    assert plan_pieces([worn, new, Loose(3, 31, End.INNER, 0.5)], 60, 1)


def test_the_answer_has_the_pieces_in_order_with_a_joiner_each() -> None:
    """112 links: a box of 90 and a piece of 41 make it with two links of a joiner each: 110 links are kept of 131."""
    chain = {"speeds": 11, "box_links": 90, "joiner": "locking_link", "pieces": [{"links": 41, "first_end": "outer"}]}
    result = answer(wide_bike(chain=chain))
    assert result.links == 112 and result.cut and result.cut.missing_links
    cut = answer_json(result, said)["cut"]
    assert cut["joiners"] == [{"kind": "locking_link", "links": 1}] * 2
    assert sum(piece["keep_links"] for piece in cut["pieces"]) == 110 and cut["offcut_links"] == 21
    assert {piece["piece"] for piece in cut["pieces"]} == {0, 1}
    assert all(piece["keep_links"] % 2 for piece in cut["pieces"]), "inner ends on both sides"
    assert next(piece for piece in cut["pieces"] if piece["piece"] == 1)["start"] == 1, "its first link is an outer one"


@pytest.mark.parametrize("joiner", ["locking_link", "joining_pin"])
@pytest.mark.parametrize("count", [110, 112, 114])
def test_the_rivet_to_push_is_named_for_each_piece_of_a_loop(joiner: str, count: int) -> None:
    """Every piece is laid out in letters and cut where its plan says: what is kept, what is left, and their ends."""
    pieces = [{"links": 47, "first_end": "outer"}, {"links": 44, "first_end": "inner"}]
    bike = wide_bike(chain={"speeds": 11, "box_links": 43, "joiner": joiner, "pieces": pieces})
    cuts = cuts_for(bike, count)
    assert len(cuts) == 3 and sum(cut.keep_links + cut.joiner_links for cut in cuts) == count
    assert sorted(cut.box_links for cut in cuts) == [43, 44, 47]
    for cut in cuts:
        plates = letters(Loose(0, cut.box_links, cut.first_end))[: cut.box_links]
        push = cut.trim_links + cut.keep_links
        run, left = plates[cut.trim_links : push], plates[push:]
        assert tuple(end[0] for end in cut.keep_ends) == (run[0], run[-1])
        assert cut.offcut_links == len(left)
        pushes = (push, len(left), (left[0], left[-1])) if left else (None, None, None)
        ends = tuple(end[0] for end in cut.offcut_ends) if cut.offcut_ends else None
        assert (cut.push_from_start, cut.push_from_end, ends) == pushes


def test_the_offset_link_of_an_odd_loop_stands_in_its_first_piece() -> None:
    pieces = [{"links": 47, "first_end": "outer"}, {"links": 44, "first_end": "inner"}]
    chain = {"speeds": 11, "box_links": 43, "joiner": "locking_link", "offset_link": True, "pieces": pieces}
    cuts = cuts_for(wide_bike(chain=chain), 113)
    assert [cut.offset_links for cut in cuts] == [1, 0, 0]
    assert sum(cut.keep_links + cut.joiner_links + cut.offset_links for cut in cuts) == 113


def test_pieces_that_are_all_too_short_say_what_is_missing() -> None:
    """21 and 31 links with inner ends, a locking link each, make 54: 112 lack 58."""
    pieces = [{"links": 21, "first_end": "inner"}, {"links": 31, "first_end": "inner"}]
    bike = wide_bike(chain={"speeds": 11, "joiner": "locking_link", "pieces": pieces})
    assert missing_links(bike, 112) == 58
    assert [(cut.box_links, cut.push_from_start) for cut in cuts_for(bike, 112)] == [(31, None)]


@pytest.mark.parametrize("first_end", ["inner", "outer"])
def test_a_piece_is_turned_end_for_end_where_that_makes_the_loop(first_end: str) -> None:
    """60 and 52 with two pins are 112, whichever end of the piece was counted first."""
    chain = {"box_links": 60, "joiner": "joining_pin", "pieces": [{"links": 52, "first_end": first_end}]}
    result = answer(wide_bike(chain=chain))
    cut = answer_json(result, said)["cut"]
    assert (result.links, cut["missing_links"], cut["offcut_links"]) == (112, 0, 0)
    assert {piece["piece"]: piece["keep_links"] for piece in cut["pieces"]} == {0: 60, 1: 52}


@pytest.mark.parametrize(
    ("chain", "missing", "words"),
    [
        ({"box_links": 60, "pieces": [{"links": 47, "first_end": "inner"}]}, 4, "Box and pieces are 4 links"),
        ({"pieces": [{"links": 71, "first_end": "inner"}, {"links": 35, "first_end": "inner"}]}, 4, "The pieces are 4"),
        ({"box_links": 100}, 12, "The box is 12 links"),
    ],
)
def test_what_is_short_is_said_of_what_is_at_hand(chain: dict[str, object], missing: int, words: str) -> None:
    """For 112 with quick links: 59 + 47 and two links are 108; 71 + 35 and two are 108; 99 of 100 and one are 100."""
    result = answer(wide_bike(chain={"joiner": "quick_link", "speeds": 9, **chain}))
    cut = answer_json(result, said)["cut"]
    assert (result.links, cut["pieces"], cut["missing_links"]) == (112, [], missing)
    assert words in said(next(notice.message for notice in result.warnings if notice.kind == "box_short"))


@settings(max_examples=20)
@given(PIECES, st.sampled_from([0, 1]))
def test_no_loop_is_longer_than_what_the_pieces_reach(told: list[tuple[int, End]], joiner_links: int) -> None:
    pieces = [Loose(i, links, first) for i, (links, first) in enumerate(told)]
    reach = most_reach(pieces, joiner_links)
    made = [links for links in range(2, reach + 8, 2) if by_trying_all(pieces, links, joiner_links)]
    assert max(made, default=0) == max(reach, 0)
