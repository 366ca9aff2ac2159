"""Part of the campaign: bikes nobody drew, sized by the product and by the plain second way, and held side by side."""

import multiprocessing
import random
import sys
from collections import Counter
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import numpy as np
from campaign_tried import Tried

sys.path.insert(0, str(Path(__file__).parent.parent))

from tests.core import plain_fixed, plain_model, plain_motion
from tests.core.random_bikes import KINDS, ODD, odd_bike, random_bike, random_fixed, random_slot
from tests.core.test_pieces import by_trying_all, closes, kept

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.chain.cutting import End
from lone_pike.core.chain.pieces import Loose, plan_pieces
from lone_pike.core.count.answer import Answer, answer
from lone_pike.core.count.search import CENTRES
from lone_pike.core.route.tubes import tube_fits
from lone_pike.formats.files.bike_file import bike_from_document

NEAR_DEG, NEAR_MM, NEAR_LINKS = 0.05, 0.05, 2e-3
"""What the two ways may differ by; a count that lies so near to a limit may be on either side of it."""

CHUNK = 8
"""Bikes that a process is given at once."""

Judged = str | None
"""What is wrong with a bike's answer, or nothing."""


class NoSay(Exception):
    """The plain way cannot tell."""


def travels_for(document: dict[str, Any], result: Answer | None) -> list[float]:
    """Rest, half way and full travel, and the travel at which the product found its longest wrap."""
    full = plain_motion.travels_of(document)[-1]
    worst = [result.bare_wrap.worst_travel_mm] if result else [full * i / 12 for i in range(13)]
    return sorted({0.0, full / 2, full, *worst})


def judge_caged(document: dict[str, Any]) -> Judged:
    """Count, window and longest wrap of a derailleur; a refusal is looked for in the route."""
    try:
        result = answer(bike_from_document(document))
    except InvalidInput as error:
        return judge_refusal(document, error)
    travels = travels_for(document, result)
    wrap = max(
        plain_model.bare_links(document, plain_motion.pose_of(document, travel), *outer(document)) for travel in travels
    )
    if abs(wrap - result.bare_wrap.worst) > NEAR_LINKS:
        return f"longest wrap {result.bare_wrap.worst:.3f}, plain {wrap:.3f}"
    try:
        plain = plain_model.size(document, travels, fewer_gears=True)
    except (ValueError, KeyError, IndexError) as error:
        raise NoSay from error
    ours = set(result.sizing.in_reach.safe_counts)
    for count in ours ^ set(plain.safe):
        if not on_the_edge(plain, count) and not (count in plain.safe and closed_by_a_gear(result, count)):
            return f"window {sorted(ours)}, plain {plain.safe}"
    if ours and result.recommended_links != plain.recommended:
        off = [abs(plain.reserves[count] - 45) for count in (result.recommended_links, plain.recommended)]
        if off[0] - off[1] > NEAR_DEG and plain.recommended in ours:
            return f"count {result.recommended_links}, plain {plain.recommended}"
    return judge_boom(document, result)


def outer(document: dict[str, Any]) -> tuple[int, int]:
    return max(document["rings"]), max(document["cogs"])


def on_the_edge(plain: plain_model.Sized, count: int) -> bool:
    """Whether a count lies so near to a limit that either side is right."""
    reserve, air = plain.reserves.get(count, 1e9), plain.clearances.get(count, 1e9)
    return abs(reserve - plain_model.LEAST_RESERVE) < NEAR_DEG or abs(air) < NEAR_MM


def closed_by_a_gear(result: Answer, count: int) -> bool:
    """Whether the product shuts a count out for a gear that the plain way, in a hurry, did not look at."""
    states = {gear.state for gear in result.gears_at(count)}
    return bool(states & {"short", "loose"})


def judge_boom(document: dict[str, Any], result: Answer) -> Judged:
    """Both ends of the boom: the ring moved forward is axle and idlers moved back."""
    for row in (result.boom.settings[0], result.boom.settings[-1]) if result.boom else ():
        moved = {key: value for key, value in document.items() if key != "boom"}
        x, y = document["axle_mm"]
        idlers = [one | {"at_mm": [one["at_mm"][0] - row.boom_mm, one["at_mm"][1]]} for one in document["idlers"]]
        moved |= {"axle_mm": [x - row.boom_mm, y], "idlers": idlers}
        wrap = plain_model.bare_links(moved, plain_motion.pose_of(moved, 0.0), *outer(moved))
        if abs(wrap - row.bare_wrap) > NEAR_LINKS:
            return f"boom {row.boom_mm}: wrap {row.bare_wrap:.3f}, plain {wrap:.3f}"
    return None


def boom_overlaps(document: dict[str, Any]) -> bool:
    """Whether at an end of the boom ring and idler come too near to each other."""
    for boom_mm in (document["boom"]["from_mm"], document["boom"]["to_mm"]):
        for one in document["idlers"]:
            x, y = one["at_mm"]
            teeth = plain_model.radius(max(document["rings"])) + plain_model.radius(one["teeth"]) + 2 * plain_model.TIP
            if float(np.hypot(x - boom_mm, y)) <= teeth:
                return True
    return False


