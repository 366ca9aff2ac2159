"""How to take each measure, as the page says it: the field's own description, or more if an example helps."""

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.fields import FieldSpec, fields_of
from lone_pike.core.bike.limits import limit
from lone_pike.core.messages import Message, Quantity, Unit, mm

HOWS = {path: spec.how for path, spec in fields_of(Bike).items()}
CLASSES = {name: mm(limit(f"{name}_cage")) for name in ("short", "medium", "long")}

FIELD_HINTS: dict[str, Message] = {
    "rings": Message("hint_rings"),
    "cogs": Message("hint_cogs"),
    "chain.speeds": Message("hint_speeds"),
    "chainstay_mm": Message("hint_chainstay", exact=Quantity(432, Unit.MM, 3), about=mm(432)),
    "take_up.class": Message("hint_class", **CLASSES),
    "take_up.b_gap_mm": Message("hint_gap", low=mm(limit("gap")), high=mm(limit("wide_gap"))),
    "take_up.pivot_mm": Message("hint_pulley", how=HOWS["take_up.pivot_mm"], away=mm(72)),
    "take_up.rest_deg": Message("hint_clock", how=HOWS["take_up.rest_deg"]),
    "take_up.crank_deg": Message("hint_clock", how=HOWS["take_up.crank_deg"]),
    "take_up.max_mm": Message("hint_slot_to", length=mm(24)),
    "suspension.type": Message("hint_suspension"),
    "suspension.pivot_mm": Message("hint_pivot", forward=mm(8), up=mm(52)),
    "chain.pieces": Message("hint_pieces", worn=Quantity(0.2, Unit.PERCENT)),
    "idlers": Message("hint_idlers", behind=mm(20), back=mm(-20), up=mm(106)),
}


def field_hint(spec: FieldSpec) -> Message:
    """How to take the measure of a field."""
    return FIELD_HINTS.get(spec.path, Message("hint_in_unit" if spec.unit is Unit.MM else "hint", how=spec.how))
