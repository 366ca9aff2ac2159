"""The shop's settings, with their history."""

import sqlite3
from dataclasses import dataclass
from typing import Any

from lone_pike.core.messages import Message
from lone_pike.store.database import Database
from lone_pike.store.history import STARTED, Revision, begin, newest_of

Settings = dict[str, Any]


@dataclass(frozen=True)
class ShopRow:
    """The current settings, their revision, the last change, and whether it can be undone."""

    settings: Settings
    revision_id: int | None
    message: Message
    can_undo: bool


def shop_now(database: Database) -> ShopRow:
    """The current settings; a new data file has none set."""
    history_id = shop_history(database.connection)
    if history_id is None:
        return ShopRow({}, None, STARTED, False)
    return shop_row(newest_of(database.connection, history_id))


def settings_in(connection: sqlite3.Connection) -> Settings:
    """The current settings, read inside a transaction; empty if none are set."""
    history_id = shop_history(connection)
    return newest_of(connection, history_id).content if history_id is not None else {}


def shop_row(revision: Revision) -> ShopRow:
    """The settings in a revision."""
    return ShopRow(revision.content, revision.id, revision.message, revision.parent_id is not None)


def shop_history(connection: sqlite3.Connection) -> int | None:
    """The id of the shop's history; None before anything was set."""
    row = connection.execute("SELECT id FROM history WHERE kind = 'shop' AND revision_id IS NOT NULL").fetchone()
    return int(row["id"]) if row else None


def shop_history_to_write(connection: sqlite3.Connection, now: str) -> int:
    """The id of the shop's history, which is begun if nothing was set yet."""
    history_id = shop_history(connection)
    if history_id is None:
        history_id = begin(connection, "shop", {}, now)
    return history_id
