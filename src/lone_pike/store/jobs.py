"""Jobs and their revisions: every edit is a new row, undo steps back to its parent."""

import json
import sqlite3
from dataclasses import dataclass

from lone_pike.store.bikes import Document, add_bike, write_bike
from lone_pike.store.database import Database


@dataclass(frozen=True)
class Revision:
    """What an edit leaves: the bike's document, the chosen count, what was observed, and the change in words."""

    document: Document
    chosen_links: int | None
    observed: dict[str, str]
    note: str


@dataclass(frozen=True)
class JobRow:
    """A job with the revision it stands at; times as ISO 8601."""

    id: int
    bike_id: int
    stage: str
    complaint: str
    opened_at: str
    booked_at: str | None
    revision_id: int
    parent_id: int | None
    document: Document
    chosen_links: int | None
    note: str
    made_at: str
    observed: dict[str, str]

    @property
    def revision(self) -> Revision:
        """What it stands at."""
        return Revision(self.document, self.chosen_links, self.observed, self.note)


@dataclass(frozen=True)
class Fitting:
    """What a booking writes: the fitted chain, and the off-cut's links and ends if there is one."""

    links: int
    joiner: str
    speeds: int
    note: str
    offcut_links: int
    offcut_ends: tuple[str, str] | None


JOBS = """
    SELECT job.id, job.bike_id, job.stage, job.complaint, job.opened_at, job.booked_at,
           revision.id AS revision_id, revision.parent_id, revision.document, revision.chosen_links,
           revision.note, revision.made_at, revision.observed
    FROM job JOIN revision ON revision.id = job.revision_id
"""


def open_jobs(database: Database) -> list[JobRow]:
    """Jobs not booked yet, newest first."""
    return [_job(row) for row in database.connection.execute(f"{JOBS} WHERE booked_at IS NULL ORDER BY job.id DESC")]


def job_by_id(database: Database, job_id: int) -> JobRow | None:
    """One job."""
    row = database.connection.execute(f"{JOBS} WHERE job.id = ?", (job_id,)).fetchone()
    return _job(row) if row else None


def start_job(database: Database, document: Document, now: str, bike_id: int | None = None, complaint: str = "") -> int:
    """A job on a bike, or on a new one; the bike's open job where it has one. Returns the job's id."""
    with database.atomic() as connection:
        if bike_id is None:
            bike_id = add_bike(connection, document)
        row = connection.execute("SELECT id FROM job WHERE bike_id = ? AND booked_at IS NULL", (bike_id,)).fetchone()
        if row:
            return int(row["id"])
        job_id = connection.execute(
            "INSERT INTO job (bike_id, complaint, opened_at) VALUES (?, ?, ?)", (bike_id, complaint, now)
        ).lastrowid
        first = _add_revision(connection, int(job_id or 0), None, Revision(document, None, {}, ""), now)
        _stand_at(connection, int(job_id or 0), first)
        return int(job_id or 0)


def revision_of(database: Database, job_id: int, revision_id: int) -> Revision | None:
    """One revision of a job."""
    row = database.connection.execute(
        "SELECT document, chosen_links, observed, note FROM revision WHERE id = ? AND job_id = ?", (revision_id, job_id)
    ).fetchone()
    return Revision(**{**dict(row), **_read(row)}) if row else None


def revise(connection: sqlite3.Connection, job: JobRow, revision: Revision, now: str) -> None:
    """A new revision on top of the one the job stands at."""
    _stand_at(connection, job.id, _add_revision(connection, job.id, job.revision_id, revision, now))


def undo(database: Database, job_id: int) -> bool:
    """Back to the revision before; False where there is none."""
    with database.atomic() as connection:
        changed = connection.execute(
            "UPDATE job SET revision_id = (SELECT parent_id FROM revision WHERE revision.id = job.revision_id)"
            " WHERE id = ? AND booked_at IS NULL"
            " AND (SELECT parent_id FROM revision WHERE revision.id = job.revision_id) IS NOT NULL",
            (job_id,),
        )
        return changed.rowcount == 1


def reach_stage(database: Database, job_id: int, stage: str) -> None:
    """The stage the job was last seen at."""
    with database.atomic() as connection:
        connection.execute("UPDATE job SET stage = ? WHERE id = ? AND stage <> ?", (stage, job_id, stage))


def book(database: Database, job: JobRow, fitting: Fitting, now: str) -> None:
    """Writes the fitted chain into the bike's history, the off-cut into the bin, and closes the job."""
    with database.atomic() as connection:
        before = connection.execute("SELECT document FROM bike WHERE id = ?", (job.bike_id,)).fetchone()["document"]
        closed = connection.execute("UPDATE job SET booked_at = ? WHERE id = ? AND booked_at IS NULL", (now, job.id))
        if closed.rowcount == 0:
            return
        write_bike(connection, job.bike_id, job.document)
        connection.execute(
            "INSERT INTO fitted (bike_id, job_id, links, joiner, speeds, note, document_before, booked_at)"
            " VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
            (job.bike_id, job.id, fitting.links, fitting.joiner, fitting.speeds, fitting.note, before, now),
        )
        if fitting.offcut_ends:
            connection.execute(
                "INSERT INTO offcut (job_id, links, first_end, last_end, speeds, origin, laid_in_at)"
                " VALUES (?, ?, ?, ?, ?, ?, ?)",
                (job.id, fitting.offcut_links, *fitting.offcut_ends, fitting.speeds, job.document.get("name", ""), now),
            )


def cancel_booking(database: Database, job_id: int) -> bool:
    """Undoes a booking: the bike as before, the off-cut out of the bin, the job open again.

    False where the job was not booked, or a later job of the bike is open or booked.
    """
    with database.atomic() as connection:
        row = connection.execute(
            "SELECT bike_id, document_before FROM fitted WHERE job_id = ?1 AND NOT EXISTS"
            " (SELECT 1 FROM job WHERE job.bike_id = fitted.bike_id AND job.id > ?1)",
            (job_id,),
        ).fetchone()
        if row is None:
            return False
        write_bike(connection, row["bike_id"], json.loads(row["document_before"]))
        connection.execute("DELETE FROM offcut WHERE job_id = ?", (job_id,))
        connection.execute("DELETE FROM fitted WHERE job_id = ?", (job_id,))
        connection.execute("UPDATE job SET booked_at = NULL WHERE id = ?", (job_id,))
        return True


def _add_revision(
    connection: sqlite3.Connection, job_id: int, parent_id: int | None, revision: Revision, now: str
) -> int:
    document, observed = json.dumps(revision.document), json.dumps(revision.observed)
    row = connection.execute(
        "INSERT INTO revision (job_id, parent_id, document, chosen_links, observed, note, made_at)"
        " VALUES (?, ?, ?, ?, ?, ?, ?)",
        (job_id, parent_id, document, revision.chosen_links, observed, revision.note, now),
    )
    return int(row.lastrowid or 0)


def _stand_at(connection: sqlite3.Connection, job_id: int, revision_id: int) -> None:
    connection.execute("UPDATE job SET revision_id = ? WHERE id = ?", (revision_id, job_id))


def _job(row: sqlite3.Row) -> JobRow:
    return JobRow(**{**dict(row), **_read(row)})


def _read(row: sqlite3.Row) -> dict[str, Document]:
    return {name: json.loads(row[name]) for name in ("document", "observed")}
