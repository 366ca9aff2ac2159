"""Questions about complaints and wear: which part ticks, what is the cause, and whether the chain is worn."""

from typing import Any

from lone_pike.core.bike.limits import LINKS_PER_PAIR, PITCH_MM
from lone_pike.core.bike.take_up import Family
from lone_pike.core.complaint import causes
from lone_pike.core.complaint.causes import CAUSES_OF, Known, causes_of
from lone_pike.core.complaint.ticking import Drive, Turning, suspects_of
from lone_pike.core.messages import Message, Quantity, Term, Unit, Value, links, mm, number
from lone_pike.core.practice.asking import AskedPart, Draft, Question, safe_message, window_of
from lone_pike.core.wear.gauging import PERCENT, Way, Wear, WearReading, wear_of
from lone_pike.core.wear.replacing import Replacing, cogs_percent, limit_percent, percent, what_to_replace


def cause(draft: Draft) -> Question:
    """A question about a tick and its period, or about another complaint with the figures of the old chain."""
    return _ticks(draft) if draft.lot.random() < 0.5 else _complains(draft)


def _ticks(draft: Draft) -> Question:
    """A tick's period in a gear: which part turns that often."""
    sizing = draft.sizing
    count = sizing.recommended_links
    gear = draft.lot.choice(sizing.take_up.gears(count))
    turns = sizing.bike.take_up.family is Family.TURNS
    pulleys = (sizing.bike.caged.guide_teeth, sizing.bike.caged.tension_teeth) if turns else (None, None)
    drive = Drive(gear.ring, gear.cog, count, *pulleys)
    parts = tuple(part for part in Turning if any(part in one.parts for one in suspects_of(drive)))
    wanted = draft.lot.choice(parts)
    suspect = next(one for one in suspects_of(drive) if wanted in one.parts)
    heard = Quantity(round(suspect.turns, 2), Unit.TURNS)
    values: dict[str, Value] = {"ring": number(gear.ring), "cog": number(gear.cog), "count": links(count)}
    teeth = tuple(number(one) for one in pulleys if one)
    beside = [Message("practice_gear", **values), Message("practice_tick", turns=heard)]
    if teeth:
        beside.insert(1, Message("practice_pulleys", teeth=teeth))
    return draft.question(
        parts=(AskedPart("part", tuple(map(str, parts))),),
        right={"part": frozenset(map(str, suspect.parts))},
        beside=tuple(beside),
        because=tuple(
            Message(
                "practice_comes_round",
                parts=tuple(Term("turning", part) for part in one.parts),
                turns=Quantity(one.turns, Unit.TURNS),
            )
            for one in sorted(suspects_of(drive), key=lambda one: -one.turns)
        ),
        gears=(gear,),
        shown_links=count,
        truth={"gear": [gear.ring, gear.cog], "turns": suspect.turns},
    )


WANTED: dict[str, tuple[str, ...]] = {
    "too_long": (causes.RUBS, causes.SLAPS, causes.COMES_OFF),
    "too_short": (causes.STRAIGHT, causes.GRINDS, causes.BROKE),
    "worn_chain": (causes.JUMPS, causes.RUBS, causes.BROKE, causes.SLAPS),
    "worn_cogs": (causes.JUMPS, causes.COMES_OFF),
}
"""Causes that figures can show, each with the complaints it may cause."""

WEAR_READ = 0.03
"""The spread of the wear in a complaint's figures, percent."""


def _complains(draft: Draft) -> Question:
    """A complaint with the old chain's count and wear: which cause these figures speak for."""
    sizing, window = draft.sizing, window_of(draft.sizing)
    wanted = draft.lot.choice(list(WANTED))
    symptom = draft.lot.choice(WANTED[wanted])
    old_links = draft.lot.choice(range(window[0], window[1] + 1, sizing.step_links))
    off = LINKS_PER_PAIR * draft.lot.randint(1, 3)
    old_links = {"too_long": window[1] + off, "too_short": window[0] - off}.get(wanted, old_links)
    known = Known(sizing, old_links, Wear(_wear_for(draft, wanted), WEAR_READ))
    ranked = causes_of(symptom, known)
    likely, wear = ranked[0], percent(known.wear.percent if known.wear else 0.0)
    figures: dict[str, Value] = {"safe": safe_message(sizing), "count": links(old_links)}
    return draft.question(
        parts=(AskedPart("cause", CAUSES_OF[symptom]),),
        right={"cause": frozenset({likely.key})},
        beside=(
            Message("practice_complaint", symptom=Term("symptom", symptom)),
            Message("practice_old", speeds=Quantity(sizing.bike.speeds, Unit.COGS), wear=wear, **figures),
        ),
        because=(likely.why, likely.check),
        gears=sizing.take_up.gears(sizing.recommended_links)[:1],
        shown_links=sizing.recommended_links,
        truth={"symptom": symptom, "old_links": old_links, "wear_percent": known.wear.percent if known.wear else 0.0},
    )


