"""The shop's own settings: what every page and print follows."""

from typing import Any

from pydantic import BaseModel, ConfigDict, Field, ValidationError

from lone_pike.core.bike import EndLimits, HouseRule, measured
from lone_pike.core.faults import refused_by_model
from lone_pike.formats.typed import typed_mm, typed_number
from lone_pike.formats.words import CountWord, LengthUnit, Words


def _as_in_limits(name: str) -> dict[str, Any]:
    """The field of a bike's limits, for the shop's own."""
    info = EndLimits.model_fields[name]
    least, most = (next(getattr(part, side) for part in info.metadata if hasattr(part, side)) for side in ("ge", "le"))
    return {
        "default": info.default,
        "ge": least,
        "le": most,
        "description": info.description,
        "json_schema_extra": info.json_schema_extra,
    }


class Shop(BaseModel):
    """What a shop has settled once for all its bikes."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    first: CountWord = measured("links or pairs", "Which word comes first wherever a count stands.", default="links")
    unit: LengthUnit = measured("mm or in", "What lengths are read and typed in.", default="mm")
    house_rule: HouseRule = measured(
        "window, or a school", "What decides the count where a bike has no rule of its own.", default="window"
    )

    least_reserve_deg: float = Field(**_as_in_limits("least_reserve_deg"))
    least_clearance_mm: float = Field(**_as_in_limits("least_clearance_mm"))

    @property
    def words(self) -> Words:
        """How this shop wants counts and lengths said."""
        return Words(self.first, self.unit)

    def under_rules(self, document: dict[str, Any]) -> dict[str, Any]:
        """A bike's document under the house rule and the shop's limits, where it has none of its own.

        >>> Shop(house_rule="formula").under_rules({"name": "Otter"})["house_rule"]
        'formula'
        """
        limits = {"least_reserve_deg": self.least_reserve_deg, "least_clearance_mm": self.least_clearance_mm}
        return {"house_rule": self.house_rule, "limits": limits, **document}


NAMES = {"in": "inches", "mm": "mm", "links": "links first", "pairs": "pairs first"}
LABELS = {
    "first": "Counts",
    "unit": "Lengths",
    "house_rule": "House rule",
    "least_reserve_deg": "Least reserve",
    "least_clearance_mm": "Least air",
}
UNITS = {"least_reserve_deg": "°", "least_clearance_mm": " mm"}


def changed(shop: Shop, form: dict[str, str]) -> Shop:
    """The shop with what a form changes; its lengths are in the unit its page was in. Raises: Refused, by setting."""
    unit: LengthUnit = "in" if form.get("typed_in", shop.unit) == "in" else "mm"
    settings = shop.model_dump() | {name: _typed(name, text, unit) for name, text in form.items() if name in LABELS}
    try:
        return Shop.model_validate(settings)
    except ValidationError as error:
        raise refused_by_model(error, Shop) from None


def change_in_words(before: Shop, after: Shop) -> str:
    """A change in words.

    >>> change_in_words(Shop(), Shop(unit="in"))
    'Lengths: mm → inches'
    """
    old, new = before.model_dump(), after.model_dump()
    return ", ".join(
        f"{LABELS[name]}: {_name(old[name])} → {_name(new[name])}{UNITS.get(name, '')}"
        for name in LABELS
        if old[name] != new[name]
    )


def _typed(name: str, text: str, unit: LengthUnit) -> Any:
    if name == "least_clearance_mm":
        return typed_mm(text, unit).value
    return typed_number(text).value if name == "least_reserve_deg" else text


def _name(value: Any) -> str:
    return NAMES.get(value, value.replace("_", " ")) if isinstance(value, str) else f"{value:g}"
