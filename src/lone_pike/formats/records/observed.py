"""Notes of a job that are not measures of the bike: complaint, pressures, steps done, the side photo."""

from collections.abc import Mapping
from dataclasses import dataclass, fields, replace
from typing import Any

from lone_pike.core.complaint.causes import CHECKS
from lone_pike.core.complaint.tools import TOOLS
from lone_pike.core.messages import Message, Term, Value, number
from lone_pike.core.seen.proving import PROOFS
from lone_pike.core.wear.gauging import WearReading
from lone_pike.core.wear.replacing import WearPart
from lone_pike.formats.records.merging import differences, merge
from lone_pike.formats.records.photo_notes import PhotoNotes, photo_parts, photo_recorded

STEPS = ("noted", "empty", "compressed", "wrapped", "back")
"""Steps in the order of the work, by the name under which they are stored."""

PROVING = tuple(PROOFS)
"""Steps in which a bike is proved; each has those of its kind."""

LED = ("seat", "boom", "zero")
"""What is set on a long bike before its chain is measured, in order (trade, section 3)."""

CAUSES = tuple(CHECKS)
"""Causes of a complaint that were found."""

REPLACED = tuple(WearPart)
"""Parts that are replaced with the chain."""

LAID_OUT = tuple(TOOLS)
"""What is laid out and checked before a chain is opened; each job has what it needs of these."""

MOST_OF_A_KIND = range(1, 7)
THREADED = (
    *("setup", "pieces", "pins", "cog", "guide", "tab", "tension"),
    *(f"{what}_{place}" for what in ("return", "drive", "tube") for place in MOST_OF_A_KIND),
    *("ring", "front", "wide", "meet", "turn"),
)
"""Steps of the walk along the route (trade, section 11); a bike has those of its own parts."""

JOINED = ("seated", "both_sides", "free", "turned")
"""What is checked once the loop is closed (trade, sections 10 and 12)."""

TICKED = {"steps": STEPS, "proved": PROVING, "led": LED, "threaded": THREADED, "joined": JOINED} | {
    "causes": CAUSES,
    "replaced": REPLACED,
    "tools": LAID_OUT,
}
OPEN_ENDED = {
    "threaded": "steps_threaded",
    "proved": "steps_proved",
    "replaced": "parts_replaced",
    "tools": "tools_out",
}
"""Lists of which each bike has its own part, with the code of the sentence about them."""

SKIPPED, GAUGED, PICTURES = "skipped", "gauged", "pictures"
MOST_GAUGED = 12
"""Readings along one chain."""

WRITTEN = ("complaint", "symptom", "pressure_before", "pressure_after")
PREFIX, PHOTO = "observed.", "photo"
LONGEST_NOTE = 200


@dataclass(frozen=True)
class Observed:
    """All notes of a job: texts as they were typed, the ticked steps, the photo's marks."""

    complaint: str = ""
    symptom: str = ""
    pressure_before: str = ""
    pressure_after: str = ""
    steps: tuple[str, ...] = ()
    proved: tuple[str, ...] = ()
    led: tuple[str, ...] = ()
    threaded: tuple[str, ...] = ()
    joined: tuple[str, ...] = ()
    causes: tuple[str, ...] = ()
    replaced: tuple[str, ...] = ()
    tools: tuple[str, ...] = ()
    gauged: tuple[WearReading, ...] = ()
    """Readings along the old chain."""

    skipped: tuple[tuple[str, str], ...] = ()
    """Steps of proving that were skipped, each with the reason."""

    pictures: tuple[tuple[str, str], ...] = ()
    """Pictures from before anything came off, by id, each with a caption."""

    photo: PhotoNotes | None = None

    def done(self, name: str) -> tuple[str, ...]:
        """The ticked steps of a list."""
        ticked: tuple[str, ...] = getattr(self, name)
        return ticked


def observed_of(record: Mapping[str, Any]) -> Observed:
    """Reads a record of the data file; older ones have lists as text, and a key for each mark.

    >>> observed_of({"steps": "noted, empty"}).steps, observed_of({"steps": ["noted"]}).steps
    (('noted', 'empty'), ('noted',))
    """
    ticked: dict[str, Any] = {name: _ticked(name, record.get(name, ())) for name in TICKED}
    written: dict[str, Any] = {name: str(record.get(name, "")) for name in WRITTEN}
    kept = record.get(SKIPPED, {})
    skipped = tuple((step, str(kept[step])) for step in PROVING if step in kept)
    pictures = tuple((number, str(word)) for number, word in record.get(PICTURES, {}).items())
    gauged = tuple(WearReading.model_validate(row) for row in record.get(GAUGED, ()))
    photo = photo_recorded(record)
    return Observed(**written, **ticked, gauged=gauged, skipped=skipped, pictures=pictures, photo=photo)


