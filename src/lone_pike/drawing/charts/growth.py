"""The growth plot: how much longer the wrap gets over the travel, and the reserve that the count keeps."""

from dataclasses import dataclass
from math import ceil

import numpy as np

from lone_pike.core.bike.limits import PITCH_MM
from lone_pike.core.bike.teeth import Array
from lone_pike.core.count.sizing import Sizing
from lone_pike.drawing.svg import number

WIDTH, HEIGHT = 836, 132
LEFT, RIGHT, TOP, BOTTOM = 84, 70, 14, 24
STEPS_MM, MOST_STEPS = (1, 2, 5, 10, 20, 25, 50), 14
LAST_REACH = 25


@dataclass(frozen=True)
class Step:
    """One place on the travel to press, in the plot's units; travel in whole mm."""

    travel: int
    x: float
    width: float
    shown: bool

    @property
    def middle(self) -> float:
        """The place of its figure."""
        return self.x + self.width / 2


@dataclass(frozen=True)
class GrowthPlot:
    """The plot; paths are SVG data. growth and reserve are the figures at the worst travel."""

    width: int
    height: int
    growth: str
    without_idlers: str
    without_idlers_links: float | None
    reserve: str
    least_reserve_y: float
    worst: tuple[float, float]
    worst_travel_mm: float
    growth_links: float
    growth_mm: float
    reserve_deg: float | None
    handle_x: float
    travel_mm: float
    full_travel_mm: float
    steps: tuple[Step, ...]


def growth_plot(sizing: Sizing, links: int, travel_mm: float) -> GrowthPlot:
    """The plot of a bike with suspension, with its chain at a count and the handle at a travel."""
    full = sizing.bike.travel_mm
    wraps = sizing.bare_wraps_links - sizing.bare_wraps_links[0]
    reserve = sizing.cage.reserves_deg(links)
    x = _across(sizing.travels_mm, full)
    straight = sizing.bare_wraps_without_idlers_links
    without = None if straight is None else straight - straight[0]
    drawn = wraps if without is None else np.concatenate([wraps, without])
    low, high = min(drawn.min(), 0.0), max(drawn.max(), 0.2)
    wrap_y, reserve_y = _down(wraps, low, high), _down(reserve, 0.0, 90.0)
    worst = int(wraps.argmax())
    return GrowthPlot(
        width=WIDTH,
        height=HEIGHT,
        growth=_curve(x, wrap_y),
        without_idlers="" if without is None else _curve(x, _down(without, low, high)),
        without_idlers_links=None if without is None else float(without.max()),
        reserve=_curve(x, reserve_y),
        least_reserve_y=round(float(_down(np.array([sizing.bike.limits.least_reserve_deg]), 0.0, 90.0)[0]), 1),
        worst=(round(float(x[worst]), 1), round(float(wrap_y[worst]), 1)),
        worst_travel_mm=float(sizing.travels_mm[worst]),
        growth_links=float(wraps[worst]),
        growth_mm=float(wraps[worst] * PITCH_MM),
        reserve_deg=float(reserve.min()) or None,
        handle_x=round(float(_across(np.array([travel_mm]), full)[0]), 1),
        travel_mm=travel_mm,
        full_travel_mm=full,
        steps=_steps(full, travel_mm),
    )


def step_mm(full_travel_mm: float) -> int:
    """Whole millimetres between the places to press."""
    return next(step for step in STEPS_MM if full_travel_mm / step <= MOST_STEPS)


def _steps(full: float, travel_mm: float) -> tuple[Step, ...]:
    travels = [*range(0, ceil(full - step_mm(full) / 2), step_mm(full)), int(full)]
    centres = _across(np.array(travels, dtype=float), full)
    edges = np.concatenate([[centres[0] - LAST_REACH], (centres[1:] + centres[:-1]) / 2, [centres[-1] + LAST_REACH]])
    return tuple(
        Step(travel, round(float(left), 1), round(float(right - left), 1), left <= _x(travel_mm, full) < right)
        for travel, left, right in zip(travels, edges, edges[1:], strict=False)
    )


def _x(travel_mm: float, full: float) -> float:
    return float(_across(np.array([travel_mm]), full)[0])


def _across(travel_mm: Array, full: float) -> Array:
    return LEFT + (WIDTH - LEFT - RIGHT) * travel_mm / full


def _down(values: Array, low: float, high: float) -> Array:
    return HEIGHT - BOTTOM - (HEIGHT - TOP - BOTTOM) * np.clip((values - low) / (high - low), 0, 1)


def _curve(x: Array, y: Array) -> str:
    return "M" + "L".join(f"{number(float(a))} {number(float(b))}" for a, b in zip(x, y, strict=True))
