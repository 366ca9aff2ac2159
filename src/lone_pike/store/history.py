"""The history of jobs, chains and the shop: every edit is a revision on top of the one before, and undo goes back to
that one.

Every write names the revision that the page showed; if that is no longer the newest, the write is merged or the user is
asked.
"""

import json
import sqlite3
from dataclasses import dataclass, replace
from typing import Any, Literal

from lone_pike.core.chain.moves import ChainEvent
from lone_pike.core.messages import Message
from lone_pike.formats.records.message_record import message_of, record_of

Content = dict[str, Any]
Kind = Literal["job", "shop", "chain"]
STARTED = Message("started")


@dataclass(frozen=True)
class Revision:
    """The content after an edit, its message, and the revision on which it was made; time as ISO 8601."""

    id: int
    parent_id: int | None
    content: Content
    message: Message
    made_at: str


@dataclass(frozen=True)
class Event:
    """What happens to one or more chains at once, and is undone at once: its kind, its time as ISO 8601, its id once it
    is begun, and the booking that it belongs to."""

    kind: ChainEvent
    made_at: str
    id: int | None = None
    booking_id: int | None = None


REVISION = "SELECT revision.id, parent_id, content, message, made_at FROM revision"


def begin(connection: sqlite3.Connection, kind: Kind, content: Content, now: str) -> int:
    """Adds a history with its first revision. Returns: its id."""
    history_id = int(connection.execute("INSERT INTO history (kind) VALUES (?)", (kind,)).lastrowid or 0)
    _stand_at(connection, history_id, _add(connection, history_id, None, content, STARTED, now))
    return history_id


def newest_of(connection: sqlite3.Connection, history_id: int) -> Revision:
    """The current revision of a history."""
    row = connection.execute(
        f"{REVISION} JOIN history ON history.revision_id = revision.id WHERE history.id = ?", (history_id,)
    ).fetchone()
    return _revision(row)


def revision_by_id(connection: sqlite3.Connection, history_id: int, revision_id: int | None) -> Revision | None:
    """One revision of a history."""
    row = connection.execute(f"{REVISION} WHERE id = ? AND history_id = ?", (revision_id, history_id)).fetchone()
    return _revision(row) if row else None


def revise(
    connection: sqlite3.Connection,
    history_id: int,
    content: Content,
    message: Message,
    now: str,
    event_id: int | None = None,
) -> None:
    """Adds a revision on top of the newest one. Parameters: event_id, the event that it belongs to."""
    newest = newest_of(connection, history_id)
    _stand_at(connection, history_id, _add(connection, history_id, newest.id, content, message, now, event_id))


def begun(connection: sqlite3.Connection, event: Event) -> Event:
    """The event with its id; it is stored if it has none yet."""
    if event.id is not None:
        return event
    sql = "INSERT INTO chain_event (kind, made_at) VALUES (?, ?)"
    return replace(event, id=connection.execute(sql, (event.kind, event.made_at)).lastrowid)


def mark_undone(connection: sqlite3.Connection, event_id: int, now: str) -> None:
    """Notes that an event was taken back."""
    connection.execute("UPDATE chain_event SET undone_at = ? WHERE id = ?", (now, event_id))


def revise_in_place_of(
    connection: sqlite3.Connection, history_id: int, step: Revision, content: Content, message: Message, now: str
) -> None:
    """Adds a revision in place of an earlier one: undo then goes from it to the one before that."""
    _stand_at(connection, history_id, _add(connection, history_id, step.parent_id, content, message, now))


def stand_at(connection: sqlite3.Connection, history_id: int, step: Revision) -> None:
    """Makes one of its revisions the current one."""
    _stand_at(connection, history_id, step.id)


def step_back(connection: sqlite3.Connection, history_id: int) -> bool:
    """Goes back to the revision on which the current one was made. Returns: False if it is the first one."""
    newest = newest_of(connection, history_id)
    if newest.parent_id is None:
        return False
    _stand_at(connection, history_id, newest.parent_id)
    return True


def _add(
    connection: sqlite3.Connection,
    history_id: int,
    parent_id: int | None,
    content: Content,
    message: Message,
    now: str,
    event_id: int | None = None,
) -> int:
    row = connection.execute(
        "INSERT INTO revision (history_id, parent_id, content, message, made_at, event_id) VALUES (?, ?, ?, ?, ?, ?)",
        (history_id, parent_id, json.dumps(content), json.dumps(record_of(message)), now, event_id),
    )
    return int(row.lastrowid or 0)


def _stand_at(connection: sqlite3.Connection, history_id: int, revision_id: int) -> None:
    connection.execute("UPDATE history SET revision_id = ? WHERE id = ?", (revision_id, history_id))


def _revision(row: sqlite3.Row) -> Revision:
    read = {"content": json.loads(row["content"]), "message": message_of(json.loads(row["message"]))}
    return Revision(**{**dict(row), **read})
