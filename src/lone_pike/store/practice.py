"""Practice: who practises, and their answers, oldest first; a name is removed together with its answers."""

import sqlite3
from dataclasses import dataclass

from lone_pike.core.practice.spacing import PastAnswer
from lone_pike.store.database import Database

MOST_MECHANICS, MOST_REMEMBERED = 200, 2000


@dataclass(frozen=True)
class Mechanic:
    """Somebody who practises."""

    id: int
    name: str


def mechanics(database: Database) -> list[Mechanic]:
    """Everybody, by name."""
    rows = database.connection.execute("SELECT id, name FROM mechanic ORDER BY name LIMIT ?", (MOST_MECHANICS,))
    return [Mechanic(**dict(row)) for row in rows]


def mechanic_by_id(database: Database, mechanic_id: int) -> Mechanic | None:
    """One of them."""
    row = database.connection.execute("SELECT id, name FROM mechanic WHERE id = ?", (mechanic_id,)).fetchone()
    return Mechanic(**dict(row)) if row else None


def mechanic_named(connection: sqlite3.Connection, name: str) -> int:
    """The id of a name; the name is added if nobody has it."""
    row = connection.execute("SELECT id FROM mechanic WHERE name = ?", (name,)).fetchone()
    if row:
        return int(row["id"])
    return int(connection.execute("INSERT INTO mechanic (name) VALUES (?)", (name,)).lastrowid or 0)


def remove_mechanic(connection: sqlite3.Connection, mechanic_id: int) -> None:
    """Deletes a name and its answers, also from the free space of the file."""
    connection.execute("PRAGMA secure_delete = ON")
    connection.execute("DELETE FROM mechanic WHERE id = ?", (mechanic_id,))


def answers_of(database: Database, mechanic_id: int) -> list[PastAnswer]:
    """The newest answers of somebody, oldest first."""
    sql = "SELECT exercise, kind, is_right FROM practised WHERE mechanic_id = ? ORDER BY id DESC LIMIT ?"
    rows = database.connection.execute(sql, (mechanic_id, MOST_REMEMBERED)).fetchall()
    return [PastAnswer(row["exercise"], row["kind"], bool(row["is_right"])) for row in reversed(rows)]


@dataclass(frozen=True)
class Practised:
    """One answer to be stored."""

    mechanic_id: int
    version: int
    seed: int
    kind: str
    exercise: str
    is_right: bool


def keep_answer(connection: sqlite3.Connection, one: Practised, now: str) -> None:
    """Stores the first answer to a question; a later one changes nothing."""
    connection.execute(
        "INSERT OR IGNORE INTO practised (mechanic_id, version, seed, kind, exercise, is_right, answered_at)"
        " VALUES (?, ?, ?, ?, ?, ?, ?)",
        (one.mechanic_id, one.version, one.seed, one.kind, one.exercise, int(one.is_right), now),
    )
