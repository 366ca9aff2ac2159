"""Export and import: a whole workshop as one archive of JSON lines and pictures, with the same bytes each time.

Each table is a file of rows in the order of their keys; a picture is a separate file that its row names. Passcodes,
sessions and tokens are not exported; whoever imports the archive sets new ones. Bike files and lists are included for
other programs and not read back.
"""

import csv
import io
import json
import sqlite3
from collections.abc import Iterator
from contextlib import closing
from pathlib import Path
from typing import Any
from zipfile import ZIP_DEFLATED, BadZipFile, ZipFile, ZipInfo

from lone_pike.core.bike.faults import invalid
from lone_pike.core.messages import Message, Raw
from lone_pike.store.bin import IN_BIN
from lone_pike.store.database import OWNER_ALONE, Database, before
from lone_pike.store.keeping import check_there
from lone_pike.store.ledger import COLUMNS

FORMAT, FIRST_SCHEMA = 1, 13
"""The version of the archive format, and the schema of the data file from which the first archives were made."""

ABOUT, TABLES, PICTURES = "about.json", "tables/", "pictures/"
SECRET = frozenset({"passcode", "session", "token", "signing_key"})
"""Tables that are not exported."""

SEARCHED = ("bike_letters", "bike_beginnings")
"""The search index of bikes, which is exported as the words it was made from."""

WHEN = (1980, 1, 1, 0, 0, 0)
"""The timestamp of every file in an archive, so that the same workshop gives the same bytes."""

LARGEST_FILE_BYTES = 2 * 1024**3


def export(data: Path, archive: Path) -> int:
    """Writes a workshop as an archive. Returns: the number of its rows. Raises: InvalidInput if the file exists
    already."""
    check_there(data)
    if archive.exists():
        raise invalid("archive", Raw(str(archive)), Message("new_file"), Message("nothing_overwritten"))
    draft = archive.with_name(f"{archive.name}.draft")
    draft.unlink(missing_ok=True)
    draft.touch(OWNER_ALONE)
    with closing(Database(data)) as database, ZipFile(draft, "w", ZIP_DEFLATED) as whole:
        connection = database.connection
        connection.execute("BEGIN")
        _put(whole, ABOUT, json.dumps({"lone_pike_archive": FORMAT, "schema": database.schema_number}) + "\n")
        count = sum(_put_table(whole, connection, table) for table in _tables(connection))
        for name, content in _for_others(connection):
            _put(whole, name, content)
        connection.execute("ROLLBACK")
    draft.replace(archive)
    return count


def take_in(archive: Path, data: Path) -> int:
    """Makes a data file from an archive.

    Returns: the number of its rows.
    Raises: InvalidInput if the archive cannot be read, has another version, or the data file exists already.
    """
    if data.exists():
        raise invalid("data", Raw(str(data)), Message("new_file"), Message("nothing_overwritten"))
    draft = data.with_name(f"{data.name}.import")
    draft.unlink(missing_ok=True)
    try:
        with ZipFile(archive) as whole:
            count = _taken(whole, draft)
    except (OSError, BadZipFile, KeyError, ValueError, sqlite3.Error) as error:
        draft.unlink(missing_ok=True)
        raise invalid("archive", Raw(str(archive)), Message("an_archive", problem=str(error)[:120])) from None
    draft.replace(data)
    return count


def _taken(whole: ZipFile, draft: Path) -> int:
    """Fills a data file that has the archive's schema, and migrates it to the newest one."""
    schema = _schema_of(whole)
    with closing(Database(draft, schema)) as database:
        if database.schema_number != schema:
            raise ValueError("another version")
        count = _filled(whole, database.connection)
    Database(draft).close()
    before(draft, schema).unlink(missing_ok=True)
    return count


def _schema_of(whole: ZipFile) -> int:
    """The schema of an archive. Raises: ValueError if the archive has another version, or a file in it is too large."""
    about = json.loads(whole.read(ABOUT))
    schema = about.get("schema")
    if about.get("lone_pike_archive") != FORMAT or not isinstance(schema, int) or schema < FIRST_SCHEMA:
        raise ValueError("another version")
    if any(one.file_size > LARGEST_FILE_BYTES for one in whole.infolist()):
        raise ValueError("a file that is too large")
    return schema


