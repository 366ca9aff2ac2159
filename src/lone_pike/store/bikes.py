"""Bikes, and what was fitted to them."""

import json
import sqlite3
from dataclasses import dataclass
from typing import Any

from lone_pike.store.database import Database

Document = dict[str, Any]


@dataclass(frozen=True)
class BikeRow:
    """A bike of the workshop with its measured drivetrain; the document may still be incomplete."""

    id: int
    name: str
    story: str
    document: Document
    open_job_id: int | None


@dataclass(frozen=True)
class FittedRow:
    """A chain that was fitted; counts in links, time as ISO 8601."""

    id: int
    bike_id: int
    job_id: int
    links: int
    joiner: str
    speeds: int
    note: str
    booked_at: str


BIKES = """
    SELECT bike.id, bike.name, bike.story, bike.document, job.id AS open_job_id
    FROM bike LEFT JOIN job ON job.bike_id = bike.id AND job.booked_at IS NULL
"""


def all_bikes(database: Database) -> list[BikeRow]:
    """Every bike by name."""
    return [_bike(row) for row in database.connection.execute(f"{BIKES} ORDER BY bike.name COLLATE NOCASE, bike.id")]


def bike_by_id(database: Database, bike_id: int) -> BikeRow | None:
    """One bike."""
    row = database.connection.execute(f"{BIKES} WHERE bike.id = ?", (bike_id,)).fetchone()
    return _bike(row) if row else None


def add_bike(connection: sqlite3.Connection, document: Document, story: str = "") -> int:
    """A new bike; returns its id."""
    values = (document.get("name", ""), story, json.dumps(document))
    return int(connection.execute("INSERT INTO bike (name, story, document) VALUES (?, ?, ?)", values).lastrowid or 0)


def write_bike(connection: sqlite3.Connection, bike_id: int, document: Document) -> None:
    """The bike as it now is."""
    values = (document.get("name", ""), json.dumps(document), bike_id)
    connection.execute("UPDATE bike SET name = ?, document = ? WHERE id = ?", values)


def fitted_to(database: Database, bike_id: int) -> list[FittedRow]:
    """Chains fitted to a bike, newest first."""
    rows = database.connection.execute(
        "SELECT id, bike_id, job_id, links, joiner, speeds, note, booked_at FROM fitted"
        " WHERE bike_id = ? ORDER BY booked_at DESC, id DESC",
        (bike_id,),
    )
    return [FittedRow(**dict(row)) for row in rows]


def _bike(row: sqlite3.Row) -> BikeRow:
    return BikeRow(**{**dict(row), "document": json.loads(row["document"])})
