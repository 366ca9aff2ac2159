"""Works out again when chains are due, if something has changed that this depends on. Lists are sorted by it."""

import sqlite3
from datetime import date

from lone_pike.core.wear.forecast import Usual, rate_of, usual_of
from lone_pike.core.wear.life import ChainLife, chain_file_of
from lone_pike.core.wear.replacing import limit_percent
from lone_pike.core.wear.standing import standing
from lone_pike.formats.records.shop import shop_from
from lone_pike.store.chains import Days, chains_to_sort, groups, rates_like, write_days, write_rate
from lone_pike.store.shop import settings_in
from lone_pike.workshop.clock import day_of


def usual_like(connection: sqlite3.Connection, speeds: int, riding: str) -> Usual:
    """How chains for this number of cogs and this riding wear, by the shop's own chains if there are enough of them."""
    return usual_of(rates_like(connection, speeds, riding))


def sort_anew(connection: sqlite3.Connection, now: str) -> None:
    """Works out again when chains are due, for those that have changed, have another limit, or have other chains to
    compare with."""
    today, shop = day_of(now), shop_from(settings_in(connection))
    for speeds, riding in groups(connection):
        most = limit_percent(speeds, shop.wear_school)
        # A chain's own rate first: it is part of what all are compared with.
        for chain_id, life in chains_to_sort(connection, speeds, riding):
            rate = rate_of(chain_file_of(life, most, today))
            write_rate(connection, chain_id, len(life.gauged), rate)
        usual = usual_like(connection, speeds, riding)
        stands_by = f"{most:g} {usual.rate:.4g} {usual.times:g}"
        for chain_id, life in chains_to_sort(connection, speeds, riding, stands_by):
            write_days(connection, chain_id, _days(life, most, usual, today, stands_by), now)


def _days(life: ChainLife, most: float, usual: Usual, today: date, stands_by: str) -> Days:
    due = standing(life, most, today, usual).due_on
    if due is None:
        return Days(None, None, None, None, stands_by)
    soon, early, middle, late = (day.isoformat() for day in (due.soon, due.early, due.middle, due.late))
    return Days(soon, early, middle, late, stands_by)
