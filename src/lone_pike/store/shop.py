"""The shop's settings, each change a row of its own."""

import json
from dataclasses import dataclass
from typing import Any

from lone_pike.store.database import Database

Settings = dict[str, Any]


@dataclass(frozen=True)
class ShopRow:
    """The settings that hold, what changed last in words, and whether there is a step back."""

    settings: Settings
    note: str
    can_undo: bool


def shop_now(database: Database) -> ShopRow:
    """What valid_ranges now; nothing is set in a new data file."""
    row = database.connection.execute("SELECT settings, note, before_id FROM shop ORDER BY id DESC LIMIT 1").fetchone()
    if row is None:
        return ShopRow({}, "", False)
    return ShopRow(json.loads(row["settings"]), row["note"], row["before_id"] is not None)


def save_settings(database: Database, settings: Settings, note: str, now: str) -> None:
    """Keeps settings as those that hold."""
    with database.atomic() as connection:
        newest = connection.execute("SELECT max(id) AS id FROM shop").fetchone()["id"]
        if newest is None:
            newest = connection.execute(
                "INSERT INTO shop (settings, note, made_at) VALUES ('{}', '', ?)", (now,)
            ).lastrowid
        connection.execute(
            "INSERT INTO shop (before_id, settings, note, made_at) VALUES (?, ?, ?, ?)",
            (newest, json.dumps(settings), note, now),
        )


def undo_shop(database: Database, now: str) -> None:
    """Back to the settings before; does nothing where there are none."""
    with database.atomic() as connection:
        connection.execute(
            "INSERT INTO shop (before_id, settings, note, made_at)"
            " SELECT earlier.before_id, earlier.settings, earlier.note, ?"
            " FROM shop AS newest JOIN shop AS earlier ON earlier.id = newest.before_id"
            " WHERE newest.id = (SELECT max(id) FROM shop)",
            (now,),
        )
