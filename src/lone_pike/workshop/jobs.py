"""Operations on jobs: start, measure, choose a count, go from stage to stage, undo, close and reopen."""

import sqlite3
from collections.abc import Mapping
from dataclasses import replace

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import Fault, InvalidInput, invalid
from lone_pike.core.bike.fields import fields_of
from lone_pike.core.bike.limits import LEAST_LINKS, MOST_LINKS
from lone_pike.core.messages import LengthUnit, Message, Quantity, Raw, Unit, links
from lone_pike.core.refusals import Conflict
from lone_pike.core.stages import FIRST_STAGE, stage_after
from lone_pike.core.take_up.kinds import KINDS
from lone_pike.formats.files.bike_file import document_of, read_bike
from lone_pike.formats.records.chain_rows import without_bin_numbers
from lone_pike.formats.records.observed import LONGEST_NOTE, Observed
from lone_pike.formats.typed.parsing import whole_number
from lone_pike.store.bikes import Document, add_bike, put_away
from lone_pike.store.chains import chain_on
from lone_pike.store.database import Database
from lone_pike.store.history import revise_in_place_of, revision_by_id, stand_at
from lone_pike.store.jobs import (
    JobRow,
    JobState,
    add_job,
    close_job,
    note_complaint,
    open_job_of,
    reach_stage,
    reopen_job,
    revise_job,
    state_of,
)
from lone_pike.workshop.at_hand import at_hand, reserve
from lone_pike.workshop.bikes import bike_there
from lone_pike.workshop.chain_places import hand_readings_over
from lone_pike.workshop.edits import check_seen, edit_job, form_edit, job_there, open_job

NEW_BIKE: Document = {"lone_pike": 1, "name": "New bike", "take_up": {"type": "derailleur"}}
LONGEST_NAME = fields_of(Bike)["name"].most or 0


def start_new(database: Database, now: str, *, name: str = "", complaint: str = "", kind: str = "") -> int:
    """Starts a job on a new bike; of the usual kind if none is named. Returns: the job's id."""
    named = {"name": name.strip()[:LONGEST_NAME]} if name.strip() else {}
    of_kind = {"take_up": {"type": kind}} if kind in KINDS else {}
    return _start(database, NEW_BIKE | named | of_kind, now, Observed(complaint=complaint.strip()[:LONGEST_NOTE]))


def start_from_file(database: Database, file: bytes, now: str) -> int:
    """Starts a job on the bike of a file. Raises: InvalidInput with every fault."""
    return _start(database, without_bin_numbers(document_of(read_bike(file))), now)


def start_on(database: Database, bike_id: int, now: str, observed: Observed | None = None) -> int:
    """Starts a job on a bike of the workshop, at Receive; if it has an open job, gives that one.

    Parameters: observed, what is known already. Raises: NotThere.

    The chain on the bike becomes the old chain of the new job; what the document already says about that chain stays.
    """
    document, fitted = bike_there(database, bike_id).document, chain_on(database.connection, bike_id)
    if fitted and document.get("old_chain", {}).get("links") != fitted.life.links:
        document = document | {"old_chain": {"links": fitted.life.links, "was_right": True}}
    job_id = _start(database, document, now, observed, bike_id=bike_id, stage=FIRST_STAGE)
    return add_complaint(database, job_id, observed.complaint, now).id if observed and observed.complaint else job_id


def add_complaint(database: Database, job_id: int, complaint: str, now: str) -> JobRow:
    """Adds a complaint to the one that is there, unless it says the same.

    Returns: the job after that.
    Raises: InvalidInput if there is no room for it; NotThere, NotOpen.
    """

    def with_complaint(base: JobState) -> JobState:
        both = "; ".join(dict.fromkeys(filter(None, f"{base.observed.complaint}; {complaint}".split("; "))))
        if len(both) > LONGEST_NOTE:
            most = Quantity(LONGEST_NOTE, Unit.LETTERS)
            raise invalid("observed.complaint", Quantity(len(both), Unit.LETTERS), Message("up_to", most=most))
        return replace(base, observed=replace(base.observed, complaint=both))

    return edit_job(database, job_id, None, with_complaint, now)


def start_on_copy(database: Database, bike_id: int, now: str) -> int:
    """Starts a job on a copy of a bike of the workshop. Raises: NotThere."""
    like_it = bike_there(database, bike_id)
    document = without_bin_numbers(like_it.document) | {"name": f"{like_it.name} copy"[:LONGEST_NAME]}
    return _start(database, document, now)


def _start(
    database: Database,
    document: Document,
    now: str,
    observed: Observed | None = None,
    *,
    bike_id: int | None = None,
    stage: str = "",
) -> int:
    """Starts a job, unless the bike has one in hand; on a new bike it begins at Measure. Returns: the job's id."""
    with database.atomic() as connection:
        if bike_id is None:
            bike_id = add_bike(connection, document)
        put_away(connection, bike_id, None)
        in_hand = open_job_of(connection, bike_id)
        if in_hand:
            return in_hand
        job_id = add_job(connection, bike_id, document, now, observed or Observed())
        if stage:
            reach_stage(connection, job_id, stage)
        return job_id


