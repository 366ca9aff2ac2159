"""What each limit costs over 1 000 km, and what it costs to ride several chains in turn (trade, section 8).

Prices and lives are the shop's own; those that nobody has entered are assumed, and marked as assumed.
"""

from dataclasses import dataclass
from typing import TYPE_CHECKING, Any

from lone_pike.core.bike.base import Document
from lone_pike.core.bike.fields import Kind, measured
from lone_pike.core.bike.limits import limit
from lone_pike.core.wear.replacing import AT, WearSchool

if TYPE_CHECKING:
    from lone_pike.core.wear.forecast import Usual  # the words of the trade need the fields alone

PER_KM, MOST_IN_TURN = 1000.0, 4
LIMITS_SHOWN = (WearSchool.HALF, WearSchool.THREE_QUARTERS, WearSchool.WHOLE)


def _price(label: str, how: str) -> Any:
    return measured(Kind.RATIO, label, how, default=None, ge=0, le=1_000_000)


def _lasts(label: str, how: str, name: str) -> Any:
    return measured(Kind.RATIO, label, how, default=int(limit(name)), ge=1, le=20)


class CostAssumptions(Document):
    """The prices of parts, and for how many chains a cassette and a set of rings last at each limit."""

    price_chain: float | None = _price("Price of a chain", "In the shop's own money.")
    price_cassette: float | None = _price("Price of a cassette", "In the shop's own money.")
    price_rings: float | None = _price("Price of a set of rings", "In the shop's own money.")
    chains_half: int = _lasts(
        "Chains a cassette, at half a percent", "Chains that one cassette lasts for.", "chains_half"
    )
    chains_three_quarters: int = _lasts(
        "Chains a cassette, at three quarters", "Chains that one cassette lasts for.", "chains_three_quarters"
    )
    chains_whole: int = _lasts(
        "Chains a cassette, at one percent", "Chains that one cassette lasts for.", "chains_whole"
    )
    rings_half: int = _lasts(
        "Chains a set of rings, at half a percent", "Chains that one set of rings lasts for.", "rings_half"
    )
    rings_three_quarters: int = _lasts(
        "Chains a set of rings, at three quarters", "Chains that one set of rings lasts for.", "rings_three_quarters"
    )
    rings_whole: int = _lasts(
        "Chains a set of rings, at one percent", "Chains that one set of rings lasts for.", "rings_whole"
    )

    @property
    def has_prices(self) -> bool:
        """Whether every price is known."""
        return None not in (self.price_chain, self.price_cassette, self.price_rings)


@dataclass(frozen=True)
class Cost:
    """What one limit costs over 1 000 km, in the shop's money, part by part; a chain's life up to it, km; and for how
    many chains a cassette then lasts."""

    school: WearSchool
    limit_percent: float
    life_km: float
    cassette_chains: int
    chain: float
    cassette: float
    rings: float

    @property
    def total(self) -> float:
        """All parts together."""
        return self.chain + self.cassette + self.rings


def costs(assumed: CostAssumptions, usual: "Usual", in_turn: int = 1) -> tuple[Cost, ...]:
    """What each limit costs. Empty without prices.

    Equation: life = (limit - w0) / r; of each part 1000 price / (life x chains that it lasts for). Parameters: in_turn,
    chains ridden in turn on one cassette, which is assumed to last until all of them are worn, and at least as long as
    its given life.
    """
    if not assumed.has_prices:
        return ()
    return tuple(_cost(assumed, school, usual, in_turn) for school in LIMITS_SHOWN)


def _cost(assumed: CostAssumptions, school: WearSchool, usual: "Usual", in_turn: int) -> Cost:
    life_km = (AT[school] - limit("wear_new")) / usual.rate
    cassette_chains = max(getattr(assumed, f"chains_{school}"), in_turn)
    rings_chains = max(getattr(assumed, f"rings_{school}"), in_turn)
    each = PER_KM / life_km
    return Cost(
        school,
        AT[school],
        life_km,
        cassette_chains,
        each * (assumed.price_chain or 0.0),
        each * (assumed.price_cassette or 0.0) / cassette_chains,
        each * (assumed.price_rings or 0.0) / rings_chains,
    )
