"""Booking: the fitted chain goes into the bike's history, the off-cuts into the bin; and taking a booking back."""

import sqlite3
from dataclasses import replace

from lone_pike.core.bike.faults import NOTHING, Fault, InvalidInput
from lone_pike.core.chain.plan import short_message
from lone_pike.core.count.answer import Answer
from lone_pike.core.messages import Message, Term, links
from lone_pike.core.refusals import ChainShort, Conflict, Unfit
from lone_pike.formats.records.chain_rows import without_chain_at_hand
from lone_pike.formats.records.observed import Observed
from lone_pike.store.bikes import bike_document, put_away, write_bike
from lone_pike.store.bin import joiners_there, move_joiners
from lone_pike.store.bookings import (
    BookingRow,
    CancelWay,
    Fitting,
    add_booking,
    cancel_booking,
    document_before,
    newest_bookings,
    return_joiners,
)
from lone_pike.store.database import Database
from lone_pike.store.jobs import JobRow, open_job_of, revise_job
from lone_pike.store.ledger import Owner, is_chain_elsewhere
from lone_pike.workshop.answers import answer_in_shop, count_of, cuts_or_fault
from lone_pike.workshop.chain_places import (
    begin_at_booking,
    replace_at_booking,
    take_apart_at_booking,
    undo_at_booking,
)
from lone_pike.workshop.edits import check_seen, job_there, open_job
from lone_pike.workshop.fitting import ChainToFit, fit_loop, take_apart
from lone_pike.workshop.proving import proof_messages
from lone_pike.workshop.settings import shop_of

LONGEST_BOOKING_NOTE = 500


def book(
    database: Database,
    job_id: int,
    saw: int | None,
    now: str,
    *,
    looked_at_links: int | None = None,
    note: str = "",
    pressure_after: str | None = None,
    keeps_old: bool = False,
) -> int:
    """Books the fitted chain. Returns: the bike's id.

    Parameters: looked_at_links, the count under test where it is not the chosen one; pressure_after, the pressure put
    back into the shock, None if none was entered; keeps_old, whether the chain that comes off is hung up to be used
    again.
    Raises: Stale, Unfit while the bike is not measured, ChainShort, InvalidInput where a pressure is missing; NotThere,
    NotOpen.
    """
    with database.atomic():
        job = open_job(database, job_id)
        check_seen(job, saw, "nothing_booked")
        loop, answer = _loop(database, job, looked_at_links)
        shock = _shock_message(job.observed, pressure_after)
        causes = tuple(Term("cause", one) for one in job.observed.causes)
        found = [Message("causes_found", causes=causes)] if causes else []
        findings = (*found, *([shock] if shock else []), *proof_messages(job, answer, loop.links))
        message = Message("booked_with", told=findings)
        joiners = max(len(loop.cuts), 1)
        fitting = Fitting(
            *(loop.links, loop.bike.joiner, loop.bike.speeds),
            *(note.strip()[:LONGEST_BOOKING_NOTE], message, joiners),
        )
        write_booking(database, job, loop, fitting, now, keeps_old=keeps_old)
        return job.bike_id


def write_booking(
    database: Database, job: JobRow, loop: ChainToFit, fitting: Fitting, now: str, *, keeps_old: bool = False
) -> None:
    """Writes everything that belongs to a booking: its row, the bike with its new chain, the moves of the pieces, the
    joiners used, and the lives of the old and the new chain."""
    connection, shop = database.connection, shop_of(database)
    before = bike_document(connection, job.bike_id)
    booking_id = add_booking(connection, job, fitting, before, now)
    write_bike(connection, job.bike_id, without_chain_at_hand(job.document))
    old = replace_at_booking(connection, job, booking_id, now, keeps_old=keeps_old)
    fit_loop(connection, loop, Owner(job.id, job.bike_id, booking_id), now)
    begin_at_booking(connection, job, fitting, booking_id, old, shop, now)
    used = min(joiners_there(connection, fitting.joiner, fitting.speeds), fitting.joiners)
    move_joiners(connection, fitting.joiner, fitting.speeds, -used, now, booking_id)


