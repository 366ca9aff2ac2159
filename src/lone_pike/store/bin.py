"""The bin: off-cuts laid in by bookings; those of a booking that was taken back are no longer there."""

import sqlite3
from dataclasses import dataclass

from lone_pike.store.database import Database
from lone_pike.store.paging import Listed, listed

MOST_SHOWN = 60


@dataclass(frozen=True)
class OffcutRow:
    """One off-cut: links, its two ends, cogs its chain is made for, the bike it came from."""

    id: int
    links: int
    first_end: str
    last_end: str
    speeds: int
    origin: str
    laid_in_at: str


def offcuts(database: Database, page: int = 1, size: int = MOST_SHOWN) -> Listed[OffcutRow]:
    """A page of the off-cuts by the chain they fit, longest first."""
    sql = (
        "SELECT id, links, first_end, last_end, speeds, origin, laid_in_at FROM offcut"
        " WHERE NOT EXISTS (SELECT 1 FROM cancellation WHERE cancellation.booking_id = offcut.booking_id)"
        " AND taken_at IS NULL ORDER BY speeds DESC, links DESC, id"
    )
    return listed(database, sql, {}, page, size, lambda row: OffcutRow(**dict(row)))


def take_offcut(connection: sqlite3.Connection, offcut_id: int, now: str | None) -> bool:
    """Takes an off-cut out of the bin, or with no time lays it back; False where it is not there."""
    changed = connection.execute("UPDATE offcut SET taken_at = ? WHERE id = ?", (now, offcut_id))
    return bool(changed.rowcount)
