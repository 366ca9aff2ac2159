"""Which limit: what each costs over 1 000 km with the shop's own prices and lives, with every assumption named."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from lone_pike.core.bike.faults import Fault
from lone_pike.core.bike.fields import fields_of
from lone_pike.core.bike.limits import LIMITS
from lone_pike.core.messages import Message, Quantity, Term, Unit, number
from lone_pike.core.wear.costs import MOST_IN_TURN, Cost, CostAssumptions, costs
from lone_pike.core.wear.forecast import Usual
from lone_pike.core.wear.replacing import AT
from lone_pike.core.wear.rides import km
from lone_pike.formats.records.shop import Shop
from lone_pike.formats.typed.writing import format_value

PARTS = ("chain", "cassette", "rings")
BAR_WIDE = 300


@dataclass(frozen=True)
class CostPart:
    """A part's share of a bar: its name, what it costs, and where its piece begins and how wide it is."""

    word: Term
    cost: float
    x: float
    width: float


@dataclass(frozen=True)
class CostRow:
    """What one limit costs: the limit, the parts, its life, whether it is the shop's and whether it is the least."""

    percent: float
    total: float
    parts: tuple[CostPart, ...]
    said: tuple[Message, ...]
    is_shops: bool
    is_least: bool


@dataclass(frozen=True)
class Assumed:
    """A price or a life: its key, its label, its text, and a note that it is assumed if nobody entered it."""

    name: str
    label: str
    text: str
    is_assumed: bool
    fault: Fault | None


@dataclass(frozen=True)
class CostsView:
    """The page."""

    rows: tuple[CostRow, ...]
    in_turn: int
    turns: tuple[int, ...]
    assumed: tuple[Assumed, ...]
    rate: Message
    saw: int | None


def costs_view(
    shop: Shop,
    usual: Usual,
    in_turn: int,
    saw: int | None,
    typed: Mapping[str, str],
    faults: Sequence[Fault] = (),
) -> CostsView:
    """The page. Parameters: usual, how fast chains wear in this shop; in_turn, chains ridden in turn on one
    cassette."""
    found = costs(shop, usual, in_turn)
    most = max((one.total for one in found), default=0.0) or 1.0
    least = min((one.total for one in found), default=0.0)
    own = AT.get(shop.wear_school)
    by_field = {one.field: one for one in faults}
    return CostsView(
        rows=tuple(_row(one, most, own, is_least=one.total == least) for one in found),
        in_turn=in_turn,
        turns=tuple(range(1, MOST_IN_TURN + 1)),
        assumed=tuple(_assumed(shop, name, typed, by_field.get(name)) for name in fields_of(CostAssumptions)),
        rate=Message(
            "costs_own" if usual.is_own else "costs_all",
            chains=number(usual.chains),
            life=km(AT_HALF / usual.rate),
        ),
        saw=saw,
    )


AT_HALF = 0.5


def _row(one: Cost, most: float, own: float | None, *, is_least: bool) -> CostRow:
    x, parts = 0.0, []
    for name in PARTS:
        cost = getattr(one, name)
        width = cost / most * BAR_WIDE
        parts.append(CostPart(Term("cost_part", name), cost, round(x, 1), round(width, 1)))
        x += width
    said = (
        Message("cost_life", life=km(one.life_km)),
        Message("cost_cassette", chains=Quantity(one.cassette_chains, Unit.CHAINS)),
    )
    return CostRow(one.limit_percent, one.total, tuple(parts), said, own == one.limit_percent, is_least)


def _assumed(shop: Shop, name: str, typed: Mapping[str, str], fault: Fault | None) -> Assumed:
    spec, value = fields_of(CostAssumptions)[name], getattr(shop, name)
    text = typed.get(name, "" if value is None else format_value(spec, value, shop.unit))
    is_assumed = name in LIMITS and value == LIMITS[name].value
    return Assumed(name, spec.label, text, is_assumed, fault)
