"""The data file: opening, migrating, backing up, and one way to write."""

import sqlite3
import threading
from collections.abc import Iterator
from contextlib import contextmanager
from importlib.resources import files
from pathlib import Path

from lone_pike.core.bike.faults import invalid, shown

PRAGMAS = (
    "PRAGMA journal_mode = WAL",
    "PRAGMA foreign_keys = ON",
    "PRAGMA busy_timeout = 5000",
    "PRAGMA synchronous = FULL",
)


class Database:
    """One data file; every thread has a connection of its own."""

    def __init__(self, path: Path) -> None:
        self.path = path
        self._local = threading.local()
        self._migrate()

    @property
    def connection(self) -> sqlite3.Connection:
        """This thread's connection, opened on first use. Raises: InvalidInput where the file is no data file."""
        found: sqlite3.Connection | None = getattr(self._local, "connection", None)
        if found is None:
            found = self._local.connection = self._open()
        return found

    @contextmanager
    def atomic(self) -> Iterator[sqlite3.Connection]:
        """A transaction that takes the write lock at once: all of it is kept, or nothing."""
        connection = self.connection
        connection.execute("BEGIN IMMEDIATE")
        try:
            yield connection
        except BaseException:
            connection.execute("ROLLBACK")
            raise
        connection.execute("COMMIT")

    @property
    def schema_number(self) -> int:
        """Number of the newest migration in the file."""
        return int(self.connection.execute("PRAGMA user_version").fetchone()[0])

    def _open(self) -> sqlite3.Connection:
        try:
            connection = sqlite3.connect(self.path, isolation_level=None)
            connection.row_factory = sqlite3.Row
            for pragma in PRAGMAS:
                connection.execute(pragma)
        except sqlite3.Error as error:
            raise invalid("data", shown(str(self.path)), f"a data file of this workshop ({error})") from None
        return connection

    def _migrate(self) -> None:
        pending = [(number, sql) for number, sql in migrations() if number > self.schema_number]
        newest = max((number for number, _ in migrations()), default=0)
        if self.schema_number > newest:
            raise invalid(
                "data", f"schema {self.schema_number}", f"schema up to {newest}", "It is from a later version."
            )
        if pending and self.schema_number:
            self._back_up()
        for number, sql in pending:
            with self.atomic() as connection:
                for statement in statements(sql):
                    connection.execute(statement)
                connection.execute(f"PRAGMA user_version = {number}")

    def _back_up(self) -> None:
        backup = self.path.with_name(f"{self.path.name}.before-{self.schema_number}")
        with sqlite3.connect(backup) as target:
            self.connection.backup(target)
        target.close()


def migrations() -> list[tuple[int, str]]:
    """Numbered migrations, oldest first."""
    folder = files("lone_pike.store") / "migrations"
    found = [(int(file.name[:4]), file.read_text()) for file in folder.iterdir() if file.name.endswith(".sql")]
    return sorted(found)


def statements(sql: str) -> list[str]:
    """The statements of a migration, one by one, so that all of them run within one transaction."""
    found, waiting = [], ""
    for line in sql.splitlines(keepends=True):
        waiting += line
        if sqlite3.complete_statement(waiting):
            found.append(waiting.strip())
            waiting = ""
    return found
