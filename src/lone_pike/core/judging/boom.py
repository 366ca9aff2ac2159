"""A boom that carries the ring: what each of its settings asks for, and which of them one count serves."""

from dataclasses import dataclass, replace
from math import ceil, floor

import numpy as np

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import invalid
from lone_pike.core.bike.limits import PITCH_MM
from lone_pike.core.bike.parts import Boom
from lone_pike.core.bike.teeth import Array, tip_radius_mm
from lone_pike.core.judging.sizing import Sizing, Window
from lone_pike.core.messages import Message, links, mm
from lone_pike.core.motion.poses import Poses, all_gears, gears_of, poses_of
from lone_pike.core.take_up.families import take_up_of
from lone_pike.core.take_up.protocol import Margins

STEP_MM = 5.0
MOST_TRAVELS = 3


@dataclass(frozen=True)
class BoomSetting:
    """One setting: how far the ring is moved along the boom, the bare wrap there, the safe and the advised count."""

    boom_mm: float
    bare_wrap: float
    window: Window | None
    links: int


@dataclass(frozen=True)
class BoomRange:
    """All settings of a boom, every 5 mm and at its end, and between which of them the advised count is safe, mm."""

    settings: tuple[BoomSetting, ...]
    links: int
    serves_mm: tuple[float, float] | None
    links_each_mm: float

    @property
    def message(self) -> Message:
        """What the advised count serves, in whole mm that it does serve, and what a move asks for, in one sentence."""
        asks = {"move": mm(25), "asks": links(25 * self.links_each_mm)}
        if self.serves_mm is None:
            return Message("boom_not_served", count=links(self.links), **asks)
        low, high = mm(ceil(self.serves_mm[0])), mm(floor(self.serves_mm[1]))
        return Message("boom_serves", count=links(self.links), low=low, high=high, **asks)


def boom_range(sizing: Sizing, count: int) -> BoomRange | None:
    """What the boom's settings ask for; None where there is no boom. All settings are sized at once.

    Equation: the ring moves by d along the boom; its loop by nearly 2 d / p (model, section 4).
    """
    boom = sizing.bike.boom
    if boom is None:
        return None
    settings = settings_mm(boom)
    travels = sizing.travels_mm if len(sizing.travels_mm) <= MOST_TRAVELS else sizing.worst_travels_mm(count)
    with np.errstate(invalid="ignore"):
        poses = boom_poses(sizing, boom, settings, travels)
        take_up = take_up_of(sizing.bike, poses, gears_of(all_gears(sizing.bike)), {"none": np.zeros(len(settings))})
        bare = np.asarray(take_up.bare_links[:, 0, 0]).reshape(len(settings), -1).max(axis=1)
        margins = take_up.margins(take_up.counts_of_all(), len(settings))
    counts = np.array(margins.counts)
    rows = zip(settings.tolist(), bare.tolist(), margins.safe, counts[margins.best].tolist(), strict=True)
    return BoomRange(
        settings=tuple(BoomSetting(at, wrap, _window(counts[safe]), int(best)) for at, wrap, safe, best in rows),
        links=count,
        serves_mm=_serves(settings, margins, count),
        links_each_mm=float((bare[-1] - bare[0]) / (settings[-1] - settings[0])) if len(settings) > 1 else 2 / PITCH_MM,
    )


def settings_mm(boom: Boom) -> Array:
    """Every 5 mm from the shortest setting, and the longest.

    >>> settings_mm(Boom(from_mm=-4, to_mm=8)).tolist()
    [-4.0, 1.0, 6.0, 8.0]
    """
    return np.unique(np.append(np.arange(boom.from_mm, boom.to_mm, STEP_MM), boom.to_mm))


def boom_poses(sizing: Sizing, boom: Boom, settings: Array, travels_mm: Array) -> Poses:
    """The bike at each setting and travel, the travel running fastest."""
    poses = poses_of(sizing.bike, travels_mm, {"none": np.zeros(len(settings))})
    moved = np.repeat(settings, len(travels_mm)).reshape(-1, 1, 1)
    angle = np.radians(boom.angle_deg)
    return replace(poses, ring_x_mm=moved * np.cos(angle), ring_y_mm=moved * np.sin(angle))


def check_boom(bike: Bike) -> None:
    """The ring may run into no idler and not into the cog on its way. Raises: InvalidInput with the setting."""
    if bike.boom is None:
        return
    settings, angle = settings_mm(bike.boom), np.radians(bike.boom.angle_deg)
    x_mm, y_mm = settings * np.cos(angle), settings * np.sin(angle)
    others = [(*idler.at_mm, idler.teeth) for idler in bike.idlers] + [(*bike.axle_xy_mm, bike.largest_cog)]
    for other_x, other_y, teeth in others:
        least = tip_radius_mm(teeth) + tip_radius_mm(bike.largest_ring)
        struck = np.flatnonzero(np.hypot(x_mm - other_x, y_mm - other_y) <= least)
        if struck.size:
            at = Message("boom_at", at=mm(float(settings[struck[0]])))
            raise invalid("boom", at, Message("ring_clear_all_the_way"), Message("boom_overlaps"))


def _window(safe: Array) -> Window | None:
    return Window(int(safe[0]), int(safe[-1])) if safe.size else None


def _serves(settings: Array, margins: Margins, count: int) -> tuple[float, float] | None:
    """Between which settings about the rider's own a count keeps enough at both ends, read between the settings."""
    if count not in margins.counts:
        return None
    k = margins.counts.index(count)
    kept = np.minimum(np.maximum(np.minimum(margins.at_short[:, k], margins.at_long[:, k]), -90.0), 90.0)
    fine = np.linspace(settings[0], settings[-1], 1 + 10 * max(len(settings) - 1, 1))
    holds = np.interp(fine, settings, kept) >= 0
    own = int(np.abs(fine).argmin())
    if not holds[own]:
        return None
    first = own - int(np.argmin(holds[own::-1])) + 1 if not holds[: own + 1].all() else 0
    last = own + int(np.argmin(holds[own:])) - 1 if not holds[own:].all() else len(fine) - 1
    return float(fine[first]), float(fine[last])
