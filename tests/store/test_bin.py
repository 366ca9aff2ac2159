"""The bin: a piece is one job's at a time, joiners never fall below nothing, a label is laid in once."""

from dataclasses import replace

import pytest

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.messages import Message
from lone_pike.core.refusals import CodeTwice, PieceTaken
from lone_pike.formats.records.chain_rows import piece_row, pieces_in, with_pieces
from lone_pike.store.bin import (
    NewPiece,
    joiners_there,
    lay_in,
    piece_by_id,
    pieces_for,
    take_offcut,
)
from lone_pike.store.bookings import Fitting, cancel_booking, write_booking
from lone_pike.store.database import Database
from lone_pike.store.history import step_back
from lone_pike.store.jobs import close_job, follow_history, job_by_id, reopen_job, revise_job
from lone_pike.workshop.bin import count_joiners
from tests.bikes import told

NOW = "2026-05-01T08:00:00+00:00"
EDIT = Message("scale_told")


def piece_of(database: Database, code: str) -> int:
    row = database.connection.execute("SELECT id FROM offcut WHERE code = ?", (code,)).fetchone()
    return int(row["id"])


def reserve(database: Database, job_id: int, piece_id: int) -> None:
    job = job_by_id(database, job_id)
    assert job
    rows = [*pieces_in(job.document), piece_row(21, "inner", 0.0, piece_id)]
    with database.atomic() as connection:
        revise_job(connection, job, replace(job.state, document=with_pieces(job.document, rows)), EDIT, NOW)


def held_by(database: Database, piece_id: int) -> int | None:
    piece = piece_by_id(database, piece_id)
    assert piece
    return piece.reserved_by


def test_a_piece_is_one_jobs_until_it_lets_go(database: Database) -> None:
    piece = piece_of(database, "CUT-0021")
    reserve(database, 4, piece)
    assert held_by(database, piece) == 4
    assert piece not in [row.id for row in pieces_for(database, 11)]
    with pytest.raises(PieceTaken):
        reserve(database, 6, piece)
    other = job_by_id(database, 6)
    assert other and not pieces_in(other.document), "the refused edit left nothing"
    with pytest.raises(PieceTaken), database.atomic() as connection:
        take_offcut(connection, piece, NOW)
    job = job_by_id(database, 4)
    assert job
    with database.atomic() as connection:
        step_back(connection, job.history_id)
        follow_history(connection, 4)
    assert held_by(database, piece) is None
    reserve(database, 6, piece)
    assert held_by(database, piece) == 6


def test_a_closed_job_lets_go_and_may_come_too_late_when_it_is_opened_again(database: Database) -> None:
    piece = piece_of(database, "CUT-0021")
    reserve(database, 4, piece)
    with database.atomic() as connection:
        close_job(connection, 4, NOW)
    reserve(database, 6, piece)
    job = job_by_id(database, 4)
    assert job
    with pytest.raises(PieceTaken), database.atomic() as connection:
        reopen_job(connection, job)
    closed = job_by_id(database, 4)
    assert closed and closed.closed_at


def test_a_booking_uses_up_its_pieces_and_joiners_and_taking_it_back_returns_them(database: Database) -> None:
    piece, before = piece_of(database, "CUT-0021"), joiners_there(database.connection, "locking_link", 11)
    reserve(database, 4, piece)
    job = job_by_id(database, 4)
    assert job
    with database.atomic() as connection:
        write_booking(connection, job, Fitting(112, "locking_link", 11, "", None, (), 2), NOW)
    assert piece_by_id(database, piece) is None
    assert joiners_there(database.connection, "locking_link", 11) == before - 2
    with database.atomic() as connection:
        assert cancel_booking(connection, 4, NOW)
    assert held_by(database, piece) == 4
    assert joiners_there(database.connection, "locking_link", 11) == before


def test_joiners_never_fall_below_nothing_and_a_label_is_laid_in_once(database: Database) -> None:
    with pytest.raises(InvalidInput) as few:
        count_joiners(database, "clip_link", 1, -5, NOW)
    assert told(few.value) == "joiners: read -5; allowed: no more out than the 4 that are there."
    new = NewPiece(57, "inner", "inner", 9, "scanned", code="CUT-0057")
    with pytest.raises(CodeTwice), database.atomic() as connection:
        lay_in(connection, new, NOW)
    with database.atomic() as connection:
        assert take_offcut(connection, piece_of(database, "CUT-0057"), NOW)
        assert lay_in(connection, new, NOW), "once it is gone its code is free again"
        first, second = (
            row["id"] for row in connection.execute("SELECT id FROM offcut WHERE code = 'CUT-0057' ORDER BY id")
        )
        assert take_offcut(connection, first, None), "it comes back without the code, which is another's by now"
    assert piece_of(database, "CUT-0057") == second
    with database.atomic() as connection:
        assert take_offcut(connection, second, NOW) and take_offcut(connection, second, None)
    assert piece_of(database, "CUT-0057") == second
