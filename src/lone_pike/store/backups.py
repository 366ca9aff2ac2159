"""Automatic backups: one a day beside the data file or in the shop's folder, thinned out as they grow old.

The newest backup of each of the last seven days, five weeks and three months is kept.
"""

from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

from lone_pike.store.database import Database, copy_whole

STAMP = "%Y%m%dT%H%M%SZ"
EVERY = timedelta(days=1)
OLD = timedelta(days=7)
"""The age from which the newest backup causes a warning."""

DAYS_KEPT, WEEKS_KEPT, MONTHS_KEPT = 7, 5, 3


@dataclass(frozen=True)
class Backup:
    """One automatic backup: its file, and when it was made."""

    path: Path
    made_at: datetime

    def age(self, now: datetime) -> timedelta:
        """Its age."""
        return now - self.made_at


def backups_of(data: Path, folder: Path) -> list[Backup]:
    """The automatic backups of a data file in a folder, newest first."""
    found = [_backup(path, data) for path in folder.glob(f"{data.name}.auto-*")] if folder.is_dir() else []
    return sorted((one for one in found if one), key=lambda one: one.made_at, reverse=True)


def back_up_when_due(database: Database, folder: Path, now: datetime) -> Backup | None:
    """Makes the day's backup if the newest is a day old, and removes those that are no longer needed.

    Returns: the newest backup.
    Raises: InvalidInput if it cannot be written; then none is removed.
    """
    there = backups_of(database.path, folder)
    if there and there[0].age(now) < EVERY:
        return there[0]
    return back_up_now(database, folder, now)


def back_up_now(database: Database, folder: Path, now: datetime) -> Backup | None:
    """Makes a backup, and removes those that are no longer needed. Raises: InvalidInput where it cannot be written."""
    copy_whole(database.connection, folder / f"{database.path.name}.auto-{now.astimezone(UTC).strftime(STAMP)}")
    there = backups_of(database.path, folder)
    kept = needed([one.made_at for one in there], now)
    for one in there:
        if one.made_at not in kept:
            one.path.unlink(missing_ok=True)
    return there[0] if there else None


def needed(made_at: list[datetime], now: datetime) -> set[datetime]:
    """The backups to keep: the newest of all, and the newest of each recent day, week and month.

    >>> days = [datetime(2026, 11, 29, tzinfo=UTC) - timedelta(days=n) for n in range(100)]
    >>> sorted((days[0] - one).days for one in needed(days, days[0]))
    [0, 1, 2, 3, 4, 5, 6, 8, 15, 22, 29, 60]
    """
    kept: dict[tuple[str, int], datetime] = {}
    for one in sorted(made_at):
        age_days = (now - one).days
        if age_days < DAYS_KEPT:
            kept["day", one.toordinal()] = one
        if age_days < DAYS_KEPT * WEEKS_KEPT:
            kept["week", one.toordinal() // DAYS_KEPT] = one
        if (now.year - one.year) * 12 + now.month - one.month < MONTHS_KEPT:
            kept["month", one.year * 12 + one.month] = one
    return {*kept.values(), *sorted(made_at)[-1:]}


def _backup(path: Path, data: Path) -> Backup | None:
    """A file as a backup; None if its name is not that of a complete backup."""
    try:
        made_at = datetime.strptime(path.name.removeprefix(f"{data.name}.auto-"), STAMP)
    except ValueError:
        return None
    return Backup(path, made_at.replace(tzinfo=UTC))