def record_of(observed: Observed) -> dict[str, Any]:
    """The notes in the form in which they are stored; empty ones are left out."""
    return _nested({name: _plain(one) for name, one in _parts(observed).items()})


def _plain(part: Any) -> Any:
    """A part in the form in which it is stored."""
    if not isinstance(part, tuple):
        return part
    return [one.model_dump(mode="json", exclude_unset=True) if isinstance(one, WearReading) else one for one in part]


def notes_typed(form: Mapping[str, str], base: Observed) -> Observed:
    """The notes after the changes of a form."""
    sent = {key.removeprefix(PREFIX): text for key, text in form.items() if key.startswith(PREFIX)}
    written: dict[str, Any] = {name: sent[name].strip()[:LONGEST_NOTE] for name in WRITTEN if name in sent}
    ticked: dict[str, Any] = {name: _ticked(name, sent[name]) for name in TICKED if name in sent}
    return replace(base, **written, **ticked)


def merged(base: Observed, newest: Observed, mine: Observed) -> Observed:
    """The newest notes with my changes since the base, note by note and mark by mark."""
    together = merge(_parts(base), _parts(newest), _parts(mine), None).merged
    return observed_of(_nested({name: _plain(one) for name, one in together.items()}))


def note_messages(before: Observed, after: Observed) -> tuple[Message, ...]:
    """The message about what changed in the notes.

    >>> [message.code for message in note_messages(Observed(), Observed(pressure_before="185 psi"))]
    ['note_changed']
    """
    changed = differences(_parts(before), _parts(after), None)
    messages = [
        Message("note_changed", note=Term("note", name), before=_noted(name, old), after=_noted(name, new))
        for name, (old, new) in changed.items()
        if name in WRITTEN
    ]
    if GAUGED in changed:
        messages.append(Message("readings_gauged", readings=number(len(after.gauged))))
    messages += [
        Message("step_skipped", step=Term("step", step), word=word)
        for step, word in after.skipped
        if (step, word) not in before.skipped
    ]
    if "causes" in changed:
        messages.append(Message("causes_found", causes=tuple(Term("cause", one) for one in after.causes)))
    for name, steps in TICKED.items():
        if name in changed and name != "causes":
            done = number(len(after.done(name)))
            if name in OPEN_ENDED:
                messages.append(Message(OPEN_ENDED[name], done=done))
            else:
                messages.append(Message("steps_done", done=done, all=number(len(steps))))
    return tuple(messages)


def _parts(observed: Observed) -> dict[str, Any]:
    """All notes by name, those of the photo one by one, so that two edits of them can be merged."""
    names = [one.name for one in fields(observed) if one.name not in (PHOTO, SKIPPED, PICTURES)]
    own = {name: value for name in names if (value := getattr(observed, name))}
    own |= {f"{SKIPPED}.{step}": word for step, word in observed.skipped}
    own |= {f"{PICTURES}.{number}": word for number, word in observed.pictures}
    photo = photo_parts(observed.photo) if observed.photo else {}
    return own | {f"{PHOTO}.{name}": one for name, one in photo.items()}


def _nested(parts: Mapping[str, Any]) -> dict[str, Any]:
    """The parts of a record."""
    record: dict[str, Any] = {}
    for name, one in parts.items():
        whole, _, part = name.partition(".")
        if part:
            record.setdefault(whole, {})[part] = one
        else:
            record[whole] = one
    return record


def _ticked(name: str, value: Any) -> tuple[str, ...]:
    """The known steps of a list, given as a list or as the text that forms and older records contain."""
    steps = value.split(", ") if isinstance(value, str) else value
    return tuple(step for step in steps if step in TICKED[name])


def _noted(name: str, text: str | None) -> Value:
    """A note as a value of a message: its label if it was chosen, else the typed text."""
    if not text:
        return Message("nothing")
    return Term(name, text) if name == "symptom" else text