def keep_measures(
    database: Database, job_id: int, saw: int | None, form: Mapping[str, str], unit: LengthUnit, now: str
) -> JobRow:
    """Stores the fields that a form changed; lengths without a unit are in the given one. Returns: the job after that.

    Raises: NotThere, NotOpen, PieceTaken.
    """
    messages: list[Message] = []

    def typed(base: JobState) -> JobState:
        edit = form_edit(base, form, unit)
        messages.extend(edit.messages)
        return edit.state

    def as_read(changes: Message) -> Message:
        return Message("changes_as_read", changes=changes, read=tuple(messages)) if messages else changes

    return edit_job(database, job_id, saw, typed, now, as_read)


def choose(database: Database, job_id: int, saw: int | None, text: str, now: str) -> JobRow:
    """Stores the chosen count and moves the job to Cut; the same form sent twice changes nothing the second time.

    Raises: InvalidInput if no chain can have that count; Stale if the bike has changed since; NotThere, NotOpen.
    """
    count = whole_number(text, 3) or 0
    if not LEAST_LINKS <= count <= MOST_LINKS:
        read = links(count) if count else Raw(text[:20] or None)
        allowed = Message("between", low=links(LEAST_LINKS), high=links(MOST_LINKS))
        raise InvalidInput([Fault("links", read, allowed, Message("choose_on_the_rail"))])
    with database.atomic() as connection:
        job = open_job(database, job_id)
        pressed_twice = count == job.chosen_links and saw == job.parent_id
        if not pressed_twice:
            check_seen(job, saw, "nothing_chosen")
        _keep_count(connection, job, count, now)
        reach_stage(connection, job.id, stage_after("size"))
        return job_there(database, job_id)


def it_is_cut(database: Database, job_id: int, looked_at_links: int | None, now: str) -> None:
    """Records that the chain is cut, and moves the job to Join.

    If another count than the chosen one was under test, it becomes the chosen one, as a step that can be undone by
    itself.

    Raises: NotThere, NotOpen.
    """
    with database.atomic() as connection:
        job = open_job(database, job_id)
        if looked_at_links and LEAST_LINKS <= looked_at_links <= MOST_LINKS:
            _keep_count(connection, job, looked_at_links, now)
        reach_stage(connection, job.id, stage_after("cut"))


def _keep_count(connection: sqlite3.Connection, job: JobRow, count: int, now: str) -> None:
    """Stores the chosen count as a revision, unless it is chosen already."""
    if count != job.chosen_links:
        revise_job(connection, job, replace(job.state, chosen_links=count), _chosen_message(job, count), now)


def _chosen_message(job: JobRow, count: int) -> Message:
    if job.chosen_links:
        return Message("count_chosen_before", count=links(count), before=links(job.chosen_links))
    return Message("count_chosen", count=links(count))


def undo(database: Database, job_id: int, saw: int | None, now: str) -> None:
    """Undoes the edit that the page showed.

    Pieces of chain that the earlier revision names, but that have been cut or fitted elsewhere since, are left out. A
    revision that then differs in nothing is skipped.

    Raises: Stale if there has been another edit since; NotThere, NotOpen.
    """
    with database.atomic() as connection:
        job = open_job(database, job_id)
        check_seen(job, saw, "nothing_undone")
        step = revision_by_id(connection, job.history_id, job.parent_id)
        while step:
            kept = state_of(step)
            hand = at_hand(connection, job_id, kept.document)
            state = replace(kept, document=hand.document)
            if state == kept:
                stand_at(connection, job.history_id, step)
            elif state != job.state:
                message = hand.message_with(Message("back_to"))
                revise_in_place_of(connection, job.history_id, step, state.content, message, now)
            else:
                step = revision_by_id(connection, job.history_id, step.parent_id)
                continue
            note_complaint(connection, job_id)
            reserve(connection, job_id, hand.bin_ids, now)
            return


def reach(database: Database, job_id: int, stage: str) -> None:
    """Moves a job to a stage. Raises: NotThere, NotOpen."""
    with database.atomic() as connection:
        reach_stage(connection, open_job(database, job_id).id, stage)


def close(database: Database, job_id: int, now: str) -> None:
    """Closes a job without a booking; the pieces it had reserved go back into the bin. Raises: NotThere, NotOpen."""
    with database.atomic() as connection:
        job = open_job(database, job_id)
        hand_readings_over(connection, job, now)
        close_job(connection, job.id, now)
        reserve(connection, job_id, (), now)


def reopen(database: Database, job_id: int, now: str) -> JobRow:
    """Reopens a closed job, without the pieces that it can no longer have.

    Raises: Conflict where its bike has another job in hand; NotThere.
    """
    with database.atomic() as connection:
        job = job_there(database, job_id)
        if not job.closed_at:
            return job
        if open_job_of(connection, job.bike_id) is not None:
            raise Conflict("another_job_in_hand")
        reopen_job(connection, job_id)
        put_away(connection, job.bike_id, None)
        hand = at_hand(connection, job_id, job.document)
        if hand.document != job.document:
            message = hand.message_with(Message("opened_again"))
            revise_job(connection, job, replace(job.state, document=hand.document), message, now)
        reserve(connection, job_id, hand.bin_ids, now)
        return job_there(database, job_id)
