"""The chains of the sample workshop, at every stage of their lives, with readings and rides up to a few days ago."""

import json
from collections.abc import Mapping
from datetime import datetime, timedelta
from importlib.resources import files
from typing import Any

from lone_pike.core.messages import LengthUnit
from lone_pike.core.wear.life import Source
from lone_pike.store.chains import ChainRow, chain_on, chains_of
from lone_pike.store.database import Database
from lone_pike.workshop.chain_places import end, find_on_bike
from lone_pike.workshop.chain_use import gauge, keep_words, tell_distance
from lone_pike.workshop.clock import moment


def fill_chains(database: Database, bike_ids: Mapping[str, int]) -> None:
    """Enters what is known of each chain. Parameters: bikes by name."""
    data = _sample()
    now = moment()
    hung = data["hung"]
    for row in chains_of(database.connection, bike_ids[hung["bike"]]):
        if row.life.name == hung["name"]:
            _hung(database, row, hung, now)
    for row in data["chains"]:
        _chain(database, bike_ids[row["bike"]], row, now)


def prices() -> dict[str, Any]:
    """Enters the prices of the sample workshop."""
    loaded: dict[str, Any] = _sample()["prices"]
    return loaded


def _sample() -> dict[str, Any]:
    loaded: dict[str, Any] = json.loads((files("lone_pike.demo") / "chains.json").read_text())
    return loaded


def _hung(database: Database, row: ChainRow, sample: dict[str, Any], now: datetime) -> None:
    """Enters a chain that waits for its turn, with a reading from the day it came off."""
    off = row.life.stays[-1].until
    when = {"date": off.isoformat() if off else ""}
    keep_words(database, row.id, sample["told"], LengthUnit.MM, _iso(now))
    gauge(database, row.id, sample["gauged"] | when | {"km": str(sample["km"])}, LengthUnit.MM, None, _iso(now))


def _chain(database: Database, bike_id: int, sample: dict[str, Any], now: datetime) -> None:
    if "found" in sample:
        when = {"date": _day(now, sample["found_days_ago"])}
        chain_id = find_on_bike(database, bike_id, sample["found"] | when, _iso(now))
    else:
        on = chain_on(database.connection, bike_id)
        chain_id = on.id if on else 0
    keep_words(database, chain_id, sample["told"], LengthUnit.MM, _iso(now))
    for row in sample["rows"]:
        day = {"date": _day(now, row["days_ago"])}
        tell_distance(database, chain_id, day | {"by": Source.TOTAL, "km": str(row["km"])}, _iso(now))
        for reading in row["gauged"]:
            gauge(database, chain_id, day | reading, LengthUnit.MM, None, _iso(now))
    if "ended" in sample:
        how = {"ending": sample["ended"]["ending"], "date": _day(now, sample["ended"]["days_ago"])}
        end(database, chain_id, how, _iso(now))


def _iso(now: datetime) -> str:
    return now.isoformat(timespec="seconds")


def _day(now: datetime, days_ago: int) -> str:
    return (now - timedelta(days=days_ago)).date().isoformat()
