"""Writes values as texts for fields; they read back as the same values."""

from typing import Any

from lone_pike.core.bike.fields import FieldSpec, Kind
from lone_pike.core.bike.limits import INCH_MM
from lone_pike.core.messages import LengthUnit, Unit
from lone_pike.formats.typed.parsing import Reading
from lone_pike.formats.typed.rows import TUBE_LENGTHS


def format_length(length_mm: float, typed_in: LengthUnit) -> str:
    """A length as text without its unit; short, and it reads back the same to 0.02 mm.

    >>> format_length(431.5, LengthUnit.MM), format_length(431.8, LengthUnit.INCH), format_length(-20, LengthUnit.INCH)
    ('431.5', '17', '-0.787')
    """
    if typed_in is LengthUnit.MM:
        return f"{length_mm:.7g}"
    return f"{length_mm / INCH_MM:.3f}".rstrip("0").rstrip(".")


def format_reading(spec: FieldSpec, reading: Reading, typed_in: LengthUnit) -> str:
    """A field's text, which reads back as the same value; what could not be read stays as it was typed."""
    text = format_value(spec, reading.value, typed_in)
    if reading.spread is None or not text:
        return text
    return f"{text} ± {format_value(spec, reading.spread, typed_in)}"


def format_value(spec: FieldSpec, value: Any, typed_in: LengthUnit) -> str:
    """The text of a value alone."""
    if value is None or isinstance(value, bool):
        return "yes" if value else ""
    if isinstance(value, list):
        return _format_list(spec, value, typed_in)
    if spec.unit is Unit.MM and isinstance(value, int | float):
        return format_length(value, typed_in)
    return f"{value:g}" if isinstance(value, float) else str(value)


def _format_list(spec: FieldSpec, values: list[Any], typed_in: LengthUnit) -> str:
    if spec.kind is Kind.TRAVEL_ROWS:
        return "\n".join(_format_travel_row(row, typed_in) for row in values)
    if spec.kind is Kind.IDLER_ROWS:
        return "\n".join(_format_idler(row, typed_in) for row in values)
    if spec.kind is Kind.PIECE_ROWS:
        return "\n".join(map(_format_piece, values))
    if spec.kind is Kind.TUBE_ROWS:
        return "\n".join(_format_tube(row, typed_in) for row in values)
    if spec.kind is Kind.PLACE:
        return ", ".join(_format_length_or_text(part, typed_in) for part in values)
    return (", " if spec.kind is Kind.CHOICES else " ").join(map(str, values))


def _format_row(row: Any, typed_in: LengthUnit) -> str:
    return " ".join(_format_length_or_text(part, typed_in) for part in row) if isinstance(row, list) else str(row)


def _format_travel_row(row: Any, typed_in: LengthUnit) -> str:
    if not isinstance(row, list):
        return str(row)
    return _format_row(row[:2], typed_in) + "".join(
        f" {turn:g}°" if _is_number(turn) else f" {turn}" for turn in row[2:]
    )


def _is_number(value: Any) -> bool:
    return isinstance(value, int | float) and not isinstance(value, bool)


def _format_idler(row: Any, typed_in: LengthUnit) -> str:
    if not isinstance(row, dict):
        return str(row)
    place = _format_row(row.get("at_mm", []), typed_in)
    about = row.get("about_mm")
    spread = "" if about is None else f" ± {_format_length_or_text(about, typed_in)}"
    return f"{row.get('run')} {row.get('chain')} {row.get('teeth')} {place}{spread}"


def _format_piece(row: Any) -> str:
    if not isinstance(row, dict):
        return str(row)
    wear, number = row.get("wear_percent"), row.get("bin_id")
    worn = f" {wear:g}" if isinstance(wear, int | float) and wear else ""
    return f"{row.get('links')} {row.get('first_end')}{worn}" + (f" bin {number}" if number else "")


def _format_tube(row: Any, typed_in: LengthUnit) -> str:
    if not isinstance(row, dict):
        return str(row)
    lengths = _format_row([row[name] for name in TUBE_LENGTHS if row.get(name) is not None], typed_in)
    return f"{row.get('run')} {row.get('part')} {lengths}"


def _format_length_or_text(part: Any, typed_in: LengthUnit) -> str:
    numeric = isinstance(part, int | float) and not isinstance(part, bool)
    return format_length(float(part), typed_in) if numeric else str(part)
