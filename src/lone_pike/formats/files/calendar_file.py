"""Due chains as a calendar, with one event for each chain. Its identifier never changes, so a calendar program shows it
once."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta


@dataclass(frozen=True)
class DueEvent:
    """A chain that is due on a day: its id, the texts, and when they last changed."""

    chain_id: int
    day: date
    summary: str
    description: str
    computed_at: datetime


def calendar_of(events: Sequence[DueEvent]) -> bytes:
    """The calendar, with events that last the whole day."""
    from icalendar import Calendar, Event  # loaded when the first calendar is made, not at each start

    calendar = Calendar()
    calendar.add("prodid", "-//Lone Pike//Chains due//EN")
    calendar.add("version", "2.0")
    calendar.add("method", "PUBLISH")
    calendar.add("x-wr-calname", "Chains due")
    for one in events:
        event = Event()
        event.add("uid", f"chain-{one.chain_id}@lone-pike.invalid")
        event.add("dtstamp", one.computed_at)
        event.add("dtstart", one.day)
        event.add("dtend", one.day + timedelta(days=1))
        event.add("summary", one.summary)
        event.add("description", one.description)
        event.add("transp", "TRANSPARENT")
        calendar.add_component(event)
    written: bytes = calendar.to_ical()
    return written
