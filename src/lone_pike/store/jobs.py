"""Jobs, each with the current revision of its history."""

import json
import sqlite3
from collections.abc import Collection
from dataclasses import dataclass
from typing import Any

from lone_pike.core.messages import Message
from lone_pike.formats.records.message_record import message_of
from lone_pike.formats.records.observed import Observed, observed_of, record_of
from lone_pike.store.bikes import IS_OPEN, Document
from lone_pike.store.database import Database
from lone_pike.store.history import Revision, begin, revise, revision_by_id
from lone_pike.store.paging import After, Listed, listed, rows_before


@dataclass(frozen=True)
class JobState:
    """The content of a job's revision: the bike's document, the chosen count in links, what was observed."""

    document: Document
    chosen_links: int | None
    observed: Observed

    @property
    def content(self) -> dict[str, Any]:
        """The state in the form in which it is stored."""
        return {"document": self.document, "chosen_links": self.chosen_links, "observed": record_of(self.observed)}


@dataclass(frozen=True)
class JobRow:
    """A job with its current revision; times as ISO 8601."""

    id: int
    bike_id: int
    history_id: int
    stage: str
    complaint: str
    owner_word: str
    opened_at: str
    booked_at: str | None
    closed_at: str | None
    revision_id: int
    parent_id: int | None
    state: JobState
    message: Message

    @property
    def document(self) -> Document:
        """The bike's document."""
        return self.state.document

    @property
    def chosen_links(self) -> int | None:
        """The chosen count."""
        return self.state.chosen_links

    @property
    def observed(self) -> Observed:
        """The notes of the job."""
        return self.state.observed


MOST_IN_HAND = 12
"""Jobs on one page of the Stand, each with its drawing."""

JOBS = """
    SELECT job.id, job.bike_id, job.history_id, job.stage, job.complaint, bike.owner_word, job.opened_at, job.booked_at,
           job.closed_at, revision.id AS revision_id, revision.parent_id, revision.content, revision.message
    FROM job JOIN bike ON bike.id = job.bike_id
    JOIN history ON history.id = job.history_id JOIN revision ON revision.id = history.revision_id
"""


def open_jobs(database: Database, page: int = 1, size: int = MOST_IN_HAND) -> Listed[JobRow]:
    """A page of the jobs not booked yet, newest first."""
    return listed(database, f"{JOBS} WHERE {IS_OPEN} ORDER BY job.id DESC", {}, page, size, _job)


def job_by_id(database: Database, job_id: int) -> JobRow | None:
    """One job."""
    row = database.connection.execute(f"{JOBS} WHERE job.id = ?", (job_id,)).fetchone()
    return _job(row) if row else None


def revisions_of(database: Database, job_ids: Collection[int]) -> dict[int, int]:
    """The current revision of some jobs, by the job's id."""
    sql = (
        "SELECT job.id, history.revision_id FROM job JOIN history ON history.id = job.history_id"
        " WHERE job.id IN (SELECT value FROM json_each(?))"
    )
    rows = database.connection.execute(sql, (json.dumps(sorted(job_ids)),))
    return {row["id"]: row["revision_id"] for row in rows}


def open_job_of(connection: sqlite3.Connection, bike_id: int) -> int | None:
    """A bike's job in hand, or None."""
    row = connection.execute(f"SELECT id FROM job WHERE bike_id = ? AND {IS_OPEN}", (bike_id,)).fetchone()
    return int(row["id"]) if row else None


def add_job(connection: sqlite3.Connection, bike_id: int, document: Document, now: str, observed: Observed) -> int:
    """Adds a job on a bike, with notes that are known already. Returns: its id."""
    state = JobState(document, None, observed)
    history_id = begin(connection, "job", state.content, now)
    job = connection.execute(
        "INSERT INTO job (bike_id, history_id, complaint, opened_at) VALUES (?, ?, ?, ?)",
        (bike_id, history_id, observed.complaint, now),
    )
    return int(job.lastrowid or 0)


def state_at(connection: sqlite3.Connection, job: JobRow, revision_id: int | None) -> JobState | None:
    """The state in one of the job's revisions."""
    revision = revision_by_id(connection, job.history_id, revision_id)
    return state_of(revision) if revision else None


def state_of(revision: Revision) -> JobState:
    """The state in a revision."""
    return _state(revision.content)


def revise_job(connection: sqlite3.Connection, job: JobRow, state: JobState, message: Message, now: str) -> None:
    """A new revision on top of the newest."""
    revise(connection, job.history_id, state.content, message, now)
    note_complaint(connection, job.id)


def note_complaint(connection: sqlite3.Connection, job_id: int) -> None:
    """Updates the complaint in the search index of bikes."""
    connection.execute(
        "UPDATE job SET complaint = coalesce("
        "  (SELECT json_extract(revision.content, '$.observed.complaint') FROM history"
        "   JOIN revision ON revision.id = history.revision_id WHERE history.id = job.history_id), '')"
        " WHERE id = ?",
        (job_id,),
    )


def reach_stage(connection: sqlite3.Connection, job_id: int, stage: str) -> None:
    """Stores the job's stage."""
    connection.execute("UPDATE job SET stage = ? WHERE id = ? AND stage <> ?", (stage, job_id, stage))


def close_job(connection: sqlite3.Connection, job_id: int, now: str) -> None:
    """Closes an open job without a booking."""
    connection.execute("UPDATE job SET closed_at = ? WHERE id = ?", (now, job_id))


def reopen_job(connection: sqlite3.Connection, job_id: int) -> None:
    """Opens a closed job again."""
    connection.execute("UPDATE job SET closed_at = NULL WHERE id = ?", (job_id,))


def last_closed_job(database: Database, bike_id: int) -> int | None:
    """A bike's newest job, if it was closed without a booking."""
    row = database.connection.execute(
        "SELECT id, closed_at FROM job WHERE bike_id = ? ORDER BY id DESC LIMIT 1", (bike_id,)
    ).fetchone()
    return int(row["id"]) if row and row["closed_at"] else None


def _state(content: dict[str, Any]) -> JobState:
    return JobState(content["document"], content["chosen_links"], observed_of(content["observed"]))


def _job(row: sqlite3.Row) -> JobRow:
    values = dict(row)
    state = _state(json.loads(values.pop("content")))
    values["complaint"] = state.observed.complaint
    return JobRow(**{**values, "state": state, "message": message_of(json.loads(row["message"]))})


def open_jobs_before(database: Database, before: int | None, size: int) -> After[JobRow]:
    """Jobs not booked yet, newest first, from a cursor on."""
    return rows_before(database, f"{JOBS} WHERE {IS_OPEN}", "job.id", before, size, _job)
