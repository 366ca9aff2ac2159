"""Chains through the workshop alone: made by a booking, gauged and ridden, in turn, moved, ended, and each step undone;
whatever is done, every link is where it should be."""

from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from datetime import date
from pathlib import Path

import pytest

from lone_pike import say
from lone_pike.core.chain.moves import PieceSource
from lone_pike.core.messages import LengthUnit
from lone_pike.core.refusals import Conflict, Stale
from lone_pike.core.wear.life import Ending, Lube, distance_at
from lone_pike.core.wear.rides import Ride
from lone_pike.formats.typed.bin_form import read_label
from lone_pike.store.audit import audit
from lone_pike.store.bin import joiners_there, pieces_for
from lone_pike.store.bookings import bookings_of
from lone_pike.store.chains import ChainRow, chain_on, chains_due, chains_of, due_count
from lone_pike.store.database import Database
from lone_pike.workshop import bin as shelf
from lone_pike.workshop import bookings, chain_places, chain_use, cutting, jobs, receiving, settings
from lone_pike.workshop.chains import chain_there, undo
from lone_pike.workshop.due import due_now, jump_on, order_for
from lone_pike.workshop.edits import job_there
from lone_pike.workshop.settings import shop_of
from tests.workshop.test_whole_job import measured

MARCH, JUNE, JULY = (f"2026-0{month}-01T08:00:00+00:00" for month in (3, 6, 7))
MM = LengthUnit.MM


@pytest.fixture
def empty(tmp_path: Path) -> Iterator[Database]:
    """A new data file; whatever a test does, all chain is accounted for afterwards."""
    database = Database(tmp_path / "new.sqlite3")
    yield database
    found = audit(database)
    assert found.is_sound, found


def booked(database: Database, now: str = MARCH, *, bike_id: int | None = None, keeps_old: bool = False) -> ChainRow:
    """A chain booked on a bike, a new one where none is named."""
    job_id = measured(database) if bike_id is None else jobs.start_on(database, bike_id, now)
    jobs.keep_measures(database, job_id, None, {"chain.box_links": "126"}, MM, now)
    saw = job_there(database, job_id).revision_id
    bike = bookings.book(database, job_id, saw, now, keeps_old=keeps_old)
    found = chain_on(database.connection, bike)
    assert found
    return found


def caliper(worn: float, **more: str) -> dict[str, str]:
    return {"way": "caliper", "pitches": "10", "mm": f"{120 + 1.27 * worn:.3f}", "new_mm": "120", **more}


def test_a_booking_makes_a_chain_and_taking_it_back_leaves_none(empty: Database) -> None:
    settings.settle(empty, None, {"care": "strip_wax"}, MARCH)
    chain = booked(empty)
    life = chain.life
    assert (life.links, life.speeds, life.lube, life.fitted) == (112, 11, Lube.WAX, date(2026, 3, 1))
    assert life.name == "Sandpiper 1" and chain.bike_id
    before = audit(empty).sums
    old = booked(empty, JUNE, bike_id=chain.bike_id)
    assert old.life.name == "Sandpiper 2" and chain_there(empty, chain.id).life.ending is Ending.WORN
    job_id = bookings_of(empty, chain.bike_id)[0].job_id
    bookings.undo_booking(empty, job_id, JULY)
    again = chain_on(empty.connection, chain.bike_id)
    assert again and again.id == chain.id and again.life.ending is None and again.life.stays == life.stays
    assert [one.id for one in chains_of(empty.connection, chain.bike_id)] == [chain.id]
    assert audit(empty).sums == before, "the second box was brought, and is not here any more"


def test_a_chain_that_came_off_again_lies_in_the_bin_and_is_none(empty: Database) -> None:
    chain = booked(empty)
    job_id = bookings_of(empty, chain.bike_id or 0)[0].job_id
    bookings.take_chain_off(empty, job_id, JUNE)
    ended = chain_there(empty, chain.id)
    assert ended.life.ending is Ending.APART and [one.links for one in pieces_for(empty, 11)] == [111, 14]
    assert chain_on(empty.connection, chain.bike_id or 0) is None


