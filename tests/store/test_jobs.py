"""Revisions, bookings and the file itself."""

import sqlite3
from pathlib import Path

import pytest

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.store import database as database_module
from lone_pike.store.bikes import bike_by_id, fitted_to
from lone_pike.store.bin import offcuts
from lone_pike.store.database import Database
from lone_pike.store.jobs import Fitting, JobRow, Revision, book, cancel_booking, job_by_id, revise, start_job, undo

NOW = "2026-05-01T08:00:00+00:00"


def job_of(database: Database, job_id: int = 4) -> JobRow:
    job = job_by_id(database, job_id)
    assert job
    return job


def test_undo_goes_back_step_by_step_and_ends_at_the_start(database: Database) -> None:
    first = job_of(database)
    for chainstay in (433, 434):
        with database.atomic() as connection:
            revise(
                connection, job_of(database), Revision(first.document | {"chainstay_mm": chainstay}, None, {}, ""), NOW
            )
    assert job_of(database).document["chainstay_mm"] == 434
    assert [undo(database, 4), undo(database, 4), undo(database, 4)] == [True, True, False]
    assert job_of(database) == first


def test_a_failed_write_leaves_nothing(database: Database) -> None:
    before = job_of(database)
    with pytest.raises(sqlite3.IntegrityError), database.atomic() as connection:
        revise(connection, before, Revision(before.document | {"name": "Gone"}, None, {}, ""), NOW)
        connection.execute("INSERT INTO job (bike_id, opened_at) VALUES (999, '')")
    assert job_of(database) == before


def test_booking_and_taking_it_back(database: Database) -> None:
    job, bike_before, bin_before = job_of(database), bike_by_id(database, 1), offcuts(database)
    fitted = Fitting(112, "locking_link", 11, "", 6, ("outer", "inner"))
    book(database, job, fitted, NOW)
    book(database, job, fitted, NOW)
    assert [row.links for row in fitted_to(database, 1)] == [112, 110]
    assert len(offcuts(database)) == len(bin_before) + 1
    assert cancel_booking(database, 4)
    assert (bike_by_id(database, 1), offcuts(database)) == (bike_before, bin_before)


def test_a_bike_has_one_open_job(database: Database) -> None:
    assert start_job(database, job_of(database).document, NOW, bike_id=1) == 4


def test_a_file_of_a_later_version_or_of_something_else_is_refused(tmp_path: Path, database: Database) -> None:
    database.connection.execute("PRAGMA user_version = 99")
    with pytest.raises(InvalidInput, match="later version"):
        Database(database.path)
    other = tmp_path / "notes.txt"
    other.write_text("not a data file, " * 100)
    with pytest.raises(InvalidInput, match="not a database"):
        Database(other)


def test_a_backup_is_taken_before_a_migration(database: Database, monkeypatch: pytest.MonkeyPatch) -> None:
    newest = database.schema_number
    steps = [*database_module.migrations(), (newest + 1, "CREATE TABLE later (id INTEGER PRIMARY KEY) STRICT;")]
    monkeypatch.setattr(database_module, "migrations", lambda: steps)
    assert Database(database.path).schema_number == newest + 1
    backup = Database(database.path.with_name(f"{database.path.name}.before-{newest}"))
    assert job_of(backup) == job_of(database)
