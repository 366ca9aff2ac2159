"""The ledger of chain: every link that came in is somewhere, whatever jobs, bookings and slips do with it."""

from collections.abc import Iterator
from dataclasses import replace

import pytest

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.chain.moves import PieceSource
from lone_pike.core.messages import LengthUnit, Message
from lone_pike.core.refusals import ChainShort, CodeTwice, Conflict, NotThere, PieceTaken
from lone_pike.formats.records.chain_rows import bin_ids_in, piece_row, rows_in, with_pieces
from lone_pike.formats.typed.bin_form import read_label
from lone_pike.store.audit import audit
from lone_pike.store.bin import joiners_there, piece_by_id, pieces_for, pieces_in_bin
from lone_pike.store.bookings import bookings_of, newest_bookings
from lone_pike.store.database import Database
from lone_pike.store.jobs import JobRow, job_by_id, revise_job
from lone_pike.workshop import bikes, bin, bookings, cutting, jobs
from tests.bikes import told

NOW = "2026-05-01T08:00:00+00:00"
LOOP_OF_PIECES = 112
"""What the pieces 57 and 61 make with two quick links, when 8 links are cut off: 53 + 57 + 2."""


@pytest.fixture(autouse=True)
def adds_up(database: Database) -> Iterator[None]:
    """Whatever a test does, all chain is accounted for afterwards."""
    yield
    found = audit(database)
    assert found.is_sound, found


def piece_of(database: Database, code: str) -> int:
    row = database.connection.execute("SELECT id FROM piece WHERE code = ?", (code,)).fetchone()
    return int(row["id"])


def add(database: Database, links: int, code: str, first: str = "I", speeds: int = 9) -> int:
    return bin.add_piece(database, read_label(f"LP1*{links}*{first}*{speeds}*0*{code}"), PieceSource.SCAN, NOW)


def job_of(database: Database, job_id: int) -> JobRow:
    job = job_by_id(database, job_id)
    assert job
    return job


def reserve(database: Database, job_id: int, *pieces: int) -> JobRow:
    return cutting.take_from_bin(database, job_id, job_of(database, job_id).revision_id, pieces, NOW)


def type_in(database: Database, job_id: int, **fields: str) -> JobRow:
    form = {name.replace("__", "."): text for name, text in fields.items()}
    return jobs.keep_measures(database, job_id, job_of(database, job_id).revision_id, form, LengthUnit.MM, NOW)


def held_by(database: Database, piece_id: int) -> int | None:
    piece = piece_by_id(database, piece_id)
    assert piece
    return piece.job_id


def in_bin(database: Database, speeds: int = 9) -> list[int]:
    return sorted(row.links for row in pieces_for(database, speeds))


def job_without_box(database: Database, pieces: tuple[int, ...], links: int = LOOP_OF_PIECES) -> int:
    """A job for nine cogs on a new bike, with these pieces at hand, its count chosen."""
    job_id = jobs.start_new(database, NOW, name="Knot")
    fields = {"rings": "32", "cogs": "11-32", "chainstay_mm": "440", "take_up__cage_mm": "90", "chain__speeds": "9"}
    type_in(database, job_id, **fields, chain__joiner="quick_link")
    type_in(database, job_id, cogs="11-13-15-18-21-24-28-30-32")
    reserve(database, job_id, *pieces)
    jobs.choose(database, job_id, job_of(database, job_id).revision_id, str(links), NOW)
    return job_id


def book(database: Database, job_id: int) -> int:
    return bookings.book(database, job_id, job_of(database, job_id).revision_id, NOW)


def two_pieces(database: Database) -> tuple[int, int]:
    return add(database, 57, "A"), add(database, 61, "B")


def test_a_piece_is_one_jobs_until_it_lets_go(database: Database) -> None:
    piece = piece_of(database, "CUT-0021")
    reserve(database, 4, piece)
    assert held_by(database, piece) == 4
    assert piece not in [row.id for row in pieces_for(database, 11)]
    with pytest.raises(PieceTaken):
        reserve(database, 6, piece)
    assert not rows_in(job_of(database, 6).document), "the refused edit left nothing"
    with pytest.raises(PieceTaken):
        bin.take_out(database, piece, NOW)
    jobs.undo(database, 4, job_of(database, 4).revision_id, NOW)
    assert held_by(database, piece) is None
    reserve(database, 6, piece)
    assert held_by(database, piece) == 6


def test_a_piece_named_twice_counts_once_and_has_the_links_that_it_has(database: Database) -> None:
    piece = add(database, 57, "A")
    job_id = job_without_box(database, (piece, piece))
    reserve(database, job_id, piece)
    typed = type_in(database, job_id, chain__pieces=f"57 inner bin {piece}; 99 outer bin {piece}; 40 inner")
    assert rows_in(typed.document) == [piece_row(57, "inner", 0.0, piece), {"links": 40, "first_end": "inner"}]


