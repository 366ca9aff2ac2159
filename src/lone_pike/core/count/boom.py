"""A boom that carries the ring: the counts for each of its settings, and at which settings each count is safe."""

from dataclasses import dataclass
from functools import cached_property
from itertools import pairwise
from math import ceil, floor

import numpy as np
from numpy.typing import NDArray

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import invalid
from lone_pike.core.bike.joiners import JOINERS
from lone_pike.core.bike.limits import PITCH_MM
from lone_pike.core.bike.parts import Boom
from lone_pike.core.bike.teeth import Array, tip_radius_mm
from lone_pike.core.count.sizing import Sizing, Window
from lone_pike.core.messages import Message, links, mm
from lone_pike.core.motion.poses import all_gears, boom_poses, gears_of
from lone_pike.core.take_up.kinds import take_up_of
from lone_pike.core.take_up.protocol import Margins

STEP_MM, DECIMALS = 5.0, 6
MOST_TRAVELS, MOVES_AT_LEAST = 3, 2


@dataclass(frozen=True)
class BoomSetting:
    """One setting: how far the ring is moved along the boom, the bare wrap there, and the safe and the advised
    counts."""

    boom_mm: float
    bare_wrap: float
    window: Window | None
    links: int


@dataclass(frozen=True)
class SafeSettings:
    """A count, and the range of settings in which it is safe, mm."""

    links: int
    low_mm: float
    high_mm: float


@dataclass(frozen=True)
class BoomRange:
    """All settings of a boom, every 5 mm and at its end, and the counts that are safe at them. links is the count in
    question; serves_mm, the range around the rider's own setting in which it is safe; joiner_links, what each joiner
    adds."""

    settings: tuple[BoomSetting, ...]
    counts: tuple[SafeSettings, ...]
    links: int
    serves_mm: tuple[float, float] | None
    links_each_mm: float
    joiner_links: int

    @cached_property
    def cover(self) -> tuple[SafeSettings, ...]:
        """The fewest counts that cover the whole boom, from its shortest setting on; empty if some setting has no safe
        count. Of the counts that are safe where the last one ends, the one that reaches farthest is taken."""
        at, end, chosen = self.settings[0].boom_mm, self.settings[-1].boom_mm, list[SafeSettings]()
        while not chosen or chosen[-1].high_mm < end:
            reach = [one for one in self.counts if one.low_mm <= at and one.high_mm > at]
            if not reach:
                return ()
            chosen.append(max(reach, key=lambda one: (one.high_mm, -one.links)))
            at = chosen[-1].high_mm
        return tuple(chosen)

    @property
    def lender(self) -> Message | None:
        """The advice for a boom that is moved often: one count for all settings, or pieces to put in."""
        if len(self.settings) < MOVES_AT_LEAST or not self.cover:
            return Message("boom_has_gaps") if not self.cover else None
        first, *more = self.cover
        if not more:
            return Message("boom_all_served", count=links(first.links))
        pieces = tuple(
            Message(
                "boom_piece",
                links=links(after.links - before.links - self.joiner_links),
                start=mm(floor(before.high_mm)),
                count=links(after.links),
            )
            for before, after in pairwise(self.cover)
        )
        return Message("boom_lender", count=links(first.links), end=mm(floor(first.high_mm)), pieces=pieces)

    @property
    def message(self) -> Message:
        """The settings for which the advised count is safe, rounded inwards to whole mm, and what a move needs, in one
        sentence."""
        asks = {"move": mm(25), "asks": links(25 * self.links_each_mm)}
        if self.serves_mm is None:
            return Message("boom_not_served", count=links(self.links), **asks)
        low, high = mm(ceil(self.serves_mm[0])), mm(floor(self.serves_mm[1]))
        return Message("boom_serves", count=links(self.links), low=low, high=high, **asks)