def test_a_chain_taken_apart_and_used_again_does_not_come_back_with_an_undo(empty: Database) -> None:
    """Its piece is cut for the next booking; taking that back leaves the first chain taken apart."""
    first = booked(empty)
    bike_id = first.bike_id or 0
    job_id = bookings_of(empty, bike_id)[0].job_id
    bookings.take_chain_off(empty, job_id, JUNE)
    piece = next(one for one in pieces_for(empty, 11) if one.links == 111)
    cutting.take_from_bin(empty, job_id, job_there(empty, job_id).revision_id, [piece.id], JUNE)
    jobs.choose(empty, job_id, job_there(empty, job_id).revision_id, "110", JUNE)
    bookings.book(empty, job_id, job_there(empty, job_id).revision_id, JUNE)
    assert chain_on(empty.connection, bike_id)
    bookings.undo_booking(empty, job_id, JULY)
    assert chain_on(empty.connection, bike_id) is None
    assert chain_there(empty, first.id).life.ending is Ending.APART


def test_three_chains_in_turn_on_one_bike_count_their_own_days(empty: Database) -> None:
    """The second hangs from the day the third goes on; a ride counts for the chain that was on that day."""
    first = booked(empty)
    bike_id = first.bike_id or 0
    shelf.count_joiners(empty, "locking_link", 11, 2, MARCH)
    second = booked(empty, "2026-04-01T08:00:00+00:00", bike_id=bike_id, keeps_old=True)
    assert chain_there(empty, first.id).state == "hung" and joiners_there(empty.connection, "locking_link", 11) == 1
    chain_places.put_on(empty, first.id, bike_id, {"date": "2026-05-01"}, JUNE)
    assert chain_there(empty, second.id).state == "hung", "one chain a bike"
    assert joiners_there(empty.connection, "locking_link", 11) == 0, "a locking link holds once"
    rides = [Ride(date(2026, month, 10), 50.0 * month) for month in (3, 4, 5)]
    added = chain_use.add_rides(empty, second.id, rides, JUNE)
    assert (added.rides, added.outside) == (3, 0)
    first_km, second_km = (chain_there(empty, one.id).life.ridden for one in (first, second))
    assert [one.km for one in first_km] == [150, 250] and [one.km for one in second_km] == [200]
    twice = chain_use.add_rides(empty, first.id, rides, JUNE)
    assert (twice.rides, twice.there_already) == (0, 3)


def test_putting_a_chain_on_is_undone_with_the_one_that_came_off_for_it(empty: Database) -> None:
    first = booked(empty)
    bike_id = first.bike_id or 0
    second = booked(empty, JUNE, bike_id=bike_id, keeps_old=True)
    put = chain_places.put_on(empty, first.id, bike_id, {}, JULY)
    undo(empty, first.id, put.revision_id, JULY)
    assert [chain_there(empty, one.id).state for one in (first, second)] == ["hung", "on"]
    with pytest.raises(Stale):
        undo(empty, first.id, put.revision_id, JULY)


def test_rides_between_two_readings_of_the_odometer_are_part_of_what_it_grew(empty: Database) -> None:
    """1 000 km, a ride of 20, then 1 300 km: 300 in all since the first reading."""
    chain = booked(empty)
    chain_use.tell_distance(empty, chain.id, {"by": "odometer", "km": "1000", "date": "2026-03-10"}, JULY)
    chain_use.add_rides(empty, chain.id, [Ride(date(2026, 3, 20), 20.0)], JULY)
    read = chain_use.tell_distance(empty, chain.id, {"by": "odometer", "km": "1300", "date": "2026-04-01"}, JULY)
    assert distance_at(read.life, date(2026, 4, 1)).known_km == pytest.approx(300)


def test_undoing_a_booking_gives_the_chain_before_all_of_its_stays_back(empty: Database) -> None:
    first = booked(empty)
    bike_id = first.bike_id or 0
    chain_places.take_off(empty, first.id, {"date": "2026-04-01"}, JUNE)
    again = chain_places.put_on(empty, first.id, bike_id, {"date": "2026-05-01"}, JUNE)
    assert len(again.life.stays) == 2
    booked(empty, JUNE, bike_id=bike_id)
    bookings.undo_booking(empty, bookings_of(empty, bike_id)[0].job_id, JULY)
    assert chain_there(empty, first.id).life.stays == again.life.stays


