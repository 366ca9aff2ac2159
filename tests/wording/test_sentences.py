"""Every message has its sentence, says the same in every unit, and leaves alone what a person typed."""

import ast
import json
import re
from fractions import Fraction
from pathlib import Path

import pytest

import lone_pike
from lone_pike.core.bike.faults import Fault
from lone_pike.core.count.answer import Answer, answer
from lone_pike.core.messages import CountWord, LengthUnit, Message, Quantity, Raw, Term, Unit
from lone_pike.formats.files.bike_file import bike_from_document
from lone_pike.formats.records.merging import differences
from lone_pike.formats.records.message_record import message_of, record_of, values_of
from lone_pike.formats.typed.measure_form import change_message, readings_of
from lone_pike.formats.typed.parsing import Reading
from lone_pike.wording.render import fault_at_label, parts_of, render
from lone_pike.wording.sentences import SENTENCES
from lone_pike.wording.units import DisplayUnits
from tests.bikes import SOUND, wide_document

BIKES = SOUND
SOURCES = sorted(Path(lone_pike.__file__).parent.rglob("*.py"))
LOWER = [
    path
    for path in SOURCES
    if path.relative_to(Path(lone_pike.__file__).parent).parts[0] in ("core", "drawing", "formats", "store")
]
LINKS, PAIRS, INCHES = DisplayUnits(), DisplayUnits(CountWord.PAIRS), DisplayUnits(unit=LengthUnit.INCH)


def messages_of(result: Answer) -> list[Message]:
    """All that the core says about a bike."""
    notices = [notice.message for notice in result.warnings]
    served = [result.served.meaning] if result.served.meaning else []
    return [*result.why, result.sure, *served, *(vote.why for vote in result.votes), *notices]


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
    for message in messages_of(answer(bike_from_document(BIKES[name]))):
        said, turned = render(message, LINKS), render(message, PAIRS)
        assert not re.search(r"\blinks?\b", turned), turned
        both = zip(numbers(said), numbers(turned), strict=True)
        changes = [(old, new) for old, new in both if abs(new - old) > Fraction(1, 100)]
        assert all(abs(new - old / 2) <= Fraction(4, 100) for old, new in changes), (said, turned)  # 0.1 links, halved
        assert bool(changes) == bool(re.search(r"\d links?\b", said)), (said, turned)


@pytest.mark.parametrize("name", BIKES)
def test_every_sentence_says_the_same_in_inches(name: str) -> None:
    for message in messages_of(answer(bike_from_document(BIKES[name]))):
        said, turned = render(message, LINKS), render(message, INCHES)
        assert not re.search(r"\bmm\b", turned), turned
        changes = [(old, new) for old, new in zip(numbers(said), numbers(turned), strict=True) if old != new]
        assert all(abs(float(new) - float(old) / 25.4) < 0.026 for old, new in changes), (said, turned)  # half a mm


@pytest.mark.parametrize("name", BIKES)
def test_what_is_kept_reads_back_and_values_carry_their_unit(name: str) -> None:
    for message in messages_of(answer(bike_from_document(BIKES[name]))):
        assert message_of(record_of(message)) == message
        for key, value in values_of(message).items():
            assert not isinstance(value, float) or key.endswith(("_links", "_mm", "_deg", "_share", "_inches")), key


@pytest.mark.parametrize("units", [LINKS, PAIRS, INCHES], ids=["links", "pairs", "inches"])
def test_what_a_person_typed_comes_back_as_it_was_typed(units: DisplayUnits) -> None:
    named = wide_document(name="Route 66 links, 43 mm")
    changed = differences(readings_of(wide_document()), readings_of(named), Reading())
    assert render(change_message(changed), units) == "Name Otter → Route 66 links, 43 mm"
    assert render(Message("as_written", text="{low} 112 links"), units) == "{low} 112 links"


