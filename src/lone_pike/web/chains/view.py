"""Chains: each with its wear and when it is due; what is due, and what to order."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from lone_pike.core.messages import Message, Quantity, Term, Unit, links, number
from lone_pike.core.wear.ordering import Order
from lone_pike.core.wear.replacing import percent
from lone_pike.core.wear.rides import km
from lone_pike.core.wear.standing import ChainStanding
from lone_pike.store.chains import ChainRow, DueCount
from lone_pike.store.paging import Listed
from lone_pike.web.listing import Listing, Pager, pager_of
from lone_pike.wording.units import spoken
from lone_pike.workshop.due import StandingChain

SHOWN = (("on", "On bikes"), ("hung", "Hung up"), ("ended", "Ended"))


@dataclass(frozen=True)
class DueWords:
    """When a chain is due: the distance that is left or over, its range, and the day; None for what is not known."""

    state: str
    word: Term
    distance: Message
    band: Message
    day: Message


@dataclass(frozen=True)
class ChainLine:
    """One chain of a list: where it is, its wear as a share of its limit, and when it is due; None if its life has
    ended."""

    url: str
    row: ChainRow
    place: Message
    wear: Message
    share: float
    due: DueWords | None


@dataclass(frozen=True)
class ChainsView:
    """The list of chains in one state, and the links to the other states."""

    lines: tuple[ChainLine, ...]
    pager: Pager
    state: str
    shown: tuple[tuple[str, str, str], ...]
    count: tuple[Message, ...]


@dataclass(frozen=True)
class DueView:
    """What is due, soonest first, and what to order."""

    lines: tuple[ChainLine, ...]
    pager: Pager
    count: tuple[Message, ...]
    order: tuple[Message, ...]
    in_bin: tuple[Message, ...]


def due_words(standing: ChainStanding, today: date) -> DueWords:
    """When a chain is due, in words: the distance first."""
    forecast, ridden_km = standing.forecast, standing.distance.km
    is_over = forecast.due_km.middle <= ridden_km
    since_km = 0.0 if is_over else ridden_km
    early, late = (max(value - since_km, 0.0) for value in (forecast.due_km.early, forecast.due_km.late))
    distance = Message("due_over" if is_over else "due_in", left=km(abs(forecast.due_km.middle - ridden_km)))
    band = Message("due_met" if is_over else "due_band", early=number(round(early)), late=km(late))
    day = Message("not_ridden")
    if standing.due_on:
        middle = standing.due_on.middle
        day = Message("due_was" if middle < today else "due_about", day=spoken(middle, today))
    return DueWords(str(forecast.state), Term("due", forecast.state), distance, band, day)


def place_message(row: ChainRow, today: date) -> Message:
    """Where a chain is."""
    life = row.life
    if life.bike_id:
        return Message("on_bike", bike=row.bike or "", since=spoken(life.stays[-1].since, today))
    if life.ending:
        return Message("chain_over", how=Term("ending", life.ending), day=spoken(life.ended or today, today))
    return Message("hung_up")


def chain_line(chain: StandingChain, today: date) -> ChainLine:
    """A row of a list."""
    forecast = chain.standing.forecast
    return ChainLine(
        url=f"/chains/{chain.row.id}",
        row=chain.row,
        place=place_message(chain.row, today),
        wear=Message("wear_of_limit", wear=percent(forecast.wear_percent), most=percent(forecast.limit_percent)),
        share=forecast.wear_percent / forecast.limit_percent,
        due=None if chain.row.life.ending else due_words(chain.standing, today),
    )


def chains_view(
    rows: Listed[ChainRow], chains: Sequence[StandingChain], listing: Listing, state: str, count: DueCount, today: date
) -> ChainsView:
    """The list of chains."""
    return ChainsView(
        lines=tuple(chain_line(one, today) for one in chains),
        pager=pager_of("/chains", listing, rows, state=state if state != SHOWN[0][0] else ""),
        state=state,
        shown=tuple((key, word, "/chains" if key == "on" else f"/chains?state={key}") for key, word in SHOWN),
        count=count_messages(count, today),
    )


def due_view(
    rows: Listed[ChainRow],
    chains: Sequence[StandingChain],
    listing: Listing,
    count: DueCount,
    order: Order,
    today: date,
) -> DueView:
    """What is due."""
    return DueView(
        lines=tuple(chain_line(one, today) for one in chains),
        pager=pager_of("/chains/due", listing, rows),
        count=count_messages(count, today),
        order=_order(order),
        in_bin=tuple(
            Message("order_in_bin", amount=_chains(one.in_bin), speeds=_cogs(one.speeds))
            for one in order.chains
            if one.in_bin
        ),
    )


def count_messages(count: DueCount, today: date) -> tuple[Message, ...]:
    """How many chains are due, and which is next, in one line for the Stand."""
    said = []
    for code, chains in (("due_now", count.due), ("due_soon", count.soon)):
        said += [Message(code, chains=_chains(chains))] if chains else []
    if count.next_name and count.next_on:
        said.append(Message("next_due", name=count.next_name, day=spoken(date.fromisoformat(count.next_on), today)))
    return tuple(said)


def _order(order: Order) -> tuple[Message, ...]:
    chains = [
        Message(
            "order_chains",
            amount=_chains(len(one.links)),
            speeds=_cogs(one.speeds),
            counts=tuple(links(count) for count in one.links),
        )
        for one in order.chains
        if one.links
    ]
    joiners = [
        Message(
            "order_joiners",
            amount=Quantity(one.amount, Unit.NUMBER),
            joiner=Term("joiner", one.kind),
            speeds=_cogs(one.speeds),
            there=Quantity(one.in_bin, Unit.NUMBER),
        )
        for one in order.joiners
    ]
    return (*chains, *joiners)


def _chains(amount: int) -> Quantity:
    return Quantity(amount, Unit.CHAINS)


def _cogs(speeds: int) -> Quantity:
    return Quantity(speeds, Unit.COGS)
