"""The loop through a derailleur: the part that stays while the cage turns, and the cage (model, section 2)."""

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.limits import PITCH_MM, limit
from lone_pike.core.bike.measures import Errors, error_of
from lone_pike.core.bike.teeth import Array, Number, bend_links, pitch_radius_mm
from lone_pike.core.chain.path import (
    CLOCKWISE,
    COUNTER_CLOCKWISE,
    QUARTER_RAD,
    TURN_RAD,
    ChainPath,
    Run,
    Stop,
    Touched,
    beside_run_mm,
    close,
    last_touched,
    run_over,
    within_turn,
    wraps_rad,
)
from lone_pike.core.chain.stops import GUIDE, TENSION
from lone_pike.core.motion.poses import Gears, Poses, cog_stop, ring_stop


@dataclass(frozen=True)
class CageMeasures:
    """A cage as measured: length and gap in mm, lean in radians. If they are in doubt, they are arrays with one value
    for each pose, (P, 1, 1). rest_rad is how far back the empty cage goes; if that is not known, it is half a turn.
    pivot_mm places the guide pulley of a sprung arm, forward and up from the axle."""

    cage_mm: Number
    gap_mm: Number
    lean_rad: Number
    guide_teeth: int
    tension_teeth: int
    rest_rad: float
    pivot_mm: tuple[float, float] | None = None


def cage_measures(bike: Bike, poses: Poses, errors: Errors | None = None) -> CageMeasures:
    """The cage's measures in every pose, with the given errors added."""
    part = bike.caged
    gap_mm, lean_deg = part.hang(bike.gap_mm)
    return CageMeasures(
        cage_mm=poses.every(part.cage_length_mm + error_of(errors, "cage_mm")),
        gap_mm=poses.every(gap_mm + error_of(errors, "b_gap_mm")),
        lean_rad=poses.every(np.radians(lean_deg + error_of(errors, "lean_deg"))),
        pivot_mm=part.guide_at_mm,
        guide_teeth=part.guide_teeth,
        tension_teeth=part.tension_teeth,
        rest_rad=-np.pi if part.rest_deg is None else float(np.radians(part.rest_deg)),
    )


def guide_centre_mm(poses: Poses, cage: CageMeasures, cog_teeth: Number, largest_cog: Number) -> tuple[Number, Number]:
    """Centre of the guide pulley for a cog.

    Equation: from the axle, at r(cog) + r(guide) + g + 2 tips + 0.3 (largest cog - cog), in the direction straight
    down turned forward by the lean, turned with the swing arm (model, section 2); a sprung arm's where it was measured.
    Parameters: poses and the cage's measures (P, 1, 1); cog_teeth and largest_cog, counts. Returns: x and y, mm.
    Range: any cog up to the largest. Source: measured derailleurs, the handbook's model.
    """
    if cage.pivot_mm is not None:
        x_mm, y_mm = cage.pivot_mm
        sin, cos = np.sin(poses.swing_rad), np.cos(poses.swing_rad)
        return poses.axle_x_mm + x_mm * cos - y_mm * sin, poses.axle_y_mm + x_mm * sin + y_mm * cos
    reach = pitch_radius_mm(cog_teeth) + pitch_radius_mm(cage.guide_teeth) + cage.gap_mm
    reach = reach + 2 * limit("tooth_tip") + limit("gap_growth") * (largest_cog - np.asarray(cog_teeth))
    turn = cage.lean_rad + poses.swing_rad
    return poses.axle_x_mm + reach * np.sin(turn), poses.axle_y_mm - reach * np.cos(turn)


