"""Practice: bikes of a seed that the model takes, what is right of them, chance for a guess, and what comes again."""

import random
from itertools import combinations, product

import pytest

from lone_pike.core.count.answer import answer
from lone_pike.core.count.schools import votes_of
from lone_pike.core.messages import Quantity
from lone_pike.core.practice.asking import AskedPart, Question
from lone_pike.core.practice.consequences import would_do
from lone_pike.core.practice.exercises import CAGED, EXERCISES, LEVELS, exercise_of_seed, question
from lone_pike.core.practice.families import FAMILIES, SHARES_IN
from lone_pike.core.practice.making import kind_of_seed, made
from lone_pike.core.practice.spacing import PastAnswer, next_up
from lone_pike.core.wear.gauging import Way
from lone_pike.filed import question_of
from lone_pike.formats.files.bike_file import bike_from_document, document_of
from tests.bikes import said
from tests.core.plain_practice import counts_of
from tests.core.random_bikes import SEED

EVERY = [(exercise, kind) for exercise, one in EXERCISES.items() for kind in one.kinds]


def test_kinds_and_levels_come_in_their_shares() -> None:
    seeds = range(4000)
    assert sum(one.share for one in FAMILIES.values()) == SHARES_IN
    kinds = [kind_of_seed(seed) for seed in seeds]
    for kind, family in FAMILIES.items():
        assert kinds.count(kind) / len(seeds) == pytest.approx(family.share / SHARES_IN, abs=0.02), kind
    levels = [question(seed, "cause", "slot").level for seed in range(600)]
    for level, share in LEVELS.items():
        assert levels.count(level) / len(levels) == pytest.approx(share / 100, abs=0.06)


@pytest.mark.parametrize("kind", FAMILIES)
def test_a_seed_gives_the_same_bike_and_what_is_true_of_its_file(kind: str) -> None:
    for seed in range(12):
        sizing = made(seed, kind)
        assert made.__wrapped__(seed, kind).bike == sizing.bike
        again = answer(bike_from_document(document_of(sizing.bike)))
        assert again.window == sizing.window and again.links == sizing.recommended_links and not sizing.troubles


SLOW = (*CAGED, "long")
"""Kinds that take the plain way a second a bike: two of them on each run, others on other runs."""

COMPARED = [*(kind for kind in FAMILIES if kind not in SLOW), *random.Random(SEED).sample(SLOW, 2)]


@pytest.mark.parametrize("kind", COMPARED)
def test_a_plain_second_way_finds_the_same_counts(kind: str) -> None:
    """What stands is compared by the dozen."""
    for seed in range(100, 101 if kind in SLOW else 130):
        sizing = made(seed, kind)
        plain = counts_of(document_of(sizing.bike) | {"axle_mm": list(sizing.bike.axle_xy_mm)})
        told = sizing.window and (sizing.window.min, sizing.window.max)
        if kind == "hub":
            told = (sizing.recommended_links, sizing.recommended_links)
        assert told == (plain[0], plain[-1])


def guess(asked: Question, lot: random.Random) -> dict[str, frozenset[str]]:
    """An answer of somebody who knows nothing."""
    answers = {}
    for part in asked.parts:
        if part.several:
            answers[part.name] = frozenset(one for one in part.options if lot.random() < 0.5)
        else:
            answers[part.name] = frozenset(
                {lot.choice(part.options) if part.options else str(lot.randint(1, part.most))}
            )
    return answers


@pytest.mark.parametrize("exercise", EXERCISES)
def test_a_guess_stays_at_chance_and_what_is_right_is_right(exercise: str) -> None:
    lot, asked = random.Random(exercise), [question(seed, exercise, lot_kind(exercise, seed)) for seed in range(60)]
    guesses = [one.is_right(guess(one, lot)) for one in asked for _ in range(30)]
    chance = sum(one.chance for one in asked) / len(asked)
    assert sum(guesses) / len(guesses) == pytest.approx(chance, abs=3.5 * (chance / len(guesses)) ** 0.5 + 0.002)
    for one in asked:
        right = {part.name: _one_right(one, part) for part in one.parts}
        assert one.is_right(right) and one.because and not one.is_right({})
        assert all(one.right[part.name] <= set(part.options) or part.most for part in one.parts)