def judge_refusal(document: dict[str, Any], error: InvalidInput) -> Judged:
    """A refusal is right where the plain way finds what it names: wheels that overlap, runs crossed, never reached."""
    fields = {fault.field for fault in error.faults}
    if fields == {"boom"}:
        return None if boom_overlaps(document) else "refused for the boom, and its ends are clear"
    if not document.get("idlers") or not all(field.startswith("idlers") for field in fields):
        travels = travels_for(document, None)
        try:
            plain_model.size(document, travels, fewer_gears=True)
        except (ValueError, KeyError, IndexError):
            return None
        return f"refused for {sorted(fields)}, and the plain way sizes it"
    found = plain_fixed.route(document, travels_for(document, None))
    unreached = {f"idlers.{i}.chain" for i in range(len(document["idlers"])) if i not in found.reached}
    if found.overlaps or found.crossed or fields & unreached:
        return None
    return f"refused for {sorted(fields)}: reached {sorted(found.reached)}, no overlap, crossed {found.crossed}"


def judge_fixed(document: dict[str, Any], kind: str) -> Judged:
    """What lands in a slot, in a search; where an arm stands."""
    try:
        result = answer(bike_from_document(document))
    except InvalidInput:
        raise NoSay from None
    if kind == "slot":
        ours, plain = {fit.links: fit.centre_mm for fit in result.fits}, plain_fixed.slot_centres(document)
        same = ours.keys() == plain.keys() and all(abs(ours[count] - plain[count]) < NEAR_MM for count in ours)
        return None if same else f"slot {ours}, plain {plain}"
    if kind == "arm":
        plain_count = plain_fixed.arm_count(document)
        return None if result.recommended_links == plain_count else f"arm {result.recommended_links}, {plain_count}"
    if "search" not in document:
        raise NoSay
    found = {(one.ring, one.cog, one.links): one.slack_mm for one in result.combinations}
    landed = plain_fixed.combinations(document, plain_fixed.shell_centres_mm(document, CENTRES))
    near = document["search"]["slack_mm"]
    for gear in found.keys() | landed.keys():
        ours_mm, plain_mm = found.get(gear), landed.get(gear)
        at_edge = min(abs((ours_mm or plain_mm or 0.0) - edge) for edge in near) < NEAR_MM
        if not at_edge and (ours_mm is None or plain_mm is None or abs(ours_mm - plain_mm) > NEAR_MM):
            return f"search {gear}: {ours_mm}, plain {plain_mm}"
    return None


def judge_pieces(seed: int) -> Judged:
    """A loop of a few short pieces, against every way to lay them."""
    lot = random.Random(f"pieces {seed}")
    pieces = [Loose(i, lot.randint(1, 7), lot.choice(list(End))) for i in range(lot.randint(1, 3))]
    links, joiner = 2 * lot.randint(1, 9), lot.choice([0, 1])
    plan, best = plan_pieces(pieces, links, joiner), by_trying_all(pieces, links, joiner)
    told = plan and (len(plan), sum(run.piece.links - run.links for run in plan))
    if told != best or (plan and not closes([kept(run) for run in plan], joiner)):
        return f"pieces {pieces} for {links}: {told}, plain {best}"
    return None


def judge_tubes(seed: int) -> Judged:
    """A long bike with a tube on its return run: it lies between the wheels that the chain touches there."""
    lot = random.Random(f"tubes {seed}")
    document = random_bike(seed, "long")
    part = lot.randint(1, 1 + sum(idler["run"] == "return" for idler in document["idlers"]))
    tube = {"run": "return", "part": part, "length_mm": 100.0, "inner_mm": 12.0, "behind_mm": 40.0}
    document["tubes"] = [tube]
    try:
        result = answer(bike_from_document(document))
    except InvalidInput:
        raise NoSay from None
    ring, cog = outer(document)
    if not result.sizing.cage.is_taut(-1, result.links):
        raise NoSay
    (fit, *_) = tube_fits(result.bike, result.sizing.cage.resting_path(ring, cog, result.links))
    cage = plain_model.Cage(document, plain_motion.pose_of(document, 0.0), ring, cog)
    rest = cage.rest(result.links)
    running = None if rest is None else cage.running(rest)
    if running is None:
        raise NoSay
    stops, here = running
    wheels = [stop for stop, _ in cage.front]
    before = max(i for i, stop in enumerate(wheels) if i < part and stop in stops)
    span = here.spans[stops.index(wheels[before])]
    told = fit.front_spare_mm + 140.0 + result.bike.limits.tube_clear_mm
    return None if abs(told - span) < NEAR_MM else f"tube on part {part}: straight {told:.2f}, plain {span:.2f}"


