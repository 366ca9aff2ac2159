"""When each chain is due, worked out anew where something changed that it rests on; lists are sorted by it."""

import sqlite3
from datetime import date

from lone_pike.core.wear.forecast import Usual, rate_of, usual_of
from lone_pike.core.wear.life import ChainLife, chain_file_of
from lone_pike.core.wear.replacing import limit_percent
from lone_pike.core.wear.standing import standing
from lone_pike.formats.records.shop import Shop
from lone_pike.store.chains import Days, groups, rates_like, standing_by_else, write_days, write_rate


def day_of(now: str) -> date:
    """The day of a time as it is kept."""
    return date.fromisoformat(now[:10])


def mark_unsorted(connection: sqlite3.Connection, chain_id: int) -> None:
    """What a chain's days were worked out by no longer holds."""
    connection.execute("UPDATE chain SET stands_by = '' WHERE id = ?", (chain_id,))


def usual_like(connection: sqlite3.Connection, speeds: int, riding: str) -> Usual:
    """What chains for so many cogs and such riding do, by the shop's own from enough of them on."""
    return usual_of(rates_like(connection, speeds, riding))


def sort_anew(connection: sqlite3.Connection, shop: Shop, now: str) -> None:
    """Works out anew when chains are due, where a reading, a distance, the shop's limit or its other chains changed."""
    today = day_of(now)
    for speeds, riding in groups(connection):
        most = limit_percent(speeds, shop.wear_school)
        # A chain's own rate first: it is part of what all are compared with.
        for chain_id, life in standing_by_else(connection, speeds, riding):
            rate = rate_of(chain_file_of(life, most, today))
            write_rate(connection, chain_id, len(life.gauged), rate)
        usual = usual_like(connection, speeds, riding)
        stands_by = f"{most:g} {usual.rate:.4g} {usual.times:g}"
        for chain_id, life in standing_by_else(connection, speeds, riding, stands_by):
            write_days(connection, chain_id, _days(life, most, usual, today, stands_by), now)


def _days(life: ChainLife, most: float, usual: Usual, today: date, stands_by: str) -> Days:
    due = standing(life, most, today, usual).due_on
    if due is None:
        return Days(None, None, None, None, stands_by)
    soon, early, middle, late = (day.isoformat() for day in (due.soon, due.early, due.middle, due.late))
    return Days(soon, early, middle, late, stands_by)
