"""The wear line: readings over distance, the limit, and the forecast; told apart by shape before colour."""

from collections.abc import Sequence
from dataclasses import dataclass
from math import inf

from lone_pike.core.wear.forecast import DueKm
from lone_pike.core.wear.gauging import Wear
from lone_pike.drawing.svg import number

WIDTH, HEIGHT = 900, 400
LEFT, RIGHT, TOP, BOTTOM = 74, 26, 28, 60
CURVE_STEPS = 12
STEPS_KM = (50, 100, 200, 250, 500, 1000, 2000, 2500, 5000, 10_000, 20_000)
MOST_MARKS, LEAST_KM, MOST_TIMES_MIDDLE = 8, 400.0, 1.6
WEAR_STEPS = (0.1, 0.25, 0.5, 1.0)
OPEN_PERCENT = 0.25
"""How far an interval without an end is drawn."""

SIGMAS = 2.0


@dataclass(frozen=True)
class Mark:
    """A mark on an axis: its place and its value."""

    at: float
    value: float


@dataclass(frozen=True)
class DrawnReading:
    """A reading: its place and the ends of its spread. A drop-in gauge has no middle, and may have no end above or
    below."""

    x: float
    y: float
    top: float
    bottom: float
    is_interval: bool
    open_above: bool
    open_below: bool


@dataclass(frozen=True)
class WearLine:
    """The picture; paths are SVG data, places are in its own units. now is None if it is past the right edge."""

    width: int
    height: int
    floor: float
    left: float
    right: float
    band: str
    middle: str
    limit_y: float
    limit_percent: float
    cogs_y: float | None
    cogs_percent: float
    readings: tuple[DrawnReading, ...]
    due: tuple[float, float, float]
    due_km: DueKm
    now_x: float
    now_km: float
    km_marks: tuple[Mark, ...]
    wear_marks: tuple[Mark, ...]


@dataclass(frozen=True)
class ReadWear:
    """What is drawn: a distance and what was read there, percent."""

    km: float
    wear: Wear


def reach_km(due_km: DueKm, now_km: float) -> float:
    """How far the picture reaches, km: past today and past the middle of the due distance."""
    return max(LEAST_KM, now_km * 1.08, min(due_km.late, due_km.middle * MOST_TIMES_MIDDLE) * 1.05)


def curve_kms(reach: float) -> tuple[float, ...]:
    """The distances at which the line is computed."""
    return tuple(reach * i / CURVE_STEPS for i in range(CURVE_STEPS + 1))


def wear_line(
    readings: Sequence[ReadWear],
    curve: Sequence[tuple[float, float, float]],
    due_km: DueKm,
    now_km: float,
    limit_percent: float,
    cogs_percent: float,
) -> WearLine:
    """The picture. Parameters: curve, the wear at curve_kms of its reach: low, middle, high, percent."""
    reach = reach_km(due_km, now_km)
    most = max(
        limit_percent * 1.35, curve[-1][1] * 1.05, *(_ends(one.wear)[1] * 1.05 for one in readings), cogs_percent * 0.9
    )
    x = _Axis(LEFT, WIDTH - RIGHT, reach)
    y = _Axis(HEIGHT - BOTTOM, TOP, most)
    kms = curve_kms(reach)
    low, middle, high = (
        [(x.at(km), y.at(min(row[i], most))) for km, row in zip(kms, curve, strict=True)] for i in range(3)
    )
    cogs_y = y.at(cogs_percent) if limit_percent < cogs_percent < most else None
    return WearLine(
        width=WIDTH,
        height=HEIGHT,
        floor=HEIGHT - BOTTOM,
        left=LEFT,
        right=WIDTH - RIGHT,
        band=_path([*high, *reversed(low)]) + "Z",
        middle=_path([point for point in middle if point[1] > TOP]),
        limit_y=y.at(limit_percent),
        limit_percent=limit_percent,
        cogs_y=cogs_y,
        cogs_percent=cogs_percent,
        readings=tuple(_drawn(one, x, y, most) for one in readings),
        due=(x.at(due_km.early), x.at(due_km.middle), x.at(due_km.late)),
        due_km=due_km,
        now_x=x.at(now_km),
        now_km=now_km,
        km_marks=_marks(x, STEPS_KM, reach),
        wear_marks=_marks(y, WEAR_STEPS, most),
    )


@dataclass(frozen=True)
class _Axis:
    """Maps 0 to one place and the largest value to another; larger values are put at the end."""

    first: float
    last: float
    most: float

    def at(self, value: float) -> float:
        share = min(max(value / self.most, 0.0), 1.0)
        return round(self.first + (self.last - self.first) * share, 1)


def _marks(axis: _Axis, steps: Sequence[float], most: float) -> tuple[Mark, ...]:
    step = next((one for one in steps if most / one <= MOST_MARKS), steps[-1])
    return tuple(Mark(axis.at(step * i), step * i) for i in range(1, int(most / step) + 1))


def _ends(wear: Wear) -> tuple[float, float]:
    """The range of a reading, percent: from its spread, or from what a gauge says."""
    if wear.low == -inf and wear.high == inf:
        return wear.percent - SIGMAS * wear.spread, wear.percent + SIGMAS * wear.spread
    low = wear.low if wear.low > -inf else max(wear.high - OPEN_PERCENT, 0.0)
    return low, wear.high if wear.high < inf else wear.low + OPEN_PERCENT


def _drawn(one: ReadWear, x: _Axis, y: _Axis, most: float) -> DrawnReading:
    low, high = _ends(one.wear)
    is_interval = one.wear.low > -inf or one.wear.high < inf
    return DrawnReading(
        x=x.at(one.km),
        y=y.at(min(one.wear.percent, most)),
        top=y.at(min(high, most)),
        bottom=y.at(low),
        is_interval=is_interval,
        open_above=is_interval and one.wear.high == inf,
        open_below=is_interval and one.wear.low == -inf,
    )


def _path(points: Sequence[tuple[float, float]]) -> str:
    return "M" + "L".join(f"{number(a)} {number(b)}" for a, b in points)
