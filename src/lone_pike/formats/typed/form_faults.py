"""Which field of the form shows a fault, and what it asks for there."""

from dataclasses import replace

from pydantic import BaseModel

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import Fault
from lone_pike.core.bike.fields import fields_of
from lone_pike.core.messages import Message, Quantity, Raw, Unit, mm
from lone_pike.formats.typed.measure_form import AXLE, CHAINSTAY, form_fields
from lone_pike.formats.typed.parsing import is_range_alone

TEN = 10.0
"""A misplaced decimal point makes a length ten times too small."""


def faults_by_field(faults: tuple[Fault, ...], model: type[BaseModel] = Bike) -> dict[str, Fault]:
    """The first fault of each form field; faults that belong to none are under ''."""
    by_field: dict[str, Fault] = {}
    for fault in faults:
        by_field.setdefault(_field_of(fault.field, model), _asking(fault))
    return by_field


def _asking(fault: Fault) -> Fault:
    """Turns a fault into a question if one answer would settle it: the number of cogs of a range, or whether a decimal
    point is wrong."""
    read = fault.read.value if isinstance(fault.read, Raw) else fault.read
    if fault.field == "cogs" and isinstance(read, str) and is_range_alone(read):
        return replace(fault, allowed=Message("how_many_cogs"))
    spec = fields_of(Bike).get(fault.field)
    if spec and isinstance(read, Quantity) and read.unit is Unit.MM and spec.low and spec.high:
        meant_mm = read.value * TEN
        if read.value < spec.low <= meant_mm <= spec.high:
            return replace(fault, hint=Message("did_you_mean", value=mm(meant_mm)))
    return fault


def _field_of(place: str, model: type[BaseModel]) -> str:
    """The form field that shows a fault."""
    fields = form_fields(model)
    if place.startswith("about."):
        of_spread = {f"about.{spec.spread.key}": path for path, spec in fields.items() if spec.spread}
        return of_spread.get(place, "")
    if place.startswith(AXLE):
        return CHAINSTAY
    path = place
    while path and path not in fields:
        if f"{path}.type" in fields:
            return f"{path}.type"
        path = path.rpartition(".")[0]
    return path
