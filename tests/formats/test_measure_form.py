"""Typed text to the document and back; a field that is declared once can be everything that fields are."""

import json
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.bike.fields import Kind, fields_of, measured
from lone_pike.core.messages import LengthUnit
from lone_pike.demo.workshop import sample
from lone_pike.formats.files.bike_file import bike_from_document, read_bike, write_bike
from lone_pike.formats.records.merging import differences
from lone_pike.formats.typed.form_faults import faults_by_field
from lone_pike.formats.typed.measure_form import (
    EMPTY,
    change_message,
    form_fields,
    form_of,
    parse_form,
    readings_of,
    with_readings,
)
from lone_pike.formats.typed.readings import parse_reading
from lone_pike.formats.typed.writing import format_reading
from lone_pike.wording.render import fault_text
from lone_pike.wording.units import DisplayUnits
from tests.bikes import said, told, wide_document

DOCUMENTS = [row["document"] for row in sample()["bikes"]]
INCH = LengthUnit.INCH


def typed(document: dict[str, Any], texts: dict[str, str], unit: LengthUnit = LengthUnit.MM) -> dict[str, Any]:
    """The document with texts typed into its form."""
    return with_readings(document, parse_form(readings_of(document), texts, unit).changed)


@pytest.mark.parametrize("document", DOCUMENTS, ids=lambda document: document["name"])
@pytest.mark.parametrize("unit", LengthUnit)
def test_files_and_forms_come_back_as_they_went(document: dict[str, Any], unit: LengthUnit) -> None:
    bike = bike_from_document(document)
    assert read_bike(write_bike(bike)) == bike
    readings = readings_of(document)
    assert parse_form(readings, form_of(readings, unit), unit).changed == {}


@given(st.text(max_size=40), st.sampled_from(sorted(form_fields())))
def test_no_text_breaks_the_form_and_none_is_lost(text: str, field: str) -> None:
    document = typed(DOCUMENTS[0], {field: text})
    shown = form_of(readings_of(document))
    assert parse_form(readings_of(document), shown).changed == {}
    reading, _ = parse_reading(form_fields()[field], text, LengthUnit.MM)
    is_kept = reading.value is not None and reading.value is not False and reading.value != []
    assert (
        is_kept
        or form_fields()[field].kind in (Kind.FLAG, Kind.CHOICES)
        or not text.strip(", ;°\n\r\t\x0b\x0c\x1c\x1d\x1e\x1f\x85\xa0")
    )


class Quayside(Bike):
    """A bike with one more measure, declared here and nowhere else."""

    saddle_mm: float | None = measured(
        Kind.LENGTH, "Saddle", "Crank centre to saddle.", usual=4, most=20, reach=9, default=None, ge=300, le=900
    )


def test_a_field_declared_once_is_typed_faulted_exported_compared_and_described() -> None:
    document = wide_document()
    parsed = parse_form(readings_of(document, Quayside), {"saddle_mm": "71,5 cm ± 3"}, model=Quayside)
    edited = with_readings(document, parsed.changed, Quayside)
    assert (edited["saddle_mm"], edited["about"]) == (715.0, {"saddle_mm": 3.0})
    bike = Quayside.model_validate_json(json.dumps(edited))
    assert json.loads(bike.model_dump_json(exclude_unset=True))["saddle_mm"] == 715.0
    assert form_of(readings_of(edited, Quayside), INCH, Quayside)["saddle_mm"] == "28.15 ± 0.118"

    changed = differences(readings_of(document, Quayside), readings_of(edited, Quayside), EMPTY)
    assert list(changed) == ["saddle_mm"]
    assert change_message(changed, Quayside).values["changes"][0].values["after"].value == 715.0

    with pytest.raises(InvalidInput) as caught:
        Quayside.model_validate_json(json.dumps(edited | {"saddle_mm": 5000}))
    error = caught.value
    assert told(error) == "saddle_mm: “5000 mm” won’t do here: 300 to 900 mm."
    assert list(faults_by_field(error.faults, Quayside)) == ["saddle_mm"]

    described = Quayside.model_json_schema()["properties"]["saddle_mm"]
    assert described["title"] == "Saddle" and described["anyOf"][0]["maximum"] == 900


def test_what_was_done_to_a_text_is_told_and_a_change_is_told_in_the_unit() -> None:
    parsed = parse_form(readings_of(wide_document()), {"chainstay_mm": "17 in", "rings": "32 30"})
    assert [said(message) for message in parsed.messages] == [
        "Rings: 32, 30 sorted to 30, 32",
        "Chainstay: “17 in” read as 431.8 mm",
    ]


