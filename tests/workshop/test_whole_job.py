"""A whole job through the workshop alone, as a second face of it would drive one: no page, no request."""

import re
from pathlib import Path

import pytest

import lone_pike
from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.chain.moves import PieceSource
from lone_pike.core.messages import LengthUnit
from lone_pike.core.refusals import Conflict, NotOpen, NotThere, PieceTaken, Refusal, Stale, Unfit
from lone_pike.core.stages import STAGES
from lone_pike.formats.typed.bin_form import read_label
from lone_pike.store.bikes import bike_by_id
from lone_pike.store.bin import pieces_in_bin
from lone_pike.store.bookings import bookings_of
from lone_pike.store.database import Database
from lone_pike.store.jobs import job_by_id
from lone_pike.workshop import bikes, bookings, cutting, jobs, settings
from lone_pike.workshop import bin as shelf
from lone_pike.workshop.answers import answer_to
from lone_pike.workshop.edits import job_there
from tests.bikes import said, told

NOW, LATER = "2026-05-01T08:00:00+00:00", "2026-05-01T09:30:00+00:00"
MEASURES = {
    "rings": "30",
    "cogs": "11 13 15 17 20 23 26 30 34 40 46",
    "chainstay_mm": "432",
    "take_up.cage_mm": "92",
    "take_up.b_gap_mm": "6",
    "chain.box_links": "118",
    "chain.box_includes_joiner": "yes",
}
WEB = Path(lone_pike.__file__).parent / "web"


@pytest.fixture
def empty(tmp_path: Path) -> Database:
    return Database(tmp_path / "new.sqlite3")


def measured(database: Database) -> int:
    """A job on the check bike of the model, section 3, measured and chosen."""
    job_id = jobs.start_new(database, NOW, name=" Sandpiper ", complaint="slips")
    jobs.keep_measures(database, job_id, None, MEASURES, LengthUnit.MM, NOW)
    jobs.choose(database, job_id, job_there(database, job_id).revision_id, "112", NOW)
    return job_id


def test_from_bike_to_booking_and_back(empty: Database) -> None:
    """117 loose links, inner to inner; 112 with a locking link keep 111 of them: 6 are left (model, section 6)."""
    job_id = measured(empty)
    for stage in ("join", "book"):
        jobs.reach(empty, job_id, stage)
    job = job_there(empty, job_id)
    assert (job.document["name"], job.complaint, job.stage, job.chosen_links) == ("Sandpiper", "slips", "book", 112)
    bike_id = bookings.book(empty, job_id, job.revision_id, LATER, note="for Tern")
    assert [(row.links, row.joiner, row.note) for row in bookings_of(empty, bike_id)] == [
        (112, "locking_link", "for Tern")
    ]
    assert [(row.links, row.first_end, row.last_end) for row in pieces_in_bin(empty)] == [(6, "outer", "inner")]
    with pytest.raises(NotOpen):
        jobs.keep_measures(empty, job_id, None, {"chainstay_mm": "440"}, LengthUnit.MM, LATER)
    second = job_there(empty, jobs.start_on(empty, bike_id, LATER))
    assert (
        second.document["old_chain"] == {"links": 112, "was_right": True}
        and "box_links" not in second.document["chain"]
    )
    jobs.close(empty, second.id, LATER)
    bookings.undo_booking(empty, job_id, LATER)
    assert not bookings_of(empty, bike_id) and not pieces_in_bin(empty).rows
    assert job_there(empty, job_id).booked_at is None
    with pytest.raises(Conflict):
        bookings.undo_booking(empty, job_id, LATER)


def test_each_write_names_what_it_saw(empty: Database) -> None:
    job_id = measured(empty)
    seen = job_there(empty, job_id).revision_id
    jobs.keep_measures(empty, job_id, seen, {"chainstay_mm": "433"}, LengthUnit.MM, NOW)
    for stale in (
        lambda: jobs.choose(empty, job_id, seen, "114", NOW),
        lambda: jobs.undo(empty, job_id, seen, NOW),
        lambda: bookings.book(empty, job_id, seen, NOW),
    ):
        with pytest.raises(Stale) as asked:
            stale()
        assert "Chainstay 432 → 433 mm" in said(asked.value.message)
    jobs.keep_measures(empty, job_id, seen, {"take_up.cage_mm": "90"}, LengthUnit.MM, NOW)
    merged = job_there(empty, job_id)
    assert (merged.document["chainstay_mm"], merged.document["take_up"]["cage_mm"]) == (433, 90)
    jobs.undo(empty, job_id, merged.revision_id, NOW)
    assert job_there(empty, job_id).document["take_up"]["cage_mm"] == 92


