"""Proving through the workshop alone: pairs on and off a chain of the bin, and measures that learn, each to undo."""

from pathlib import Path

import pytest

from lone_pike.core.chain.moves import PieceSource
from lone_pike.core.messages import LengthUnit
from lone_pike.core.refusals import Stale, Unfit
from lone_pike.formats.typed.bin_form import read_label
from lone_pike.store.audit import audit
from lone_pike.store.database import Database
from lone_pike.workshop import bin as shelf
from lone_pike.workshop import bookings, cutting, jobs, learning, proving, receiving
from lone_pike.workshop.edits import job_there
from tests.workshop.test_whole_job import LATER, NOW, measured


@pytest.fixture
def empty(tmp_path: Path) -> Database:
    return Database(tmp_path / "new.sqlite3")


def all_links(database: Database) -> int:
    """Every link of chain that the ledger knows, wherever it is; a piece that was cut is its parts."""
    sql = "SELECT coalesce(sum(links), 0) FROM piece WHERE place <> 'cut'"
    return int(database.connection.execute(sql).fetchone()[0])


def test_pairs_come_off_and_go_on_again_and_no_link_is_lost(empty: Database) -> None:
    """A bin piece of 125 inner to inner: 111 for 112 with a locking link, then 109 for 110, then 113 for 114."""
    piece = shelf.add_piece(empty, read_label("LP1*125*I*11*0*A-1"), PieceSource.SCAN, NOW)
    job_id = measured(empty)
    jobs.keep_measures(empty, job_id, None, {"chain.box_links": ""}, LengthUnit.MM, NOW)
    cutting.take_from_bin(empty, job_id, None, [piece], NOW)
    jobs.it_is_cut(empty, job_id, 112, NOW)
    before = all_links(empty)
    for pairs, count in ((-1, 110), (-1, 108), (2, 112), (1, 114)):
        saw = job_there(empty, job_id).revision_id
        job = learning.change_pairs(empty, job_id, saw, pairs, LATER)
        assert (job.chosen_links, job.stage) == (count, "cut") and all_links(empty) == before, count
        with pytest.raises(Stale):
            learning.change_pairs(empty, job_id, saw, pairs, LATER)
        jobs.it_is_cut(empty, job_id, None, LATER)
    job = job_there(empty, job_id)
    jobs.undo(empty, job_id, job.revision_id, LATER)
    assert all_links(empty) == before
    job = job_there(empty, job_id)
    bookings.book(empty, job_id, job.revision_id, LATER)
    assert all_links(empty) == before and audit(empty).is_sound


def test_what_was_seen_is_learned_once_and_undone(empty: Database) -> None:
    job_id = measured(empty)
    jobs.keep_measures(empty, job_id, None, {"chainstay_mm": "432 ± 12"}, LengthUnit.MM, NOW)
    proving.see(empty, job_id, "second_largest", {"clock": "3:50"}, LengthUnit.MM, NOW)
    seen = job_there(empty, job_id)
    assert seen.document["seen"] == [{"links": 112, "ring": 30, "cog": 40, "clock": "3:50"}]
    assert seen.observed.proved == ("second_largest",)
    learned = learning.take_over(empty, job_id, seen.revision_id, NOW)
    assert learned.document["chainstay_mm"] > 434 and learned.document["about"]["chainstay_mm"] < 11
    newest = job_there(empty, job_id)
    with pytest.raises(Unfit):
        learning.take_over(empty, job_id, newest.revision_id, NOW)
    jobs.undo(empty, job_id, newest.revision_id, NOW)
    assert job_there(empty, job_id).document == seen.document


def test_two_tablets_see_and_gauge_at_once_and_both_are_kept(empty: Database) -> None:
    job_id = measured(empty)
    for step, told in (("clear_of_guide", {"clearance_mm": "37"}), ("second_largest", {"state": "free"})):
        proving.see(empty, job_id, step, told, LengthUnit.MM, NOW)
    for sixteenths in ("1", "1,5"):
        receiving.gauge(empty, job_id, {"way": "past", "sixteenths": sixteenths}, LengthUnit.MM, NOW)
    job = job_there(empty, job_id)
    assert len(job.document["seen"]) == 2 and [one.sixteenths for one in job.observed.gauged] == [1, 1.5]
    jobs.keep_measures(empty, job_id, None, {"observed.complaint": "slaps"}, LengthUnit.MM, NOW)
    job = job_there(empty, job_id)
    assert len(job.observed.gauged) == 2 and job.observed.proved and job.complaint == "slaps"
    again = proving.open_again(empty, job_id, "second_largest", NOW)
    assert len(again.document["seen"]) == 1 and again.observed.proved == ("clear_of_guide",)
    with pytest.raises(Unfit):
        proving.see(empty, job_id, "slack", {"slack_mm": "12"}, LengthUnit.MM, NOW)


def test_a_step_done_again_lets_its_own_row_go_and_no_row_that_was_left_out(empty: Database) -> None:
    job_id = measured(empty)
    for step in ("second_largest", "clear_of_guide"):
        proving.see(empty, job_id, step, {"clock": "5:00"}, LengthUnit.MM, NOW)
    gone = {"cogs": "11 13 15 17 20 23 26 30 34 46", "chain.speeds": "10"}
    jobs.keep_measures(empty, job_id, None, gone, LengthUnit.MM, NOW)
    again = proving.open_again(empty, job_id, "clear_of_guide", NOW)
    assert [row["cog"] for row in again.document["seen"]] == [40], "the 40 that is no cog now may be one again"
