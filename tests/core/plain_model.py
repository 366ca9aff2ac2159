"""A second, plain way to every figure: scalar, written from the model's page alone, without a call of the core.

It knows a bike as its parsed file and nothing of how the core solves: angles are walked in small steps and halved.
"""

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations
from math import asin, atan2, ceil, cos, degrees, hypot, pi, radians, sin, sqrt
from typing import Any

from tests.core.plain_motion import Pose, pose_of, travels_of, turned

P, TIP, GAP_GROWTH, PLATE = 12.7, 2.3, 0.3, 8.6
LEAST_RESERVE, WANTED_RESERVE, ON_PULLEY = 25.0, 45.0, 0.1
STEP_DEG = 3.0
TURN = 2 * pi

Circle = tuple[float, float, float, int]
"""x, y, teeth, wind."""


def radius(teeth: float) -> float:
    return P / (2 * sin(pi / teeth))


@dataclass(frozen=True)
class Loop:
    """A taut loop: its length in links, and per stop the heading and span of the run that leaves it, and its wrap."""

    links: float
    headings: tuple[float, ...]
    spans: tuple[float, ...]
    wraps: tuple[float, ...]


def loop(stops: list[Circle]) -> Loop | None:
    """The loop of model 1; None where two circles overlap."""
    headings, spans = [], []
    for (ax, ay, az, aw), (bx, by, bz, bw) in zip(stops, stops[1:] + stops[:1], strict=True):
        away, lift = hypot(bx - ax, by - ay), bw * radius(bz) - aw * radius(az)
        if abs(lift) > away:
            return None
        headings.append(atan2(by - ay, bx - ax) + asin(lift / away))
        spans.append(sqrt(away * away - lift * lift))
    wraps = [(wind * (headings[i - 1] - headings[i])) % TURN for i, (*_, wind) in enumerate(stops)]
    links = sum(spans) / P + sum(z * wrap / TURN for (_, _, z, _), wrap in zip(stops, wraps, strict=True))
    return Loop(links, tuple(headings), tuple(spans), tuple(wraps))


def taut(anchors_and_idlers: list[tuple[Circle, bool]]) -> tuple[list[Circle], Loop] | None:
    """The stops that the taut chain touches, and its loop: of all ways to leave idlers out, most kept first, the one
    that goes round once and leaves none out that it would have to cut. None where circles overlap.

    A loop that goes round an idler from the side it cannot touch turns once more, or once less, than a loop may.
    """
    idlers = [i for i, (_, is_idler) in enumerate(anchors_and_idlers) if is_idler]
    for fewer in range(len(idlers) + 1):
        for out in combinations(idlers, fewer):
            kept = [i for i in range(len(anchors_and_idlers)) if i not in out]
            stops = [anchors_and_idlers[i][0] for i in kept]
            here = loop(stops)
            if here is None:
                return None
            places = {place for place, i in enumerate(kept) if i in idlers}
            if goes_round_once(stops, here, places) and not any(
                cut(stops, here, kept, i, anchors_and_idlers[i][0]) for i in out
            ):
                return stops, here
    return None


def goes_round_once(stops: list[Circle], here: Loop, idlers: set[int]) -> bool:
    """Whether the headings of a loop turn clockwise once in all, and none of the idlers is nearly gone round.

    A pulley that the chain just leaves is not gone round.
    """
    turns = [wrap - TURN if wrap > 1.9 * pi and i not in idlers else wrap for i, wrap in enumerate(here.wraps)]
    turned_rad = sum(wind * wrap for (*_, wind), wrap in zip(stops, turns, strict=True))
    return abs(turned_rad - TURN) < 1e-6 and all(here.wraps[i] <= 1.5 * pi for i in idlers)


def cut(stops: list[Circle], here: Loop, kept: list[int], out: int, idler: Circle) -> bool:
    """Whether the run that passes a place in the order would run through the idler that was left out there."""
    place = max(place for place, i in enumerate(kept) if i < out)
    x, y, teeth, wind = stops[place]
    heading, span = here.headings[place], here.spans[place]
    start = (x - wind * radius(teeth) * sin(heading), y + wind * radius(teeth) * cos(heading))
    dx, dy = idler[0] - start[0], idler[1] - start[1]
    along, left = dx * cos(heading) + dy * sin(heading), dy * cos(heading) - dx * sin(heading)
    return 0 < along < span and idler[3] * (-left - idler[3] * radius(idler[2])) < -1e-9


