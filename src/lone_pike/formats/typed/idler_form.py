"""Edits of the route: each makes the rows of idlers again, in order from front to back in each run."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

from lone_pike.core.bike.base import Run, Side
from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import Fault, InvalidInput
from lone_pike.core.bike.fields import FieldSpec, fields_of
from lone_pike.core.bike.tapes import by_two_tapes
from lone_pike.core.messages import LengthUnit, Quantity, Raw, Unit
from lone_pike.formats.typed.parsing import parse_quantity

Row = dict[str, Any]
Point = tuple[float, float]

NUDGES: dict[str, Point] = {"left": (-1.0, 0.0), "right": (1.0, 0.0), "up": (0.0, 1.0), "down": (0.0, -1.0)}
MOST_NUDGE_MM = 10.0
NEW_TEETH, PRESSES_MM = 15, 14.0
SIDES = {Run.DRIVE: Side.UNDER, Run.RETURN: Side.OVER}
"""The values of a new idler: between the runs, holding them together."""


@dataclass(frozen=True)
class Rows:
    """The idlers for the document, and the index of the one that was edited; None if it was removed."""

    idlers: tuple[Row, ...]
    place: int | None


def rows_of(document: Mapping[str, Any]) -> list[Row]:
    """The idlers that can be read."""
    rows = document.get("idlers")
    return [row for row in rows if isinstance(row, dict)] if isinstance(rows, list) else []


def moved(rows: Sequence[Row], place: int, at_mm: Point, about_mm: float | None = None) -> Rows:
    """One idler moved to another place, with the given spread."""
    row = {key: value for key, value in rows[place].items() if key != "about_mm"}
    row["at_mm"] = [round(at_mm[0], 1), round(at_mm[1], 1)]
    return _with(rows, place, row | ({"about_mm": about_mm} if about_mm else {}))


def nudged(rows: Sequence[Row], place: int, to: str, by_mm: float) -> Rows:
    """One idler moved a little; its spread stays."""
    (x, y), (right, up) = rows[place]["at_mm"], NUDGES[to]
    by = min(max(by_mm, 0.0), MOST_NUDGE_MM)
    return moved(rows, place, (x + right * by, y + up * by), rows[place].get("about_mm"))


def described(rows: Sequence[Row], place: int, form: Mapping[str, str], typed_in: LengthUnit) -> Rows:
    """One idler with the values of its fields: run, side, teeth, place and spread. Raises: InvalidInput by field."""
    row = dict(rows[place])
    for key, kinds in (("run", Run), ("chain", Side)):
        if form.get(f"idler.{key}") in tuple(kinds):
            row[key] = form[f"idler.{key}"]
    if "idler.teeth" in form:
        row["teeth"] = _number(form, "idler.teeth", place, "teeth", Unit.TEETH, typed_in)
    if "idler.forward" in form:
        row["at_mm"] = [_number(form, f"idler.{axis}", place, "at_mm", Unit.MM, typed_in) for axis in ("forward", "up")]
    about = form.get("idler.about", "").strip()
    if "idler.about" in form:
        row.pop("about_mm", None)
    if about:
        row["about_mm"] = _number(form, "idler.about", place, "about_mm", Unit.MM, typed_in)
    return _with(rows, place, row)


def taped(rows: Sequence[Row], place: int, form: Mapping[str, str], typed_in: LengthUnit, axle_at_mm: Point) -> Rows:
    """One idler placed by two tapes, on the same side of the line from axle to crank as now.

    Raises: InvalidInput if a tape cannot be read, or the two do not meet.
    """
    crank_mm, axle_mm = (_number(form, f"tape.{end}", place, "at_mm", Unit.MM, typed_in) for end in ("crank", "axle"))
    (x, y), (axle_x, axle_y) = rows[place]["at_mm"], axle_at_mm
    above = form.get("tape.side") != "below" if form.get("tape.side") else y > x * axle_y / axle_x
    place_of = by_two_tapes(float(crank_mm), float(axle_mm), axle_at_mm, above=above)
    return moved(rows, place, place_of.at_mm, place_of.about_mm)


def added(rows: Sequence[Row], run: Run, axle_at_mm: Point, ring_mm: float, cog_mm: float) -> Rows:
    """Adds an idler half way along its run, pressing a little on the straight line from wheel to wheel."""
    side = 1.0 if run is Run.DRIVE else -1.0
    middle = axle_at_mm[0] / 2, axle_at_mm[1] / 2 + side * ((ring_mm + cog_mm) / 2 - PRESSES_MM)
    radius_mm = NEW_TEETH * 2.0
    under = SIDES[run] is Side.UNDER
    at_mm = [round(middle[0] / 5) * 5.0, round((middle[1] + (radius_mm if under else -radius_mm)) / 5) * 5.0]
    row = {"run": str(run), "at_mm": at_mm, "teeth": NEW_TEETH, "chain": str(SIDES[run])}
    return _with([*rows, row], len(rows), row)


def swapped(rows: Sequence[Row]) -> Rows:
    """Swaps the two runs: what was on the drive run is then on the return run, with the chain on the same rim as
    before."""
    runs, sides = {"drive": "return", "return": "drive"}, {"over": "under", "under": "over"}
    turned = [{**row, "run": runs[row["run"]], "chain": sides[row["chain"]]} for row in rows]
    return Rows(tuple(turned[i] for i in _order(turned)), None)


def removed(rows: Sequence[Row], place: int) -> Rows:
    """Removes one idler."""
    return Rows(tuple(row for i, row in enumerate(rows) if i != place), None)


def _with(rows: Sequence[Row], place: int, row: Row) -> Rows:
    """The rows with one changed: the drive run first, and each run from front to back."""
    changed = [row if i == place else other for i, other in enumerate(rows)]
    order = _order(changed)
    return Rows(tuple(changed[i] for i in order), order.index(place))


def _order(rows: Sequence[Row]) -> list[int]:
    return sorted(range(len(rows)), key=lambda i: (rows[i]["run"] != Run.DRIVE, -rows[i]["at_mm"][0]))


def _number(form: Mapping[str, str], name: str, place: int, key: str, unit: Unit, typed_in: LengthUnit) -> float | int:
    """Reads a number of an idler. Raises: InvalidInput with what was read and what is allowed."""
    spec, text = _spec(key), form.get(name, "")
    value = parse_quantity(text, unit, typed_in).value
    if not isinstance(value, int | float):
        raise InvalidInput([Fault(f"idlers.{place}.{key}", Raw(text.strip() or None), spec.allowed)])
    low, high = spec.low, spec.high
    if (low is not None and value < low) or (high is not None and value > high):
        raise InvalidInput([Fault(f"idlers.{place}.{key}", Quantity(value, unit), spec.allowed)])
    return value


def _spec(key: str) -> FieldSpec:
    return fields_of(Bike)[f"idlers.{key}"]
