"""Pictures of jobs from before anything came off. They are never changed; the job's history says which of them are
shown."""

import sqlite3
from collections.abc import Collection

from lone_pike.store.database import Database

MOST_SHOWN, MOST_KEPT = 12, 24
"""How many pictures of one job are shown, and how many are kept so that an undo can bring one back."""


def add_picture(
    connection: sqlite3.Connection,
    job_id: int,
    image: bytes,
    size: tuple[int, int],
    now: str,
    shown: Collection[int] = (),
) -> int:
    """Stores a picture; if there are too many, deletes the oldest of those that are no longer shown. Returns: its
    id."""
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
    """A picture of a job, JPEG; None if the job has no such picture."""
    row = database.connection.execute(
        "SELECT image FROM picture WHERE id = ? AND job_id = ?", (picture_id, job_id)
    ).fetchone()
    return bytes(row["image"]) if row else None
