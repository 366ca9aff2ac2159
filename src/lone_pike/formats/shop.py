"""The shop's own settings: what every page and print follows."""

from typing import Any

from pydantic import ValidationError

from lone_pike.core.bike.document import EndLimits, HouseRule, measured
from lone_pike.core.bike.faults import invalid_by_model
from lone_pike.core.bike.measures import unit_behind
from lone_pike.formats.parsing import parse_length, parse_number
from lone_pike.formats.words import CountWord, LengthUnit, Words, unit_named


class Shop(EndLimits):
    """What a shop has settled once for all its bikes: what it keeps at both ends, and its words and house rule."""

    first: CountWord = measured("links or pairs", "Which word comes first wherever a count stands.", default="links")
    unit: LengthUnit = measured("mm or in", "What lengths are read and typed in.", default="mm")
    house_rule: HouseRule = measured(
        "window, or a school", "What decides the count where a bike has no rule of its own.", default="window"
    )

    @property
    def words(self) -> Words:
        """How this shop wants counts and lengths said."""
        return Words(self.first, self.unit)

    def under_rules(self, document: dict[str, Any]) -> dict[str, Any]:
        """A bike's document under the house rule and the shop's limits, where it has none of its own.

        >>> Shop(house_rule="formula").under_rules({"name": "Otter"})["house_rule"]
        'formula'
        """
        limits = {name: getattr(self, name) for name in EndLimits.model_fields}
        return {"house_rule": self.house_rule, "limits": limits, **document}


NAMES = {"in": "inches", "mm": "mm", "links": "links first", "pairs": "pairs first"}
LABELS = {
    "first": "Counts",
    "unit": "Lengths",
    "house_rule": "House rule",
    "least_reserve_deg": "Least reserve",
    "least_clearance_mm": "Least air",
}


def changed(shop: Shop, form: dict[str, str]) -> Shop:
    """The shop with what a form changes; lengths are in its page's unit. Raises: InvalidInput, by setting."""
    unit = unit_named(form.get("typed_in", shop.unit))
    settings = shop.model_dump() | {name: _typed(name, text, unit) for name, text in form.items() if name in LABELS}
    try:
        return Shop.model_validate(settings)
    except ValidationError as error:
        raise invalid_by_model(error, Shop) from None


def change_in_words(before: Shop, after: Shop) -> str:
    """A change in words.

    >>> change_in_words(Shop(), Shop(unit="in"))
    'Lengths: mm → inches'
    """
    old, new = before.model_dump(), after.model_dump()
    units = {name: unit_behind(name) for name in EndLimits.model_fields}
    return ", ".join(
        f"{LABELS[name]}: {_name(old[name])} → {_name(new[name])}{units.get(name, '')}"
        for name in LABELS
        if old[name] != new[name]
    )


def _typed(name: str, text: str, unit: LengthUnit) -> Any:
    if name == "least_clearance_mm":
        return parse_length(text, unit).value
    return parse_number(text).value if name == "least_reserve_deg" else text


def _name(value: Any) -> str:
    return NAMES.get(value, value.replace("_", " ")) if isinstance(value, str) else f"{value:g}"
