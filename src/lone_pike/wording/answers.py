"""An answer, or a chain's forecast, as a few lines of text, as the command prints it; due chains as calendar events."""

from collections.abc import Sequence
from datetime import date, datetime

from lone_pike.core.chain.pieces import KeptRun
from lone_pike.core.count.answer import WINDOW_DECIDES, Answer
from lone_pike.core.messages import Message, Quantity, Term, Unit, links, mm, number
from lone_pike.core.seen.learning import learned_of
from lone_pike.core.seen.telling import learned_messages
from lone_pike.core.take_up.protocol import Safety
from lone_pike.core.wear.forecast import Forecast
from lone_pike.core.wear.replacing import percent
from lone_pike.formats.files.calendar_file import DueEvent
from lone_pike.store.chains import DueRow
from lone_pike.wording.render import render
from lone_pike.wording.units import DisplayUnits, spoken


def answer_lines(answer: Answer, units: DisplayUnits) -> list[str]:
    """The count, and whether it is unsafe; the reasons, the places of the axle, the rivet, and the warnings, each of
    them once."""
    fits = [
        Message("fit", count=links(fit.links), centre=mm(fit.centre_mm), room=mm(fit.room_mm)) for fit in answer.fits
    ]
    has_range = answer.window or answer.decided_by != WINDOW_DECIDES
    why = answer.why if has_range else answer.reasons
    said = [render(message, units) for message in (*why, *_learned(answer), *fits, *_boom(answer), *_rivet(answer))]
    warnings = [render(notice.message, units) for notice in answer.warnings]
    unsafe = "" if answer.safety(answer.links) is Safety.SAFE else ", not safe"
    return [
        units.format_count(answer.links) + unsafe,
        *said,
        *(f"! {warning}" for warning in warnings if warning not in said),
    ]


def _learned(answer: Answer) -> tuple[Message, ...]:
    """What was learned from what was seen, if there is anything new."""
    learned = learned_of(answer.bike)
    return learned_messages(answer.bike, learned) if learned else ()


def _rivet(answer: Answer) -> list[Message]:
    if answer.plan:
        return [_run(run) for run in answer.plan]
    cut = answer.cut
    if cut is None or cut.push_from_start is None or cut.push_from_end is None:
        return []
    return [Message("push_rivet", start=number(cut.push_from_start), end=number(cut.push_from_end))]


def _run(run: KeptRun) -> Message:
    """The line about one piece of the chain."""
    values = {"keep": links(run.links), "start": number(run.start)}
    if run.piece.place == 0:
        return Message("keep_of_box", **values)
    return Message("keep_of_piece", place=number(run.piece.place), **values)


def _boom(answer: Answer) -> tuple[Message, ...]:
    """What the boom's settings need, if there is a boom."""
    if answer.boom is None:
        return ()
    return (answer.boom.message, *([answer.boom.lender] if answer.boom.lender else []))


DUE_CODES = {"fine": "chain_is_fine", "soon": "chain_is_soon", "due": "chain_is_due", "past": "chain_is_past"}


def forecast_lines(forecast: Forecast, units: DisplayUnits) -> list[str]:
    """The wear, its relation to the limit, when the chain is due, what to replace, and what is odd."""
    due = {name: Quantity(round(value), Unit.KM) for name, value in vars(forecast.due_km).items()}
    messages = [
        Message("wears_now", wear=percent(forecast.wear_percent), spread=percent(2 * forecast.spread_percent)),
        Message(DUE_CODES[forecast.state], most=percent(forecast.limit_percent)),
        Message("due_at", **due),
    ]
    if forecast.replace:
        messages.append(Message("replace_parts", parts=tuple(Term("part", part) for part in forecast.replace)))
    return [
        *(render(message, units) for message in messages),
        *(f"! {render(one, units)}" for one in forecast.warnings),
    ]


def due_events(rows: Sequence[DueRow], units: DisplayUnits) -> list[DueEvent]:
    """The calendar's events, one for each chain."""
    events = []
    for one in rows:
        due = date.fromisoformat(one.due_on)
        early, late = (spoken(date.fromisoformat(day), due) for day in (one.early_on, one.late_on))
        joiner = Term("joiner", one.joiner)
        more = Message(
            "calendar_more",
            links=links(one.links),
            cogs=Quantity(one.speeds, Unit.COGS),
            joiner=joiner,
            early=early,
            late=late,
        )
        summary = render(Message("calendar_chain", name=one.name), units)
        events.append(DueEvent(one.id, due, summary, render(more, units), datetime.fromisoformat(one.computed_at)))
    return events
