"""Proving: what was seen at each step, skipping a step, and doing one again."""

import json
from collections.abc import Mapping
from dataclasses import replace
from math import isfinite
from typing import Any

from lone_pike.core.bike.clock import clock_to_the_minute
from lone_pike.core.bike.faults import Fault, InvalidInput
from lone_pike.core.bike.limits import MOST_SEEN
from lone_pike.core.bike.seen import Seen
from lone_pike.core.count.answer import Answer
from lone_pike.core.messages import LengthUnit, Message, Raw, Term, Unit, links, number
from lone_pike.core.refusals import Unfit
from lone_pike.core.seen.predicting import FIGURES
from lone_pike.core.seen.proving import ProofStep, predicted, steps_of
from lone_pike.core.seen.telling import SEEN_LENGTHS, seen_message
from lone_pike.formats.files.bike_file import bike_from_document
from lone_pike.formats.records.observed import LONGEST_NOTE
from lone_pike.formats.typed.parsing import parse_quantity
from lone_pike.store.bikes import Document
from lone_pike.store.database import Database
from lone_pike.store.jobs import JobRow, JobState
from lone_pike.workshop.answers import answer_in_shop, count_of
from lone_pike.workshop.edits import keep_state, open_job
from lone_pike.workshop.settings import shop_of


def see(database: Database, job_id: int, step_key: str, form: Mapping[str, str], unit: LengthUnit, now: str) -> JobRow:
    """Stores what was seen at a step and marks it as done. It replaces what was seen there before.

    Parameters: form, one of the file's keys with its text; "as_drawn" for what the drawing predicts; empty for a step
    without a figure.
    Raises: InvalidInput by field; Unfit; NotThere, NotOpen.
    """
    with database.atomic() as connection:
        job = open_job(database, job_id)
        answer, step = _step(database, job, step_key)
        count = count_of(job, answer, None)
        row = _row(answer, step, count, form, unit)
        if row is None:
            message = Message("step_done", step=_word(step_key))
            return keep_state(database, connection, job, _done(job.state, step_key), message, now)
        document = _with_row(job.document, row)
        seen = _checked(document)
        message = Message("seen_at", step=_word(step_key), seen=seen_message(seen), count=links(count))
        state = _done(replace(job.state, document=document), step_key)
        return keep_state(database, connection, job, state, message, now)


def skip(database: Database, job_id: int, step_key: str, word: str, now: str) -> JobRow:
    """Skips a step, with a reason. Raises: InvalidInput if none is given; Unfit; NotThere, NotOpen."""
    why = word.strip()[:LONGEST_NOTE]
    if not why:
        raise InvalidInput([Fault("skipped", Raw(None), Message("a_word_why"))])
    with database.atomic() as connection:
        job = open_job(database, job_id)
        _step(database, job, step_key)
        state = _undone(job.state, step_key)
        skipped = (*state.observed.skipped, (step_key, why))
        state = replace(state, observed=replace(state.observed, skipped=skipped))
        message = Message("step_skipped", step=_word(step_key), word=why)
        return keep_state(database, connection, job, state, message, now)


def open_again(database: Database, job_id: int, step_key: str, now: str) -> JobRow:
    """Opens a step again: it is neither done nor skipped, and what was seen at it is removed.

    Raises: Unfit; NotThere, NotOpen.
    """
    with database.atomic() as connection:
        job = open_job(database, job_id)
        answer, step = _step(database, job, step_key)
        count = count_of(job, answer, None)
        shown = [one.model_dump(mode="json", exclude_unset=True) for one in answer.bike.seen if step.shows(one, count)]
        rows = [row for row in job.document.get("seen", []) if row not in shown]
        document = {key: value for key, value in job.document.items() if key != "seen"}
        state = _undone(replace(job.state, document=document | ({"seen": rows} if rows else {})), step_key)
        return keep_state(database, connection, job, state, Message("step_again", step=_word(step_key)), now)


def proof_messages(job: JobRow, answer: Answer, count: int) -> tuple[Message, ...]:
    """How far a bike was proved: the number of steps done, what was seen with this chain, and what was skipped and
    why."""
    steps, observed = steps_of(answer.sizing), job.observed
    done = [step for step in steps if step.key in observed.proved]
    messages = [Message("proved_so_far", done=number(len(done)), all=number(len(steps)))]
    for step in steps:
        seen = step.last_seen(answer.bike, count)
        if seen and step in done:
            messages.append(Message("proof_seen", step=_word(step.key), seen=seen_message(seen)))
    skipped = dict(observed.skipped)
    messages += [
        Message("step_skipped", step=_word(step.key), word=skipped[step.key]) for step in steps if step.key in skipped
    ]
    return tuple(messages)


