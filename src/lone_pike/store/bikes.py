"""Bikes of the workshop."""

import json
import sqlite3
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any

from lone_pike.store.database import Database
from lone_pike.store.paging import LONGEST_SEARCH, After, Listed, listed, rows_before, within_pages

Document = dict[str, Any]


@dataclass(frozen=True)
class BikeRow:
    """A bike of the workshop with its measured drivetrain; the document may still be incomplete."""

    id: int
    name: str
    owner_word: str
    story: str
    document: Document
    open_job_id: int | None
    put_away_at: str | None


IS_OPEN = "job.booked_at IS NULL AND job.closed_at IS NULL"
"""The SQL condition for a job in hand."""

BIKES = f"""
    SELECT bike.id, bike.name, bike.owner_word, bike.story, job.id AS open_job_id, bike.put_away_at,
        coalesce(json_extract(revision.content, '$.document'), bike.document) AS document
    FROM bike LEFT JOIN job ON job.bike_id = bike.id AND {IS_OPEN}
    LEFT JOIN history ON history.id = job.history_id LEFT JOIN revision ON revision.id = history.revision_id
"""
"""The SQL for every bike, with the document of its job in hand if there is one."""

LONGEST_NAME, LONGEST_COUNT = 200, 3
LONGEST_WORD, LONGEST_STORY = 80, 500
FOUND = " UNION ".join(
    f"SELECT * FROM ({one} ORDER BY 1 DESC LIMIT :most_found)"
    for one in (
        "SELECT rowid FROM bike_letters WHERE :letters IS NOT NULL AND bike_letters MATCH :letters",
        "SELECT rowid FROM bike_beginnings WHERE :beginning IS NOT NULL AND bike_beginnings MATCH :beginning",
        "SELECT DISTINCT bike_id FROM booking WHERE links = :links",
        "SELECT id FROM bike WHERE take_up IN (SELECT value FROM json_each(:kinds))",
    )
)
"""The SQL for where a search finds a bike: its name, its owner's name for it, its story, a complaint, a count that was
fitted, its take-up.

Each part is limited to what the pages up to the wanted one can show, so that a common word costs no more than a rare
one.
"""

FEWEST_LETTERS = 3
"""From this many letters on they are found anywhere in a word; fewer only at the beginning of one."""


def bikes_like(database: Database, text: str, page: int, size: int, kinds: Sequence[str] = ()) -> Listed[BikeRow]:
    """A page of the bikes, newest first, that a text is found in; for an empty text, all that are not put away.

    Parameters: kinds, take-ups that the text names; bikes with these are found too.
    """
    order, wanted = "ORDER BY bike.id DESC", text.strip()[:LONGEST_SEARCH]
    if not wanted:
        return listed(database, f"{BIKES} WHERE bike.put_away_at IS NULL {order}", {}, page, size, _bike)
    quoted = '"{}"'.format(wanted.replace("\0", "").replace('"', '""'))
    is_count = wanted.isascii() and wanted.isdecimal() and len(wanted) <= LONGEST_COUNT
    values = {
        "letters": quoted if len(wanted) >= FEWEST_LETTERS else None,
        "beginning": f"{quoted} *" if len(wanted) < FEWEST_LETTERS else None,
        "links": int(wanted) if is_count else None,
        "kinds": json.dumps(list(kinds)),
        "most_found": within_pages(page) * size + 1,
    }
    return listed(database, f"{BIKES} WHERE bike.id IN ({FOUND}) {order}", values, page, size, _bike)


def put_away(connection: sqlite3.Connection, bike_id: int, now: str | None) -> None:
    """Puts a bike away, so that only a search finds it; or, without a time, back into the list."""
    connection.execute("UPDATE bike SET put_away_at = ? WHERE id = ?", (now, bike_id))


def write_words(connection: sqlite3.Connection, bike_id: int, owner_word: str, story: str, now: str) -> None:
    """Stores the owner's name for a bike and its story; the earlier ones are kept."""
    connection.execute(
        "INSERT INTO bike_words (bike_id, owner_word, story, replaced_at)"
        " SELECT id, owner_word, story, ? FROM bike WHERE id = ? AND (owner_word <> ? OR story <> ?)",
        (now, bike_id, owner_word, story),
    )
    connection.execute("UPDATE bike SET owner_word = ?, story = ? WHERE id = ?", (owner_word, story, bike_id))


def words_before(database: Database, bike_id: int) -> tuple[str, str] | None:
    """The owner's name and the story before the last change; None if nothing was changed."""
    row = database.connection.execute(
        "SELECT owner_word, story FROM bike_words WHERE bike_id = ? ORDER BY id DESC LIMIT 1", (bike_id,)
    ).fetchone()
    return (row["owner_word"], row["story"]) if row else None


EVERY_DOCUMENT = f"""
    SELECT name, document FROM bike
    UNION ALL
    SELECT bike.name, json_extract(revision.content, '$.document') AS document
    FROM job JOIN bike ON bike.id = job.bike_id JOIN history ON history.id = job.history_id
    JOIN revision ON revision.id = history.revision_id WHERE {IS_OPEN}
"""


def every_document(database: Database) -> Iterator[tuple[str, Document]]:
    """The name and document of every bike and of every open job."""
    for row in database.connection.execute(EVERY_DOCUMENT):
        yield row["name"], json.loads(row["document"])


def count_documents(database: Database) -> int:
    """How many documents these are."""
    sql = f"SELECT (SELECT count(*) FROM bike) + (SELECT count(*) FROM job WHERE {IS_OPEN})"
    return int(database.connection.execute(sql).fetchone()[0])


def bikes_named(database: Database, name: str, most: int = 3) -> list[int]:
    """The ids of the bikes with exactly this name, ignoring case."""
    sql = "SELECT id FROM bike WHERE name = ? COLLATE NOCASE ORDER BY id LIMIT ?"
    return [int(row["id"]) for row in database.connection.execute(sql, (name, most))]


def bike_by_id(database: Database, bike_id: int) -> BikeRow | None:
    """One bike."""
    row = database.connection.execute(f"{BIKES} WHERE bike.id = ?", (bike_id,)).fetchone()
    return _bike(row) if row else None


def bike_document(connection: sqlite3.Connection, bike_id: int) -> Document:
    """A bike's current document."""
    row = connection.execute("SELECT document FROM bike WHERE id = ?", (bike_id,)).fetchone()
    document: Document = json.loads(row["document"])
    return document


def add_bike(connection: sqlite3.Connection, document: Document, story: str = "") -> int:
    """Adds a bike. Returns: its id."""
    values = (_name(document), story, json.dumps(document))
    return int(connection.execute("INSERT INTO bike (name, story, document) VALUES (?, ?, ?)", values).lastrowid or 0)


def write_bike(connection: sqlite3.Connection, bike_id: int, document: Document) -> None:
    """Stores a bike's current document."""
    values = (_name(document), json.dumps(document), bike_id)
    connection.execute("UPDATE bike SET name = ?, document = ? WHERE id = ?", values)


def _name(document: Document) -> str:
    return str(document.get("name", ""))[:LONGEST_NAME]


def _bike(row: sqlite3.Row) -> BikeRow:
    return BikeRow(**{**dict(row), "document": json.loads(row["document"])})


def bikes_before(database: Database, before: int | None, size: int) -> After[BikeRow]:
    """Bikes that are not put away, newest first, from a cursor on."""
    return rows_before(database, f"{BIKES} WHERE bike.put_away_at IS NULL", "bike.id", before, size, _bike)