def fixed_stops(bike: dict[str, Any], pose: Pose, ring: int, cog: int) -> tuple[list[Circle], list[Circle]]:
    """Ring and return idlers; cog and drive idlers."""
    idlers: dict[str, list[Circle]] = {"drive": [], "return": []}
    for one in bike.get("idlers", []):
        clockwise = {"drive": "over", "return": "under"}[one["run"]]
        idlers[one["run"]].append((*one["at_mm"], one["teeth"], 1 if one["chain"] == clockwise else -1))
    return [(0.0, 0.0, ring, 1), *idlers["return"]], [(pose.x, pose.y, cog, 1), *reversed(idlers["drive"])]


def guide_at(bike: dict[str, Any], pose: Pose, cog: int) -> tuple[float, float]:
    """The guide pulley's centre: of an arm at its place from the axle, of a derailleur as in model 2."""
    part = bike["take_up"]
    if "pivot_mm" in part:
        return pose.x + part["pivot_mm"][0], pose.y + part["pivot_mm"][1]
    reach = radius(cog) + radius(part["guide_teeth"]) + part["b_gap_mm"] + 2 * TIP
    reach += GAP_GROWTH * (max(bike["cogs"]) - cog)
    lean = radians(part["lean_deg"]) + pose.swing
    return pose.x + reach * sin(lean), pose.y - reach * cos(lean)


class Cage:
    """One gear of one bike in one pose, with its derailleur."""

    def __init__(self, bike: dict[str, Any], pose: Pose, ring: int, cog: int) -> None:
        part = bike["take_up"]
        self.length, self.guide_teeth, self.tension_teeth = part["cage_mm"], part["guide_teeth"], part["tension_teeth"]
        self.guide = guide_at(bike, pose, cog)
        front, rear = fixed_stops(bike, pose, ring, cog)
        self.front, self.rear = idlers_told(front), idlers_told(rear)
        self.stretched, self.slackest = self._ends()
        self.shortest, self.longest = self.at(self.stretched).links, self.at(self.slackest).links

    def running(self, angle: float) -> tuple[list[Circle], Loop] | None:
        """The stops in play with the cage at an angle, and the loop over them."""
        x, y = self.guide[0] + self.length * sin(angle), self.guide[1] - self.length * cos(angle)
        cage = [((x, y, self.tension_teeth, 1), False), ((*self.guide, self.guide_teeth, -1), False)]
        return taut([*self.front, *cage, *self.rear])

    def at(self, angle: float) -> Loop:
        running = self.running(angle)
        if running is None:
            raise ValueError("two circles overlap here")
        return running[1]

    def _walk(self, start: float, step: float) -> Iterator[tuple[float, float]]:
        """Angles from one on, with the links there, while the chain stays on both pulleys."""
        before: list[float] = []
        for i in range(round(pi / abs(step)) + 1):
            running = self.running(start + i * step)
            if running is None:
                return
            (stops, here), guide = running, (*self.guide, self.guide_teeth, -1)
            wraps = here.wraps[stops.index(guide) - 1 : stops.index(guide) + 1]
            if before:
                before = [was + turned(wrap - was) for was, wrap in zip(before, wraps, strict=True)]
            else:
                before = [wrap - TURN if wrap > 1.9 * pi else wrap for wrap in wraps]
            if min(before) < radians(ON_PULLEY):
                return
            yield start + i * step, here.links

    def _ends(self) -> tuple[float, float]:
        """The stretched and the slackest angle: walked from plumb both ways, then walked finer."""
        step = radians(STEP_DEG)
        ahead, back = list(self._walk(0.0, step)), list(self._walk(0.0, -step))
        if not ahead or not back:
            raise ValueError("the chain is not on both pulleys with the cage plumb")
        angles = [*reversed(back[1:]), *ahead]
        longest = max(angles, key=lambda one: one[1])[0]
        shortest = min((one for one in angles if one[0] >= longest), key=lambda one: one[1])[0]
        while step > 1e-7:
            step /= 8
            longest = max(self._near(longest, step), key=lambda one: one[1])[0]
            shortest = min(self._near(shortest, step), key=lambda one: one[1])[0]
        return shortest, longest

    def _near(self, angle: float, step: float) -> Iterator[tuple[float, float]]:
        yield angle, self.at(angle).links
        for sign in (-1, 1):
            for i in range(1, 9):
                here = next(self._walk(angle + sign * i * step, step), None)
                if here is None:
                    break
                yield here

    def rest(self, links: float) -> float | None:
        """The cage angle at which the loop has so many links; None where it has none."""
        if not self.shortest <= links <= self.longest:
            return None
        return halved(lambda angle: self.at(angle).links - links, self.slackest, self.stretched)

    def reserve(self, links: float) -> float:
        """Degrees short of straight; -inf too short, inf hanging."""
        angle = self.rest(links)
        if angle is None:
            return -1e9 if links < self.shortest else 1e9
        return degrees(self.stretched - angle)

    def clearance(self, links: float) -> float:
        """mm of air at the guide pulley; -inf hanging, inf too short."""
        angle = self.rest(links)
        if angle is None:
            return 1e9 if links < self.shortest else -1e9
        running = self.running(angle)
        if running is None:
            raise ValueError("two circles overlap here")
        stops, here = running
        place = stops.index((*self.guide, self.guide_teeth, -1)) - 2
        x, y, teeth, wind = stops[place]
        heading, span = here.headings[place], here.spans[place]
        start = (x - wind * radius(teeth) * sin(heading), y + wind * radius(teeth) * cos(heading))
        dx, dy = self.guide[0] - start[0], self.guide[1] - start[1]
        along, right = dx * cos(heading) + dy * sin(heading), dx * sin(heading) - dy * cos(heading)
        past = along - min(max(along, 0.0), span)
        return (hypot(past, right) if past else right) - radius(self.guide_teeth) - PLATE