def test_bare_lengths_are_in_the_shops_unit() -> None:
    """Inches by hand: 17 3/8 in is 441.325 mm, 5/16 in 7.94 mm."""
    texts = {"chainstay_mm": "17 3/8 ± 1/8", "take_up.b_gap_mm": "5/16", "take_up.cage_mm": "90 mm"}
    document = typed(wide_document(), texts, INCH)
    assert document["chainstay_mm"] == pytest.approx(441.325) and document["about"]["chainstay_mm"] == 3.175
    assert document["take_up"]["b_gap_mm"] == pytest.approx(7.938, abs=0.001)
    assert document["take_up"]["cage_mm"] == 90


def test_an_axles_place_is_typed_as_distance_and_height() -> None:
    """By hand: 440 off and 6 high is 439.96 back; a height as long as the chainstay cannot be."""
    document = {**wide_document(), "axle_mm": [-439.96, 6.0]}
    del document["chainstay_mm"]
    higher = bike_from_document(typed(document, {"axle_height_mm": "20"}))
    assert higher.chainstay_length_mm == pytest.approx(440.0, abs=0.01) and higher.axle_xy_mm[1] == 20
    unchanged = parse_form(readings_of(document), form_of(readings_of(document))).changed
    assert unchanged == {}
    with pytest.raises(InvalidInput) as caught:
        bike_from_document(typed(document, {"axle_height_mm": "500"}))
    assert "axle_height_mm" in told(caught.value)


def test_another_kind_of_suspension_leaves_no_key_of_the_one_before() -> None:
    sprung = typed(
        wide_document(), {"suspension.type": "pivot", "suspension.travel_mm": "140", "suspension.pivot_mm": "8, 52"}
    )
    assert set(sprung["suspension"]) == {"type", "travel_mm", "pivot_mm"}
    assert set(typed(sprung, {"suspension.type": "growth"})["suspension"]) == {"type", "travel_mm"}
    assert "suspension" not in typed(sprung, {"suspension.type": ""})


def test_every_field_of_the_form_has_a_label_and_says_how_it_is_taken() -> None:
    assert all(spec.label and spec.how for spec in form_fields().values())
    assert {spec.spread.key for spec in fields_of(Bike).values() if spec.spread} >= {"chainstay_mm", "pivot_mm"}


@given(st.floats(300, 600), st.floats(0.1, 9))
def test_what_a_field_prints_it_reads(value: float, spread: float) -> None:
    spec = form_fields()["chainstay_mm"]
    for unit in LengthUnit:
        reading, _ = parse_reading(spec, f"{value:.2f} mm ± {spread:.2f} mm", unit)
        again, _ = parse_reading(spec, format_reading(spec, reading, unit), unit)
        assert again.value == pytest.approx(reading.value, abs=0.02)
        assert again.spread == pytest.approx(reading.spread, abs=0.02)


def test_a_text_longer_than_its_field_takes_is_cut_and_told_at_the_field() -> None:
    parsed = parse_form(readings_of(wide_document()), {"chainstay_mm": "4" * 10_000, "name": " " * 10_000})
    assert parsed.changed["chainstay_mm"].value == "4" * 400
    assert [said(message) for message in parsed.messages] == [
        "Name: “10000 letters” won’t do here: up to 400 letters. The rest was left out",
        "Chainstay: “10000 letters” won’t do here: up to 400 letters. The rest was left out",
    ]


def test_a_second_box_is_a_piece_at_hand_and_is_added_once() -> None:
    readings = readings_of({"lone_pike": 1, "chain": {"pieces": [{"links": 40, "first_end": "outer"}]}})
    for box in ("116 116", "116+116"):
        changed = parse_form(readings, {"chain.box_links": box}).changed
        assert changed["chain.box_links"].value == 116
        assert [row["links"] for row in changed["chain.pieces"].value] == [40, 116]
    again = parse_form({**readings, **changed}, {"chain.box_links": "116 116"}).changed
    assert again == {}


def test_a_point_slipped_into_a_length_is_asked_about() -> None:
    for typed, asks in (("41.8", "Did you mean 418 mm?"), ("0.3", "")):
        document = {"lone_pike": 1, "name": "x", "rings": [30], "cogs": [17], "chainstay_mm": float(typed)}
        with pytest.raises(InvalidInput) as caught:
            bike_from_document(document | {"take_up": {"type": "none"}})
        fault = faults_by_field(caught.value.faults)["chainstay_mm"]
        assert fault_text(fault, DisplayUnits()).partition(". ")[2] == asks
