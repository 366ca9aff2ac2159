"""The loop through a derailleur: what stands still while the cage turns, and the cage (model, section 2)."""

from dataclasses import dataclass
from functools import cached_property

import numpy as np

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import invalid
from lone_pike.core.bike.limits import PITCH_MM, limit
from lone_pike.core.bike.measures import Errors, error_of, least_mm
from lone_pike.core.bike.take_ups import Arm, Derailleur
from lone_pike.core.bike.teeth import Array, Number, pitch_radius_mm
from lone_pike.core.chain.path import (
    CLOCKWISE,
    COUNTER_CLOCKWISE,
    QUARTER_RAD,
    Path,
    Stop,
    Touched,
    run_over,
    wraps_rad,
)
from lone_pike.core.messages import Message, mm
from lone_pike.core.motion.poses import Gears, Poses, cog_stop, ring_stop

GUIDE, TENSION = "guide pulley", "tension pulley"


@dataclass(frozen=True)
class CageMeasures:
    """A cage as measured, in P poses (P, 1, 1) where in doubt: its length and gap in mm, its lean in radians.

    rest_rad is how far back it goes at the most, all the way round where nobody looked; pivot_mm, on a sprung arm, the
    guide pulley from the axle, forward and up.
    """

    cage_mm: Number
    gap_mm: Number
    lean_rad: Number
    guide_teeth: int
    tension_teeth: int
    rest_rad: float
    pivot_mm: tuple[float, float] | None = None


