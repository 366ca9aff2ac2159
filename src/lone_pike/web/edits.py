"""Every write of a job: made from the revision it saw, compared and merged within one transaction."""

from collections.abc import Callable
from dataclasses import dataclass, replace

from lone_pike.core.messages import Message
from lone_pike.formats.measure_form import (
    EMPTY,
    Changes,
    Readings,
    change_message,
    form_fields,
    parse_form,
    readings_of,
    with_readings,
)
from lone_pike.formats.merging import Merge, differences, merge, told_with_merge
from lone_pike.formats.observed import note_messages, told_in
from lone_pike.formats.parsing import Reading
from lone_pike.store.jobs import JobRow, JobState, reach_stage, revise_job, state_at
from lone_pike.web.requests import JobRequest, TypedForm, now, seen_by


@dataclass(frozen=True)
class FormEdit:
    """A form against the revision it was made from: the state as it then is, and what was done to its texts."""

    mine: JobState
    changed: Readings
    messages: tuple[Message, ...]


def form_edit(request: JobRequest, base: JobState, form: TypedForm) -> FormEdit:
    """The state with what a form tells, of the fields that it changed."""
    parsed = parse_form(readings_of(base.document), form, request.shop.unit)
    document = with_readings(base.document, parsed.changed) if parsed.changed else base.document
    mine = replace(base, document=document, observed=told_in(form, base.observed))
    return FormEdit(mine, parsed.changed, parsed.messages)


def seen_state(request: JobRequest, form: TypedForm) -> JobState:
    """The state that a form was made from; the newest where it does not say."""
    saw = seen_by(form)
    if saw == request.job.revision_id:
        return request.job.state
    return state_at(request.data.connection, request.job, saw) or request.job.state


@dataclass(frozen=True)
class MergedState:
    """A job's state with my edit merged into the newest, and how the measures went together."""

    state: JobState
    measures: Merge[Reading]


def merge_states(base: JobState, newest: JobState, mine: JobState) -> MergedState:
    """The newest with what differs between the base and mine: measure by measure, note by note."""
    was, is_now, told = (readings_of(state.document) for state in (base, newest, mine))
    measures = merge(was, is_now, told, EMPTY)
    changed = {path: new for path, (_, new) in measures.mine.items()}
    return MergedState(
        JobState(
            document=with_readings(newest.document, changed) if changed else newest.document,
            chosen_links=mine.chosen_links if mine.chosen_links != base.chosen_links else newest.chosen_links,
            observed=merge(base.observed, newest.observed, mine.observed, "").merged,
        ),
        measures,
    )


def write_edit(
    request: JobRequest,
    form: TypedForm,
    make: Callable[[JobState], JobState],
    message: Callable[[Message], Message] = lambda changes: changes,
) -> JobRow:
    """Keeps an edit as a revision on top of the newest; what was edited elsewhere in the meantime is merged and told.

    Parameters: make, the edited state from the one that was seen; message, what the history says of the changes.
    """
    request.open_job()
    with request.data.atomic() as connection:
        newest = request.newest()
        base = state_at(connection, newest, seen_by(form)) or newest.state
        merged = merge_states(base, newest.state, make(base))
        if merged.state != newest.state:
            told = message(_told(newest.state, merged.state))
            revise_job(connection, newest, merged.state, told_with_merge(told, merged.measures, change_message), now())
    return request.newest()


def _told(before: JobState, after: JobState) -> Message:
    """What changed between two states, as one message."""
    changed = changes_between(before, after)
    notes = note_messages(before.observed, after.observed)
    parts = change_message(changed).values["changes"] if changed else ()
    return Message("fields_changed", changes=(*(parts if isinstance(parts, tuple) else ()), *notes))


def changes_between(before: JobState, after: JobState) -> Changes:
    """The measures that differ."""
    changed = differences(readings_of(before.document), readings_of(after.document), EMPTY)
    return {path: changed[path] for path in form_fields() if path in changed}


def reach(job_request: JobRequest, stage: str) -> None:
    """The job has come to a stage."""
    with job_request.data.atomic() as connection:
        reach_stage(connection, job_request.job.id, stage)
