"""Pictures of jobs from before anything came off: never changed; which are shown stands in the job's history."""

import sqlite3
from collections.abc import Collection

from lone_pike.store.database import Database

MOST_SHOWN, MOST_KEPT = 12, 24
"""Pictures of one job that are shown, and that are kept: so far an undo brings one back."""


def add_picture(
    connection: sqlite3.Connection,
    job_id: int,
    image: bytes,
    size: tuple[int, int],
    now: str,
    shown: Collection[int] = (),
) -> int:
    """Keeps a picture; of those that are no longer shown, the oldest goes where there are too many. Returns: its
    number."""
    row = connection.execute(
        "INSERT INTO picture (job_id, width, height, image, added_at) VALUES (?, ?, ?, ?, ?)",
        (job_id, *size, image, now),
    )
    added = int(row.lastrowid or 0)
    kept = [one["id"] for one in connection.execute("SELECT id FROM picture WHERE job_id = ? ORDER BY id", (job_id,))]
    gone = [one for one in kept if one not in shown and one != added][: max(len(kept) - MOST_KEPT, 0)]
    connection.executemany("DELETE FROM picture WHERE id = ?", [(one,) for one in gone])
    return added


def picture_of(database: Database, job_id: int, picture_id: int) -> bytes | None:
    """A picture of a job, JPEG; None where it has no such."""
    row = database.connection.execute(
        "SELECT image FROM picture WHERE id = ? AND job_id = ?", (picture_id, job_id)
    ).fetchone()
    return bytes(row["image"]) if row else None
