"""Where the bike's parts stand: one pose, or many at once (along a travel, over a doubt).

All later sums are made for every pose together. Suspension, booms and measuring doubt are only
other ways to make poses.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import invalid
from lone_pike.core.bike.limits import PITCH_MM, limit
from lone_pike.core.bike.measures import Errors, error_of, least_mm
from lone_pike.core.bike.teeth import Array, Number, pitch_radius_mm
from lone_pike.core.chain.path import CLOCKWISE, COUNTER_CLOCKWISE, TURN_RAD, Path, Run, Stop, close, tangent, tangents
from lone_pike.core.motion.suspension import AxlePath, axle_path

RING, COG, GUIDE, TENSION = "ring", "cog", "guide pulley", "tension pulley"


@dataclass(frozen=True)
class Poses:
    """P poses of one bike; every array has shape (P, 1, 1), to meet G gears and A angles as (P, G, A).

    Angles radians, lengths mm.
    """

    axle_x_mm: Array
    axle_y_mm: Array
    swing_rad: Array
    cage_mm: Array
    gap_mm: Array
    lean_rad: Array
    biggest_cog: Number
    guide_teeth: int
    tension_teeth: int
    drive_idlers: tuple[Stop, ...]
    return_idlers: tuple[Stop, ...]


@dataclass(frozen=True)
class Gears:
    """G gears; ring and cog teeth have shape (1, G, 1), or (P, G, 1) where they differ from pose to pose."""

    ring_teeth: Array
    cog_teeth: Array


def gears_of(pairs: Sequence[tuple[int, int]]) -> Gears:
    """Gears from pairs of ring and cog."""
    teeth = np.array(pairs, dtype=float).T
    return Gears(teeth[0].reshape(1, -1, 1), teeth[1].reshape(1, -1, 1))


def poses_of(bike: Bike, travels_mm: Array, errors: Errors | None = None) -> Poses:
    """The poses of a bike along its travel: as measured, or all of it for each set of errors in its measures.

    Parameters: travels_mm (T,); errors, for each measure that is in doubt what to add to it, all of one
    length V. Returns: V T poses, the travel running fastest.
    Raises: InvalidInput where ring and cog, or the two pulleys, would overlap as measured.
    """
    axle = axle_path(bike, travels_mm)
    _check_apart(bike, axle)
    many = next((len(values) for values in (errors or {}).values()), 1)
    axle = axle_path(bike, travels_mm, errors) if errors else axle

    def every(values: Number) -> Array:
        return np.broadcast_to(values, (many, len(travels_mm))).reshape(-1, 1, 1)

    return Poses(
        axle_x_mm=every(axle.x_mm),
        axle_y_mm=every(axle.y_mm),
        swing_rad=every(axle.swing_rad),
        cage_mm=every(bike.take_up.cage_length_mm + error_of(errors, "cage_mm")),
        gap_mm=every(bike.gap_mm + error_of(errors, "b_gap_mm")),
        lean_rad=every(np.radians(bike.take_up.lean_deg + error_of(errors, "lean_deg"))),
        biggest_cog=bike.biggest_cog,
        guide_teeth=bike.take_up.guide_teeth,
        tension_teeth=bike.take_up.tension_teeth,
        drive_idlers=_idlers(bike, "drive")[::-1],
        return_idlers=_idlers(bike, "return"),
    )


def _idlers(bike: Bike, run: str) -> tuple[Stop, ...]:
    """The idlers of a run, front to back. Over a drive idler or under a return one the chain winds clockwise."""
    clockwise = {"drive": "over", "return": "under"}[run]
    return tuple(
        Stop(
            f"{run} idler {i}", *idler.at_mm, idler.teeth, CLOCKWISE if idler.chain == clockwise else COUNTER_CLOCKWISE
        )
        for i, idler in enumerate((one for one in bike.idlers if one.run == run), start=1)
    )


def _check_apart(bike: Bike, axle: AxlePath) -> None:
    wheels_mm, pulleys_mm = least_mm(bike, "chainstay_mm"), least_mm(bike, "cage_mm")
    nearest = int(axle.chainstay_mm.argmin())
    if axle.chainstay_mm[nearest] <= wheels_mm < bike.chainstay_length_mm:
        where = f"{axle.chainstay_mm[nearest]:.0f} mm of chainstay at {axle.travel_mm[nearest]:g} mm of travel"
        raise invalid("suspension", where, f"more than {wheels_mm:.0f} mm all the way", "Ring and cog would overlap.")
    if bike.chainstay_length_mm <= wheels_mm:
        field = "chainstay_mm" if bike.axle_mm is None else "axle_mm"
        allowed = f"more than {wheels_mm:.0f} mm with {bike.biggest_ring}/{bike.biggest_cog}"
        raise invalid(field, f"{bike.chainstay_length_mm:.1f}", allowed, "Nearer than that, ring and cog overlap.")
    _check_idlers_apart(bike)
    if bike.take_up.cage_length_mm <= pulleys_mm:
        allowed = f"more than {pulleys_mm:.0f} mm with these pulleys"
        cure = "Nearer than that, the two pulleys overlap."
        raise invalid("take_up.cage_mm", f"{bike.take_up.cage_length_mm:.1f}", allowed, cure)


def _check_idlers_apart(bike: Bike) -> None:
    """An idler turns in the ring's plane, so their teeth must clear each other."""
    for i, idler in enumerate(bike.idlers):
        teeth_mm = sum(float(pitch_radius_mm(teeth)) + limit("tooth_tip") for teeth in (bike.biggest_ring, idler.teeth))
        if np.hypot(*idler.at_mm) <= teeth_mm:
            place = f"[{idler.at_mm[0]:g}, {idler.at_mm[1]:g}]"
            cure = "Nearer than that, idler and ring overlap."
            raise invalid(f"idlers.{i}.at_mm", place, f"more than {teeth_mm:.0f} mm from the crank centre", cure)


