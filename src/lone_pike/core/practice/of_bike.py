"""What is asked of a whole bike: its chain judged, its cage, the methods, its way, its travel, its counts."""

from dataclasses import dataclass

import numpy as np

from lone_pike.core.bike.clock import hand_deg, within_half_turn_deg
from lone_pike.core.bike.limits import LINKS_PER_PAIR
from lone_pike.core.bike.suspensions import PivotSuspension
from lone_pike.core.count.schools import votes_of
from lone_pike.core.count.sizing import Sizing, size_at
from lone_pike.core.messages import Message, Quantity, Term, Unit, links, mm, number
from lone_pike.core.practice.asking import Draft, Part, Question
from lone_pike.core.take_up.protocol import Gear, GearState, Safety

MOST_PAIRS, NEAR_DEG, HALF_HOURS = 3, 15.0, 30
FIRST_CLOCK_H, LAST_CLOCK_H = 3, 9
COUNTS_OFFERED, TRAVELS = 8, (0, 25, 50, 75, 100)


def judge(draft: Draft) -> Question:
    """A chain that is too long, too short or right, by how many pairs: three gears to look at.

    One in seven is right, whatever the level; a harder one is off by less.
    """
    sizing, window = draft.sizing, _window(draft.sizing)
    off = 0
    if draft.lot.random() >= 1 / (2 * MOST_PAIRS + 1):
        least, most = {1: (2, MOST_PAIRS), 2: (1, MOST_PAIRS), 3: (1, 1)}[draft.level]
        off = draft.lot.choice([-1, 1]) * draft.lot.randint(least, most)
    safe = range(window[0], window[1] + 1, sizing.step_links)
    count = draft.lot.choice(safe) if not off else window[off > 0] + LINKS_PER_PAIR * off
    gears = _told_apart(sizing.take_up.gears(count))
    return draft.question(
        parts=(Part("pairs", tuple(str(pairs) for pairs in range(-MOST_PAIRS, MOST_PAIRS + 1))),),
        right={"pairs": frozenset({str(off)})},
        because=(Message("practice_counts", low=links(window[0]), high=links(window[1]), count=links(count)),)
        + ((sizing.take_up.meaning(count),) if off else ()),
        gears=gears,
        shown_links=count,
        truth={"shown_links": count},
    )


def clock(draft: Draft) -> Question:
    """Where the cage will stand in a gear, set on a clock's face in half hours."""
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
        parts=(Part("hand", tuple(hands)),),
        right={"hand": near},
        told=(
            draft.measures,
            Message("practice_gear", ring=number(gear.ring), cog=number(gear.cog), count=links(count)),
        ),
        because=(Message("practice_hand", clock=gear.rest_clock or ""),),
        gears=(gear,),
        shown_links=count,
        truth={"gear": [gear.ring, gear.cog], "clock": gear.rest_clock},
    )


def school(draft: Draft) -> Question:
    """What a school says of a bare wrap, and whether that count is safe here."""
    sizing, window = draft.sizing, _window(draft.sizing)
    first = int(sizing.bare_wrap_links) // LINKS_PER_PAIR * LINKS_PER_PAIR
    counts = [first + LINKS_PER_PAIR * i for i in range(COUNTS_OFFERED)]
    votes = [vote for vote in votes_of(sizing) if vote.links in counts]
    vote = draft.lot.choice(votes)
    return draft.question(
        parts=(Part("count", tuple(map(str, counts))), Part("holds", ("yes", "no"))),
        right={"count": frozenset({str(vote.links)}), "holds": frozenset({"yes" if vote.inside else "no"})},
        told=(
            draft.measures,
            Message("practice_wrap", wrap=links(round(sizing.bare_wrap_links, 1))),
            Message("practice_school", school=Term("flag", vote.school)),
        ),
        because=(
            vote.why,
            Message("practice_counts", low=links(window[0]), high=links(window[1]), count=links(vote.links)),
        ),
        gears=sizing.take_up.gears(sizing.recommended_links)[:1],
        truth={"bare_wrap": sizing.bare_wrap_links, "school": vote.school, "vote": vote.links, "inside": vote.inside},
    )


@dataclass(frozen=True)
class Stop:
    """One stop of the chain's way: how it goes, how it is told wrong, and what comes of that."""

    right: Message
    wrong: Message
    why: Message


