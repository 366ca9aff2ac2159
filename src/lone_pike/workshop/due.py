"""What is due: the chains, soonest first, what to order for them, and whether a new chain will jump."""

import sqlite3
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

from lone_pike.core.bike.limits import limit
from lone_pike.core.wear.forecast import newest_places
from lone_pike.core.wear.gauging import WearReading, chain_wear
from lone_pike.core.wear.life import ChainLife, chain_file_of
from lone_pike.core.wear.ordering import Need, Order, to_order
from lone_pike.core.wear.replacing import Jump, jump_of, limit_percent
from lone_pike.core.wear.standing import ChainStanding, standing
from lone_pike.formats.records.shop import Shop
from lone_pike.store.bin import joiner_stock, pieces_for
from lone_pike.store.chains import ChainRow, DueRow, chains_due, chains_of, due_rows
from lone_pike.store.database import Database
from lone_pike.store.paging import Listed
from lone_pike.workshop.sorting import usual_like


@dataclass(frozen=True)
class StandingChain:
    """A chain, with its wear and its due dates as of today."""

    row: ChainRow
    standing: ChainStanding


def standing_rows(database: Database, rows: Sequence[ChainRow], shop: Shop, today: date) -> tuple[StandingChain, ...]:
    """The state of each of some chains today. Chains of one kind are compared with the same other chains, so these are
    read once."""
    usual = {}
    for row in rows:
        like = (row.life.speeds, row.life.riding)
        if like not in usual:
            usual[like] = usual_like(database.connection, row.life.speeds, str(row.life.riding))
    return tuple(
        StandingChain(
            row,
            standing(
                row.life,
                limit_percent(row.life.speeds, shop.wear_school),
                today,
                usual[row.life.speeds, row.life.riding],
            ),
        )
        for row in rows
    )


def due_chains(database: Database, today: date, page: int, size: int) -> Listed[ChainRow]:
    """A page of the chains on bikes that are due, due soon, or due within the days that are ordered for."""
    return chains_due(database, today.isoformat(), _ordered_until(today), page, size)


def due_now(database: Database, today: date) -> list[DueRow]:
    """All of these without their lives, as many as one order covers."""
    return due_rows(database, today.isoformat(), _ordered_until(today))


def _ordered_until(today: date) -> str:
    return (today + timedelta(days=int(limit("order_days")))).isoformat()


def order_for(database: Database, rows: Sequence[DueRow]) -> Order:
    """What to order for chains that are due, after subtracting what lies free in the bin."""
    needs = [Need(one.speeds, one.loose_links, one.links, one.joiner, one.joiners) for one in rows]
    pieces = {
        speeds: [piece.links for piece in pieces_for(database, speeds)] for speeds in {one.speeds for one in needs}
    }
    stock = {(one.kind, one.speeds): one.amount for one in joiner_stock(database)}
    return to_order(needs, pieces, stock)


def jump_on(
    connection: sqlite3.Connection,
    bike_id: int,
    cogs: Sequence[int],
    shop: Shop,
    gauged: Sequence[WearReading] = (),
) -> Jump | None:
    """Whether a new chain may jump on a bike's cassette, by the chains that ran on it since it was new.

    Parameters: gauged, readings of the chain that is on it, as they are taken just now.
    """
    rows = chains_of(connection, bike_id)
    if not rows:
        return None
    ran = list[ChainLife]()
    for row in rows:
        ran.append(row.life)
        if row.life.with_cassette:
            break
    worn = [_worst_percent(life) for life in ran]
    now = chain_wear(gauged)
    newest = ran[0]
    return jump_of(
        max([*worn, now.worst.percent if now else 0.0]),
        limit_percent(newest.speeds, shop.wear_school),
        newest.speeds,
        cogs,
        newest.used_cogs,
    )


def _worst_percent(life: ChainLife) -> float:
    """How far a chain was worn at the most, by its readings; 0 without any."""
    if not life.gauged:
        return 0.0
    last = max(one.date for one in life.gauged)
    forecast = standing(life, limit_percent(life.speeds), life.ended or last).forecast
    newest = newest_places(chain_file_of(life, limit_percent(life.speeds), last))
    return max(forecast.wear_percent, newest.worst.percent if newest else 0.0)
