"""Questions about a whole bike: judging its chain, the place of its cage, the chain's route, its travel."""

import numpy as np

from lone_pike.core.bike.clock import hand_deg, within_half_turn_deg
from lone_pike.core.bike.limits import LINKS_PER_PAIR
from lone_pike.core.bike.suspensions import PivotSuspension
from lone_pike.core.count.sizing import Sizing, size_at
from lone_pike.core.messages import Message, Quantity, Term, Unit, links, mm, number
from lone_pike.core.practice.asking import AskedPart, Draft, Question, safe_message, window_of
from lone_pike.core.take_up.protocol import Gear, GearState, Safety

MOST_PAIRS, NEAR_DEG, HALF_HOURS = 3, 15.0, 30
FIRST_CLOCK_H, LAST_CLOCK_H = 3, 9
TRAVELS = (0, 25, 50, 75, 100)


def judge(draft: Draft) -> Question:
    """A chain that is too long, too short or right, and by how many pairs, with three gears to look at. One in seven is
    right at every level; at harder levels the error is smaller."""
    sizing, window = draft.sizing, window_of(draft.sizing)
    off = 0
    if draft.lot.random() >= 1 / (2 * MOST_PAIRS + 1):
        least, most = {1: (2, MOST_PAIRS), 2: (1, MOST_PAIRS), 3: (1, 1)}[draft.level]
        off = draft.lot.choice([-1, 1]) * draft.lot.randint(least, most)
    safe = range(window[0], window[1] + 1, sizing.step_links)
    count = draft.lot.choice(safe) if not off else window[off > 0] + LINKS_PER_PAIR * off
    gears = _distinct(sizing.take_up.gears(count))
    return draft.question(
        parts=(AskedPart("pairs", tuple(str(pairs) for pairs in range(-MOST_PAIRS, MOST_PAIRS + 1))),),
        right={"pairs": frozenset({str(off)})},
        because=(Message("practice_counts", safe=safe_message(sizing), count=links(count)),)
        + ((Message("practice_meaning", meaning=sizing.take_up.meaning(count)),) if off else ()),
        gears=gears,
        shown_links=count,
        truth={"shown_links": count},
    )


def clock(draft: Draft) -> Question:
    """Where the cage will be in a gear, to be set on a clock face in half hours."""
    sizing = draft.sizing
    count = sizing.recommended_links
    gears = [one for one in sizing.take_up.gears(count) if one.rest_deg is not None and one.state is GearState.SAFE]
    gear = draft.lot.choice(gears or list(sizing.take_up.gears(count)))
    hands = [f"{h}:{m:02d}" for h in range(FIRST_CLOCK_H, LAST_CLOCK_H) for m in (0, HALF_HOURS)] + [
        f"{LAST_CLOCK_H}:00"
    ]
    at_deg = gear.rest_deg or 0.0
    off = {hand: abs(float(within_half_turn_deg((hand_deg(hand) or 0.0) - at_deg))) for hand in hands}
    near = frozenset(hand for hand in hands if off[hand] <= NEAR_DEG) or frozenset(
        {min(hands, key=lambda hand: off[hand])}
    )
    return draft.question(
        parts=(AskedPart("hand", tuple(hands)),),
        right={"hand": near},
        beside=(
            draft.measures,
            Message("practice_gear", ring=number(gear.ring), cog=number(gear.cog), count=links(count)),
        ),
        because=(Message("practice_hand", clock=gear.rest_clock or ""),),
        gears=(gear,),
        shown_links=count,
        truth={"gear": [gear.ring, gear.cog], "clock": gear.rest_clock},
    )


NOTHING = "none"
"""The answer if nothing is wrong."""

THREADED = ("runs", "guide", "tab", "tension", NOTHING)
"""Where the chain can go wrong on its way; it does at one of these places, or at none."""


def thread(draft: Draft) -> Question:
    """A drawn chain on its way round, wrong at one place or at none."""
    wrong = draft.lot.choice(THREADED)
    sizing = draft.sizing
    return draft.question(
        parts=(AskedPart("stop", THREADED),),
        right={"stop": frozenset({wrong})},
        because=(Message(THREAD_WHY[wrong]),),
        gears=sizing.take_up.gears(sizing.recommended_links)[-1:],
        shown_links=sizing.recommended_links,
        truth={"wrong": wrong},
    )


THREAD_WHY = {wrong: f"thread_{wrong}_why" for wrong in THREADED}
"""Codes of the sentences for what follows from each, and how it is done right."""


def suspension(draft: Draft) -> Question:
    """Where in the travel the run is longest, and what a chain that was sized at rest does there."""
    sizing = draft.sizing
    full_mm = sizing.bike.travel_mm
    wraps = np.interp([share * full_mm / 100 for share in TRAVELS], sizing.travels_mm, sizing.bare_wraps_links)
    nearest = min(TRAVELS, key=lambda share: abs(share * full_mm / 100 - sizing.worst_travel_mm))
    longest = frozenset(
        str(share) for share, wrap in zip(TRAVELS, wraps, strict=True) if share == nearest or wrap >= wraps.max() - 0.02
    )
    at_rest = size_at(sizing.bike, 0.0).recommended_links
    safety = sizing.safety(at_rest)
    return draft.question(
        parts=(AskedPart("longest", tuple(map(str, TRAVELS))), AskedPart("then", tuple(map(str, Safety)))),
        right={"longest": longest, "then": frozenset({str(safety)})},
        beside=(
            draft.measures,
            pivot_message(sizing),
            Message("practice_travel", travel=Quantity(full_mm, Unit.MM), count=links(at_rest)),
        ),
        because=(
            Message("practice_longest", travel=Quantity(round(sizing.worst_travel_mm), Unit.MM)),
            Message("practice_counts", safe=safe_message(sizing), count=links(at_rest)),
            Message("practice_meaning", meaning=sizing.take_up.meaning(at_rest)),
        ),
        gears=sizing.take_up.gears(sizing.recommended_links)[:1],
        shown_links=sizing.recommended_links,
        truth={"worst_travel_mm": sizing.worst_travel_mm, "at_rest_links": at_rest, "safety": str(safety)},
    )


def pivot_message(sizing: Sizing) -> Message:
    """Where the pivot of the rear end is."""
    part = sizing.bike.suspension
    x, y = part.pivot_mm if isinstance(part, PivotSuspension) else (0.0, 0.0)
    side, height = Term("beside", "before" if x >= 0 else "behind"), Term("beside", "above" if y >= 0 else "below")
    return Message("practice_pivot", forward=mm(abs(x)), side=side, up=mm(abs(y)), height=height)


def _distinct(gears: tuple[Gear, ...]) -> tuple[Gear, ...]:
    """The gears that show a chain's length: big/big, the second largest cog, small/small."""
    largest, smallest = max(one.ring for one in gears), min(one.ring for one in gears)
    by_cog = sorted((one for one in gears if one.ring == largest), key=lambda one: -one.cog)
    small = min((one for one in gears if one.ring == smallest), key=lambda one: one.cog)
    return tuple(dict.fromkeys([*by_cog[:2], small]))
