"""Where the parts of the bike are, in one pose or in many at once.

Travel, errors in the measures and a boom all give poses. Everything that follows is computed for all of them together.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from itertools import product

import numpy as np

from lone_pike.core.bike.base import Run, Side
from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.bike.measures import Errors, error_of, idler_measure
from lone_pike.core.bike.parts import Boom
from lone_pike.core.bike.take_up import Family
from lone_pike.core.bike.teeth import Array, Number
from lone_pike.core.chain.path import CLOCKWISE, COUNTER_CLOCKWISE, Stop
from lone_pike.core.chain.stops import COG, RING, idler_id
from lone_pike.core.motion.overlaps import overlaps
from lone_pike.core.motion.suspension import AxlePath, axle_path


@dataclass(frozen=True)
class Poses:
    """P poses of one bike. Every array is (P, 1, 1), to combine with G gears and A angles as (P, G, A).

    Angles are in radians, lengths in mm. The poses are V sets of errors at T travels each; the travel varies fastest.
    """

    axle_x_mm: Array
    axle_y_mm: Array
    swing_rad: Array
    ring_x_mm: Number
    ring_y_mm: Number
    drive_idlers: tuple[Stop, ...]
    return_idlers: tuple[Stop, ...]
    travels: int

    def every(self, values: Number) -> Number:
        """A plain number is returned unchanged; values for each set of errors, (V, 1), are repeated for every pose, (P,
        1, 1).
        """
        return values if isinstance(values, float) else values.repeat(self.travels).reshape(-1, 1, 1)


@dataclass(frozen=True)
class Gears:
    """G gears. The teeth of rings and cogs are (1, G, 1), or (P, G, 1) if they differ from pose to pose."""

    ring_teeth: Array
    cog_teeth: Array

    @property
    def largest_cog(self) -> Array:
        """Teeth of the largest cog among them, (1, 1, 1) or (P, 1, 1)."""
        return np.asarray(self.cog_teeth.max(axis=1, keepdims=True))


def gears_of(pairs: Sequence[tuple[int, int]]) -> Gears:
    """Gears from pairs of ring and cog."""
    sizes = np.array(pairs, dtype=float).T
    return Gears(sizes[0].reshape(1, -1, 1), sizes[1].reshape(1, -1, 1))


def all_gears(bike: Bike) -> tuple[tuple[int, int], ...]:
    """Every ring with every cog: big/big first, the gear in which a chain is too short first, and small/small last.
    With fixed centres and as many rings as cogs, the largest ring goes with the smallest cog, and so on."""
    if bike.take_up.family is Family.STANDS and len(bike.rings) == len(bike.cogs):
        return tuple(zip(sorted(bike.rings, reverse=True), sorted(bike.cogs), strict=True))
    return tuple(product(sorted(bike.rings, reverse=True), sorted(bike.cogs, reverse=True)))


def end_gears(bike: Bike) -> Gears:
    """Big/big, the gear in which a chain is too short first, and small/small, in which it is too long first."""
    gears = all_gears(bike)
    return gears_of([gears[0], gears[-1]])


def poses_of(bike: Bike, travels_mm: Array) -> Poses:
    """The poses of a bike as measured along its travel (T,).

    Raises: InvalidInput with every part that would overlap another, and idlers that are out of order.
    """
    axle = axle_path(bike, travels_mm)
    in_the_way = [*overlaps(bike, axle)]
    if in_the_way:
        raise InvalidInput(in_the_way)
    return _poses(bike, axle, travels_mm, None)


def poses_as_given(bike: Bike, travels_mm: Array, errors: Errors | None = None) -> Poses:
    """The poses with errors added to the measures; also for a bike with overlapping wheels or misplaced idlers.

    Parameters: errors, what to add to each measure in doubt, all of one length V. Returns: V T poses, the travel
    varying fastest.
    """
    return _poses(bike, axle_path(bike, travels_mm, errors), travels_mm, errors)


def _poses(bike: Bike, axle: AxlePath, travels_mm: Array, errors: Errors | None) -> Poses:
    variants, travels = next((len(values) for values in (errors or {}).values()), 1), len(travels_mm)
    each = np.zeros((variants, travels))
    poses = Poses(
        axle_x_mm=(each + axle.x_mm).reshape(-1, 1, 1),
        axle_y_mm=(each + axle.y_mm).reshape(-1, 1, 1),
        swing_rad=(each + axle.swing_rad).reshape(-1, 1, 1),
        ring_x_mm=0.0,
        ring_y_mm=0.0,
        drive_idlers=(),
        return_idlers=(),
        travels=travels,
    )
    if not bike.idlers:
        return poses
    heights = [idler.at_mm[1] + poses.every(error_of(errors, idler_measure(i))) for i, idler in enumerate(bike.idlers)]
    return replace(
        poses,
        drive_idlers=_idlers(bike, Run.DRIVE, heights)[::-1],
        return_idlers=_idlers(bike, Run.RETURN, heights),
    )


def bare_stops(poses: Poses, gears: Gears) -> list[Stop]:
    """The loop round ring, cog and all idlers without the take-up, in the chain's direction of travel."""
    return [ring_stop(poses, gears), *poses.return_idlers, cog_stop(poses, gears), *poses.drive_idlers]


def ring_stop(poses: Poses, gears: Gears) -> Stop:
    """The ring, at its place in each pose."""
    return Stop(RING, poses.ring_x_mm, poses.ring_y_mm, gears.ring_teeth, CLOCKWISE)


def cog_stop(poses: Poses, gears: Gears) -> Stop:
    """The cog on its axle."""
    return Stop(COG, poses.axle_x_mm, poses.axle_y_mm, gears.cog_teeth, CLOCKWISE)


def _idlers(bike: Bike, run: Run, heights_mm: Sequence[Number]) -> tuple[Stop, ...]:
    """The idlers of a run, front to back. The chain winds clockwise over a drive idler and under a return one."""
    on_run = [pair for pair in zip(bike.idlers, heights_mm, strict=True) if pair[0].run is run]
    clockwise = {Run.DRIVE: Side.OVER, Run.RETURN: Side.UNDER}[run]
    return tuple(
        Stop(
            name=idler_id(run, i),
            x_mm=idler.at_mm[0],
            y_mm=height_mm,
            teeth=idler.teeth,
            wind=CLOCKWISE if idler.chain is clockwise else COUNTER_CLOCKWISE,
            idler=True,
        )
        for i, (idler, height_mm) in enumerate(on_run, start=1)
    )


def boom_poses(bike: Bike, boom: Boom, settings_mm: Array, travels_mm: Array) -> Poses:
    """The bike at each setting of its boom and each travel, the travel running fastest."""
    poses = poses_as_given(bike, travels_mm, {"none": np.zeros(len(settings_mm))})
    moved = np.repeat(settings_mm, len(travels_mm)).reshape(-1, 1, 1)
    angle = np.radians(boom.angle_deg)
    return replace(poses, ring_x_mm=moved * np.cos(angle), ring_y_mm=moved * np.sin(angle))