@dataclass(frozen=True)
class CagedLoop:
    """The loop through the derailleur: all that does not change as the cage turns.

    fixed holds the stops from the guide pulley to the ring, in the chain's direction of travel, with the run that
    leaves each of them but the ring. The return idlers and the tension pulley come after these.
    """

    fixed: tuple[Stop, ...]
    fixed_runs: tuple[Run, ...]
    fixed_touched: tuple[Touched, ...]
    return_idlers: tuple[Stop, ...]
    cage_mm: Number
    tension_teeth: int
    rest_rad: float
    is_arm: bool = False

    @property
    def guide(self) -> Stop:
        """The guide pulley."""
        return self.fixed[0]

    @property
    def ring(self) -> Stop:
        """The ring."""
        return self.fixed[-1]

    def turned(self, cage_rad: Array) -> "TurnedLoop":
        """The loop with the cage at angles (P, G, A) from straight down, forward positive."""
        x_mm = self.guide.x_mm + self.cage_mm * np.sin(cage_rad)
        y_mm = self.guide.y_mm - self.cage_mm * np.cos(cage_rad)
        tension = Stop(TENSION, x_mm, y_mm, self.tension_teeth, CLOCKWISE)
        stops = [self.ring, *self.return_idlers]
        runs, touched = run_over([*stops, tension])
        last, span_mm = last_touched(stops, [span for _, span in runs], touched)
        return TurnedLoop(self, cage_rad, tension, runs, touched, last, (within_turn(runs[-1][0]), span_mm))

    @cached_property
    def across_rad(self) -> Number:
        """Heading of the run from tension to guide pulley with the cage straight down. It crosses, and turns with the
        cage.

        Equation: 90 deg - asin((r_t + r_g) / C), the tangent of model, section 1. Returns: radians, in every pose.
        """
        return QUARTER_RAD - np.arcsin(self._between_mm / self.cage_mm)

    @cached_property
    def across_mm(self) -> Number:
        """Length of that run, mm, in every pose."""
        return np.sqrt(np.square(self.cage_mm) - self._between_mm**2)

    @property
    def _between_mm(self) -> float:
        return float(pitch_radius_mm(self.tension_teeth) + pitch_radius_mm(self.guide.teeth))

    @cached_property
    def off_guide_rad(self) -> Array:
        """The cage angle at which the chain leaves the guide pulley, (P, G, 1). Its wrap falls one for one with the
        turn.
        """
        (leaving_rad, _), *_ = self.fixed_runs
        return np.asarray(within_turn(leaving_rad - self.across_rad + QUARTER_RAD) - QUARTER_RAD)

    @cached_property
    def meets_idler_rad(self) -> Array:
        """The angle at which the cage points to the last return idler if its pulley hits it, (P, G, 1); else inf."""
        idler, guide = self.return_idlers[-1], self.guide
        to_idler_rad = np.arctan2(idler.x_mm - guide.x_mm, guide.y_mm - idler.y_mm)
        return np.where(self.turned(to_idler_rad).meets_idler, to_idler_rad, np.inf)

    @cached_property
    def runs_into_idler(self) -> bool:
        """Whether the tension pulley runs into the last return idler in some pose and gear."""
        return bool(self.return_idlers) and bool(np.isfinite(self.meets_idler_rad).any())

    @cached_property
    def still_links(self) -> Array:
        """The part of the length that is the same at every cage angle, links, (P, G, 1); see TurnedLoop.links."""
        headings, spans = zip(*self.fixed_runs, strict=True)
        between = self.fixed[1:-1]
        wrapped = (stop.teeth * wrap for stop, wrap in zip(between, wraps_rad(between, headings), strict=True))
        turned = self.guide.teeth * self.off_guide_rad - self.tension_teeth * self.across_rad
        return np.asarray(sum(spans, self.across_mm) / PITCH_MM + sum(wrapped, turned) / TURN_RAD)

    @cached_property
    def tip_links(self) -> tuple[Number, Number, Number]:
        """The parts of TurnedLoop.links_per_rad that do not depend on the cage angle.

        Returns: k_t, C / p, and C / p cos(v - a) + k_t + k_g.
        """
        tension_links, cage_links = bend_links(self.tension_teeth), self.cage_mm / PITCH_MM
        pulleys_links = tension_links + bend_links(self.guide.teeth)
        return tension_links, cage_links, cage_links * np.cos(self.across_rad) + pulleys_links