def _wear_for(draft: Draft, wanted: str) -> float:
    """A wear that speaks for a cause, percent: below the chain's limit, past it, or past that of the cogs."""
    most, cogs = limit_percent(draft.sizing.bike.speeds), cogs_percent(draft.sizing.bike.speeds)
    low, high = {"worn_chain": (most + 0.08, cogs - 0.08), "worn_cogs": (cogs + 0.15, cogs + 0.5)}.get(
        wanted, (0.1, most - 0.15)
    )
    return round(draft.lot.uniform(low, max(low, high)), 2)


def reading_message(reading: WearReading) -> Message:
    """The reading without its result."""
    if reading.way is Way.GAUGE:
        return Message("practice_gauge", passes=percent(reading.passes or 0.0), stops=percent(reading.stops or 0.0))
    if reading.way is Way.PAST:
        return Message("practice_past", past=number(reading.sixteenths or 0.0))
    return Message("practice_ruler", pitches=number(reading.pitches or 0), read=Quantity(reading.mm or 0.0, Unit.MM))


WORN = ("keep", "near", "replace")
PITCHES, NEW_MM = 24, 304.8
HUNG_WEAR = (0.1, 1.1)
"""The range of wear of an old chain that hangs beside a new one, percent."""


def worn(draft: Draft) -> Question:
    """A reading with ruler or gauge, or an old chain hung beside a new one: whether to replace it, whether it is near
    its limit, or good."""
    (row, hung_message, apart_mm), wear, found = _drawn_for(draft, draft.lot.choice(WORN))
    reading = WearReading.model_validate(row)
    return draft.question(
        parts=(AskedPart("worn", WORN),),
        right={"worn": frozenset({_verdict(found)})},
        beside=(
            Message("practice_speeds", speeds=Quantity(draft.sizing.bike.speeds, Unit.COGS)),
            hung_message or reading_message(reading),
        ),
        because=(found.why, *TRAPS.get(reading.way, ())),
        reading=reading,
        apart_mm=apart_mm,
        gears=draft.sizing.take_up.gears(draft.sizing.recommended_links)[:1],
        shown_links=draft.sizing.recommended_links,
        truth={"reading": row, "wear_percent": wear.percent},
    )


Read = tuple[dict[str, Any], Message | None, float | None]
"""A reading: its fields, the sentences shown in their place, and how much lower the old chain hangs, mm."""

MOST_READ = 24
"""The most readings drawn to find one with the wanted verdict, so that all verdicts are about equally frequent."""


def _drawn_for(draft: Draft, wanted: str) -> tuple[Read, Wear, Replacing]:
    """A reading with the wanted verdict, or the last one drawn."""
    for _ in range(MOST_READ):
        read = _READ[draft.lot.choice(list(_READ))](draft)
        wear = wear_of(WearReading.model_validate(read[0]))
        found = what_to_replace(wear, draft.sizing.bike.speeds)[0]
        if _verdict(found) == wanted:
            break
    return read, wear, found


def _verdict(found: Replacing) -> str:
    return {True: "replace", None: "near", False: "keep"}[found.is_due]


TRAPS = {Way.GAUGE: (Message("practice_play"),), Way.WHOLE: (Message("practice_level"),)}
"""What can mislead with a way of gauging, shown with the right answer."""


def _past(draft: Draft) -> Read:
    return {"way": "past", "pitches": PITCHES, "sixteenths": draft.lot.choice([0, 0.5, 1, 1.5, 2, 2.5])}, None, None


def _gauged(draft: Draft) -> Read:
    passes, stops = draft.lot.choice([(0.25, 0.5), (0.5, 0.75), (0.75, 1.0)])
    return {"way": "gauge", "passes": passes, "stops": stops}, None, None


def _ruled(draft: Draft) -> Read:
    return {"way": "ruler", "pitches": PITCHES, "mm": round(NEW_MM + draft.lot.uniform(0.2, 3.6), 1)}, None, None


def _hung(draft: Draft) -> Read:
    """An old chain beside a new one, hung from one nail; it may be a pair shorter, so that the ends mislead."""
    new = draft.sizing.recommended_links
    old = new - draft.lot.choice([0, LINKS_PER_PAIR])
    old_mm = round(old * PITCH_MM * (1 + draft.lot.uniform(*HUNG_WEAR) / PERCENT))
    apart_mm = old_mm - new * PITCH_MM
    side = Term("hangs", "lower" if apart_mm >= 0 else "higher")
    hung_message = Message("practice_hung", new=links(new), old=links(old), apart=mm(abs(apart_mm)), side=side)
    return {"way": "whole", "pitches": old, "mm": old_mm}, hung_message, apart_mm


_READ = {"past": _past, "gauge": _gauged, "ruler": _ruled, "hung": _hung}