THREADED: dict[str, Stop] = {
    "cog": Stop(Message("thread_cog_right"), Message("thread_cog_wrong"), Message("thread_cog_why")),
    "guide": Stop(Message("thread_guide_right"), Message("thread_guide_wrong"), Message("thread_guide_why")),
    "tab": Stop(Message("thread_tab_right"), Message("thread_tab_wrong"), Message("thread_tab_why")),
    "tension": Stop(Message("thread_tension_right"), Message("thread_tension_wrong"), Message("thread_tension_why")),
    "ring": Stop(Message("thread_ring_right"), Message("thread_ring_wrong"), Message("thread_ring_why")),
}


def thread(draft: Draft) -> Question:
    """Five stops of the chain's way, one of them told wrong."""
    wrong = draft.lot.choice(list(THREADED))
    sizing = draft.sizing
    return draft.question(
        parts=(Part("stop", tuple(THREADED)),),
        right={"stop": frozenset({wrong})},
        told=tuple(stop.wrong if name == wrong else stop.right for name, stop in THREADED.items()),
        because=(THREADED[wrong].why, THREADED[wrong].right),
        gears=sizing.take_up.gears(sizing.recommended_links)[-1:],
        shown_links=sizing.recommended_links,
        truth={"wrong": wrong},
    )


def suspension(draft: Draft) -> Question:
    """Where on the travel the run is longest, and what a chain that was sized at rest does there."""
    sizing = draft.sizing
    full_mm = sizing.bike.travel_mm
    wraps = np.interp([share * full_mm / 100 for share in TRAVELS], sizing.travels_mm, sizing.bare_wraps_links)
    nearest = min(TRAVELS, key=lambda share: abs(share * full_mm / 100 - sizing.worst_travel_mm))
    longest = frozenset(
        str(share) for share, wrap in zip(TRAVELS, wraps, strict=True) if share == nearest or wrap >= wraps.max() - 0.02
    )
    at_rest = size_at(sizing.bike, 0.0).recommended_links
    safety = sizing.safety(at_rest)
    window = _window(sizing)
    return draft.question(
        parts=(Part("longest", tuple(map(str, TRAVELS))), Part("then", tuple(map(str, Safety)))),
        right={"longest": longest, "then": frozenset({str(safety)})},
        told=(
            draft.measures,
            pivot_told(sizing),
            Message("practice_travel", travel=Quantity(full_mm, Unit.MM), count=links(at_rest)),
        ),
        because=(
            Message("practice_longest", travel=Quantity(round(sizing.worst_travel_mm), Unit.MM)),
            Message("practice_counts", low=links(window[0]), high=links(window[1]), count=links(at_rest)),
            sizing.take_up.meaning(at_rest),
        ),
        gears=sizing.take_up.gears(sizing.recommended_links)[:1],
        shown_links=sizing.recommended_links,
        truth={"worst_travel_mm": sizing.worst_travel_mm, "at_rest_links": at_rest, "safety": str(safety)},
    )


def pivot_told(sizing: Sizing) -> Message:
    """Where the rear end turns."""
    part = sizing.bike.suspension
    x, y = part.pivot_mm if isinstance(part, PivotSuspension) else (0.0, 0.0)
    return Message("practice_pivot", forward=mm(x), up=mm(y))


def fixed(draft: Draft) -> Question:
    """Which of some counts fit where nothing is sprung."""
    sizing, window = draft.sizing, _window(draft.sizing)
    begin = window[0] - sizing.step_links * draft.lot.randint(1, 4)
    counts = [begin + sizing.step_links * i for i in range(6)]
    fits = frozenset(str(count) for count in counts if sizing.safety(count) is Safety.SAFE)
    return draft.question(
        parts=(Part("counts", tuple(map(str, counts)), several=True),),
        right={"counts": fits},
        told=(draft.measures,),
        because=tuple(sizing.take_up.meaning(count) for count in counts if str(count) in fits)
        or (sizing.take_up.meaning(counts[0]),),
        gears=sizing.take_up.gears(sizing.recommended_links)[:1],
        shown_links=sizing.recommended_links,
        truth={"fits": sorted(map(int, fits))},
    )


def _window(sizing: Sizing) -> tuple[int, int]:
    """The safe counts at its two ends; a bike made for practice has them."""
    window = sizing.window
    return (window.min, window.max) if window else (sizing.recommended_links, sizing.recommended_links)


def _told_apart(gears: tuple[Gear, ...]) -> tuple[Gear, ...]:
    """The gears that tell a chain's length: big/big, the second largest cog, small/small."""
    largest, smallest = max(one.ring for one in gears), min(one.ring for one in gears)
    by_cog = sorted((one for one in gears if one.ring == largest), key=lambda one: -one.cog)
    small = min((one for one in gears if one.ring == smallest), key=lambda one: one.cog)
    return tuple(dict.fromkeys([*by_cog[:2], small]))
