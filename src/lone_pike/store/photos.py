"""Side photos of jobs, and pictures from before anything came off. They are never changed; the newest are kept."""

import sqlite3
from collections.abc import Collection
from dataclasses import dataclass

from lone_pike.store.database import Database

MOST_OF_A_JOB = 6
"""The number of photos kept for each job, which is how far an undo can bring one back."""


@dataclass(frozen=True)
class PhotoRow:
    """A photo's size in px."""

    id: int
    job_id: int
    width: int
    height: int


def add_photo(connection: sqlite3.Connection, job_id: int, image: bytes, size: tuple[int, int], now: str) -> int:
    """Stores a photo, and deletes the job's oldest if there are too many. Returns: its id."""
    row = connection.execute(
        "INSERT INTO photo (job_id, width, height, image, added_at) VALUES (?, ?, ?, ?, ?)",
        (job_id, *size, image, now),
    )
    connection.execute(
        "DELETE FROM photo WHERE job_id = ?1 AND id NOT IN"
        " (SELECT id FROM photo WHERE job_id = ?1 ORDER BY id DESC LIMIT ?2)",
        (job_id, MOST_OF_A_JOB),
    )
    return int(row.lastrowid or 0)


def photo_by_id(database: Database, job_id: int, photo_id: int) -> PhotoRow | None:
    """One photo of a job, without the picture itself."""
    row = database.connection.execute(
        "SELECT id, job_id, width, height FROM photo WHERE id = ? AND job_id = ?", (photo_id, job_id)
    ).fetchone()
    return PhotoRow(**dict(row)) if row else None


def image_of(database: Database, job_id: int, photo_id: int) -> bytes | None:
    """A photo's picture, JPEG."""
    row = database.connection.execute(
        "SELECT image FROM photo WHERE id = ? AND job_id = ?", (photo_id, job_id)
    ).fetchone()
    return bytes(row["image"]) if row else None


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
