"""Parsed text to the document and back."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lone_pike.demo.workshop import sample
from lone_pike.formats.bike_file import bike_from_document, read_bike, write_bike
from lone_pike.formats.measure_form import apply_form, changes, form_of
from lone_pike.formats.parsing import parse_cogs, parse_length, parse_number, parse_teeth, parse_whole

DOCUMENTS = [row["document"] for row in sample()["bikes"]]


@pytest.mark.parametrize("document", DOCUMENTS, ids=lambda document: document["name"])
def test_files_and_forms_come_back_as_they_went(document: dict[str, object]) -> None:
    bike = bike_from_document(document)
    assert read_bike(write_bike(bike)) == bike
    assert apply_form(document, form_of(document)) == (document, [])


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("431,5", 431.5),
        ("431.5 mm", 431.5),
        ("43 cm", 430),
        ('17"', 431.8),
        ("17 in", 431.8),
        ("", None),
        ("seventeen", "seventeen"),
        ("431.5 furlongs", "431.5 furlongs"),
    ],
)
def test_lengths(text: str, value: object) -> None:
    assert parse_length(text).value == value


def test_cogs_as_list_range_and_reversed_range() -> None:
    assert parse_cogs("46-11", 11).value == parse_cogs("11-46", 11).value
    assert parse_cogs("11-46", None).value == "11-46"
    assert parse_cogs("32 11,13;15 18 21 24 28", None).value == [11, 13, 15, 18, 21, 24, 28, 32]
    assert parse_cogs("11-13 x 9", None).value == "11-13 x 9"


@given(st.text(max_size=40))
def test_no_text_breaks_the_form_and_none_is_lost(text: str) -> None:
    for reader in (parse_length, parse_number, parse_whole, parse_teeth):
        value = reader(text).value
        assert value is not None or not text.strip().strip("°")
    parse_cogs(text, 11)
    document, _ = apply_form(DOCUMENTS[0], {"chainstay_mm": text, "rings": text})
    again, _ = apply_form(document, form_of(document))
    assert changes(document, again) == {}
