"""The shop's words: the core's sentences keep their meaning in pairs and inches."""

import re
from fractions import Fraction

import pytest

from lone_pike.core.judging.answer import Answer, answer
from lone_pike.demo.workshop import sample
from lone_pike.formats.bike_file import bike_from_document
from lone_pike.formats.measure_form import apply_form, form_of
from lone_pike.formats.shop import Shop
from lone_pike.formats.words import Words
from tests.bikes import wide_document

BIKES = {row["document"]["name"]: row["document"] for row in sample()["bikes"]}


def sentences(found: Answer) -> list[str]:
    """All that the core says about a bike."""
    told = [*found.why, found.likely, found.served.words, *(vote.why for vote in found.votes)]
    return [*told, *(warning.text for warning in found.warnings)]


def numbers(text: str) -> list[Fraction]:
    """Every number of a text, halves written out."""
    return [
        Fraction(whole or "0") + (Fraction(1, 2) if half else 0)
        for whole, half in re.findall(r"(\d+(?:\.\d+)?)?(½)?", text)
        if whole or half
    ]


@pytest.mark.parametrize("name", BIKES)
def test_every_sentence_says_the_same_in_pairs(name: str) -> None:
    """Each number behind which links stood is half as many, every other one as it was."""
    for said in sentences(answer(bike_from_document(BIKES[name]))):
        turned = Words(first="pairs").say(said)
        assert not re.search(r"\blinks?\b", turned), turned
        both = zip(numbers(said), numbers(turned), strict=True)
        changes = [(old, new) for old, new in both if abs(new - old) > Fraction(1, 100)]
        assert all(abs(new - old / 2) <= Fraction(1, 100) for old, new in changes), (said, turned)
        assert bool(changes) == bool(re.search(r"\d links?\b", said)), (said, turned)


@pytest.mark.parametrize("name", BIKES)
def test_every_sentence_says_the_same_in_inches(name: str) -> None:
    for said in sentences(answer(bike_from_document(BIKES[name]))):
        turned = Words(unit="in").say(said)
        assert not re.search(r"\bmm\b", turned), turned
        changes = [(old, new) for old, new in zip(numbers(said), numbers(turned), strict=True) if old != new]
        assert all(float(new) == pytest.approx(float(old) / 25.4, abs=0.006) for old, new in changes), (said, turned)


@pytest.mark.parametrize("name", BIKES)
def test_a_form_in_inches_left_as_it_is_changes_nothing(name: str) -> None:
    document = BIKES[name]
    assert apply_form(document, form_of(document, "in"), "in") == (document, [])


def test_bare_lengths_are_in_the_shops_unit_and_others_are_said() -> None:
    """Inches by hand: 17 3/8 in is 441.325 mm, 5/16 in 7.94 mm."""
    typed = {"chainstay_mm": "17 3/8 ± 1/8", "take_up.b_gap_mm": "5/16", "take_up.cage_mm": "90 mm"}
    document, said = apply_form(wide_document(), typed, "in")
    assert document["chainstay_mm"] == pytest.approx(441.325) and document["about"]["chainstay_mm"] == 3.175
    assert document["take_up"]["b_gap_mm"] == pytest.approx(7.938, abs=0.001)
    assert Words(unit="in").say(said[0]) == "Cage: “90 mm” read as 3.54 in"


def test_the_house_rule_is_the_shops_unless_the_bike_has_its_own() -> None:
    shop = Shop(house_rule="bare_wrap_1_pair")
    assert answer(bike_from_document(shop.under_rules(wide_document()))).links == 110
    assert answer(bike_from_document(shop.under_rules(wide_document(house_rule="window")))).links == 112
