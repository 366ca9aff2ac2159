"""What is noted at the stand while a suspension is measured by hand: steps done, and the shock's pressures."""

from collections.abc import Mapping

from lone_pike.core.messages import Message, Term, Value, number
from lone_pike.formats.records.merging import differences

Observed = dict[str, str]

STEPS = ("noted", "empty", "compressed", "wrapped", "back")
"""Steps in the order of the work, by the name they are kept under."""

PROVING = ("tightest", "slack", "nuts", "wheel", "brakes", "again")
"""Checks of a bike without a cage, in the safe order (trade, section 12)."""

LED = ("seat", "boom", "zero")
"""What is set on a long bike before its chain is measured, in this order (trade, section 3)."""

MOST_OF_A_KIND = range(1, 7)
THREADED = (
    *("setup", "pieces", "pins", "cog", "guide", "tab", "tension"),
    *(f"{what}_{place}" for what in ("return", "drive", "tube") for place in MOST_OF_A_KIND),
    *("ring", "front", "wide", "meet", "turn"),
)
"""Steps of the walk along the route (trade, section 11); a bike has those of its own parts."""

JOINED = ("seated", "both_sides", "free", "turned")
"""What is looked at once the loop is closed (trade, sections 10 and 12)."""

TICKED = {"steps": STEPS, "proved": PROVING, "led": LED, "threaded": THREADED, "joined": JOINED}
OPEN_ENDED = ("threaded",)
"""Lists of which each bike has its own part."""


NOTES = ("complaint", "pressure_before", "pressure_after", *TICKED)
PREFIX = "observed."
LONGEST_NOTE = 200


def notes_typed(form: Mapping[str, str], base: Observed) -> Observed:
    """The notes with what a form tells of them; emptied ones are taken out."""
    told = {name: form[PREFIX + name].strip()[:LONGEST_NOTE] for name in NOTES if PREFIX + name in form}
    return {name: text for name, text in {**base, **told}.items() if text}


def steps_done(observed: Observed, name: str = "steps") -> tuple[str, ...]:
    """The steps of a list that are ticked."""
    return tuple(step for step in observed.get(name, "").split(", ") if step in TICKED[name])


def note_messages(before: Observed, after: Observed) -> tuple[Message, ...]:
    """What changed in the notes.

    >>> [message.code for message in note_messages({}, {"pressure_before": "185 psi"})]
    ['note_changed']
    """
    changed = differences(before, after, "")
    messages = [
        Message("note_changed", note=Term("note", name), before=_or_nothing(old), after=_or_nothing(new))
        for name, (old, new) in changed.items()
        if name in NOTES and name not in TICKED
    ]
    for name, steps in TICKED.items():
        if name in changed:
            done = number(len(steps_done(after, name)))
            if name in OPEN_ENDED:
                messages.append(Message("steps_threaded", done=done))
            else:
                messages.append(Message("steps_done", done=done, all=number(len(steps))))
    return tuple(messages)


def _or_nothing(text: str) -> Value:
    return text or Message("nothing")
