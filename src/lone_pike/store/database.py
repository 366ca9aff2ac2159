"""The data file: checking that it is ours, opening, migrating, backing up, and the one way to write."""

import os
import sqlite3
import threading
from collections.abc import Callable, Iterator
from contextlib import closing, contextmanager, suppress
from importlib.resources import files
from pathlib import Path
from typing import Any

from lone_pike.core.bike.faults import InvalidInput, invalid
from lone_pike.core.bike.joiners import JOINERS
from lone_pike.core.chain.moves import MOVES, ChainEvent
from lone_pike.core.messages import Message, Raw, number
from lone_pike.core.stages import STAGES

PRAGMAS: tuple[str, ...] = (
    "PRAGMA journal_mode = WAL",
    "PRAGMA foreign_keys = ON",
    "PRAGMA busy_timeout = 5000",
    "PRAGMA synchronous = FULL",
)
APPLICATION_ID = 0x4C504B31
"""Written into every data file, from the fourth migration on."""

DECLARED_SETS: dict[str, list[tuple[str, ...]]] = {
    "joiner_kind": [(str(joiner),) for joiner in JOINERS],
    "stage": [(stage,) for stage in STAGES],
    "event_kind": [(str(event),) for event in ChainEvent],
    "move_kind": [(str(move), str(way.came_from), str(way.goes_to)) for move, way in MOVES.items()],
}
"""Tables that list what the code declares, so that the schema can check references to it."""

NEWEST = 10**6
"""A number above every schema."""

OWNER_ALONE = 0o600
MOVED = "the data file was removed, moved or replaced"
"""The message of the error when the data file is no longer in place; the pages turn it into words."""
OUR_TABLES = {"bike", "job", "revision"}
HEADER_BYTES, MAGIC = 100, b"SQLite format 3\x00"
USER_VERSION, APPLICATION = slice(60, 64), slice(68, 72)


def _nobody_listens() -> None:
    """Does nothing; called after a write if nobody listens."""


class ClosableConnection(sqlite3.Connection):
    """A connection that another thread may close. Closing waits for the statement or backup that is running, because
    closing a plain connection in the middle of a statement crashes the process."""

    def __init__(self, *args: Any, **kwargs: Any) -> None:
        super().__init__(*args, **kwargs)
        self._running = threading.Lock()

    def execute(self, sql: str, parameters: Any = ()) -> sqlite3.Cursor:
        with self._running:
            return super().execute(sql, parameters)

    def executemany(self, sql: str, parameters: Any) -> sqlite3.Cursor:
        with self._running:
            return super().executemany(sql, parameters)

    def backup(self, *args: Any, **kwargs: Any) -> None:
        with self._running:
            super().backup(*args, **kwargs)

    def close(self) -> None:
        with self._running:
            super().close()


