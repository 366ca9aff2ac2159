"""One history for jobs and the shop: every edit is a revision on top of the one before, undo steps back to it.

Every write names the revision that it saw; where that is no longer the newest, the writer merges or asks.
"""

import json
import sqlite3
from dataclasses import dataclass
from typing import Any, Literal

from lone_pike.core.messages import Message
from lone_pike.formats.records.message_record import message_of, record_of

Content = dict[str, Any]
Kind = Literal["job", "shop", "chain"]
STARTED = Message("started")


@dataclass(frozen=True)
class Revision:
    """What an edit left, what it was, and the revision it was made on; time as ISO 8601."""

    id: int
    parent_id: int | None
    content: Content
    message: Message
    made_at: str


REVISION = "SELECT revision.id, parent_id, content, message, made_at FROM revision"


def begin(connection: sqlite3.Connection, kind: Kind, content: Content, now: str) -> int:
    """A new history with its first revision; returns its id."""
    history_id = int(connection.execute("INSERT INTO history (kind) VALUES (?)", (kind,)).lastrowid or 0)
    _stand_at(connection, history_id, _add(connection, history_id, None, content, STARTED, now))
    return history_id


def newest_of(connection: sqlite3.Connection, history_id: int) -> Revision:
    """The revision that the history stands at."""
    row = connection.execute(
        f"{REVISION} JOIN history ON history.revision_id = revision.id WHERE history.id = ?", (history_id,)
    ).fetchone()
    return _revision(row)


def revision_by_id(connection: sqlite3.Connection, history_id: int, revision_id: int | None) -> Revision | None:
    """One revision of a history."""
    row = connection.execute(f"{REVISION} WHERE id = ? AND history_id = ?", (revision_id, history_id)).fetchone()
    return _revision(row) if row else None


def revise(connection: sqlite3.Connection, history_id: int, content: Content, message: Message, now: str) -> None:
    """A new revision on top of the newest."""
    newest = newest_of(connection, history_id)
    _stand_at(connection, history_id, _add(connection, history_id, newest.id, content, message, now))


def revise_in_place_of(
    connection: sqlite3.Connection, history_id: int, step: Revision, content: Content, message: Message, now: str
) -> None:
    """A new revision instead of an earlier one: undo goes on from it to the one before that."""
    _stand_at(connection, history_id, _add(connection, history_id, step.parent_id, content, message, now))


def stand_at(connection: sqlite3.Connection, history_id: int, step: Revision) -> None:
    """The history stands at one of its revisions."""
    _stand_at(connection, history_id, step.id)


def step_back(connection: sqlite3.Connection, history_id: int) -> bool:
    """Back to the revision that the newest was made on; False where it is the first."""
    newest = newest_of(connection, history_id)
    if newest.parent_id is None:
        return False
    _stand_at(connection, history_id, newest.parent_id)
    return True


def _add(
    connection: sqlite3.Connection, history_id: int, parent_id: int | None, content: Content, message: Message, now: str
) -> int:
    row = connection.execute(
        "INSERT INTO revision (history_id, parent_id, content, message, made_at) VALUES (?, ?, ?, ?, ?)",
        (history_id, parent_id, json.dumps(content), json.dumps(record_of(message)), now),
    )
    return int(row.lastrowid or 0)


def _stand_at(connection: sqlite3.Connection, history_id: int, revision_id: int) -> None:
    connection.execute("UPDATE history SET revision_id = ? WHERE id = ?", (revision_id, history_id))


def _revision(row: sqlite3.Row) -> Revision:
    read = {"content": json.loads(row["content"]), "message": message_of(json.loads(row["message"]))}
    return Revision(**{**dict(row), **read})
