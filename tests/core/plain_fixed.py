"""The second, plain way for what has no derailleur: slots, searches, arms; and what a route meets on its way."""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import product
from math import ceil, cos, hypot, radians, sin, sqrt
from typing import Any

from tests.core.plain_model import TIP, Cage, Circle, Loop, P, halved, loop, radius
from tests.core.plain_motion import Pose, pose_of

HARDLY_RAD = radians(1)
"""An idler that turns the chain by less may be reached or not, where the counts are whole ones."""


def slot_centres(bike: dict[str, Any]) -> dict[int, float]:
    """Every joinable count whose taut loop has its axle in the slot, and how far from the crank (model, section 5)."""
    low, high, up = bike["take_up"]["min_mm"], bike["take_up"]["max_mm"], bike.get("axle_height_mm", 0.0)
    middle = (low + high) / 2
    ring, cog = bike["rings"][0], bike["cogs"][0]

    def links(centre: float) -> float:
        share = centre / middle
        here = loop([(0.0, 0.0, ring, 1), (-sqrt(middle * middle - up * up) * share, up * share, cog, 1)])
        return here.links if here else float("nan")

    step = 1 if bike["chain"]["offset_link"] else 2
    fits = [n for n in range(0, 400, step) if links(low) <= n <= links(high)]
    return {n: halved(lambda centre, n=n: n - links(centre), low, high) for n in fits}  # type: ignore[misc]


def combinations(bike: dict[str, Any], centres_mm: list[float]) -> dict[tuple[int, int, int], float]:
    """Every ring, cog and count of a search that lands, with its slack, mm: of the places tried the one nearest to the
    middle of the slack asked for."""
    search, worn = bike["search"], 1 + bike["chain"].get("wear_percent", 0.0) / 100
    least, most = search["slack_mm"]
    rings, cogs = (range(search[key][0], search[key][1] + 1) for key in ("rings", "cogs"))
    step = 1 if search["offset_link"] else 2
    landed: dict[tuple[int, int, int], float] = {}
    for ring, cog, centre in product(rings, cogs, centres_mm):
        here = loop([(0.0, 0.0, ring, 1), (-centre, 0.0, cog, 1)])
        if here is None:
            continue
        shortest = int(here.links / worn)
        for count in range(shortest - shortest % 2, shortest + 12, step):
            slack = 2 * sqrt(max((count * worn - here.links) * P, 0.0) * here.spans[0] / 2)
            kept = landed.get((ring, cog, count))
            if least <= slack <= most and (kept is None or _off(slack, least, most) < _off(kept, least, most)):
                landed[ring, cog, count] = slack
    return landed


def _off(slack: float, least: float, most: float) -> float:
    return abs(slack - (least + most) / 2)


def shell_centres_mm(bike: dict[str, Any], places: int) -> list[float]:
    """The centre distances that an eccentric, or vertical dropouts, can be set to (model, sections 4 and 5)."""
    part, up = bike["take_up"], bike.get("axle_height_mm", 0.0)
    reach, deg = part.get("radius_mm", 0.0), part.get("crank_deg")
    back = -sqrt(bike["chainstay_mm"] ** 2 - up * up)
    if deg is not None:
        back, up = back + reach * sin(radians(deg)), up - reach * cos(radians(deg))
    away = hypot(back, up)
    return [away + reach * (2 * i / (places - 1) - 1) for i in range(places)] if reach else [away]


def arm_count(bike: dict[str, Any]) -> int:
    """The joinable count whose arm is nearest to midway between slackest and stretched (model, section 5)."""
    part = {"guide_teeth": 11, "tension_teeth": 11} | bike["take_up"]
    up = bike.get("axle_height_mm", 0.0)
    pose = Pose(-sqrt(bike["chainstay_mm"] ** 2 - up * up), up, 0.0)
    arm = Cage(bike | {"take_up": part}, pose, bike["rings"][0], bike["cogs"][0])
    worn = 1 + bike["chain"].get("wear_percent", 0.0) / 100
    step = 1 if bike["chain"].get("offset_link") else 2
    rests = radians(part["rest_deg"]) if "rest_deg" in part else arm.slackest
    half = (max(rests, arm.slackest) + arm.stretched) / 2
    counts = range(ceil(arm.shortest / worn / step) * step, int(arm.longest / worn) + 1, step)
    return min(counts, key=lambda n: abs((arm.rest(n * worn) or 0.0) - half))