def guide_centre_mm(poses: Poses, cog_teeth: Number) -> tuple[Number, Number]:
    """Centre of the guide pulley for a cog.

    Equation: from the axle, at r(cog) + r(guide) + g + 2 tips + 0.3 (largest cog - cog), in the
    direction straight down turned forward by the lean, turned with the swing arm.
    Returns: x and y, mm. Source: model, section 2.
    """
    reach = pitch_radius_mm(cog_teeth) + pitch_radius_mm(poses.guide_teeth) + poses.gap_mm
    reach = reach + 2 * limit("tooth_tip") + limit("gap_growth") * (poses.biggest_cog - np.asarray(cog_teeth))
    turn = poses.lean_rad + poses.swing_rad
    return poses.axle_x_mm + reach * np.sin(turn), poses.axle_y_mm - reach * np.cos(turn)


def bare_stops(poses: Poses, gears: Gears) -> list[Stop]:
    """The loop round ring and cog and over all idlers, skipping the derailleur, in the chain's travel."""
    return [_ring(gears), *poses.return_idlers, _cog(poses, gears), *poses.drive_idlers]


def _ring(gears: Gears) -> Stop:
    return Stop(RING, 0.0, 0.0, gears.ring_teeth, CLOCKWISE)


def _cog(poses: Poses, gears: Gears) -> Stop:
    return Stop(COG, poses.axle_x_mm, poses.axle_y_mm, gears.cog_teeth, CLOCKWISE)


def end_gears(bike: Bike) -> Gears:
    """Big/big, where a chain is too short first, and small/small, where it is too long."""
    return gears_of([(bike.biggest_ring, bike.biggest_cog), (bike.smallest_ring, bike.smallest_cog)])


@dataclass(frozen=True)
class CagedLoop:
    """The loop through the derailleur: what stands still while the cage turns, and the cage.

    fixed runs in the chain's travel from the guide pulley round to the last stop before the tension pulley.
    """

    fixed: tuple[Stop, ...]
    fixed_runs: tuple[Run, ...]
    cage_mm: Array
    tension_teeth: int

    def path(self, cage_rad: Array) -> Path:
        """The loop with the cage at angles (P, G, A) from straight down, forward positive."""
        guide, last = self.fixed[0], self.fixed[-1]
        x_mm = guide.x_mm + self.cage_mm * np.sin(cage_rad)
        y_mm = guide.y_mm - self.cage_mm * np.cos(cage_rad)
        tension = Stop(TENSION, x_mm, y_mm, self.tension_teeth, CLOCKWISE)
        return close([*self.fixed, tension], [*self.fixed_runs, tangent(last, tension), tangent(tension, guide)])

    def links_per_rad(self, path: Path, cage_rad: Array) -> Array:
        """How fast the loop grows as the cage turns forward: what the two runs at its tip pull along its path.

        Equation: C / p (cos(u - a) - cos(v - a)) + (k_t - w k_l) C / s sin(a - u) - k_t - k_g, with u and v the
        headings of the runs into and out of the tension pulley, s the one's span, w the last stop's wind, and k
        of a stop what its chain, bent as a polygon, has less than its arc: z / 2 pi - r / p. Links per radian.
        """
        into, out_of = path.headings_rad[-2], path.headings_rad[-1]
        pull = self.cage_mm / PITCH_MM * (np.cos(into - cage_rad) - np.cos(out_of - cage_rad))
        last, tension, guide = (path.stops[i] for i in (-2, -1, 0))
        turned = self.cage_mm / path.spans_mm[-2] * np.sin(cage_rad - into)
        swept = (_polygon_links(tension) - last.wind * _polygon_links(last)) * turned
        return np.asarray(pull + swept - _polygon_links(tension) - _polygon_links(guide))


def _polygon_links(stop: Stop) -> Number:
    """What a radian of wrap has less as a polygon than as an arc, links."""
    return stop.teeth / TURN_RAD - np.abs(stop.signed_radius_mm) / PITCH_MM


def caged_loop(poses: Poses, gears: Gears) -> CagedLoop:
    """The loop through the derailleur for every pose and gear."""
    guide = Stop(GUIDE, *guide_centre_mm(poses, gears.cog_teeth), poses.guide_teeth, COUNTER_CLOCKWISE)
    fixed = (guide, _cog(poses, gears), *poses.drive_idlers, _ring(gears), *poses.return_idlers)
    return CagedLoop(fixed, tuple(tangents(fixed)), poses.cage_mm, poses.tension_teeth)