def test_a_piece_that_was_cut_uncut_and_cut_elsewhere_adds_up(empty: Database) -> None:
    """The parts of a cut that was undone are nowhere; the audit does not count them."""
    piece = shelf.add_piece(empty, read_label("LP1*125*I*11*0*A-1"), PieceSource.SCAN, MARCH)
    job_id = measured(empty)
    jobs.keep_measures(empty, job_id, None, {"chain.box_links": ""}, MM, MARCH)
    cutting.take_from_bin(empty, job_id, None, [piece], MARCH)
    for links in (112, 110):
        saw = jobs.choose(empty, job_id, job_there(empty, job_id).revision_id, str(links), MARCH).revision_id
        bike_id = bookings.book(empty, job_id, saw, MARCH)
        assert [one.links for one in pieces_for(empty, 11)] == [125 - (links - 1)]
        bookings.undo_booking(empty, bookings_of(empty, bike_id)[0].job_id, MARCH)
    cuts = empty.connection.execute("SELECT count(*) FROM piece WHERE parent_id = ? AND place = 'nowhere'", (piece,))
    assert cuts.fetchone()[0] == 4 and audit(empty).is_sound


def test_an_undo_takes_back_all_of_an_event_or_says_which_chain_stands_in_its_way(empty: Database) -> None:
    """Found before: one word of the other chain changed in between, and undo left the bike bare and said nothing."""
    first = booked(empty)
    bike_id = first.bike_id or 0
    second = booked(empty, JUNE, bike_id=bike_id, keeps_old=True)
    put = chain_places.put_on(empty, first.id, bike_id, {}, JULY)
    named = chain_use.keep_words(empty, second.id, {"name": "Spare"}, MM, JULY)
    with pytest.raises(Conflict) as refused:
        undo(empty, first.id, put.revision_id, JULY)
    assert say(refused.value.message) == "Spare was changed since. Undo that first."
    assert chain_on(empty.connection, bike_id) == put, "nothing was undone in part"
    undo(empty, second.id, named.revision_id, JULY)
    undo(empty, second.id, chain_there(empty, second.id).revision_id, JULY)  # from the page of the other one
    on = chain_on(empty.connection, bike_id)
    assert on and on.id == second.id and chain_there(empty, first.id).state == "hung"
    kinds = empty.connection.execute("SELECT kind FROM chain_event WHERE undone_at IS NOT NULL ORDER BY id").fetchall()
    assert [row["kind"] for row in kinds] == ["put_on", "described"]


def test_a_chain_moves_to_another_bike_and_its_end_is_undone(empty: Database) -> None:
    chain = booked(empty)
    other = booked(empty)
    chain_places.take_off(empty, chain.id, {"date": "2026-05-01"}, JUNE)
    chain_places.put_on(empty, chain.id, other.bike_id or 0, {"date": "2026-05-02"}, JUNE)
    moved = chain_there(empty, chain.id)
    assert [stay.bike_id for stay in moved.life.stays] == [chain.bike_id, other.bike_id]
    assert chain_there(empty, other.id).state == "hung"
    gone = chain_places.end(empty, chain.id, {"ending": "broken"}, JUNE)
    assert gone.life.ended == date(2026, 6, 1) and gone.state == "ended"
    chain_places.put_on(empty, other.id, other.bike_id or 0, {}, JUNE)
    with pytest.raises(Conflict):
        undo(empty, chain.id, gone.revision_id, JULY)
    off = chain_places.take_off(empty, other.id, {}, JUNE)
    undo(empty, chain.id, gone.revision_id, JULY)
    assert chain_there(empty, chain.id).bike_id == other.bike_id
    apart = chain_places.end(empty, other.id, {"ending": "apart"}, JULY)
    piece = next(one for one in pieces_for(empty, 11) if one.links == 111)
    shelf.take_out(empty, piece.id, JULY)
    with pytest.raises(Conflict):
        undo(empty, other.id, apart.revision_id, JULY)
    assert off.state == "hung" and chain_there(empty, other.id).state == "ended"