def test_the_bin_lends_a_piece_to_one_job_and_a_slip_leaves_both_ends(empty: Database) -> None:
    piece = shelf.add_piece(empty, read_label("LP1*57*I*11*0*A-1"), PieceSource.SCAN, NOW)
    first, second = measured(empty), measured(empty)
    cutting.take_from_bin(empty, first, None, [piece], NOW)
    for refused in (
        lambda: cutting.take_from_bin(empty, second, None, [piece], NOW),
        lambda: shelf.take_out(empty, piece, NOW),
    ):
        with pytest.raises(PieceTaken):
            refused()
    cutting.cut_by_mistake(empty, first, None, "100", NOW)
    pieces = job_there(empty, first).document["chain"]["pieces"]
    assert [row["links"] for row in pieces] == [100, 17, 57]
    with pytest.raises(InvalidInput) as fault:
        cutting.cut_by_mistake(empty, first, None, "100", NOW)
    assert told(fault.value).startswith("rivet: “100” won’t do here: a rivet between two links")
    jobs.close(empty, first, NOW)
    cutting.take_from_bin(empty, second, None, [piece], NOW)


def test_a_refusal_says_why_and_changes_nothing(empty: Database) -> None:
    job_id = measured(empty)
    unmeasured = jobs.start_new(empty, NOW)
    bike_id = job_there(empty, job_id).bike_id
    seen = job_there(empty, unmeasured).revision_id
    refused: list[tuple[type[Refusal], str, object]] = [
        (NotThere, "no_such_job", lambda: jobs.close(empty, 99, NOW)),
        (NotThere, "no_such_bike", lambda: jobs.start_on(empty, 99, NOW)),
        (NotThere, "no_such_piece", lambda: shelf.take_out(empty, 99, NOW)),
        (Conflict, "bike_has_a_job", lambda: bikes.put_bike_away(empty, bike_id, NOW)),
        (Unfit, "not_measured_yet", lambda: bookings.book(empty, unmeasured, seen, NOW)),
    ]
    for kind, code, act in refused:
        with pytest.raises(kind) as why:
            act()
        assert why.value.message.code == code and said(why.value.message)
    with pytest.raises(InvalidInput):
        jobs.choose(empty, job_id, None, "7", NOW)
    assert job_there(empty, job_id).chosen_links == 112


def test_settings_are_merged_and_undone_by_what_was_seen(empty: Database) -> None:
    settings.settle(empty, None, {"unit": "in"}, NOW)
    settings.settle(empty, None, {"first": "pairs"}, NOW)
    assert (settings.shop_of(empty).unit, settings.shop_of(empty).first) == ("in", "pairs")
    with pytest.raises(Stale):
        settings.undo_settings(empty, 1, NOW)


def test_a_bike_is_put_away_and_comes_back_with_its_words(empty: Database) -> None:
    job_id = measured(empty)
    bike_id = job_there(empty, job_id).bike_id
    bikes.keep_words(empty, bike_id, NOW, owner_word=" the blue one ")
    jobs.close(empty, job_id, NOW)
    bikes.put_bike_away(empty, bike_id, NOW)
    row = bike_by_id(empty, bike_id)
    assert row and (row.owner_word, row.put_away_at) == ("the blue one", NOW)
    assert jobs.reopen(empty, job_id, NOW).id == job_id
    job = job_by_id(empty, job_id)
    assert job and job.closed_at is None and job.stage in STAGES
    row = bike_by_id(empty, bike_id)
    assert row and row.put_away_at is None, "a bike with a job in hand stands among the others"


def test_pages_write_nothing_by_themselves() -> None:
    """No transaction, no SQL and no sentence stands in a route: another face of the workshop has nothing to copy."""
    for path in (WEB / "routes").glob("*.py"):
        source = path.read_text()
        code = re.sub(r'""".*?"""', "", source, flags=re.S)
        assert "atomic(" not in code and "execute(" not in code, path.name
        sentences = [text for text in re.findall(r'"([^"]*)"', code) if re.search(r"[a-z] [a-z]+ [a-z]", text)]
        assert not sentences, (path.name, sentences)


def test_an_overlap_is_told_beside_faults_that_it_does_not_depend_on() -> None:
    """The upper pulley 22 mm from the axle lies on any cog; how many teeth the ring has is nothing to it."""
    arm = {"type": "arm", "cage_mm": 60, "pivot_mm": [10, -20]}
    bike = {"lone_pike": 1, "name": "Teal", "rings": [300], "cogs": [19], "chainstay_mm": 450, "take_up": arm}
    assert [fault.field for fault in answer_to(bike).faults] == ["rings.0", "take_up.pivot_mm"]
    assert [fault.field for fault in answer_to(bike | {"cogs": [900]}).faults] == ["rings.0", "cogs.0"]