def _filled(whole: ZipFile, connection: sqlite3.Connection) -> int:
    """Inserts all rows as they are, and checks all references between them."""
    connection.execute("PRAGMA foreign_keys = OFF")
    connection.execute("BEGIN IMMEDIATE")
    triggers = connection.execute("SELECT name, sql FROM sqlite_master WHERE type = 'trigger'").fetchall()
    for name, _ in triggers:
        connection.execute(f"DROP TRIGGER {name}")
    count = sum(_take_table(whole, connection, table) for table in _tables(connection))
    for _, sql in triggers:
        connection.execute(sql)
    torn = connection.execute("PRAGMA foreign_key_check").fetchone()
    if torn:
        connection.execute("ROLLBACK")
        raise ValueError("a row refers to nothing")
    connection.execute("COMMIT")
    connection.execute("PRAGMA foreign_keys = ON")
    return count


def _tables(connection: sqlite3.Connection) -> list[str]:
    """The tables that an archive contains, by name; of the search index only the table itself."""
    rows = connection.execute("SELECT name FROM sqlite_master WHERE type = 'table' ORDER BY name")
    names = [row[0] for row in rows if not row[0].startswith("sqlite_")]
    return [one for one in names if one not in SECRET and not one.startswith(tuple(f"{each}_" for each in SEARCHED))]


def _columns(connection: sqlite3.Connection, table: str) -> list[str]:
    names = [row["name"] for row in connection.execute(f"SELECT name FROM pragma_table_info('{table}') ORDER BY cid")]
    return ["rowid", *names] if table in SEARCHED else names


def _key(connection: sqlite3.Connection, table: str) -> str:
    """The columns of a table."""
    sql = f"SELECT name FROM pragma_table_info('{table}') WHERE pk > 0 ORDER BY pk"
    return ", ".join(row["name"] for row in connection.execute(sql)) or "rowid"


def _put_table(whole: ZipFile, connection: sqlite3.Connection, table: str) -> int:
    names = _columns(connection, table)
    lines = []
    for row in connection.execute(f"SELECT {', '.join(names)} FROM {table} ORDER BY {_key(connection, table)}"):
        values: dict[str, Any] = dict(zip(names, row, strict=True))
        for name, value in values.items():
            if isinstance(value, bytes):
                values[name] = {"file": f"{PICTURES}{table}-{values['id']}.jpg"}
                _put(whole, values[name]["file"], value)
        lines.append(json.dumps(values, ensure_ascii=False))
    _put(whole, f"{TABLES}{table}.jsonl", "".join(f"{line}\n" for line in lines))
    return len(lines)


def _take_table(whole: ZipFile, connection: sqlite3.Connection, table: str) -> int:
    names = _columns(connection, table)
    connection.execute(f"DELETE FROM {table}")
    places = ", ".join("?" * len(names))
    rows = [_row(whole, names, line) for line in whole.read(f"{TABLES}{table}.jsonl").splitlines()]
    connection.executemany(f"INSERT INTO {table} ({', '.join(names)}) VALUES ({places})", rows)
    return len(rows)


def _row(whole: ZipFile, names: list[str], line: bytes) -> list[Any]:
    """The values of a row. Raises: ValueError if it is not a row."""
    found = json.loads(line)
    if not isinstance(found, dict) or set(found) != set(names):
        raise ValueError("a row has other values than its table")
    return [whole.read(value["file"]) if isinstance(value, dict) else value for value in (found[one] for one in names)]


def _for_others(connection: sqlite3.Connection) -> Iterator[tuple[str, str]]:
    """Bike files, and bin and chains as lists, for other programs."""
    for row in connection.execute("SELECT id, document FROM bike ORDER BY id"):
        yield f"bikes/{row['id']}.json", json.dumps(json.loads(row["document"]), ensure_ascii=False, indent=1) + "\n"
    yield "bin.csv", _csv(connection.execute(f"SELECT {COLUMNS} FROM piece WHERE {IN_BIN} ORDER BY id"))
    chains = "SELECT id, name, state, bike_id, soon_on, due_on FROM chain WHERE state <> 'undone' ORDER BY id"
    yield "chains.csv", _csv(connection.execute(chains))


def _csv(rows: sqlite3.Cursor) -> str:
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow([column[0] for column in rows.description])
    writer.writerows(tuple(row) for row in rows)
    return out.getvalue()


def _put(whole: ZipFile, name: str, content: str | bytes) -> None:
    info = ZipInfo(name, WHEN)
    info.compress_type = ZIP_DEFLATED
    info.external_attr = 0o600 << 16
    whole.writestr(info, content)
