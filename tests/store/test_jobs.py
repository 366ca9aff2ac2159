"""Histories, bookings and the file itself."""

import shutil
import sqlite3
import stat
from dataclasses import replace
from pathlib import Path

import pytest

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.messages import Message
from lone_pike.core.refusals import Conflict, NotOpen, Stale
from lone_pike.store import database as database_module
from lone_pike.store.audit import audit
from lone_pike.store.bikes import bike_by_id
from lone_pike.store.bin import pieces_in_bin
from lone_pike.store.bookings import bookings_of
from lone_pike.store.database import Database
from lone_pike.store.jobs import JobRow, job_by_id, open_jobs, revise_job
from lone_pike.store.shop import shop_now
from lone_pike.wording.render import render
from lone_pike.wording.units import DisplayUnits
from lone_pike.workshop import bookings, jobs
from tests.bikes import told

NOW = "2026-05-01T08:00:00+00:00"
EDIT = Message("scale_told")
OLD_FILE = Path(__file__).parent / "schema_3.sql"
"""A data file as the third schema wrote it, with edits, an undo, a booking and settings."""


def job_of(database: Database, job_id: int = 4) -> JobRow:
    job = job_by_id(database, job_id)
    assert job
    return job


def edit(database: Database, chainstay_mm: float) -> JobRow:
    job = job_of(database)
    with database.atomic() as connection:
        state = replace(job.state, document=job.document | {"chainstay_mm": chainstay_mm})
        revise_job(connection, job, state, EDIT, NOW)
    return job_of(database)


def undo(database: Database, saw: int) -> bool:
    before = job_of(database)
    jobs.undo(database, before.id, saw, NOW)
    return job_of(database) != before


def test_undo_goes_back_step_by_step_and_ends_at_the_start(database: Database) -> None:
    first = job_of(database)
    for chainstay in (433, 434):
        edit(database, chainstay)
    assert job_of(database).document["chainstay_mm"] == 434
    assert [undo(database, job_of(database).revision_id) for _ in range(3)] == [True, True, False]
    assert job_of(database) == first


def test_an_undo_made_for_one_edit_never_takes_anothers_back(database: Database) -> None:
    mine = edit(database, 433)
    theirs = edit(database, 434)
    with pytest.raises(Stale):
        undo(database, mine.revision_id)
    assert job_of(database) == theirs


def test_a_failed_write_leaves_nothing(database: Database) -> None:
    before = job_of(database)
    with pytest.raises(sqlite3.IntegrityError), database.atomic() as connection:
        revise_job(connection, before, replace(before.state, chosen_links=110), EDIT, NOW)
        connection.execute("INSERT INTO job (bike_id, history_id, opened_at) VALUES (999, 999, '')")
    assert job_of(database) == before


def test_a_booking_taken_back_is_a_row_more_and_nothing_less(database: Database) -> None:
    def fitted() -> list[int]:
        return [row.links for row in bookings_of(database, 1)]

    bike_before, bin_before, before = bike_by_id(database, 1), pieces_in_bin(database), fitted()
    book(database)
    with pytest.raises(NotOpen):
        book(database)
    assert len(fitted()) == 2 and len(pieces_in_bin(database).rows) == len(bin_before.rows) + 1
    bookings.undo_booking(database, 4, NOW)
    with pytest.raises(Conflict):
        bookings.undo_booking(database, 4, NOW)
    assert (bike_by_id(database, 1), pieces_in_bin(database), fitted()) == (bike_before, bin_before, before)
    count = "SELECT (SELECT count(*) FROM booking WHERE job_id = 4), (SELECT count(*) FROM cancellation)"
    assert tuple(database.connection.execute(count).fetchone()) == (1, 1)
    book(database)
    assert len(fitted()) == 2


def book(database: Database, job_id: int = 4) -> None:
    bookings.book(database, job_id, job_of(database, job_id).revision_id, NOW)


def test_a_booking_is_taken_back_once_nothing_of_its_bike_stands_in_the_way(database: Database) -> None:
    """A first job closed, two booked after it, and the first opened again: the bike would have two jobs in hand."""

    def booked_job() -> int:
        job_id = jobs.start_on(database, 1, NOW)
        book(database, job_id)
        return job_id

    jobs.close(database, 4, NOW)
    second, third = booked_job(), booked_job()
    with pytest.raises(Conflict):
        bookings.undo_booking(database, second, NOW)
    jobs.reopen(database, 4, NOW)
    with pytest.raises(Conflict):
        bookings.take_chain_off(database, third, NOW)
    jobs.close(database, 4, NOW)
    bookings.undo_booking(database, third, NOW)
    jobs.close(database, third, NOW)
    bookings.undo_booking(database, second, NOW)
    assert audit(database).is_sound


def test_a_bike_has_one_open_job(database: Database) -> None:
    assert jobs.start_on(database, 1, NOW) == 4


