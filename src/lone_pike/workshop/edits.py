"""One edit of a job: made on the revision that the page showed, merged into the newest one, and stored as a new
revision."""

import sqlite3
from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace

from lone_pike.core.messages import LengthUnit, Message
from lone_pike.core.refusals import NotOpen, NotThere, Stale
from lone_pike.formats.records.merging import Merge, differences, merge, message_with_merge
from lone_pike.formats.records.observed import merged, note_messages, notes_typed
from lone_pike.formats.typed.measure_form import (
    EMPTY,
    LEANED_ON,
    Changes,
    Readings,
    change_message,
    change_messages,
    form_fields,
    parse_form,
    readings_of,
    with_readings,
)
from lone_pike.formats.typed.parsing import Reading
from lone_pike.store.database import Database
from lone_pike.store.jobs import JobRow, JobState, job_by_id, revise_job, state_at
from lone_pike.workshop.at_hand import at_hand, newly_named, reserve

Edit = Callable[[JobState], JobState]
"""A function that makes the edited state from the one that the page showed."""

Tell = Callable[[Message], Message]
"""A function that makes the history's message for an edit from the message that lists its changes."""


def as_listed(changes: Message) -> Message:
    """The history's message is the list of changes alone."""
    return changes


def job_there(database: Database, job_id: int) -> JobRow:
    """The job. Raises: NotThere."""
    job = job_by_id(database, job_id)
    if job is None:
        raise NotThere("no_such_job")
    return job


def open_job(database: Database, job_id: int) -> JobRow:
    """The job as it is now, read inside the transaction of a write. Raises: NotThere, NotOpen."""
    job = job_there(database, job_id)
    if job.booked_at:
        raise NotOpen("job_is_booked")
    if job.closed_at:
        raise NotOpen("job_is_closed")
    return job


def check_seen(job: JobRow, saw: int | None, code: str) -> None:
    """Checks that the page showed the newest revision. Raises: Stale with the message of the given code, and with what
    changed last."""
    if saw != job.revision_id:
        raise Stale(code, last=job.message)


def edit_job(database: Database, job_id: int, saw: int | None, make: Edit, now: str, tell: Tell = as_listed) -> JobRow:
    """Stores an edit as a revision on top of the newest one, and notes what was changed elsewhere in the meantime.

    Parameters: saw, the revision on which the edit was made; if it is not known, the newest one.
    Returns: the job after the edit.
    Raises: NotThere, NotOpen, PieceTaken.
    """
    with database.atomic() as connection:
        newest = open_job(database, job_id)
        base = state_at(connection, newest, saw) or newest.state
        together = merge_states(base, newest.state, make(base))
        asked = newly_named(newest.document, together.state.document)
        hand = at_hand(connection, job_id, together.state.document, asked)
        state = replace(together.state, document=hand.document)
        if state == newest.state:
            return newest
        message = message_with_merge(tell(edit_message(newest.state, state)), together.measures, change_message)
        revise_job(connection, newest, state, hand.message_with(message), now)
        reserve(connection, job_id, hand.bin_ids, now)
        return job_there(database, job_id)


def keep_state(
    database: Database, connection: sqlite3.Connection, job: JobRow, state: JobState, message: Message, now: str
) -> JobRow:
    """Stores a state, made from the newest one in the same transaction, as a new revision, unless nothing changed.
    Returns: the job after that."""
    if state == job.state:
        return job
    revise_job(connection, job, state, message, now)
    return job_there(database, job.id)


def state_seen(database: Database, job: JobRow, saw: int | None) -> JobState:
    """The state that a page was made from; the newest one if the page does not name it."""
    if saw == job.revision_id:
        return job.state
    return state_at(database.connection, job, saw) or job.state


@dataclass(frozen=True)
class FormEdit:
    """Compares a form with the state it was made from. Returns: the new state, the changed fields, and how texts were
    read."""

    state: JobState
    changed: Readings
    messages: tuple[Message, ...]


def form_edit(base: JobState, form: Mapping[str, str], unit: LengthUnit) -> FormEdit:
    """The state with the fields that a form changed; lengths without a unit are in the given one."""
    parsed = parse_form(readings_of(base.document, only={*form, *LEANED_ON}), form, unit)
    document = with_readings(base.document, parsed.changed) if parsed.changed else base.document
    state = replace(base, document=document, observed=notes_typed(form, base.observed))
    return FormEdit(state, parsed.changed, parsed.messages)


@dataclass(frozen=True)
class MergedState:
    """A job's state after merging an edit into the newest one, and the outcome of merging the measures."""

    state: JobState
    measures: Merge[Reading]


def merge_states(base: JobState, newest: JobState, mine: JobState) -> MergedState:
    """The newest state with everything that differs between the base and my state, measure by measure and note by
    note."""
    was, is_now, mine_is = (readings_of(state.document) for state in (base, newest, mine))
    measures = merge(was, is_now, mine_is, EMPTY)
    changed = {path: new for path, (_, new) in measures.mine.items()}
    return MergedState(
        JobState(
            document=with_readings(newest.document, changed) if changed else newest.document,
            chosen_links=mine.chosen_links if mine.chosen_links != base.chosen_links else newest.chosen_links,
            observed=merged(base.observed, newest.observed, mine.observed),
        ),
        measures,
    )


def edit_message(before: JobState, after: JobState) -> Message:
    """What changed between two states, as one message."""
    changed = changes_between(before, after)
    notes = note_messages(before.observed, after.observed)
    return Message("fields_changed", changes=(*change_messages(changed), *notes))


def changes_between(before: JobState, after: JobState) -> Changes:
    """The measures that differ."""
    changed = differences(readings_of(before.document), readings_of(after.document), EMPTY)
    return {path: changed[path] for path in form_fields() if path in changed}
