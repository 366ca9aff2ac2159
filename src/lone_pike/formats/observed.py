"""What is noted at the stand while a suspension is measured by hand: steps done, and the shock's pressures."""

from collections.abc import Mapping

from lone_pike.core.messages import Message, Term, Value, number
from lone_pike.formats.merging import differences

Observed = dict[str, str]

STEPS = ("noted", "empty", "compressed", "wrapped", "back")
"""Steps in the order of the work, by the name they are kept under."""

PROVING = ("tightest", "slack", "nuts", "wheel", "brakes", "again")
"""Checks of a bike without a cage, in the safe order (trade, section 12)."""

LED = ("seat", "boom", "zero")
"""What is set on a long bike before its chain is measured, in this order (trade, section 3)."""

TICKED = {"steps": STEPS, "proved": PROVING, "led": LED}

NOTES = ("complaint", "pressure_before", "pressure_after", *TICKED)
PREFIX = "observed."
LONGEST_NOTE = 200


def told_in(form: Mapping[str, str], base: Observed) -> Observed:
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
            messages.append(Message("steps_done", done=done, all=number(len(steps))))
    return tuple(messages)


def _or_nothing(text: str) -> Value:
    return text or Message("nothing")