class Database:
    """A data file; every thread has its own connection."""

    def __init__(self, path: Path, schema: int = NEWEST) -> None:
        """Opens a data file and migrates it to a schema, the newest one unless older rows are imported."""
        self.path = path
        self._local = threading.local()
        self._all: list[tuple[threading.Thread, sqlite3.Connection]] = []
        self._opening = threading.Lock()
        self._in_transaction = threading.Lock()
        self.on_commit: Callable[[], None] = _nobody_listens
        check_ours(path)
        if not path.exists():
            path.touch(OWNER_ALONE)
        self._file = _identity(path)
        self._migrate(schema)

    @property
    def connection(self) -> sqlite3.Connection:
        """This thread's connection, opened on first use. Raises: InvalidInput where the file is no data file."""
        mine: sqlite3.Connection | None = getattr(self._local, "connection", None)
        if mine is None:
            mine = self._local.connection = self._open()
        return mine

    @contextmanager
    def atomic(self) -> Iterator[sqlite3.Connection]:
        """A transaction that takes the write lock at once: everything in it is stored, or nothing.

        Raises: sqlite3.OperationalError if the data file is no longer the one that was opened.
        """
        connection = self.connection
        connection.execute("BEGIN IMMEDIATE")
        with self._in_transaction:
            try:
                self._check_in_place()
                yield connection
                self._check_in_place()
                connection.execute("COMMIT")
            except BaseException:
                # A full disk ends the transaction; a refused commit leaves it open.
                if connection.in_transaction:
                    connection.execute("ROLLBACK")
                raise
        self.on_commit()

    @property
    def schema_number(self) -> int:
        """Number of the newest migration in the file."""
        return int(self.connection.execute("PRAGMA user_version").fetchone()[0])

    def close(self) -> None:
        """Waits for a running transaction, and closes every connection, so that one file holds everything."""
        with self._in_transaction:
            while self._all:
                self._all.pop()[1].close()
            self._local = threading.local()

    def _check_in_place(self) -> None:
        """Checks that the file is still in place; what is written after it was removed would be lost."""
        if _identity(self.path) != self._file:
            raise sqlite3.OperationalError(MOVED)

    def _open(self) -> sqlite3.Connection:
        self._check_in_place()
        try:
            address = f"{self.path.absolute().as_uri()}?mode=rw"
            connection = sqlite3.connect(
                address, uri=True, isolation_level=None, check_same_thread=False, factory=ClosableConnection
            )
            connection.row_factory = sqlite3.Row
            for pragma in PRAGMAS:
                connection.execute(pragma)
        except sqlite3.Error as error:
            raise _not_ours(self.path, str(error)) from None
        with self._opening:
            self._close_abandoned()
            self._all.append((threading.current_thread(), connection))
        return connection

    def _close_abandoned(self) -> None:
        """Closes the connections of threads that have ended."""
        for thread, connection in self._all:
            if not thread.is_alive():
                connection.close()
        self._all = [one for one in self._all if one[0].is_alive()]

    def _migrate(self, schema: int) -> None:
        pending = [(version, sql) for version, sql in migrations() if self.schema_number < version <= schema]
        if pending and self.schema_number:
            self._back_up()
        # Migrations replace tables to which others refer, so references are checked at the end of each.
        self.connection.execute("PRAGMA foreign_keys = OFF")
        for version, sql in pending:
            with self.atomic() as connection:
                for statement in statements(sql):
                    connection.execute(statement)
                if connection.execute("PRAGMA foreign_key_check").fetchone():
                    raise _not_ours(self.path, "rows that refer to nothing")
                connection.execute(f"PRAGMA user_version = {version}")
        self.connection.execute("PRAGMA foreign_keys = ON")
        self._write_declared_sets()

    def _write_declared_sets(self) -> None:
        """Writes the names of all joiners, stages, events and moves as rows to which other tables refer."""
        there = {row["name"] for row in self.connection.execute("SELECT name FROM sqlite_schema WHERE type = 'table'")}
        for table, rows in DECLARED_SETS.items():
            if table not in there:  # a file of an earlier schema, which is only imported from
                continue
            known = {str(row["name"]) for row in self.connection.execute(f"SELECT name FROM {table}")}
            new = [row for row in rows if row[0] not in known]
            if new:
                marks = ", ".join("?" for _ in new[0])
                with self.atomic() as connection:
                    connection.executemany(f"INSERT INTO {table} VALUES ({marks})", new)

    def _back_up(self) -> None:
        copy_whole(self.connection, before(self.path, self.schema_number))


def before(path: Path, schema: int) -> Path:
    """The path of the copy that is made before a data file leaves a schema."""
    return path.with_name(f"{path.name}.before-{schema}")


def _identity(path: Path) -> tuple[int, int] | None:
    """The identity of the file at a path (device and inode); None if there is none."""
    try:
        found = path.stat()
    except OSError:
        return None
    return found.st_dev, found.st_ino