@pytest.mark.parametrize("exercise", ["judge", "rivet", "worn", "cause", "fixed"])
def test_chance_is_the_share_of_all_answers_that_are_right(exercise: str) -> None:
    """Counted by giving every answer there is."""
    asked = question(5, exercise, lot_kind(exercise, 5))
    names = [part.name for part in asked.parts]
    ways = [_every_answer(part) for part in asked.parts]
    right = [asked.is_right(dict(zip(names, answers, strict=True))) for answers in product(*ways)]
    assert asked.chance == pytest.approx(sum(right) / len(right))


def _every_answer(part: AskedPart) -> list[frozenset[str]]:
    single = part.options or tuple(map(str, range(1, part.most + 1)))
    if not part.several:
        return [frozenset({one}) for one in single]
    return [frozenset(some) for size in range(len(single) + 1) for some in combinations(single, size)]


def test_the_axle_of_one_ring_stands_lower_over_the_crank_than_that_of_several() -> None:
    """Up to 45 mm above it with one ring, 40 to 75 with several, as the table of shops says."""
    for seed in range(30):
        for kind, low, high in (("hardtail", 0, 45), ("touring", 40, 75)):
            assert low <= made(seed, kind).bike.axle_xy_mm[1] <= high, (kind, seed)


@pytest.mark.parametrize("kind", FAMILIES)
def test_the_exercise_of_a_seed_suits_its_kind(kind: str) -> None:
    assert all(kind in EXERCISES[exercise_of_seed(seed, kind)].kinds for seed in range(20))
    with pytest.raises(KeyError):
        exercise_of_seed(1, "tandem of nobody")


def _one_right(asked: Question, part: AskedPart) -> frozenset[str]:
    right = asked.right[part.name]
    return right if part.several else frozenset({min(right)})


def lot_kind(exercise: str, seed: int) -> str:
    kinds = EXERCISES[exercise].kinds
    return kinds[seed % len(kinds)]


def test_a_judged_chain_is_off_by_what_is_right() -> None:
    for seed in range(40):
        asked = question(seed, "judge", "hardtail")
        off, window = int(next(iter(asked.right["pairs"]))), asked.sizing.window
        assert window
        safe = window.min <= asked.shown_links <= window.max
        assert safe if off == 0 else asked.shown_links == (window.max if off > 0 else window.min) + 2 * off
        assert len(asked.gears) == 3


def test_a_wrong_answer_says_what_it_would_have_done() -> None:
    """A chain that is a pair too long, judged right, stays as it is; one judged too short gets a pair more."""
    asked = next(one for seed in range(99) if (one := question(seed, "judge", "road")).right["pairs"] == {"1"})
    assert not would_do(asked, {"pairs": frozenset({"1"})})
    for said_pairs, count in (("0", asked.shown_links), ("-1", asked.shown_links + 2)):
        (told,) = would_do(asked, {"pairs": frozenset({said_pairs})})
        assert f"it would have {count} links: " in said(told)
    rivet = question(3, "rivet", "hardtail")
    pushed = int(next(iter(rivet.right["rivet"])))
    two, one, none = (rivet.right | {"rivet": frozenset({str(pushed - less)})} for less in (2, 1, 0))
    assert "ends do not take" in said(would_do(rivet, one)[0])
    assert f"it would have {rivet.shown_links - 2} links" in said(would_do(rivet, two)[0])
    assert not would_do(rivet, none | {"ends": frozenset({"outer_outer"})})


def test_a_box_made_up_with_a_piece_makes_the_count_and_its_ends_meet() -> None:
    """Kept links and joiners are the count; a link goes between two inner ends, a pin between unlike ones."""
    pieces = [one for seed in range(40) if len((one := question(seed, "rivet", "road")).bike.chain.pieces) == 1]
    assert len(pieces) > 5
    for one in pieces:
        joiner_links = 1 if one.bike.joiner.endswith("link") else 0
        assert sum(one.truth["keep_links"]) + 2 * joiner_links == one.shown_links
        assert one.right["ends"] == {"inner_inner" if joiner_links else "inner_outer"}
        assert one.right["rivet"] == {str(one.truth["keep_links"][1])}


