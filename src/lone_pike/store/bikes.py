"""Bikes of the workshop."""

import json
import sqlite3
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

from lone_pike.store.database import Database
from lone_pike.store.paging import Listed, like, listed

Document = dict[str, Any]


@dataclass(frozen=True)
class BikeRow:
    """A bike of the workshop with its measured drivetrain; the document may still be incomplete."""

    id: int
    name: str
    story: str
    document: Document
    open_job_id: int | None


BIKES = """
    SELECT bike.id, bike.name, bike.story, bike.document, job.id AS open_job_id
    FROM bike LEFT JOIN job ON job.bike_id = bike.id AND job.booked_at IS NULL
"""
LONGEST_NAME = 200


def bikes_like(database: Database, text: str, page: int, size: int) -> Listed[BikeRow]:
    """A page of the bikes by name whose name or story has a text in it; all of them for an empty one."""
    order = "ORDER BY bike.name COLLATE NOCASE, bike.id"
    if not text.strip():
        return listed(database, f"{BIKES} {order}", (), page, size, _bike)
    pattern = like(text)
    sql = f"{BIKES} WHERE bike.name LIKE ?1 ESCAPE '\\' OR bike.story LIKE ?1 ESCAPE '\\' {order}"
    return listed(database, sql.replace("?1", "?"), (pattern, pattern), page, size, _bike)


def every_document(database: Database) -> Iterator[tuple[str, Document]]:
    """Every bike's name and document, and those of the open jobs, as they stand."""
    for row in database.connection.execute("SELECT name, document FROM bike"):
        yield row["name"], json.loads(row["document"])
    for row in database.connection.execute(
        "SELECT bike.name, json_extract(revision.content, '$.document') AS document"
        " FROM job JOIN bike ON bike.id = job.bike_id JOIN history ON history.id = job.history_id"
        " JOIN revision ON revision.id = history.revision_id WHERE job.booked_at IS NULL"
    ):
        yield row["name"], json.loads(row["document"])


def bike_by_id(database: Database, bike_id: int) -> BikeRow | None:
    """One bike."""
    row = database.connection.execute(f"{BIKES} WHERE bike.id = ?", (bike_id,)).fetchone()
    return _bike(row) if row else None


def add_bike(connection: sqlite3.Connection, document: Document, story: str = "") -> int:
    """A new bike; returns its id."""
    values = (_name(document), story, json.dumps(document))
    return int(connection.execute("INSERT INTO bike (name, story, document) VALUES (?, ?, ?)", values).lastrowid or 0)


def write_bike(connection: sqlite3.Connection, bike_id: int, document: Document) -> None:
    """The bike as it now is."""
    values = (_name(document), json.dumps(document), bike_id)
    connection.execute("UPDATE bike SET name = ?, document = ? WHERE id = ?", values)


def _name(document: Document) -> str:
    return str(document.get("name", ""))[:LONGEST_NAME]


def _bike(row: sqlite3.Row) -> BikeRow:
    return BikeRow(**{**dict(row), "document": json.loads(row["document"])})