def copy_whole(source: sqlite3.Connection, target: Path) -> None:
    """Copies a data file, even while it is being written to; only the owner can read the copy.

    The copy is written under another name, checked, and renamed at the end, so that an incomplete copy never has the
    final name.

    Raises: InvalidInput if it cannot be written completely.
    """
    part = target.with_name(f"{target.name}.part")
    try:
        part.unlink(missing_ok=True)
        part.touch(OWNER_ALONE)
        with closing(sqlite3.connect(part)) as there:
            source.backup(there)
            there.execute("PRAGMA journal_mode = DELETE")
        check_ours(part, may_be_empty=False)
        with part.open("rb") as written:
            os.fsync(written.fileno())
        part.replace(target)
    except (OSError, sqlite3.Error) as error:
        with suppress(OSError):
            part.unlink(missing_ok=True)
        problem = error.strerror if isinstance(error, OSError) else str(error)
        raise invalid("backup", Raw(str(target)), Message("a_place_to_write", problem=str(problem))) from None


def check_ours(path: Path, *, may_be_empty: bool = True) -> None:
    """Refuses the file of another program or of a newer version, or a damaged one, before a byte of it is changed.

    Parameters: may_be_empty, whether an empty file is accepted, for a new workshop.
    Raises: InvalidInput with the reason.
    """
    try:
        header = _header(path) if path.exists() else b""
    except OSError as error:
        raise _not_ours(path, str(error.strerror)) from None
    if not header:
        if may_be_empty:
            return
        raise _not_ours(path, "empty file")
    if not header.startswith(MAGIC):
        raise _not_ours(path, "file is not a database")
    version, application = (int.from_bytes(header[part]) for part in (USER_VERSION, APPLICATION))
    newest = max(number for number, _ in migrations())
    if application in (0, APPLICATION_ID) and version > newest:
        allowed = Message("schema_up_to", newest=number(newest))
        raise invalid("data", Message("schema_number", number=number(version)), allowed, Message("later_version"))
    if application not in (0, APPLICATION_ID):
        raise _not_ours(path, "file of another program")
    _check_inside(path, application, may_be_empty=may_be_empty)


def _header(path: Path) -> bytes:
    with path.open("rb") as file:
        return file.read(HEADER_BYTES)


def _check_inside(path: Path, application: int, *, may_be_empty: bool) -> None:
    """Checks that the file's tables are ours and that it is not damaged, by reading only and without leaving other
    files beside it."""
    has_log = path.with_name(f"{path.name}-wal").exists()
    address = f"{path.absolute().as_uri()}?mode=ro{'' if has_log else '&immutable=1'}"
    try:
        with closing(sqlite3.connect(address, uri=True)) as connection:
            tables = {str(row[0]) for row in connection.execute("SELECT name FROM sqlite_schema WHERE type = 'table'")}
            holds_workshop = tables >= OUR_TABLES
            if not (holds_workshop or application) and (tables or not may_be_empty):
                raise _not_ours(path, "file of another program" if tables else "empty file")
            problem = str(connection.execute("PRAGMA quick_check(1)").fetchone()[0])
    except sqlite3.Error as error:
        raise _not_ours(path, str(error)) from None
    if problem != "ok":
        raise _not_ours(path, problem)


def _not_ours(path: Path, problem: str) -> InvalidInput:
    return invalid("data", Raw(str(path)), Message("data_file", problem=problem))


def migrations() -> list[tuple[int, str]]:
    """Numbered migrations, oldest first."""
    folder = files("lone_pike.store") / "migrations"
    scripts = [(int(file.name[:4]), file.read_text()) for file in folder.iterdir() if file.name.endswith(".sql")]
    return sorted(scripts)


def statements(sql: str) -> list[str]:
    """The statements of a migration one by one, so that all of them run in one transaction."""
    complete, waiting = [], ""
    for line in sql.splitlines(keepends=True):
        waiting += line
        if sqlite3.complete_statement(waiting):
            complete.append(waiting.strip())
            waiting = ""
    return complete