@pytest.mark.parametrize(
    "statement",
    [
        "UPDATE job SET stage = 'lunch'",
        "UPDATE history SET revision_id = (SELECT revision_id FROM history WHERE id = 5) WHERE id = 4",
        "UPDATE booking SET joiner = 'string'",
        "UPDATE booking SET links = 7",
        "UPDATE job SET closed_at = '', booked_at = ''",
        "INSERT INTO piece (links, first_end, last_end, speeds, origin, made_at)"
        " VALUES (4, 'inner', 'inner', 9, '', '')",
        "INSERT INTO cancellation (booking_id, cancelled_at) VALUES (999, '')",
    ],
)
def test_the_schema_refuses_what_cannot_be(database: Database, statement: str) -> None:
    with pytest.raises(sqlite3.IntegrityError), database.atomic() as connection:
        connection.execute(statement)


@pytest.mark.parametrize(
    "query",
    [
        "SELECT * FROM job WHERE booked_at IS NULL AND closed_at IS NULL ORDER BY id DESC",
        "SELECT * FROM booking WHERE bike_id = 1 ORDER BY id DESC",
        "SELECT * FROM piece WHERE place IN ('bin', 'job') ORDER BY speeds DESC, links DESC, id",
        "SELECT * FROM bike ORDER BY name COLLATE NOCASE, id",
        "SELECT * FROM job WHERE bike_id = 1 AND id > 3",
    ],
)
def test_each_question_of_a_page_has_its_index(database: Database, query: str) -> None:
    plan = " ".join(str(row[3]) for row in database.connection.execute(f"EXPLAIN QUERY PLAN {query}"))
    assert "USING INDEX" in plan or "USING COVERING INDEX" in plan, plan
    assert "USE TEMP B-TREE" not in plan, plan


def old_file(tmp_path: Path) -> Path:
    path = tmp_path / "old.sqlite3"
    connection = sqlite3.connect(path)
    connection.executescript(OLD_FILE.read_text())
    connection.close()
    return path


def test_a_file_of_today_migrates_with_its_history(tmp_path: Path) -> None:
    """The third schema's file: job 4 stands at a chainstay of 433, one edit on; the shop went to inches and back."""
    database = Database(old_file(tmp_path))
    job = job_of(database)
    assert (job.document["chainstay_mm"], job.document["name"], job.stage) == (433, "Route 66 links", "size")
    assert render(job.message, DisplayUnits()) == "Name Otter → Route 66 links, Chainstay 432 → 433 mm"
    assert undo(database, job.revision_id) and job_of(database).document["chainstay_mm"] == 432
    assert [row.links for row in bookings_of(database, 1)] == [110]
    assert [(row.links, row.first_end) for row in pieces_in_bin(database)] == [(8, "outer")]
    shop = shop_now(database)
    assert (shop.settings, shop.can_undo) == ({"unit": "in"}, True)
    assert [one.id for one in open_jobs(database)] == [4]
    assert audit(database).is_sound


def test_what_is_not_ours_is_refused_untouched(tmp_path: Path, database: Database) -> None:
    database.close()
    text, foreign, newer, damaged = (tmp_path / name for name in ("notes.txt", "a.db", "b.db", "c.db"))
    text.write_text("not a data file, " * 100)
    connection = sqlite3.connect(foreign)
    connection.execute("CREATE TABLE gulls (id INTEGER)")
    connection.close()
    for copy, pragma in ((newer, "user_version = 99"), (damaged, "user_version = 4")):
        shutil.copy(database.path, copy)
        connection = sqlite3.connect(copy)
        connection.execute(f"PRAGMA {pragma}")
        connection.commit()
        connection.close()
    content = bytearray(damaged.read_bytes())
    content[8192:16384] = b"\xff" * 8192
    damaged.write_bytes(content)
    for path, said in ((text, "not a database"), (foreign, "another program"), (newer, "later version"), (damaged, "")):
        before = path.read_bytes()
        with pytest.raises(InvalidInput) as caught:
            Database(path)
        assert said in told(caught.value) and told(caught.value).startswith("data: ")
        assert path.read_bytes() == before
        assert not list(tmp_path.glob(f"{path.name}-*"))


def test_a_backup_is_taken_before_a_migration(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    database = Database(old_file(tmp_path))
    newest = database.schema_number
    backup = database.path.with_name(f"{database.path.name}.before-3")
    assert backup.exists()
    steps = [*database_module.migrations(), (newest + 1, "CREATE TABLE later (id INTEGER PRIMARY KEY) STRICT;")]
    monkeypatch.setattr(database_module, "migrations", lambda: steps)
    assert Database(database.path).schema_number == newest + 1
    assert job_of(Database(database.path.with_name(f"{database.path.name}.before-{newest}"))) == job_of(database)


def test_the_file_is_its_owners_alone_and_holds_all_once_closed(database: Database) -> None:
    edit(database, 441)
    assert stat.S_IMODE(database.path.stat().st_mode) == 0o600
    database.close()
    assert [path.name for path in database.path.parent.iterdir()] == [database.path.name]
    assert job_of(database).document["chainstay_mm"] == 441