def test_each_method_is_judged_as_the_rail_judges_it() -> None:
    asked = next(one for seed in range(99) if (one := question(seed, "school", "hardtail")).level == 3)
    votes = {vote.school: vote for vote in votes_of(asked.sizing)}
    assert len(asked.parts) == 10
    for part in asked.parts:
        vote = votes[part.of]
        told = str(vote.links) if part.key == "count" else str(asked.sizing.safety(vote.links))
        assert asked.right[part.name] == {told}


def test_where_nothing_is_sprung_a_little_nearer_is_much_slack() -> None:
    """A millimetre of spare chain moves the run by near 30 mm (trade, section 6), and wheels 0.5 mm nearer spare it."""
    for seed in range(20):
        asked = question(seed, "fixed", "slot")
        told = asked.beside[1].values
        nearer_mm, count = (one.value for one in (told["nearer"], told["count"]) if isinstance(one, Quantity))
        spare_mm, span_mm = 2 * nearer_mm, asked.sizing.fixed.places(int(count))[0].centre_mm
        assert asked.truth["moves_mm"] == pytest.approx(29 * (spare_mm * span_mm / 420) ** 0.5, rel=0.03)


def test_a_complaints_figures_speak_for_one_cause() -> None:
    told = [one for seed in range(120) if "symptom" in (one := question(seed, "cause", "hardtail")).truth]
    for one in told:
        old, (cause,) = one.truth["old_links"], one.right["cause"]
        window = one.sizing.window
        assert window and (cause == "too_long") == (old > window.max) and (cause == "too_short") == (old < window.min)
        most_percent = 0.5 if one.bike.speeds >= 11 else 0.75
        assert (cause in ("worn_chain", "worn_cogs")) == (one.truth["wear_percent"] > most_percent)
    assert {cause for one in told for cause in one.right["cause"]} >= {"too_long", "too_short", "worn_cogs"}


def test_a_chain_that_was_shortened_hangs_higher_however_worn() -> None:
    """Of two chains from one nail the ends tell nothing while their counts differ (trade, section 1)."""
    hung = [one for seed in range(160) if (one := question(seed, "worn", "hardtail")).apart_mm is not None]
    higher = [one for one in hung if (one.apart_mm or 0) < 0]
    for one in hung:
        old, new = (one.reading.pitches if one.reading else 0) or 0, one.shown_links
        worn_mm = old * 12.7 * one.truth["wear_percent"] / 100
        assert one.apart_mm == pytest.approx(worn_mm - 12.7 * (new - old))
    assert any("replace" in one.right["worn"] for one in higher)


def test_a_gauges_play_and_a_rulers_mark_decide_what_is_worn() -> None:
    """A gauge that drops in at 0.75 tells 0.67 at the least: of a chain for 11 it is past 0.5 (trade, section 8)."""
    found = [question(seed, "worn", "hardtail") for seed in range(80)]
    past = [one for one in found if one.reading and one.reading.way is Way.PAST and one.bike.speeds >= 11]
    for one in past:
        sixteenths = one.reading.sixteenths if one.reading else 0
        assert ("replace" in one.right["worn"]) == ((sixteenths or 0) * 0.5208 >= 0.5)


def test_what_goes_wrong_comes_again_soon_and_what_holds_later() -> None:
    first = next_up([])
    wrong, right = (PastAnswer(*first, right=held) for held in (False, True))
    other = PastAnswer("cause", "slot", right=True)
    assert next_up([wrong, other, other]) == first, "two questions later, every other time a new one between"
    assert next_up([right, other, other]) != first and next_up([right, *[other] * 6]) == first
    assert next_up([right, right, *[other] * 5]) != first
    asked: set[tuple[str, str]] = set()
    answers: list[PastAnswer] = []
    for _ in range(len(EVERY) * 6):
        pair = next_up(answers)
        asked.add(pair)
        answers.append(PastAnswer(*pair, right=True))
    assert asked == set(EVERY)


def test_the_command_tells_the_question_and_the_truth_of_its_file() -> None:
    found = question_of(7, None, "judge")
    assert found == question_of(7, None, "judge") and found["version"] == 2
    told = answer(bike_from_document(found["bike"]))
    assert told.window and found["truth"]["window"] == {"min": told.window.min, "max": told.window.max}
    assert found["truth"]["links"] == told.links
