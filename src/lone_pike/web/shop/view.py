"""Shop: units, house rule and limits, which every page and print follows."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime

from lone_pike.core.bike.base import HouseRule
from lone_pike.core.bike.faults import Fault
from lone_pike.core.bike.fields import FieldSpec, fields_of
from lone_pike.core.bike.limits import LIMITS, Limit, limit
from lone_pike.core.bike.parts import EndLimits
from lone_pike.core.messages import Message, Quantity, Term, Unit, deg
from lone_pike.formats.records.shop import Shop
from lone_pike.formats.typed.writing import format_value
from lone_pike.store.backups import Backup
from lone_pike.store.shop import ShopRow


@dataclass(frozen=True)
class OwnLimit:
    """A limit that the shop may set."""

    name: str
    label: Term
    unit: Unit
    text: str
    fault: Fault | None


@dataclass(frozen=True)
class Rule:
    """A house rule, with what it does."""

    name: str
    word: Term
    message: Message
    chosen: bool


@dataclass(frozen=True)
class BackupsView:
    """The automatic backups: the newest few with their age in days, how many there are, the typed folder, and what is
    wrong with it."""

    newest: tuple[tuple[Backup, int], ...]
    total: int
    folder: str
    fault: Fault | None


@dataclass(frozen=True)
class ShopView:
    """The page."""

    shop: Shop
    saw: int | None
    undo: Message | None
    announcements: tuple[Message, ...]
    own: tuple[OwnLimit, ...]
    rules: tuple[Rule, ...]
    limits: tuple[Limit, ...]
    faults: tuple[Fault, ...]
    least_reserve: Quantity
    backups: BackupsView


MOST_BACKUPS_SHOWN = 4


def backups_view(
    backups: Sequence[Backup], shop: Shop, typed: Mapping[str, str], faults: Sequence[Fault], now: datetime
) -> BackupsView:
    """The backups as the page shows them."""
    newest = tuple((one, one.age(now).days) for one in backups[:MOST_BACKUPS_SHOWN])
    fault = next((fault for fault in faults if fault.field in ("backup_folder", "backup")), None)
    return BackupsView(newest, len(backups), typed.get("backup_folder", shop.backup_folder or ""), fault)


def shop_view(
    shop: Shop,
    row: ShopRow,
    backups: BackupsView,
    typed: Mapping[str, str],
    faults: tuple[Fault, ...] = (),
    announcements: tuple[Message, ...] = (),
) -> ShopView:
    """Builds the page; what could not be stored is shown as it was typed, with its fault."""
    own = fields_of(EndLimits)
    by_field = {fault.field: fault for fault in faults}
    return ShopView(
        shop=shop,
        saw=row.revision_id,
        undo=row.message if row.can_undo else None,
        announcements=announcements,
        own=tuple(_own(shop, spec, typed, by_field.get(name)) for name, spec in own.items()),
        rules=tuple(_rule(rule, shop.house_rule is rule) for rule in HouseRule),
        limits=tuple(one for one in LIMITS.values() if not one.shop_may_change),
        faults=tuple(fault for fault in faults if fault.field not in own and fault is not backups.fault),
        least_reserve=deg(limit("least_reserve")),
        backups=backups,
    )


def _own(shop: Shop, spec: FieldSpec, typed: Mapping[str, str], fault: Fault | None) -> OwnLimit:
    text = typed.get(spec.path, format_value(spec, getattr(shop, spec.path), shop.unit))
    return OwnLimit(spec.path, Term("setting", spec.path), spec.unit, text, fault)


def _rule(rule: HouseRule, chosen: bool) -> Rule:
    message = Message(f"rule_{rule}", wanted=deg(limit("wanted_reserve")))
    return Rule(str(rule), Term("house_rule", rule), message, chosen)