def cage_measures(bike: Bike, poses: Poses, errors: Errors | None = None) -> CageMeasures:
    """The cage's measures in every pose, with the errors that are told.

    Raises: InvalidInput where the two pulleys would overlap.
    """
    part = bike.caged
    least = least_mm(bike, "cage_mm")
    if part.cage_length_mm <= least:
        allowed = Message("more_than_with_pulleys", low=mm(least))
        raise invalid("take_up.cage_mm", mm(part.cage_length_mm), allowed, Message("pulleys_overlap"))
    gap_mm, lean_deg = (bike.gap_mm, part.lean_deg) if isinstance(part, Derailleur) else (0.0, 0.0)
    return CageMeasures(
        cage_mm=poses.every(part.cage_length_mm + error_of(errors, "cage_mm")),
        gap_mm=poses.every(gap_mm + error_of(errors, "b_gap_mm")),
        lean_rad=poses.every(np.radians(lean_deg + error_of(errors, "lean_deg"))),
        pivot_mm=part.pivot_mm if isinstance(part, Arm) else None,
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
    """The loop through the derailleur.

    fixed are the stops in the chain's travel from the guide pulley to the ring, with the runs that leave all but the
    ring and the wraps between the two; then come the return idlers and the cage's tip.
    """

    fixed: tuple[Stop, ...]
    fixed_headings_rad: tuple[Number, ...]
    fixed_spans_mm: tuple[Number, ...]
    fixed_wraps_rad: tuple[Number, ...]
    fixed_touched: tuple[Touched, ...]
    return_idlers: tuple[Stop, ...]
    cage_mm: Number
    tension_teeth: int
    rest_rad: float

    def path(self, cage_rad: Array) -> Path:
        """The loop with the cage at angles (P, G, A) from straight down, forward positive."""
        guide, ring = self.fixed[0], self.fixed[-1]
        x_mm = guide.x_mm + self.cage_mm * np.sin(cage_rad)
        y_mm = guide.y_mm - self.cage_mm * np.cos(cage_rad)
        tension = Stop(TENSION, x_mm, y_mm, self.tension_teeth, CLOCKWISE)
        runs, touched = run_over([ring, *self.return_idlers, tension])
        across_rad, (first_rad, *_, last_rad) = self.heading_across(cage_rad), self.fixed_headings_rad
        headings, spans = zip(*runs, (across_rad, self.across_mm), strict=True)
        (on_guide,) = wraps_rad([guide], [across_rad, first_rad])
        moved = wraps_rad([ring, *self.return_idlers, tension], [last_rad, *headings])
        return Path(
            stops=(*self.fixed, *self.return_idlers, tension),
            spans_mm=(*self.fixed_spans_mm, *spans),
            headings_rad=(*self.fixed_headings_rad, *headings),
            wraps_rad=(on_guide, *self.fixed_wraps_rad, *moved),
            touched=(*self.fixed_touched, *touched, True),
        )

    def heading_across(self, cage_rad: Array) -> Array:
        """Heading of the run from tension to guide pulley, which crosses the cage, radians; it turns with it.

        Equation: a + 90 deg - asin((r_t + r_g) / C), the tangent of model, section 1.
        """
        return cage_rad + self.across_rad

    @cached_property
    def across_rad(self) -> Number:
        """That heading with the cage straight down, in every pose."""
        return QUARTER_RAD - np.arcsin(self._between_mm / self.cage_mm)

    @cached_property
    def across_mm(self) -> Number:
        """Length of the run that crosses the cage, in every pose."""
        return np.sqrt(np.square(self.cage_mm) - self._between_mm**2)

    @property
    def _between_mm(self) -> float:
        guide, *_ = self.fixed
        return float(pitch_radius_mm(self.tension_teeth) + pitch_radius_mm(guide.teeth))

    def links_per_rad(self, path: Path, cage_rad: Array) -> Array:
        """How fast the loop grows as the cage turns forward: what the two runs at its tip pull along its path.

        Equation: C / p (cos(u - a) - cos(v - a)) + (k_t - w k_l) C / s sin(a - u) - k_t - k_g, with u and v the
        headings of the runs into and out of the tension pulley, v - a the same for all a, s the one's span, w the last
        stop's wind, and k of a stop what its chain, bent as a polygon, has less than its arc: z / 2 pi - r / p.
        Parameters: path, this loop at cage_rad (P, G, A). Returns: links per radian, (P, G, A).
        Range: wherever the chain is on both pulleys. Source: derivative of the path of model, section 1; checked
        against differences of it in the tests.
        """
        into_rad, last = path.heading_into(TENSION) - cage_rad, path.before(TENSION)
        tension_links, cage_links, still_links = self._at_tip_links
        swept = (tension_links - last.wind * last.bend_links) * self.cage_mm / path.span_into(TENSION)
        return np.asarray(cage_links * np.cos(into_rad) - swept * np.sin(into_rad) - still_links)

    @cached_property
    def _at_tip_links(self) -> tuple[Number, Number, Number]:
        """k_t, C / p, and C / p cos(v - a) + k_t + k_g, which hang on no cage angle."""
        tension, guide = (Stop("", 0.0, 0.0, teeth, CLOCKWISE) for teeth in (self.tension_teeth, self.fixed[0].teeth))
        cage_links = self.cage_mm / PITCH_MM
        still_links = cage_links * np.cos(self.across_rad) + tension.bend_links + guide.bend_links
        return tension.bend_links, cage_links, still_links


def caged_loop(poses: Poses, cage: CageMeasures, gears: Gears) -> CagedLoop:
    """The loop through the derailleur for every pose and gear."""
    x_mm, y_mm = guide_centre_mm(poses, cage, gears.cog_teeth, gears.largest_cog)
    guide = Stop(GUIDE, x_mm, y_mm, cage.guide_teeth, COUNTER_CLOCKWISE)
    fixed = (guide, cog_stop(poses, gears), *poses.drive_idlers, ring_stop(poses, gears))
    with np.errstate(invalid="ignore"):
        runs, touched = run_over(fixed)
        headings, spans = zip(*runs, strict=True)
        wraps = wraps_rad(fixed[1:-1], headings)
    return CagedLoop(
        fixed,
        headings,
        spans,
        wraps,
        tuple(touched),
        poses.return_idlers,
        cage.cage_mm,
        cage.tension_teeth,
        cage.rest_rad,
    )