def test_what_is_gauged_at_a_job_stays_with_the_chain_however_the_job_ends(empty: Database) -> None:
    chain = booked(empty)
    bike_id = chain.bike_id or 0
    for now in (JUNE, JULY):
        job_id = jobs.start_on(empty, bike_id, now)
        receiving.gauge(empty, job_id, caliper(0.3), MM, now)
        jobs.close(empty, job_id, now)
        jobs.reopen(empty, job_id, now)
        jobs.close(empty, job_id, now)
    assert [one.date.month for one in chain_there(empty, chain.id).life.gauged] == [6, 7], "once a job, whole jobs only"
    new = booked(empty, JULY, bike_id=bike_id)
    assert not new.life.gauged and len(chain_there(empty, chain.id).life.gauged) == 2


def test_a_reading_that_is_sent_twice_stands_once_and_what_is_stale_is_told(empty: Database) -> None:
    chain = booked(empty)
    saw = chain.revision_id
    told = caliper(0.4, km="900", date="2026-05-20")
    first = chain_use.gauge(empty, chain.id, told, MM, saw, JUNE)
    second = chain_use.gauge(empty, chain.id, told, MM, saw, JUNE)
    assert first.revision_id == second.revision_id and len(second.life.gauged) == 1
    assert distance_at(second.life, date(2026, 5, 20)).km == 900
    another = chain_use.gauge(empty, chain.id, caliper(0.45, date="2026-05-20"), MM, first.revision_id, JUNE)
    assert len(another.life.gauged) == 2, "another place along the chain"
    with pytest.raises(Stale):
        chain_use.let_reading_go(empty, chain.id, 0, first.revision_id, JUNE)
    assert len(chain_use.let_reading_go(empty, chain.id, 0, another.revision_id, JUNE).life.gauged) == 1
    undo(empty, chain.id, chain_there(empty, chain.id).revision_id, JULY)
    assert len(chain_there(empty, chain.id).life.gauged) == 2


def test_two_presses_in_the_same_moment_add_one_reading(empty: Database) -> None:
    chain = booked(empty)
    with ThreadPoolExecutor(4) as hands:
        sent = [
            hands.submit(chain_use.gauge, empty, chain.id, caliper(0.4), MM, chain.revision_id, JUNE) for _ in range(4)
        ]
        assert len({one.result().revision_id for one in sent}) == 1
    assert len(chain_there(empty, chain.id).life.gauged) == 1


def test_what_is_due_is_sorted_counted_and_ordered_and_follows_the_shops_limit(empty: Database) -> None:
    worn, new = booked(empty), booked(empty)
    chain_use.gauge(empty, worn.id, caliper(0.62, km="2500", date="2026-06-01"), MM, None, JUNE)
    assert due_count(empty, "2026-06-01").due == 1
    rows = chains_due(empty, "2026-06-01", "2026-07-31", 1, 20).rows
    assert [row.id for row in rows] == [worn.id]
    order = order_for(empty, due_now(empty, date(2026, 6, 1)))
    assert [one.links for one in order.chains] == [(112,)] and order.joiners[0].kind == "locking_link"
    cogs = (11, 13, 15, 17, 20)
    jump = jump_on(empty.connection, worn.bike_id or 0, cogs, shop_of(empty))
    assert jump and jump.cogs == (11, 13, 15) and not jump.is_likely
    assert jump_on(empty.connection, new.bike_id or 0, cogs, shop_of(empty)) is None
    settings.settle(empty, None, {"wear_school": "whole"}, JUNE)
    assert due_count(empty, "2026-06-01").due == 0, "1 % for all: days are worked out anew"
    assert jump_on(empty.connection, worn.bike_id or 0, cogs, shop_of(empty)) is None


def test_a_chain_that_nobody_booked_is_taken_in_from_its_bike(empty: Database) -> None:
    chain = booked(empty)
    bike_id = chain.bike_id or 0
    with pytest.raises(Conflict):
        chain_places.find_on_bike(empty, bike_id, {"links": "112", "speeds": "11"}, JUNE)
    chain_places.end(empty, chain.id, {"ending": "worn"}, JUNE)
    found = chain_places.find_on_bike(empty, bike_id, {"links": "112", "speeds": "11", "date": "2026-06-01"}, JUNE)
    row = chain_there(empty, found)
    assert row.bike_id == bike_id and not row.life.from_new and row.life.name == "Sandpiper 2"
    assert audit(empty).sums[0].on_bikes == 111
