"""The data file: refused where it is not ours, opened, migrated, backed up, and one way to write."""

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
from lone_pike.core.chain.moves import MOVES
from lone_pike.core.messages import Message, Raw, number
from lone_pike.core.stages import STAGES

PRAGMAS = (
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
    "move_kind": [(str(move), str(way.came_from), str(way.goes_to)) for move, way in MOVES.items()],
}
"""What is declared in the code and stands in the data file too, so that the schema can hold it."""

NEWEST = 10**6
"""Beyond every schema that there is."""

OWNER_ALONE = 0o600
MOVED = "the data file was removed, moved or replaced"
"""What the database says then; the pages turn it into words."""
OUR_TABLES = {"bike", "job", "revision"}
HEADER_BYTES, MAGIC = 100, b"SQLite format 3\x00"
USER_VERSION, APPLICATION = slice(60, 64), slice(68, 72)


def _nobody_listens() -> None:
    """What is done after a write where nobody wants to know."""


class ClosableConnection(sqlite3.Connection):
    """A connection that another thread may close. The close waits for the statement or backup that is running.

    A plain connection that is closed in the middle of a statement crashes the process.
    """

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
    """One data file; every thread has a connection of its own."""

    def __init__(self, path: Path, schema: int = NEWEST) -> None:
        """Opens a data file, and brings it to a schema; to the newest but where older rows are to be taken in."""
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
        """A transaction that takes the write lock at once: all of it is kept, or nothing.

        Raises: sqlite3.OperationalError where the data file is no longer the one that was opened.
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
                # A full disk ends the transaction by itself; a commit that was refused leaves it open.
                if connection.in_transaction:
                    connection.execute("ROLLBACK")
                raise
        self.on_commit()

    @property
    def schema_number(self) -> int:
        """Number of the newest migration in the file."""
        return int(self.connection.execute("PRAGMA user_version").fetchone()[0])

    def close(self) -> None:
        """Waits for a transaction that is under way, and closes every connection; one file then holds all."""
        with self._in_transaction:
            while self._all:
                self._all.pop()[1].close()
            self._local = threading.local()

    def _check_in_place(self) -> None:
        """What is written into a file that was removed, moved or replaced would never be seen again."""
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
        # Tables are made anew while others refer to them; each migration ends with a check of all references.
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
        """The names of the joiners, stages and moves that there are, as rows that others refer to."""
        for table, rows in DECLARED_SETS.items():
            known = {str(row["name"]) for row in self.connection.execute(f"SELECT name FROM {table}")}
            new = [row for row in rows if row[0] not in known]
            if new:
                marks = ", ".join("?" for _ in new[0])
                with self.atomic() as connection:
                    connection.executemany(f"INSERT INTO {table} VALUES ({marks})", new)

    def _back_up(self) -> None:
        copy_whole(self.connection, before(self.path, self.schema_number))


def before(path: Path, schema: int) -> Path:
    """Where a data file is kept as it was before it left a schema."""
    return path.with_name(f"{path.name}.before-{schema}")


def _identity(path: Path) -> tuple[int, int] | None:
    """What file stands under a path: its device and its number there; None where none does."""
    try:
        found = path.stat()
    except OSError:
        return None
    return found.st_dev, found.st_ino


def copy_whole(source: sqlite3.Connection, target: Path) -> None:
    """All of a data file into another, also while it is written to; for the owner alone.

    The copy is made beside, checked, and only then has its name, so that no half of one ever has it. Raises:
    InvalidInput where it cannot be written whole.
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
    """Refuses another program's file, a newer or a damaged one, before a byte of it is changed.

    Parameters: may_be_empty, whether a file with nothing in it will do, for a workshop that begins. Raises:
    InvalidInput, saying what it is.
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
    """Looks into the file, reading alone and leaving nothing beside it: its tables are ours, and it is whole."""
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
    """The statements of a migration, one by one, so that all of them run within one transaction."""
    complete, waiting = [], ""
    for line in sql.splitlines(keepends=True):
        waiting += line
        if sqlite3.complete_statement(waiting):
            complete.append(waiting.strip())
            waiting = ""
    return complete
