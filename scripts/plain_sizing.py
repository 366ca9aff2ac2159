"""The straightforward version of a sizing, for the benchmark alone: scalar, one root at a time with brentq."""

from math import asin, atan2, cos, degrees, hypot, pi, radians, sin, sqrt

from scipy.optimize import brentq, minimize_scalar

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.suspensions import PivotSuspension

PITCH, LEAST, WANTED, PLATE, TIP, GROWTH = 12.7, 25.0, 45.0, 8.6, 2.3, 0.3


def radius(teeth: float) -> float:
    return PITCH / (2 * sin(pi / teeth))


class Gear:
    """One gear of one bike at one travel, with given measures."""

    def __init__(self, bike: Bike, ring: int, cog: int, measures: list[float], travel: float = 0.0) -> None:
        chainstay, self.cage, gap = measures
        self.ring, self.cog = ring, cog
        self.guide_teeth, self.tension_teeth = bike.derailleur.guide_teeth, bike.derailleur.tension_teeth
        x, y, swing = axle_at(bike, travel)
        scale = 1 + (chainstay - bike.chainstay_length_mm) / hypot(x, y)
        self.axle = (x * scale, y * scale)
        reach = radius(cog) + radius(self.guide_teeth) + gap + 2 * TIP + GROWTH * (bike.largest_cog - cog)
        lean = radians(bike.derailleur.lean_deg) + swing
        self.guide = (self.axle[0] + reach * sin(lean), self.axle[1] - reach * cos(lean))
        self.stretched = brentq(lambda angle: self.spare_wrap(angle), radians(20), radians(150))
        self.slackest = minimize_scalar(
            lambda angle: -self.trace(angle)[0], bounds=(radians(-150), radians(-60)), method="bounded"
        ).x
        self.shortest, self.longest = self.trace(self.stretched)[0], self.trace(self.slackest)[0]

    def trace(self, angle: float) -> tuple[float, list[float], list[float]]:
        tension = (self.guide[0] + self.cage * sin(angle), self.guide[1] - self.cage * cos(angle))
        stops = [
            ((0.0, 0.0), self.ring, 1),
            (tension, self.tension_teeth, 1),
            (self.guide, self.guide_teeth, -1),
            (self.axle, self.cog, 1),
        ]
        headings, total = [], 0.0
        for (here, z, wind), (there, z2, wind2) in zip(stops, stops[1:] + stops[:1], strict=True):
            dx, dy = there[0] - here[0], there[1] - here[1]
            lift = wind2 * radius(z2) - wind * radius(z)
            distance = hypot(dx, dy)
            headings.append(atan2(dy, dx) + asin(lift / distance))
            total += sqrt(distance**2 - lift**2) / PITCH
        wraps = [(wind * (headings[i - 1] - headings[i])) % (2 * pi) for i, (_, _, wind) in enumerate(stops)]
        total += sum(z * wrap / (2 * pi) for (_, z, _), wrap in zip(stops, wraps, strict=True))
        return total, wraps, headings

    def spare_wrap(self, angle: float) -> float:
        _, wraps, _ = self.trace(angle)
        signed = [wrap - 2 * pi if wrap > 1.6 * pi else wrap for wrap in wraps[1:3]]
        return min(signed) - radians(0.1)

    def rest(self, links: int) -> float | None:
        if links < self.shortest or links > self.longest:
            return None
        return float(brentq(lambda angle: self.trace(angle)[0] - links, self.slackest, self.stretched))

    def reserve(self, links: int) -> float:
        angle = self.rest(links)
        return degrees(self.stretched - angle) if angle is not None else (-1e9 if links < self.shortest else 1e9)

    def clearance(self, links: int) -> float:
        angle = self.rest(links)
        if angle is None:
            return 1e9 if links < self.shortest else -1e9
        heading = self.trace(angle)[2][0]
        beside = radius(self.ring) + self.guide[0] * sin(heading) - self.guide[1] * cos(heading)
        return beside - radius(self.guide_teeth) - PLATE


def axle_at(bike: Bike, travel: float) -> tuple[float, float, float]:
    """The axle about its pivot, and the arm's swing; where it rests on a rigid frame."""
    x, y = bike.axle_xy_mm
    if not isinstance(bike.suspension, PivotSuspension):
        return x, y, 0.0
    pivot_x, pivot_y = bike.suspension.pivot_mm
    arm = hypot(x - pivot_x, y - pivot_y)
    up = y + travel - pivot_y
    back = -sqrt(arm**2 - up**2)
    swing = atan2(up, back) - atan2(y - pivot_y, x - pivot_x)
    return pivot_x + back, y + travel, (swing + pi) % (2 * pi) - pi


def travels_of(bike: Bike) -> list[float]:
    """Every ten millimetres, and bottomed out: coarser than ours about the worst."""
    return [float(travel) for travel in range(0, int(bike.travel_mm), 10)] + [bike.travel_mm]


def recommended(bike: Bike, measures: list[float]) -> tuple[int, list[int]]:
    """The recommended count and the safe ones, the worst of the travel."""
    travels = travels_of(bike)
    big = [Gear(bike, bike.largest_ring, bike.largest_cog, measures, travel) for travel in travels]
    small = [Gear(bike, bike.smallest_ring, bike.smallest_cog, measures, travel) for travel in travels]

    def reserve(links: int) -> float:
        return min(gear.reserve(links) for gear in big)

    first = -(-int(max(gear.shortest for gear in big)) // 2) * 2
    counts = range(first, int(min(gear.longest for gear in small)) + 4, 2)
    safe = [n for n in counts if reserve(n) >= LEAST and min(gear.clearance(n) for gear in small) >= 0]
    if safe:
        return min(safe, key=lambda n: abs(reserve(n) - WANTED)), safe
    return next(n for n in range(first, first + 40, 2) if reserve(n) >= LEAST), []


def plain_answer(bike: Bike) -> tuple[int, int]:
    """All gears at all counts in reach along the travel, the window, and how far each measure may be off.

    Returns the count and how many gears were settled.
    """
    measures = [bike.chainstay_length_mm, bike.derailleur.cage_length_mm, bike.gap_mm]
    links, safe = recommended(bike, measures)
    gears = 0
    for ring in bike.rings:
        for cog in bike.cogs:
            for travel in travels_of(bike):
                gear = Gear(bike, ring, cog, measures, travel)
                for count in range(min([links, *safe]) - 2, max([links, *safe]) + 4, 2):
                    gear.reserve(count)
                    gear.clearance(count)
                    gears += 1
    for which, reach in enumerate((16.0, 24.0, 12.0)):
        for sign in (-1, 1):
            low, high = 0.0, min(reach, 0.45 * measures[which]) if sign < 0 else reach
            while high - low > 0.1:
                middle = (low + high) / 2
                changed = [m + sign * middle * (i == which) for i, m in enumerate(measures)]
                low, high = (middle, high) if recommended(bike, changed)[0] == links else (low, middle)
    return links, gears
