"""Booking: the fitted chain goes into the bike's history, the off-cuts into the bin; and taking a booking back."""

from lone_pike.core.bike.faults import NOTHING, Fault, InvalidInput
from lone_pike.core.messages import Message, links
from lone_pike.core.refusals import ChainShort, Conflict, Unfit
from lone_pike.formats.records.observed import Observed
from lone_pike.store.bookings import Fitting, Offcut, cancel_booking, write_booking
from lone_pike.store.database import Database
from lone_pike.store.jobs import JobRow
from lone_pike.workshop.answers import answer_in_shop, count_of, cuts_or_fault
from lone_pike.workshop.edits import check_seen, job_there, open_job
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
) -> int:
    """Books the fitted chain. Returns: the bike's id.

    Parameters: looked_at_links, the count under test where it is not the chosen one; pressure_after, what was put back
    into the shock, None where nothing is said. Raises: Stale, Unfit while the bike is not measured, ChainShort,
    InvalidInput where a pressure is missing; NotThere, NotOpen.
    """
    with database.atomic() as connection:
        job = open_job(database, job_id)
        check_seen(job, saw, "nothing_booked")
        fitting = _fitting(database, job, looked_at_links, note.strip()[:LONGEST_BOOKING_NOTE], pressure_after)
        write_booking(connection, job, fitting, now)
        return job.bike_id


def take_back(database: Database, job_id: int, now: str) -> None:
    """Undoes a job's booking and opens the job again. Raises: NotThere; Conflict where that can no longer be."""
    with database.atomic() as connection:
        if not cancel_booking(connection, job_there(database, job_id).id, now):
            raise Conflict("booking_stays")


def _fitting(
    database: Database, job: JobRow, looked_at_links: int | None, note: str, pressure_after: str | None
) -> Fitting:
    answer = answer_in_shop(job.document, shop_of(database)).answer
    if answer is None:
        raise Unfit("not_measured_yet")
    bike, count = answer.bike, count_of(job, answer, looked_at_links)
    cuts, _ = cuts_or_fault(bike, count)
    missing = sum(cut.missing_links for cut in cuts)
    if missing:
        raise ChainShort("box_is_short_now", missing=links(missing))
    offcuts = tuple(Offcut(cut.offcut_links, *cut.offcut_ends) for cut in cuts if cut.offcut_ends)
    message = _shock_message(job.observed, pressure_after)
    return Fitting(count, bike.joiner, bike.speeds, note, message, offcuts, max(len(cuts), 1))


def _shock_message(observed: Observed, pressure_after: str | None) -> Message | None:
    """The shock's pressures for the bike's history. Raises: InvalidInput where one was noted and none put back."""
    before = observed.pressure_before
    after = observed.pressure_after if pressure_after is None else pressure_after.strip()
    if not before:
        return None
    if not after:
        hint = Message("pressure_was", before=before)
        raise InvalidInput([Fault("observed.pressure_after", NOTHING, Message("a_pressure"), hint)])
    return Message("shock_note", before=before, after=after)
