"""Backups that a workshop makes of itself: one a day, and one whenever somebody asks for it."""

from datetime import datetime
from pathlib import Path

from lone_pike.store.backups import Backup, back_up_now, back_up_when_due, backups_of
from lone_pike.store.bikes import count_documents
from lone_pike.store.database import Database
from lone_pike.workshop.settings import shop_of


def backups_there(database: Database) -> list[Backup]:
    """The automatic backups, newest first."""
    return backups_of(database.path, _folder(database))


def back_up_daily(database: Database, now: datetime) -> Backup | None:
    """Makes the day's backup if it is due; a workshop without a bike needs none.

    Returns: the newest backup.
    Raises: InvalidInput where none can be written.
    """
    return back_up_when_due(database, _folder(database), now) if count_documents(database) else None


def back_up(database: Database, now: datetime) -> Backup | None:
    """Makes a backup at once. Raises: InvalidInput where none can be written."""
    return back_up_now(database, _folder(database), now)


def _folder(database: Database) -> Path:
    named = shop_of(database).backup_folder
    return Path(named) if named else database.path.absolute().parent
