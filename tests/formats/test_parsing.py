"""What is typed at the stand, read as values; every reader takes time linear in its text."""

import time
from collections.abc import Callable

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lone_pike.core.messages import CountWord, LengthUnit, Unit
from lone_pike.formats.typed.parsing import (
    parse_cogs,
    parse_lengths,
    parse_place,
    parse_quantity,
    parse_teeth,
    split_spread,
)
from lone_pike.formats.typed.rows import parse_idler_rows, parse_piece_rows, parse_travel_rows, parse_tube_rows
from lone_pike.wording.units import DisplayUnits


@pytest.mark.parametrize(
    ("text", "value"),
    [
        ("431,5", 431.5),
        ("431.5 mm", 431.5),
        ("43 CM", 430),
        ('17"', 431.8),
        ("17 In", 431.8),
        ("17½", 17.5),
        ("-6", -6),
        ("", None),
        ("seventeen", "seventeen"),
        ("431.5 furlongs", "431.5 furlongs"),
        ("1/0", "1/0"),
    ],
)
def test_lengths(text: str, value: object) -> None:
    assert parse_quantity(text, Unit.MM).value == value


@pytest.mark.parametrize(
    ("text", "count"),
    [("116", 116), ("116 links", 116), ("58 PAIRS", 116), ("57½ pairs", 115), ("1 Pair", 2), ("58 psi", "58 psi")],
)
def test_counts_are_links_unless_pairs_are_said(text: str, count: object) -> None:
    assert parse_quantity(text, Unit.LINKS).value == count


@given(st.integers(1, 400), st.sampled_from(CountWord))
def test_a_count_reads_as_it_is_written(count: int, first: CountWord) -> None:
    assert parse_quantity(DisplayUnits(first).one(count), Unit.LINKS).value == count


@given(st.floats(-60, 2500).map(lambda value: round(value, 1)), st.sampled_from(LengthUnit))
def test_a_length_reads_as_it_is_written(value: float, unit: LengthUnit) -> None:
    """To a tenth: an inch is written to three decimals, 0.025 mm."""
    assert parse_quantity(DisplayUnits(unit=unit).length(value, 1), Unit.MM).value == pytest.approx(value, abs=0.06)


def test_cogs_as_list_range_and_reversed_range() -> None:
    assert parse_cogs("46-11", 11).value == parse_cogs("11-46", 11).value
    assert parse_cogs("11-46", None).value == "11-46"
    assert parse_cogs("32 11,13;15 18 21 24 28", None).value == [11, 13, 15, 18, 21, 24, 28, 32]
    assert parse_cogs("11-13 x 9", None).value == "11-13 x 9"


def test_rows_take_commas_and_units_as_every_field_does() -> None:
    assert parse_travel_rows("mm\n0, 431,5\n7 cm 436.5 mm; 140,440").value == [[0, 431.5], [70, 436.5], [140, 440]]
    assert parse_travel_rows("0 431\nwobble").value == [[0, 431], "wobble"]
    assert parse_place("-8,5 mm; 5,2 cm").value == [-8.5, 52.0]
    idler = {"run": "return", "at_mm": [-20.5, 106.0], "teeth": 16, "chain": "under"}
    assert parse_idler_rows("Return Under 16t -20,5 mm, 106").value == [idler]


@pytest.mark.parametrize("filler", [" ", "1", "1 ", ", ", "½", "a", "± ", "1/", "\t;", "-"])
def test_reading_is_linear(filler: str) -> None:
    """A text ten times as long takes at most some thirty times as long: a quadratic reader would take a hundred.

    The processor's own time, the least of three: others at work do not count.
    """
    readers = (
        lambda text: parse_quantity(text, Unit.MM),
        lambda text: parse_lengths(text, 2),
        parse_cogs,
        parse_teeth,
        parse_travel_rows,
        parse_idler_rows,
        parse_tube_rows,
        parse_piece_rows,
        split_spread,
    )

    def spent(reader: Callable[[str], object], size: int) -> float:
        start = time.process_time()
        reader("7" + filler * size + "x")
        return time.process_time() - start

    for reader in readers:
        short, long = (min(spent(reader, size) for _ in range(3)) for size in (2_000, 20_000))
        assert long < 30 * short + 0.05, (reader, short, long)