def judge_doubt(seed: int, kind: str) -> Judged:
    """Measures in doubt: the share of likely counts is what drawing by lot finds."""
    lot = random.Random(f"doubt {seed}")
    document = random_fixed(seed, "arm") if kind == "arm in doubt" else random_bike(seed, "rigid")
    key = "cage_mm" if kind == "arm in doubt" else "chainstay_mm"
    spread = round(lot.uniform(1, 6), 1)
    try:
        result = answer(bike_from_document(document | {"about": {key: spread}}))
    except InvalidInput:
        raise NoSay from None
    if result.likelihood is None or abs(sum(result.likelihood.shares.values()) - 1) > 1e-6:
        return "shares that do not add up"
    same = 0
    for _ in range(40):
        same += count_with(document, key, lot.gauss(0, spread / 2)) == result.recommended_links
    off = abs(same / 40 - result.likelihood.stays)
    return None if off < 0.35 else f"stays {result.likelihood.stays:.2f}, by lot {same / 40:.2f}"


def count_with(document: dict[str, Any], key: str, error_mm: float) -> int | None:
    """The plain way's count with one measure off; none where it has none."""
    try:
        if key == "cage_mm":
            part = document["take_up"]
            return plain_fixed.arm_count(document | {"take_up": part | {key: part[key] + error_mm}})
        x, y = document["axle_mm"]
        longer = 1 + error_mm / float(np.hypot(x, y))
        return plain_model.size(document | {"axle_mm": [x * longer, y * longer]}, (0.0,), True).recommended
    except (ValueError, IndexError):
        return None


def with_boom(document: dict[str, Any], lot: random.Random) -> dict[str, Any]:
    """Half of the long bikes have a boom to set."""
    if document.get("idlers") and not document.get("suspension") and lot.random() < 0.5:
        return document | {"boom": {"from_mm": -lot.randint(0, 40), "to_mm": lot.randint(1, 60), "angle_deg": 0}}
    return document


CAGED = dict.fromkeys(KINDS, random_bike) | dict.fromkeys(ODD, odd_bike)
WEIGHTS = {
    "slot": 20, "none": 8, "eccentric": 8, "arm": 10, "pieces": 20, "few": 14, "rigid": 4, "far": 2, "shared": 1,
    "long": 1, "tubes": 4, "arm in doubt": 0.2, "stay in doubt": 0.1, "late": 0.4, "pivot": 0.4, "growth": 0.4,
    "table": 0.4, "idler": 0.2,
}  # fmt: skip
"""How often each kind is drawn: the plain way takes 10 ms for a slot and half a second with idlers."""


def judge(told: tuple[int, str]) -> tuple[str, str, Judged]:
    """One bike by its seed and kind: "right", "wrong" or "no say"."""
    seed, kind = told
    special: dict[str, Callable[[], Judged]] = {
        "pieces": lambda: judge_pieces(seed),
        "tubes": lambda: judge_tubes(seed),
        "arm in doubt": lambda: judge_doubt(seed, kind),
        "stay in doubt": lambda: judge_doubt(seed, kind),
        "slot": lambda: judge_fixed(random_slot(seed), kind),
    }
    try:
        if kind in special:
            wrong = special[kind]()
        elif kind in CAGED:
            wrong = judge_caged(with_boom(CAGED[kind](seed, kind), random.Random(seed)))
        else:
            wrong = judge_fixed(random_fixed(seed, kind), kind)
    except NoSay:
        return kind, "no say", None
    except Exception as error:
        return kind, "wrong", f"{kind} {seed}: {error!r}"
    return kind, "wrong" if wrong else "right", wrong and f"{kind} {seed}: {wrong}"


def judged(drawn: list[tuple[int, str]], processes: int) -> Iterator[tuple[str, str, Judged]]:
    """The judgements of bikes that were drawn; of a few in this process, for another one takes seconds to begin."""
    if len(drawn) <= CHUNK:
        yield from map(judge, drawn)
        return
    with multiprocessing.get_context("spawn").Pool(processes) as pool:
        yield from pool.imap_unordered(judge, drawn, chunksize=CHUNK)


def odd(seed: int, count: int, processes: int = 2) -> Tried:
    """Bikes of every kind by both ways, each wrong one named by its kind and seed; of few each has its own kind."""
    lot = random.Random(seed)
    kinds_drawn = [
        *lot.sample(list(WEIGHTS), min(count, len(WEIGHTS))),
        *lot.choices(list(WEIGHTS), list(WEIGHTS.values()), k=max(0, count - len(WEIGHTS))),
    ]
    drawn = [(lot.randrange(10**9), kind) for kind in kinds_drawn]
    tried, kinds = Tried("bikes by both ways"), Counter[str]()
    for kind, state, line in judged(drawn, processes):
        kinds[kind if state != "no say" else "no say"] += 1
        tried.hold(state != "wrong", line or "")
    tried.told = ", ".join(f"{kind} {many}" for kind, many in kinds.most_common())
    return tried