def test_a_booked_bike_takes_its_chain_along_and_the_next_job_begins_without_it(database: Database) -> None:
    before = in_bin(database)
    pieces = two_pieces(database)
    job_id = job_without_box(database, pieces)
    bike_id = book(database, job_id)
    assert in_bin(database) == sorted([*before, 8]), "57 and 61 make 112 with two links, and leave 8"
    again, copy = jobs.start_on(database, bike_id, NOW), jobs.start_on_copy(database, bike_id, NOW)
    for other in (again, copy):
        assert not rows_in(job_of(database, other).document)
        type_in(database, other, chainstay_mm="441")
    file = bikes.bike_there(database, bike_id).document
    assert not bin_ids_in(file) and "box_links" not in file["chain"]


def test_what_a_plan_did_not_use_goes_back_into_the_bin(database: Database) -> None:
    before = in_bin(database)
    job_id = job_without_box(database, (*two_pieces(database), add(database, 90, "C")))
    book(database, job_id)
    assert sum(in_bin(database)) == sum(before) + 57 + 61 + 90 - (LOOP_OF_PIECES - 2)


def test_chain_from_outside_comes_in_by_a_move_and_its_rest_goes_into_the_bin(database: Database) -> None:
    before = in_bin(database)
    job_id = job_without_box(database, (add(database, 57, "A"),))
    type_in(database, job_id, chain__pieces=f"57 inner bin {piece_of(database, 'A')}; 61 inner; 33 outer")
    book(database, job_id)
    assert sum(in_bin(database)) == sum(before) + 57 + 61 + 33 - (LOOP_OF_PIECES - 2)


def test_a_loop_that_is_short_is_not_booked(database: Database) -> None:
    job_id = job_without_box(database, (add(database, 57, "A"),))
    with pytest.raises(ChainShort):
        book(database, job_id)


def test_a_slip_is_a_cut_for_good(database: Database) -> None:
    """180 links cut at 40 are 40 and 140, whether the step is undone, the job closed, or booked."""
    before = in_bin(database)
    piece = add(database, 180, "A")
    job_id = job_without_box(database, (piece,))
    slipped = cutting.cut_by_mistake(database, job_id, job_of(database, job_id).revision_id, "40", NOW)
    assert [row["links"] for row in rows_in(slipped.document) if isinstance(row, dict)] == [40, 140]
    jobs.undo(database, job_id, slipped.revision_id, NOW)
    undone = job_of(database, job_id)
    assert undone.chosen_links is None, "the cut is passed over, and the step before it undone: the chosen count"
    assert [row["links"] for row in rows_in(undone.document) if isinstance(row, dict)] == [40, 140]
    jobs.close(database, job_id, NOW)
    assert in_bin(database) == sorted([*before, 40, 140])
    jobs.reopen(database, job_id, NOW)
    jobs.choose(database, job_id, job_of(database, job_id).revision_id, str(LOOP_OF_PIECES), NOW)
    book(database, job_id)
    assert in_bin(database) == sorted([*before, 40, 140 - 111])


def test_undo_and_reopening_pass_over_a_piece_that_another_job_has(database: Database) -> None:
    first, second = two_pieces(database)
    job_id = job_without_box(database, (first,))
    type_in(database, job_id, chain__pieces="", chainstay_mm="442")
    other = job_without_box(database, (first,))
    jobs.undo(database, job_id, job_of(database, job_id).revision_id, NOW)
    undone = job_of(database, job_id)
    assert (undone.document["chainstay_mm"], rows_in(undone.document)) == (440, [])
    assert undone.message.code == "without_pieces"
    reserve(database, job_id, second)
    jobs.close(database, job_id, NOW)
    reserve(database, other, second)
    assert not rows_in(jobs.reopen(database, job_id, NOW).document)
    assert sorted(bin_ids_in(job_of(database, other).document)) == sorted([first, second])


def test_a_booking_by_mistake_is_undone_to_the_last_link_and_joiner(database: Database) -> None:
    pieces = two_pieces(database)
    job_id = job_without_box(database, (*pieces, add(database, 90, "C")))
    bin.count_joiners(database, "quick_link", 9, 5, NOW)
    before = pieces_in_bin(database), joiners_there(database.connection, "quick_link", 9), job_of(database, job_id)
    bike_id = book(database, job_id)
    bikes.put_bike_away(database, bike_id, NOW)
    bookings.undo_booking(database, job_id, NOW)
    assert not bikes.bike_there(database, bike_id).put_away_at
    after = pieces_in_bin(database), joiners_there(database.connection, "quick_link", 9), job_of(database, job_id)
    assert (after[0], after[1], after[2].document) == (before[0], before[1], before[2].document)
    with pytest.raises(Conflict):
        bookings.undo_booking(database, job_id, NOW)
    book(database, job_id)


