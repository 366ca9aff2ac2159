"""The shop's own settings: what every page and print follows."""

from typing import Any

from pydantic import BaseModel, ConfigDict, ValidationError

from lone_pike.core.bike import HouseRule, measured
from lone_pike.core.faults import refused_by_model
from lone_pike.formats.words import CountWord, LengthUnit, Words


class Shop(BaseModel):
    """What a shop has settled once for all its bikes."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    first: CountWord = measured("links or pairs", "Which word comes first wherever a count stands.", default="links")
    unit: LengthUnit = measured("mm or in", "What lengths are read and typed in.", default="mm")
    house_rule: HouseRule = measured(
        "window, or a school", "What decides the count where a bike has no rule of its own.", default="window"
    )

    @property
    def words(self) -> Words:
        """How this shop wants counts and lengths said."""
        return Words(self.first, self.unit)

    def with_rule(self, document: dict[str, Any]) -> dict[str, Any]:
        """A bike's document under the house rule, where it has none of its own.

        >>> Shop(house_rule="formula").with_rule({"name": "Otter"})["house_rule"]
        'formula'
        """
        return {"house_rule": self.house_rule, **document}


NAMES = {"in": "inches", "mm": "mm", "links": "links first", "pairs": "pairs first"}
LABELS = {"first": "Counts", "unit": "Lengths", "house_rule": "House rule"}


def changed(shop: Shop, form: dict[str, str]) -> Shop:
    """The shop with what a form changes. Raises: Refused, naming the setting."""
    settings = shop.model_dump() | {name: text for name, text in form.items() if name in LABELS}
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
        f"{LABELS[name]}: {_name(old[name])} → {_name(new[name])}" for name in LABELS if old[name] != new[name]
    )


def _name(value: str) -> str:
    return NAMES.get(value, value.replace("_", " "))