def boom_range(sizing: Sizing, count: int) -> BoomRange | None:
    """The counts for the boom's settings; None if there is no boom. All settings are sized at once.

    Equation: the ring moves by d along the boom; its loop by nearly 2 d / p (model, section 4).
    """
    boom = sizing.bike.boom
    if boom is None:
        return None
    settings = settings_mm(boom)
    travels = sizing.travels_mm if len(sizing.travels_mm) <= MOST_TRAVELS else sizing.worst_travels_mm(count)
    with np.errstate(invalid="ignore"):
        poses = boom_poses(sizing.bike, boom, settings, travels)
        take_up = take_up_of(sizing.bike, poses, gears_of(all_gears(sizing.bike)), {"none": np.zeros(len(settings))})
        bare = take_up.bare_wraps_links.reshape(len(settings), -1).max(axis=1)
        margins = take_up.margins(take_up.counts_of_all(), len(settings))
    counts = np.array(margins.counts)
    rows = zip(settings.tolist(), bare.tolist(), margins.safe, counts[margins.best].tolist(), strict=True)
    return BoomRange(
        settings=tuple(BoomSetting(at, wrap, _window(counts[safe]), int(best)) for at, wrap, safe, best in rows),
        counts=_served(settings, margins),
        links=count,
        serves_mm=_serves(settings, margins, count),
        links_each_mm=float((bare[-1] - bare[0]) / (settings[-1] - settings[0])) if len(settings) > 1 else 2 / PITCH_MM,
        joiner_links=JOINERS[sizing.bike.joiner].links,
    )


def settings_mm(boom: Boom) -> Array:
    """Every 5 mm from the shortest setting, and the longest.

    >>> settings_mm(Boom(from_mm=-4, to_mm=8)).tolist()
    [-4.0, 1.0, 6.0, 8.0]
    >>> settings_mm(Boom(from_mm=-9.6, to_mm=1)).tolist()
    [-9.6, -4.6, 0.4, 1.0]
    """
    steps = np.round(np.append(np.arange(boom.from_mm, boom.to_mm, STEP_MM), boom.to_mm), DECIMALS)
    return np.unique(steps)


def check_boom(bike: Bike) -> None:
    """Checks that the ring meets neither an idler nor the cog on its way. Raises: InvalidInput with the setting."""
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


def _served(settings: Array, margins: Margins) -> tuple[SafeSettings, ...]:
    """Each count that is safe somewhere, with its longest range of settings."""
    served = []
    for k, count in enumerate(margins.counts):
        fine, holds = _holds(settings, margins, k)
        if holds.any():
            edges = np.flatnonzero(np.diff(np.concatenate([[False], holds, [False]]).astype(int)))
            low, past = max(edges.reshape(-1, 2).tolist(), key=lambda each: each[1] - each[0])
            served.append(SafeSettings(count, float(fine[low]), float(fine[past - 1])))
    return tuple(served)


def _holds(settings: Array, margins: Margins, k: int) -> tuple[Array, NDArray[np.bool_]]:
    """Whether a count is safe, for every half mm, interpolated between the settings."""
    kept = np.clip(np.minimum(margins.at_short[:, k], margins.at_long[:, k]), -90.0, 90.0)
    fine = np.linspace(settings[0], settings[-1], 1 + 10 * max(len(settings) - 1, 1))
    return fine, np.interp(fine, settings, kept) >= 0


def _serves(settings: Array, margins: Margins, count: int) -> tuple[float, float] | None:
    """The range of settings around the rider's own in which a count is safe."""
    if count not in margins.counts:
        return None
    fine, holds = _holds(settings, margins, margins.counts.index(count))
    own = int(np.abs(fine).argmin())
    if not holds[own]:
        return None
    first = own - int(np.argmin(holds[own::-1])) + 1 if not holds[: own + 1].all() else 0
    last = own + int(np.argmin(holds[own:])) - 1 if not holds[own:].all() else len(fine) - 1
    return float(fine[first]), float(fine[last])
