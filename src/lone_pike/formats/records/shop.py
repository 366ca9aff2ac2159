"""The shop's own settings: what every page and print follows."""

import json
from collections.abc import Mapping
from enum import StrEnum
from functools import lru_cache
from typing import Any

from lone_pike.core.bike.base import HouseRule
from lone_pike.core.bike.fields import FieldSpec, Kind, fields_of, measured
from lone_pike.core.bike.model_faults import WholeDocument
from lone_pike.core.bike.parts import EndLimits
from lone_pike.core.messages import CountWord, LengthUnit, Message, Quantity, Term, Unit, Value
from lone_pike.core.wear.costs import CostAssumptions
from lone_pike.core.wear.replacing import WearSchool
from lone_pike.formats.records.merging import differences
from lone_pike.formats.typed.readings import parse
from lone_pike.formats.typed.writing import format_value

Settings = dict[str, Any]
LONGEST_FOLDER = 300


class ChainCare(StrEnum):
    """How a shop cares for a chain: the grease kept within or stripped off, then oil or wax (trade, section 14)."""

    WIPE_OIL = "wipe_oil"
    WIPE_WAX = "wipe_wax"
    STRIP_OIL = "strip_oil"
    STRIP_WAX = "strip_wax"

    @property
    def is_waxed(self) -> bool:
        """Whether the chain runs in wax."""
        return self in (ChainCare.WIPE_WAX, ChainCare.STRIP_WAX)


class Shop(EndLimits, CostAssumptions, WholeDocument):
    """The settings of a shop for all its bikes: its limits at both ends, its prices, its units and its house rule."""

    first: CountWord = measured(
        Kind.CHOICE, "Counts", "Which word comes first wherever a count stands.", default=CountWord.LINKS
    )
    unit: LengthUnit = measured(Kind.CHOICE, "Lengths", "What lengths are read and typed in.", default=LengthUnit.MM)
    house_rule: HouseRule = measured(
        Kind.CHOICE,
        "House rule",
        "What decides the count where a bike has no rule of its own.",
        default=HouseRule.WINDOW,
    )

    wear_school: WearSchool = measured(
        Kind.CHOICE, "Replace chains at", "The wear at which chains are replaced.", default=WearSchool.BY_SPEEDS
    )

    care: ChainCare = measured(
        Kind.CHOICE, "Care", "How a chain is cared for before the bike goes out.", default=ChainCare.WIPE_OIL
    )

    backup_folder: str | None = measured(
        Kind.TEXT,
        "Backups in",
        "The folder of the automatic backups; beside the data file where none is named.",
        default=None,
        max_length=LONGEST_FOLDER,
    )

    def under_rules(self, document: dict[str, Any]) -> dict[str, Any]:
        """A bike's document with the house rule and the shop's limits, unless it has its own.

        >>> Shop(house_rule=HouseRule.FORMULA).under_rules({"name": "Otter"})["house_rule"].value
        'formula'
        """
        limits = {name: getattr(self, name) for name in EndLimits.model_fields}
        return {"house_rule": self.house_rule, "limits": limits, **document}


def shop_from(settings: Settings) -> Shop:
    """The shop with given settings. Raises: InvalidInput, by setting."""
    return _shop_of(json.dumps(settings))


@lru_cache(maxsize=1)
def _shop_of(text: str) -> Shop:
    """The shop from the text of its settings, cached, because every request needs it and it changes rarely."""
    return Shop.model_validate_json(text)


def settings_of(shop: Shop) -> Settings:
    """The settings in the form in which they are stored."""
    return shop.model_dump(mode="json")


def settings_typed(shop: Shop, form: Mapping[str, str]) -> Settings:
    """The settings after the changes of a form; lengths are in the unit of its page. A length that is still as the page
    showed it, rounded, is not a change."""
    typed_in = LengthUnit.INCH if form.get("typed_in", shop.unit) == LengthUnit.INCH else LengthUnit.MM
    specs = fields_of(Shop)
    return settings_of(shop) | {
        name: parse(spec, form[name], typed_in).value
        for name, spec in specs.items()
        if name in form and not _as_shown(shop, spec, form[name], typed_in)
    }


def _as_shown(shop: Shop, spec: FieldSpec, text: str, typed_in: LengthUnit) -> bool:
    return spec.unit is Unit.MM and text.strip() == format_value(spec, getattr(shop, spec.path), typed_in)


def settings_message(before: Settings, after: Settings) -> Message:
    """One message about all changes, for the history."""
    changed = differences(before, after, None)
    return Message(
        "fields_changed",
        changes=tuple(
            Message("setting_changed", setting=Term("setting", name), before=_value(name, old), after=_value(name, new))
            for name, (old, new) in changed.items()
        ),
    )


def _value(name: str, value: Any) -> Value:
    spec = fields_of(Shop)[name]
    if isinstance(value, int | float):
        return Quantity(value, spec.unit)
    if spec.kind is Kind.TEXT:
        return str(value) if value else Message("beside_the_file")
    return Term("house_rule" if name == "house_rule" else "setting_value", str(value))