@dataclass(frozen=True)
class TurnedLoop:
    """The loop with its cage at angles (P, G, A). The runs that leave ring and return idlers change with them.

    last is the stop before the tension pulley. The heading of the run from it is kept within 0 to 2 pi.
    """

    loop: CagedLoop
    cage_rad: Array
    tension: Stop
    runs: Sequence[Run]
    touched: Sequence[Touched]
    last: Stop
    into_tension: Run

    @property
    def from_cage_rad(self) -> Array:
        """Heading of the run to the tension pulley as seen from the cage, radians."""
        heading, _ = self.into_tension
        return np.asarray(heading - self.cage_rad)

    @property
    def on_tension_rad(self) -> Array:
        """Wrap on the tension pulley; negative where the chain has left it, nan where the pulley overlaps its
        neighbour.
        """
        wrap_rad = np.asarray(self.from_cage_rad - self.loop.across_rad)
        return np.where(self.meets_idler, np.nan, wrap_rad) if self.loop.runs_into_idler else wrap_rad

    @property
    def meets_idler(self) -> NDArray[np.bool_]:
        """Whether no run goes from the last return idler to the tension pulley: they overlap (model, section 1)."""
        idler, tension = self.loop.return_idlers[-1], self.tension
        apart_mm = np.hypot(tension.x_mm - idler.x_mm, tension.y_mm - idler.y_mm)
        return np.asarray(apart_mm < np.abs(tension.signed_radius_mm - idler.signed_radius_mm))

    @cached_property
    def links(self) -> Array:
        """Length of the loop by the path of model, section 1, in links.

        Equation: sum(s) / p + (z_t u - (z_t + z_g) a + sum(z wrap)) / 2 pi, over the runs that turn and the stops they
        leave, u the heading into the tension pulley, plus what does not depend on the angle; the wraps on both pulleys
        fall one for one with it. Returns: links, (P, G, A); nan where two circles overlap. Range: with the chain on
        both pulleys.
        Source: the path traced stop by stop, compared in the tests.
        """
        loop, (into_tension, _), (heading, _) = self.loop, self.into_tension, self.loop.fixed_runs[-1]
        wrapped = loop.tension_teeth * into_tension - (loop.tension_teeth + loop.guide.teeth) * self.cage_rad
        span_mm: Number = 0.0
        for stop, (out_of, run_mm) in zip((loop.ring, *loop.return_idlers), self.runs, strict=True):
            wrapped = wrapped + stop.teeth * within_turn(stop.wind * (heading - out_of))
            heading, span_mm = out_of, span_mm + run_mm
        return np.asarray(span_mm / PITCH_MM + wrapped / TURN_RAD + loop.still_links)

    @property
    def links_per_rad(self) -> Array:
        """How fast the loop grows as the cage turns forward: what the two runs at its tip pull along its path.

        Equation: C / p (cos(u - a) - cos(v - a)) + (k_t - w k_l) C / s sin(a - u) - k_t - k_g, with u and v the
        headings of the runs into and out of the tension pulley, v - a the same for all a, s the one's span, w the last
        stop's wind, and k of a stop what its chain, bent as a polygon, has less than its arc: z / 2 pi - r / p.
        Returns: links per radian, (P, G, A). Range: wherever the chain is on both pulleys. Source: derivative of the
        path of model, section 1; checked against differences of it in the tests.
        """
        into_rad, last, (_, span_mm) = self.from_cage_rad, self.last, self.into_tension
        tension_links, cage_links, still_links = self.loop.tip_links
        swept = (tension_links - last.wind * last.bend_links) * self.loop.cage_mm / span_mm
        return np.asarray(cage_links * np.cos(into_rad) - swept * np.sin(into_rad) - still_links)

    @property
    def clearance_mm(self) -> Array:
        """Clearance between guide pulley and return run; at or below 0 the chain touches itself.

        Equation: distance of the guide pulley's centre from the return run, less its pitch radius, less the plate's
        height (model, section 2). Where the cage swings forward and the run ends before it comes under the guide
        pulley, the run's end counts, not its line. Returns: mm, (P, G, A).
        """
        guide = self.loop.guide
        distance = beside_run_mm(self.last, self.into_tension, guide.x_mm, guide.y_mm)
        return np.asarray(distance - pitch_radius_mm(guide.teeth) - limit("plate_height"))

    @cached_property
    def path(self) -> ChainPath:
        """The whole loop, stop by stop."""
        loop = self.loop
        across = self.cage_rad + loop.across_rad, loop.across_mm
        return close(
            [*loop.fixed, *loop.return_idlers, self.tension],
            [*loop.fixed_runs, *self.runs, across],
            [*loop.fixed_touched, *self.touched, True],
        )


def caged_loop(poses: Poses, cage: CageMeasures, gears: Gears) -> CagedLoop:
    """The loop through the derailleur for every pose and gear."""
    x_mm, y_mm = guide_centre_mm(poses, cage, gears.cog_teeth, gears.largest_cog)
    guide = Stop(GUIDE, x_mm, y_mm, cage.guide_teeth, COUNTER_CLOCKWISE)
    fixed = (guide, cog_stop(poses, gears), *poses.drive_idlers, ring_stop(poses, gears))
    with np.errstate(invalid="ignore"):
        runs, touched = run_over(fixed)
    return CagedLoop(
        fixed=fixed,
        fixed_runs=tuple(runs),
        fixed_touched=tuple(touched),
        return_idlers=poses.return_idlers,
        cage_mm=cage.cage_mm,
        tension_teeth=cage.tension_teeth,
        rest_rad=cage.rest_rad,
        is_arm=cage.pivot_mm is not None,
    )