def _word(step_key: str) -> Term:
    return Term("step", step_key)


def measured_answer(database: Database, job: JobRow) -> Answer:
    answer = answer_in_shop(job.document, shop_of(database)).answer
    if answer is None:
        raise Unfit("not_measured_yet")
    return answer


def _step(database: Database, job: JobRow, step_key: str) -> tuple[Answer, ProofStep]:
    """A step of this bike. Raises: Unfit where it has no such step."""
    answer = measured_answer(database, job)
    step = next((one for one in steps_of(answer.sizing) if one.key == step_key), None)
    if step is None:
        raise Unfit("no_such_step")
    return answer, step


def _row(
    answer: Answer, step: ProofStep, count: int, form: Mapping[str, str], unit: LengthUnit
) -> dict[str, Any] | None:
    """The row for the bike's file that a form describes; None for a step without a figure."""
    asked = [key for key in step.proof.asks if key in answer.bike.take_up.shows]
    if step.gear is None or not asked:
        return None
    row: dict[str, Any] = {"links": count, "ring": step.gear[0], "cog": step.gear[1]}
    row |= {"travel_mm": step.travel_mm} if step.travel_mm else {}
    if form.get("as_drawn"):
        drawn = _as_drawn(answer, step, count, asked)
        return row | drawn if drawn else None
    key = next((key for key in asked if form.get(key, "").strip()), None)
    if key is None:
        raise InvalidInput([Fault(f"seen.{asked[0]}", Raw(None), Message("what_was_seen"))])
    text = form[key].strip()
    value: Any = text
    if key in SEEN_LENGTHS:
        value = parse_quantity(text, Unit.MM, unit).value
    return row | {key: value}


def _as_drawn(answer: Answer, step: ProofStep, count: int, asked: list[str]) -> dict[str, Any]:
    """What the drawing predicts, as if it had been read off the bike; empty if it predicts none of what is asked."""
    sights = predicted(answer.sizing, step, count)
    values = {key: float(getattr(sights, FIGURES[key])[0]) for key in asked if key in FIGURES}
    key = next((key for key, value in values.items() if isfinite(value)), None)
    if key is None:
        return {}
    return {key: clock_to_the_minute(values[key]) if key == "clock" else round(values[key], 1)}


def _with_row(document: Document, row: dict[str, Any]) -> Document:
    """The document with something seen added. It replaces what was seen of the same thing before, and the oldest row if
    there are too many."""
    place = ("links", "ring", "cog", "travel_mm")
    own = {*row} - set(place)
    kinds = own | ({"clock", "state"} if own & {"clock", "state"} else set())

    def is_the_same(other: dict[str, Any]) -> bool:
        return all(other.get(key, 0.0) == row.get(key, 0.0) for key in place) and bool(kinds & {*other})

    kept = [other for other in document.get("seen", []) if not is_the_same(other)]
    return document | {"seen": [*kept, row][-MOST_SEEN:]}


def _checked(document: Document) -> Seen:
    """The last row of what was seen. Raises: InvalidInput, by the key of the row, if it cannot be true of this bike."""
    last = len(document["seen"]) - 1
    try:
        return bike_from_document(document).seen[-1]
    except InvalidInput as error:
        here = f"seen.{last}."
        mine = [
            replace(one, field=f"seen.{one.field.removeprefix(here)}")
            for one in error.faults
            if one.field.startswith(here)
        ]
        if mine:
            raise InvalidInput(mine) from None
    return Seen.model_validate_json(json.dumps(document["seen"][-1]))


def _done(state: JobState, step_key: str) -> JobState:
    """The notes with the step ticked and no longer skipped."""
    state = _undone(state, step_key)
    return replace(state, observed=replace(state.observed, proved=(*state.observed.proved, step_key)))


def _undone(state: JobState, step_key: str) -> JobState:
    observed = state.observed
    proved = tuple(one for one in observed.proved if one != step_key)
    skipped = tuple(one for one in observed.skipped if one[0] != step_key)
    return replace(state, observed=replace(observed, proved=proved, skipped=skipped))