def test_a_chain_whose_offcut_was_used_can_only_come_off(database: Database) -> None:
    before = in_bin(database)
    job_id = job_without_box(database, two_pieces(database))
    bike_id = book(database, job_id)
    offcut = next(row for row in pieces_for(database, 9) if row.links == 8 and row.origin == "Knot")
    reserve(database, 6, offcut.id)
    assert not bookings.can_be_undone(database, bookings_of(database, bike_id)[0])
    with pytest.raises(Conflict):
        bookings.undo_booking(database, job_id, NOW)
    bookings.take_chain_off(database, job_id, NOW)
    assert in_bin(database) == sorted([*before, 53, 57]), "opened at both joiners; the off-cut stays where it is"
    assert {row.first_end for row in pieces_for(database, 9) if row.origin == "Knot 1"} == {"inner"}
    assert not rows_in(job_of(database, job_id).document)
    assert bookings_of(database, bike_id)[0].came_off_at == NOW and not newest_bookings(database, [bike_id])


def test_the_next_chain_throws_the_old_one_away_and_an_undo_puts_it_on_again(database: Database) -> None:
    bike_id = book(database, job_without_box(database, two_pieces(database)))
    job_id = jobs.start_on(database, bike_id, NOW)
    book(database, job_id)
    assert audit(database).sums[-1].adds_up
    bookings.undo_booking(database, job_id, NOW)
    on_bike = "SELECT sum(links) FROM piece WHERE bike_id = ?"
    assert database.connection.execute(on_bike, (bike_id,)).fetchone()[0] == LOOP_OF_PIECES - 2


def test_after_a_chain_came_off_the_one_before_it_is_not_on_the_bike(database: Database) -> None:
    bike_id = book(database, first := job_without_box(database, two_pieces(database)))
    second = jobs.start_on(database, bike_id, NOW)
    book(database, second)
    bookings.take_chain_off(database, second, NOW)
    jobs.close(database, second, NOW)
    with pytest.raises(Conflict):
        bookings.undo_booking(database, first, NOW)
    assert not newest_bookings(database, [bike_id])


def test_a_row_that_cannot_be_read_stays_when_a_piece_is_taken(database: Database) -> None:
    type_in(database, 4, chain__pieces="about forty")
    assert rows_in(reserve(database, 4, piece_of(database, "CUT-0021")).document)[0] == "about forty"


def test_an_undo_to_a_step_of_before_names_each_piece_once(database: Database) -> None:
    """An earlier version kept a piece that was named twice, and one that the bin never had."""
    piece = add(database, 57, "A")
    job_id = job_without_box(database, (piece,))
    job, row = job_of(database, job_id), piece_row(57, "inner", 0.0, piece)
    old = with_pieces(job.document, [row, row, piece_row(21, "inner", 0.0, 999_999)])
    with database.atomic() as connection:
        revise_job(connection, job, replace(job.state, document=old), Message("started"), NOW)
    type_in(database, job_id, chainstay_mm="444")
    jobs.undo(database, job_id, job_of(database, job_id).revision_id, NOW)
    undone = job_of(database, job_id).document
    assert (undone["chainstay_mm"], rows_in(undone)) == (440, [row])


def test_an_old_page_never_takes_a_piece_that_its_job_has_lost(database: Database) -> None:
    piece = add(database, 57, "A")
    job_id = job_without_box(database, (piece,))
    stale = job_of(database, job_id).revision_id
    type_in(database, job_id, chain__pieces="")
    reserve(database, 6, piece)
    jobs.keep_measures(database, job_id, stale, {"chainstay_mm": "444"}, LengthUnit.MM, NOW)
    assert held_by(database, piece) == 6 and job_of(database, job_id).document["chainstay_mm"] == 444
    with pytest.raises(PieceTaken):
        cutting.cut_by_mistake(database, job_id, stale, "20", NOW)


def test_joiners_never_fall_below_nothing_and_a_label_is_laid_in_once(database: Database) -> None:
    with pytest.raises(InvalidInput) as few:
        bin.count_joiners(database, "clip_link", 1, -5, NOW)
    assert told(few.value) == "joiners: “-5” won’t do here: no more out than the 4 that are there."
    with pytest.raises(CodeTwice):
        add(database, 57, "CUT-0057")
    first = piece_of(database, "CUT-0057")
    bin.take_out(database, first, NOW)
    second = add(database, 57, "CUT-0057")
    bin.put_back(database, first, NOW)
    bin.put_back(database, first, NOW)
    assert piece_of(database, "CUT-0057") == second, "the first comes back without the code, which is another's by now"


def test_only_what_was_taken_by_hand_is_put_back(database: Database) -> None:
    first, _ = two_pieces(database)
    book(database, job_without_box(database, (first, piece_of(database, "B"))))
    with pytest.raises(NotThere):
        bin.put_back(database, first, NOW)
