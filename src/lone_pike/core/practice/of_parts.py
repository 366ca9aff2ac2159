"""What is asked of a loose chain and of single parts: the rivet to push, the tick, the wear."""

from typing import Any

from lone_pike.core.bike.limits import LINKS_PER_PAIR
from lone_pike.core.bike.take_up import Family
from lone_pike.core.chain.cutting import plan_cut
from lone_pike.core.complaint.ticking import Drive, Turning, suspects_of
from lone_pike.core.messages import Message, Quantity, Term, Unit, Value, links, number
from lone_pike.core.practice.asking import Draft, Part, Question
from lone_pike.core.wear.gauging import Way, WearReading, wear_of
from lone_pike.core.wear.replacing import percent, what_to_replace


def rivet(draft: Draft) -> Question:
    """Which rivet to push, counted from the start of a box that is longer than it must be."""
    sizing = draft.sizing
    count = sizing.recommended_links
    extra = draft.lot.randint(1, {1: 6, 2: 12, 3: 20}[draft.level]) * LINKS_PER_PAIR
    chain = sizing.bike.chain.model_copy(update={"box_links": count + extra, "box_includes_joiner": True})
    cut = plan_cut(sizing.bike.model_copy(update={"chain": chain}), count)
    if cut is None or cut.push_from_start is None:
        raise KeyError(draft.kind)
    return draft.question(
        parts=(Part("rivet", (), most=cut.box_links - 1),),
        right={"rivet": frozenset({str(cut.push_from_start)})},
        told=(
            Message(
                "practice_box",
                box=links(cut.box_links),
                count=links(count),
                joiner=Term("joiner", cut.joiner),
                first=Term("end", cut.first_end),
            ),
        ),
        because=(
            Message(
                "practice_push",
                rivet=number(cut.push_from_start),
                keep=links(cut.keep_links),
                ends=tuple(Term("end", end) for end in cut.keep_ends),
                joiner=Term("joiner", cut.joiner),
                count=links(count),
            ),
        ),
        cut=cut,
        shown_links=count,
        truth={"box_links": cut.box_links, "rivet": cut.push_from_start, "keep_links": cut.keep_links},
    )


def cause(draft: Draft) -> Question:
    """A tick's period in a gear: which part comes round that often."""
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
    told = [Message("practice_gear", **values), Message("practice_tick", turns=heard)]
    if teeth:
        told.insert(1, Message("practice_pulleys", teeth=teeth))
    return draft.question(
        parts=(Part("part", tuple(map(str, parts))),),
        right={"part": frozenset(map(str, suspect.parts))},
        told=tuple(told),
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


def read_told(reading: WearReading) -> Message:
    """What was read, without what it says."""
    if reading.way is Way.GAUGE:
        return Message("practice_gauge", passes=percent(reading.passes or 0.0), stops=percent(reading.stops or 0.0))
    if reading.way is Way.PAST:
        return Message("practice_past", past=number(reading.sixteenths or 0.0))
    return Message("practice_ruler", pitches=number(reading.pitches or 0), read=Quantity(reading.mm or 0.0, Unit.MM))


WORN = ("keep", "near", "replace")


def worn(draft: Draft) -> Question:
    """A reading by ruler or gauge: is the chain to be replaced, near that, or good."""
    way = draft.lot.choice([Way.PAST, Way.GAUGE, Way.RULER])
    row: dict[str, Any] = {"way": str(way)}
    if way is Way.PAST:
        row |= {"pitches": 24, "sixteenths": draft.lot.choice([0, 0.5, 1, 1.5, 2, 2.5])}
    elif way is Way.RULER:
        row |= {"pitches": 24, "mm": round(304.8 + draft.lot.uniform(0.2, 3.6), 1)}
    else:
        low, high = draft.lot.choice([(0.25, 0.5), (0.5, 0.75), (0.75, 1.0)])
        row |= {"passes": low, "stops": high}
    reading = WearReading.model_validate(row)
    wear = wear_of(reading)
    found = what_to_replace(wear, draft.sizing.bike.speeds)[0]
    right = {True: "replace", None: "near", False: "keep"}[found.is_due]
    return draft.question(
        parts=(Part("worn", WORN),),
        right={"worn": frozenset({right})},
        told=(Message("practice_speeds", speeds=Quantity(draft.sizing.bike.speeds, Unit.COGS)), read_told(reading)),
        because=(found.why, *((Message("practice_play"),) if way is Way.GAUGE else ())),
        reading=reading,
        gears=draft.sizing.take_up.gears(draft.sizing.recommended_links)[:1],
        shown_links=draft.sizing.recommended_links,
        truth={"reading": row, "wear_percent": wear.percent},
    )