@dataclass(frozen=True)
class Route:
    """What a route meets in all gears, poses and counts: idlers that are touched, wheels that overlap, runs crossed."""

    reached: frozenset[int]
    overlaps: bool
    crossed: bool


def route(bike: dict[str, Any], travels: Sequence[float]) -> Route:
    """A walk through the outer gears at these travels, the cage from slackest to stretched in 24 steps.

    An idler is reached where the chain touches it at a count between the shortest that goes round big/big and the
    longest that clears small/small (model, section 1).
    """
    reached, overlaps, crossed = set[int](), False, False
    cogs, rings = sorted(bike["cogs"]), sorted(bike["rings"])
    gears = dict.fromkeys([(rings[-1], cogs[-1]), (rings[0], cogs[0]), (rings[-1], cogs[0]), (rings[0], cogs[-1])])
    try:
        cages = {gear: [Cage(bike, pose_of(bike, travel), *gear) for travel in travels] for gear in gears}
    except ValueError:
        return Route(frozenset(), overlaps=True, crossed=False)
    least = min(cage.shortest for cage in cages[rings[-1], cogs[-1]])
    small = cages[rings[0], cogs[0]]
    counts = [(cage, n / 4) for cage in small for n in range(ceil(cage.shortest * 4), int(cage.longest * 4) + 1)]
    most = max((links for cage, links in counts if cage.clearance(links) >= 0), default=least)
    for cage, i in product([cage for row in cages.values() for cage in row], range(25)):
        running = cage.running(cage.slackest + (cage.stretched - cage.slackest) * i / 24)
        if running is None:
            overlaps = True
            continue
        stops, here = running
        overlaps = overlaps or _overlap(bike, stops)
        crossed = crossed or _are_crossed(stops, here, cage)
        if least <= here.links <= max(most, least):
            at_cog = stops.index(cage.rear[0][0])
            turned = [stop if wrap > HARDLY_RAD else None for stop, wrap in zip(stops, here.wraps, strict=True)]
            run = {"return": turned[:at_cog], "drive": turned[at_cog:]}
            reached |= {i for i, idler in enumerate(bike["idlers"]) if _stop_of(idler) in run[idler["run"]]}
    return Route(frozenset(reached), overlaps, crossed)


def _overlap(bike: dict[str, Any], stops: list[Circle]) -> bool:
    """Whether the teeth of an idler and of another wheel that the chain touches are in each other's way."""
    idlers = {_stop_of(idler) for idler in bike["idlers"]}
    return any(
        hypot(one[0] - other[0], one[1] - other[1]) <= radius(one[2]) + radius(other[2]) + 2 * TIP
        for one in idlers
        for other in stops
        if other not in idlers
    )


def _stop_of(idler: dict[str, Any]) -> Circle:
    clockwise = {"drive": "over", "return": "under"}[idler["run"]]
    return (*idler["at_mm"], idler["teeth"], 1 if idler["chain"] == clockwise else -1)


def _are_crossed(stops: list[Circle], here: Loop, cage: Cage) -> bool:
    """Whether a straight part of the drive run crosses one of the return run."""
    at_cog = stops.index(cage.rear[0][0])
    straights = [_straight(stop, here.headings[i], here.spans[i]) for i, stop in enumerate(stops)]
    return any(_meet(one, other) for one in straights[at_cog:] for other in straights[:at_cog])


Line = tuple[tuple[float, float], tuple[float, float]]


def _straight(stop: Circle, heading: float, span: float) -> Line:
    x, y, teeth, wind = stop
    start = (x - wind * radius(teeth) * sin(heading), y + wind * radius(teeth) * cos(heading))
    return start, (start[0] + span * cos(heading), start[1] + span * sin(heading))


def _meet(one: Line, other: Line) -> bool:
    def side(line: Line, at: tuple[float, float]) -> float:
        (ax, ay), (bx, by) = line
        return (bx - ax) * (at[1] - ay) - (by - ay) * (at[0] - ax)

    return side(one, other[0]) * side(one, other[1]) < 0 and side(other, one[0]) * side(other, one[1]) < 0