def test_a_change_kept_in_mm_reads_in_inches() -> None:
    changed = differences(readings_of(wide_document()), readings_of(wide_document(chainstay_mm=435.5)), Reading())
    kept = message_of(record_of(change_message(changed)))
    assert [render(kept, units) for units in (LINKS, INCHES)] == [
        "Chainstay 432 → 435.5 mm",
        "Chainstay 17.01 → 17.146 in",
    ]


def calls_of(path: Path) -> list[tuple[str, set[str] | None]]:
    """Codes of the messages a module makes, with the names of their values where all are written out."""
    calls = []
    for node in ast.walk(ast.parse(path.read_text())):
        if not (isinstance(node, ast.Call) and getattr(node.func, "id", "") == "Message" and node.args):
            continue
        names = None if any(word.arg is None for word in node.keywords) else {str(word.arg) for word in node.keywords}
        code = node.args[0]
        if isinstance(code, ast.Subscript):
            continue
        codes = [one.value for one in ast.walk(code) if isinstance(one, ast.Constant)]
        calls += [(code, names) for code in codes if isinstance(code, str) and code and not code.startswith("_")]
    return calls


def test_every_message_in_the_code_has_its_sentence_and_all_its_values() -> None:
    known, made = (
        {code: {name for _, name, _ in parts_of(code) if name} for code in SENTENCES},
        [call for path in SOURCES for call in calls_of(path)],
    )
    assert len(made) > 120
    for code, names in made:
        if code in ("makers_sheet", "rule_"):  # what is compared, not a code
            continue
        assert code in known, code
        missing = known[code] - (names if names is not None else known[code]) - {"unit_word"}
        assert not missing, (code, missing)


def english_with_numbers(path: Path) -> list[str]:
    """Texts of a module, docstrings and SQL left out, in which words of English stand with a number or a value."""
    tree = ast.parse(path.read_text())
    documented = (ast.Module, ast.ClassDef, ast.FunctionDef)
    docstrings = {
        id(statement.value)
        for node in ast.walk(tree)
        if isinstance(node, documented)
        for statement in node.body
        if isinstance(statement, ast.Expr)
    }
    result = []
    for node in ast.walk(tree):
        text = None
        if isinstance(node, ast.JoinedStr):
            text = "".join(str(one.value) if isinstance(one, ast.Constant) else "0" for one in node.values)
        elif isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in docstrings:
            text = node.value
        if text and re.search(r"[a-z]{3,} [a-z]{2,}", text) and re.search(r"\d|°", text):
            result.append(text)
    return [
        text
        for text in result
        if not re.match(r"\s*(SELECT|INSERT|UPDATE|DELETE|PRAGMA)\b", text) and "WHERE" not in text
    ]


def test_no_number_stands_in_english_below_the_wording() -> None:
    assert {path.name: texts for path in LOWER if (texts := english_with_numbers(path))} == {}
    for path in LOWER:
        assert "lone_pike.wording" not in path.read_text(), path


def test_a_term_that_no_list_has_is_shown_as_it_was_typed() -> None:
    assert render(Message("mark_set", mark=Term("mark", "moon")), LINKS) == "Moon marked"
    assert render(Message("windows_count", count=Quantity(1, Unit.LINKS), sure="x"), LINKS) == "The window's 1 link: x"


def test_messages_within_messages_and_rows_of_them_read_back_as_they_were() -> None:
    inner = Message("near", low=Quantity(110, Unit.LINKS), edge=Quantity(1.25, Unit.MM, 0.5))
    outer = Message(
        "outer", inner=inner, rows=(inner, Term("field", "cogs"), Raw([1, "a"]), "typed"), bare=Quantity(3, Unit.NUMBER)
    )
    assert message_of(json.loads(json.dumps(record_of(outer)))) == outer
    assert values_of(outer)["inner"] == {"code": "near", "values": {"low_links": 110, "edge_mm": 1.25}}


def test_a_fault_in_an_unknown_key_is_told_at_the_nearest_name_that_a_page_has() -> None:
    fault = Fault("take_up.wings.left", Raw(3), Message("no_such_key"))
    assert fault_at_label(fault, DisplayUnits()).startswith("Take-up: ")
