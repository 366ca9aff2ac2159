"""Backup, restore and check of a data file as commands. The database makes the copies, never a copy of the file's
bytes."""

import sqlite3
from contextlib import closing
from pathlib import Path

from lone_pike.core.bike.faults import invalid
from lone_pike.core.messages import Message, Raw
from lone_pike.store.database import Database, check_ours, copy_whole


def back_up(data: Path, target: Path) -> None:
    """Copies a data file, even while a workshop is served from it; only the owner can read the copy.

    Raises: InvalidInput if the data file is missing or not ours, or the copy's path exists already.
    """
    check_there(data)
    if target.exists():
        raise invalid("backup", Raw(str(target)), Message("new_file"), Message("nothing_overwritten"))
    _copy(data, target)


def restore(backup: Path, data: Path) -> Path | None:
    """Puts a backup in the place of a data file.

    Returns: the path under which the former file is kept, if there was one.
    Raises: InvalidInput if the backup is missing, damaged or not ours, or the data file is being served.
    """
    check_there(backup)
    kept = None
    if data.exists():
        check_ours(data)
        kept = _free_name(data)
        _copy(data, kept)
        _close_log(data)
    _copy(backup, data)
    return kept


def _close_log(data: Path) -> None:
    """Moves the last writes from the log into the data file; otherwise the log would be read into the file that
    replaces it.

    Raises: InvalidInput if another process has the file open.
    """
    try:
        with closing(sqlite3.connect(data)) as connection:
            connection.execute("PRAGMA busy_timeout = 1000")
            mode = connection.execute("PRAGMA journal_mode = DELETE").fetchone()[0]
    except sqlite3.OperationalError:
        mode = "wal"
    if mode != "delete":
        raise invalid("data", Raw(str(data)), Message("a_file_not_served"))


def problems_of(database: Database) -> list[str]:
    """What the database finds wrong with a data file: damaged pages, and rows that refer to nothing."""
    rows = [str(row[0]) for row in database.connection.execute("PRAGMA integrity_check(20)")]
    torn = [f"{row[0]} {row[1]}" for row in database.connection.execute("PRAGMA foreign_key_check")]
    return [row for row in rows if row != "ok"] + torn


def check_there(path: Path) -> None:
    """Refuses a file that is missing, empty, not ours, or damaged. Raises: InvalidInput."""
    if not path.is_file():
        raise invalid("data", Raw(str(path)), Message("a_file_that_is_there"))
    check_ours(path, may_be_empty=False)


def _copy(source: Path, target: Path) -> None:
    with closing(sqlite3.connect(source)) as here:
        copy_whole(here, target)


def _free_name(data: Path) -> Path:
    """A free name beside the data file."""
    number = 1
    while (kept := data.with_name(f"{data.name}.before-restore-{number}")).exists():
        number += 1
    return kept
