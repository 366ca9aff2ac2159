"""The words of the calendar, which has one event for each due chain."""

from collections.abc import Sequence
from datetime import date, datetime

from lone_pike.core.messages import Message, Quantity, Term, Unit, links
from lone_pike.formats.files.calendar_file import DueEvent
from lone_pike.store.chains import DueRow
from lone_pike.wording.days import spoken
from lone_pike.wording.render import render
from lone_pike.wording.units import DisplayUnits


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
        events.append(DueEvent(one.id, due, summary, render(more, units), datetime.fromisoformat(one.told_at)))
    return events