def halved(amiss: Callable[[float], float], low: float, high: float) -> float:
    """The root of a falling function."""
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if amiss(middle) > 0 else (low, middle)
    return (low + high) / 2


@dataclass(frozen=True)
class Sized:
    """What the plain way finds: bare wrap at its worst, the safe counts, the recommended one, all that is kept."""

    bare: float
    safe: tuple[int, ...]
    recommended: int
    reserves: dict[int, float]
    clearances: dict[int, float]
    stretched_deg: float


def size(bike: dict[str, Any], travels: Sequence[float] = (), fewer_gears: bool = False) -> Sized:
    """The window and the recommended count of model 3: at these travels if they are told, and with the outer cogs and
    the middle one alone where fewer gears will do."""
    poses = [pose_of(bike, travel) for travel in travels or travels_of(bike)]
    rings, cogs = sorted(bike["rings"]), sorted(bike["cogs"])
    cogs = sorted({cogs[0], cogs[len(cogs) // 2], cogs[-1]}) if fewer_gears else cogs
    gears = [[Cage(bike, pose, ring, cog) for pose in poses] for ring in rings for cog in cogs]
    big, small = gears[-1], gears[0]
    bare = max(bare_links(bike, pose, rings[-1], cogs[-1]) for pose in poses)
    step = 1 if bike.get("chain", {}).get("offset_link") else 2
    first = ceil(max(cage.shortest for cage in big) / step) * step
    last = ceil(max(min(cage.longest for cage in small), first) / step) * step + 12 * step
    reserves = {n: min(cage.reserve(n) for cage in big) for n in range(first, last, step)}
    clearances = {n: min(cage.clearance(n) for cage in small) for n in reserves}
    runs = {n: all(cage.shortest <= n <= cage.longest for row in gears for cage in row) for n in reserves}
    long_enough = [n for n in reserves if reserves[n] >= LEAST_RESERVE and runs_or_hangs(gears, n)]
    safe = tuple(n for n in long_enough if clearances[n] >= 0 and runs[n])
    best = min(safe, key=lambda n: abs(reserves[n] - WANTED_RESERVE)) if safe else long_enough[0]
    return Sized(bare, safe, best, reserves, clearances, degrees(big[0].stretched))


def bare_links(bike: dict[str, Any], pose: Pose, ring: int, cog: int) -> float:
    """Length round a ring and a cog, and over the idlers, without the cage."""
    front, rear = fixed_stops(bike, pose, ring, cog)
    bare = taut([*idlers_told(front), *idlers_told(rear)])
    return bare[1].links if bare else float("nan")


def idlers_told(stops: list[Circle]) -> list[tuple[Circle, bool]]:
    """The first of these stops is a ring or a cog, the others are idlers."""
    return [(stop, i > 0) for i, stop in enumerate(stops)]


def runs_or_hangs(gears: list[list[Cage]], links: int) -> bool:
    """Whether no gear is too short anywhere."""
    return all(links >= cage.shortest for row in gears for cage in row)
