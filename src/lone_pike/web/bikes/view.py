"""Bikes: each with its drivetrain and the chains fitted to it."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

from lone_pike.drawing.scene.side_view import SideView, side_view
from lone_pike.drawing.scene.small_view import SmallView, small_view
from lone_pike.formats.records.shop import Shop
from lone_pike.formats.typed.measure_form import Form, form_of, readings_of
from lone_pike.store.bikes import BikeRow
from lone_pike.store.bookings import BookingRow
from lone_pike.store.chains import ChainRow
from lone_pike.web.chains.view import ChainLine, chain_line
from lone_pike.workshop.answers import answer_in_shop
from lone_pike.workshop.due import StandingChain


@dataclass(frozen=True)
class BikeLine:
    """One bike in the list: its rings and cogs, and the chain that is on it."""

    url: str
    name: str
    rings: tuple[int, ...]
    cog_range: tuple[int, int] | None
    fitted: ChainRow | None
    side: SmallView | None
    in_hand: bool
    away: bool


@dataclass(frozen=True)
class BikeView:
    """One bike: its measures as texts, its drawing if it can be sized, its chains newest first."""

    row: BikeRow
    form: Form
    side: SideView | None
    history: tuple[BookingRow, ...]
    can_undo_booking: bool
    chains: tuple[ChainLine, ...]
    hung: tuple[ChainRow, ...]
    has_chain: bool
    speeds: int

    @property
    def in_hand(self) -> bool:
        """Whether it has an open job."""
        return self.row.open_job_id is not None

    @property
    def can_come_off(self) -> bool:
        """Whether the newest chain can be taken off again."""
        return not self.in_hand


def bike_line(bike: BikeRow, fitted: ChainRow | None, shop: Shop) -> BikeLine:
    """A row of the list."""
    rings, cogs = (_sizes(bike.document.get(key)) for key in ("rings", "cogs"))
    ends = (min(cogs), max(cogs)) if cogs else None
    in_hand, away = bike.open_job_id is not None, bike.put_away_at is not None
    return BikeLine(f"/bikes/{bike.id}", bike.name, rings, ends, fitted, _small_view(bike, shop), in_hand, away)


def bike_view(
    bike: BikeRow,
    history: list[BookingRow],
    chains: Sequence[StandingChain],
    shop: Shop,
    today: date,
    *,
    can_undo_booking: bool,
) -> BikeView:
    """The page of one bike. Parameters: chains that are or were on it; can_undo_booking, whether its newest booking can
    be taken back as a mistake."""
    cogs = bike.document.get("cogs")
    form = form_of(readings_of(bike.document), shop.unit)
    return BikeView(
        row=bike,
        form=form,
        side=_side_view(bike, shop),
        history=tuple(history),
        can_undo_booking=can_undo_booking,
        chains=tuple(chain_line(one, today) for one in chains),
        hung=tuple(one.row for one in chains if one.row.state == "hung"),
        has_chain=any(one.row.bike_id == bike.id for one in chains),
        speeds=len(cogs) if isinstance(cogs, list) else 0,
    )


def _sizes(sizes: object) -> tuple[int, ...]:
    return tuple(size for size in sizes if isinstance(size, int)) if isinstance(sizes, list) else ()


def _small_view(bike: BikeRow, shop: Shop) -> SmallView | None:
    """A bike as a row of the list."""
    answered = answer_in_shop(bike.document, shop).answer
    return small_view(answered.sizing, answered.gears[0], answered.links) if answered else None


def _side_view(bike: BikeRow, shop: Shop) -> SideView | None:
    """The bike in big/big with its advised count; None until it is measured."""
    answered = answer_in_shop(bike.document, shop).answer
    return side_view(answered.sizing, next(iter(answered.gears)), answered.links) if answered else None
