"""A data file as an earlier schema had it, empty."""

import sqlite3
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path

from lone_pike.store.database import migrations, statements


@contextmanager
def file_of_schema(path: Path, newest: int) -> Iterator[sqlite3.Connection]:
    """A new data file brought up to a schema; all that is written into it is kept at once, when it is closed."""
    with closing(sqlite3.connect(path, isolation_level=None)) as connection:
        connection.execute("BEGIN")
        for number, sql in migrations():
            if number <= newest:
                for statement in statements(sql):
                    connection.execute(statement)
                connection.execute(f"PRAGMA user_version = {number}")
        yield connection
        connection.execute("COMMIT")
