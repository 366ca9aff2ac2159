"""Reads a reading of a chain's wear, and a distance, as they are typed."""

from collections.abc import Mapping
from typing import Any

from lone_pike.core.bike.faults import Fault, InvalidInput, invalid
from lone_pike.core.messages import LengthUnit, Message, Quantity, Raw, Unit
from lone_pike.core.wear.chain import MOST_KM
from lone_pike.core.wear.gauging import NEEDS, Way, WearReading
from lone_pike.formats.typed.parsing import parse_quantity, whole_number

USUAL_PITCHES = {Way.RULER: 24, Way.PAST: 24, Way.CALIPER: 10}
"""The number of pitches measured if nobody says otherwise: a foot by ruler."""

LONGEST = 20


def read_gauged(form: Mapping[str, str], unit: LengthUnit, links: int | None = None) -> WearReading:
    """Reads a reading. Parameters: links, of the chain, if it was measured whole, hung up. Raises: InvalidInput by
    field."""
    way = next((one for one in Way if one == form.get("way")), None)
    if way is None:
        raise InvalidInput([Fault("way", Raw(form.get("way", "")[:LONGEST] or None), Message("a_way"))])
    row: dict[str, Any] = {"way": str(way)}
    names = (*NEEDS[way], *(("passes", "stops") if way is Way.GAUGE else ()))
    for name in names:
        text = form.get(name, "").strip()
        if name == "pitches":
            usual = links if way is Way.WHOLE else USUAL_PITCHES.get(way)
            row[name] = (whole_number(text, 3) or text) if text else usual
        elif text:
            row[name] = parse_quantity(text, Unit.MM if name.endswith("mm") else Unit.NUMBER, unit).value
    if way is Way.GAUGE and form.get("same_way"):
        row["same_way"] = True
    return WearReading.model_validate({name: value for name, value in row.items() if value is not None})


def read_km(text: str, field: str, most: float = MOST_KM) -> float:
    """Reads a distance, km, with or without its unit. Raises: InvalidInput by field."""
    figure = text.strip().lower().removesuffix("km").strip()
    value = parse_quantity(figure, Unit.NUMBER).value
    if isinstance(value, int | float) and 0 <= value <= most:
        return float(value)
    read = Quantity(value, Unit.KM) if isinstance(value, int | float) else Raw(text.strip()[:LONGEST] or None)
    allowed = Message("between", low=Quantity(0, Unit.KM), high=Quantity(most, Unit.KM))
    raise invalid(field, read, allowed)