def can_be_undone(database: Database, booking: BookingRow) -> bool:
    """Whether a booking can still be taken back as a mistake: its chain is where the booking left it."""
    return not is_chain_elsewhere(database.connection, booking.id)


def undo_booking(database: Database, job_id: int, now: str) -> None:
    """Takes back a booking made by mistake: bike, bin and job are as they were before it.

    Raises: NotThere; Conflict where a later job or booking stands in the way, or its chain is elsewhere by now.
    """
    with database.atomic() as connection:
        booking = _newest_booking(database, job_there(database, job_id))
        if is_chain_elsewhere(connection, booking.id):
            raise Conflict("booking_moved")
        _cancel(connection, booking, "by_mistake", now)
        take_apart(connection, Owner(job_id, booking.bike_id, booking.id), now)
        undo_at_booking(connection, booking.id, now)
        return_joiners(connection, booking.id, now)


def take_chain_off(database: Database, job_id: int, now: str) -> None:
    """Takes a booked chain off its bike again: it goes into the bin, the off-cuts stay where they are, and the job is
    reopened.

    Raises: NotThere; Conflict where a later job or booking stands in the way.
    """
    with database.atomic() as connection:
        job = job_there(database, job_id)
        booking = _newest_booking(database, job)
        _cancel(connection, booking, "came_off", now)
        pieces = take_apart_at_booking(connection, booking, now)
        message = Message("chain_came_off", pieces=tuple(links(count) for count in pieces))
        state = replace(job.state, document=without_chain_at_hand(job.document))
        revise_job(connection, job, state, message, now)


def _cancel(connection: sqlite3.Connection, booking: BookingRow, way: CancelWay, now: str) -> None:
    """Takes a booking back: restores the bike's document, and lists the bike again if it was put away."""
    write_bike(connection, booking.bike_id, document_before(connection, booking.id))
    cancel_booking(connection, booking, way, now)
    put_away(connection, booking.bike_id, None)


def _newest_booking(database: Database, job: JobRow) -> BookingRow:
    """The booking of a job. Raises: Conflict where it has none, where its bike was booked again, or has an open job."""
    newest = newest_bookings(database, [job.bike_id]).get(job.bike_id)
    if not job.booked_at or newest is None or newest.job_id != job.id:
        raise Conflict("booking_stays")
    if open_job_of(database.connection, job.bike_id) is not None:
        raise Conflict("booking_stays")
    return newest


def _loop(database: Database, job: JobRow, looked_at_links: int | None) -> tuple[ChainToFit, Answer]:
    """The chain that is booked, and the answer to its bike. Raises: Unfit while it is not measured, ChainShort."""
    answer = answer_in_shop(job.document, shop_of(database)).answer
    if answer is None:
        raise Unfit("not_measured_yet")
    count = count_of(job, answer, looked_at_links)
    cuts, _ = cuts_or_fault(answer.bike, count)
    missing = sum(cut.missing_links for cut in cuts)
    if missing:
        raise ChainShort("is_short_now", short=short_message(answer.bike, missing))
    return ChainToFit(answer.bike, count, cuts), answer


def _shock_message(observed: Observed, pressure_after: str | None) -> Message | None:
    """The shock's pressures for the bike's history. Raises: InvalidInput if a pressure was noted before the work and
    none entered after it."""
    before = observed.pressure_before
    after = observed.pressure_after if pressure_after is None else pressure_after.strip()
    if not before:
        return None
    if not after:
        hint = Message("pressure_was", before=before)
        raise InvalidInput([Fault("observed.pressure_after", NOTHING, Message("a_pressure"), hint)])
    return Message("shock_note", before=before, after=after)
