"""The side view: the drivetrain to scale, the chain link by link along its computed path."""

from dataclasses import dataclass, replace
from functools import lru_cache
from math import cos, hypot, sin

import numpy as np

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.limits import PITCH_MM, limit
from lone_pike.core.bike.take_up import Family
from lone_pike.core.bike.teeth import pitch_radius_mm
from lone_pike.core.chain.path import TURN_RAD
from lone_pike.core.chain.stops import COG, GUIDE, TENSION
from lone_pike.core.count.sizing import Sizing
from lone_pike.core.messages import Message, Term
from lone_pike.core.messages import links as in_links
from lone_pike.core.messages import number as bare_number
from lone_pike.core.route.tubes import tube_fits
from lone_pike.core.take_up.protocol import Gear
from lone_pike.drawing.scene.bicycle import Bicycle, bicycle, capsule
from lone_pike.drawing.scene.chain import ChainShapes, Loop, chain_shapes, loop_of, rivets
from lone_pike.drawing.scene.instruments import TubeShape, tube_shapes
from lone_pike.drawing.scene.letters import Letter, cage_letters
from lone_pike.drawing.scene.loupes import Loupe, loupes_of
from lone_pike.drawing.scene.standing import dropout, reach_of, standing_box, standing_letters
from lone_pike.drawing.scene.wheel import Wheel, wheels_of
from lone_pike.drawing.svg import circles, drawn, view_box

MARGIN_MM = 16
LETTER_MM = 24
MARKS_FOR_MM = 820.0
"""The widest drawing on which marks and letters keep their size."""

Point = tuple[float, float]
ARC_AT_MOST_RAD = np.radians(80)
HANGING_CAGE_RAD = np.radians(-75)
"""Where a cage is drawn that no longer holds the chain: about at its stop, which nobody measured."""


@dataclass(frozen=True)
class SideView:
    """Path data and places of one side view, mm, y down."""

    view_box: str
    chain: ChainShapes
    wheels: tuple[Wheel, ...]
    other_wheels: str
    hubs: str
    behind: Bicycle
    arm: str
    cage: str
    stretched_cage: str
    reserve_arc: str
    touch: tuple[float, float] | None
    state: str
    letters: tuple[Letter, ...]
    lacking: tuple[str, ...]
    title: Message
    troubles: tuple[Point, ...] = ()
    tubes: tuple[TubeShape, ...] = ()
    to_come: ChainShapes | None = None
    """The part of the chain that is not laid yet; hand is the place where it is being laid."""
    hand: Point | None = None
    line: str = ""
    """The chain as one line, in place of plates that would be too small to see."""
    loupes: tuple[Loupe, ...] = ()
    seen_cage: str = ""
    """The cage as it was seen on the bike, in addition to the drawn one."""

    @property
    def mark_scale(self) -> float:
        """The factor by which marks and letters are enlarged, so that they can be read on a long bike too."""
        return round(max(1.0, float(self.view_box.split()[2]) / MARKS_FOR_MM), 2)

    def near(self, place: str) -> "SideView":
        """This view with one of its loupes filling the picture; unchanged if there is no such loupe."""
        boxes = [loupe.view_box for loupe in self.loupes if loupe.near == place]
        return replace(self, view_box=boxes[0]) if boxes else self


def side_view(
    sizing: Sizing, gear: Gear, links: int, *, lettered: bool = False, lacking: tuple[str, ...] = ()
) -> SideView:
    """The bike in one gear with the chain at a count; with lettered, also where each length is measured.

    Parameters: lacking, parts that are not measured yet, drawn as on a typical bike, in faint lines.
    """
    if sizing.bike.take_up.family is Family.STANDS:
        return _standing(sizing, gear, links, lettered=lettered, lacking=lacking)
    cage_rad = sizing.cage.resting_rad(gear.ring, gear.cog, links)
    path = sizing.cage.resting_path(gear.ring, gear.cog, links)
    if gear.state == "loose" and cage_rad < HANGING_CAGE_RAD:
        cage_rad = HANGING_CAGE_RAD
        path = sizing.cage.path(gear.ring, gear.cog, cage_rad)
    loop = loop_of(path)
    points = rivets(loop, links, slack_run(loop))
    return SideView(
        view_box=_view_box(sizing.bike),
        chain=chain_shapes(points, joiner_at=_drive_run_outer(loop, len(points))),
        wheels=wheels_of(loop, points),
        other_wheels=_other_wheels(sizing, gear, loop),
        hubs="".join(circles(centre, [3.0]) for centre in loop.centres_mm),
        behind=_behind(sizing, loop),
        arm=_arm(sizing, loop),
        cage=cage_plate(loop),
        stretched_cage=_stretched(sizing, gear, loop),
        reserve_arc=_reserve_arc(sizing, gear, loop, cage_rad),
        touch=_touch(loop, gear),
        state=gear.state,
        letters=cage_letters(sizing.bike, loop) if lettered else (),
        lacking=lacking,
        title=Message("typical_bike_title") if lacking else title_of(gear, links),
        troubles=tuple((x, -y) for x, y in (trouble.at_mm for trouble in sizing.troubles)),
        tubes=tube_shapes(tube_fits(sizing.bike, path)),
        loupes=loupes_of(sizing.bike),
    )


def with_seen(side: SideView, sizing: Sizing, gear: Gear, links: int, seen_deg: float) -> SideView:
    """The drawing with the cage as it was seen, degrees from straight down, forward positive."""
    return replace(side, seen_cage=_cage_at(sizing, resting_loop(sizing, gear, links), float(np.radians(seen_deg))))


def resting_loop(sizing: Sizing, gear: Gear, links: int) -> Loop:
    """The loop in one gear as the chain runs at a count."""
    return loop_of(sizing.take_up.resting_path(gear.ring, gear.cog, links))


def plate_of(sizing: Sizing, loop: Loop) -> str:
    """The part that takes up the slack: the cage, or the dropout with its slot."""
    stands = sizing.bike.take_up.family is Family.STANDS
    return dropout(sizing.bike, sizing.fixed.part) if stands else cage_plate(loop)


def slack_run(loop: Loop) -> int:
    """The run in which spare chain hangs: before the tension pulley, or from ring to cog if there is none."""
    return loop.names.index(TENSION) - 1 if TENSION in loop.names else 0


def _standing(sizing: Sizing, gear: Gear, links: int, *, lettered: bool, lacking: tuple[str, ...]) -> SideView:
    """The bike with nothing that turns: its axle in the slot, its crank on the eccentric, all slack in the return."""
    part = sizing.fixed.part
    loop = resting_loop(sizing, gear, links)
    points = rivets(loop, links, slack_run(loop))
    axle = loop.centres_mm[loop.names.index(COG)].tolist()
    return SideView(
        view_box=standing_box(sizing.bike, part),
        chain=chain_shapes(points, joiner_at=_drive_run_outer(loop, len(points))),
        wheels=wheels_of(loop, points),
        other_wheels=_other_wheels(sizing, gear, loop),
        hubs="".join(circles(centre, [4.0]) for centre in loop.centres_mm),
        behind=bicycle(sizing.bike, axle),
        arm="",
        cage=dropout(sizing.bike, part),
        stretched_cage=reach_of(part),
        reserve_arc="",
        touch=None,
        state=gear.state,
        letters=standing_letters(sizing.bike, part) if lettered else (),
        lacking=lacking,
        title=Message("typical_bike_title") if lacking else title_of(gear, links),
    )


def title_of(gear: Gear, links: int) -> Message:
    return Message(
        "side_view_title",
        ring=bare_number(gear.ring),
        cog=bare_number(gear.cog),
        count=in_links(links),
        state=Term("state", gear.state),
    )


def _drop_mm(bike: Bike) -> float:
    """The distance of the guide pulley below the largest cog: by its gap, or by its measured place."""
    at_mm = bike.caged.guide_at_mm
    return hypot(*at_mm) if at_mm else bike.gap_mm


def box_of(sizing: Sizing) -> str:
    """The view box of the drawing, by the family of the take-up."""
    stands = sizing.bike.take_up.family is Family.STANDS
    return standing_box(sizing.bike, sizing.fixed.part) if stands else _view_box(sizing.bike)


def view_box_of(bike: Bike) -> str:
    """The view box of a bike with a cage or an arm."""
    return _view_box(bike)


@lru_cache(maxsize=64)
def _view_box(bike: Bike) -> str:
    """Room for the largest wheels and the cage at any angle, so that the drawing stays in place from gear to gear."""
    ring_mm, cog_mm = (float(pitch_radius_mm(teeth)) + 6 for teeth in (bike.largest_ring, bike.largest_cog))
    axle_x, axle_y = bike.axle_xy_mm
    hangs_mm = cog_mm + 2 * wheel_radius_mm(bike.caged.guide_teeth) + _drop_mm(bike) + bike.caged.cage_length_mm
    lowest = axle_y - hangs_mm - wheel_radius_mm(bike.caged.tension_teeth)
    idlers = [(*idler.at_mm, float(pitch_radius_mm(idler.teeth)) + 6) for idler in bike.idlers]
    left = min(axle_x - cog_mm, *(x - r for x, _, r in idlers), 0) - MARGIN_MM
    right = max([ring_mm, *(x + r for x, _, r in idlers)]) + MARGIN_MM
    top = max(axle_y + bike.travel_mm + cog_mm, ring_mm, *(y + r for _, y, r in idlers)) + MARGIN_MM + LETTER_MM
    bottom = min(lowest, -ring_mm, *(y - r for _, y, r in idlers)) - MARGIN_MM
    return view_box(left, -top, right - left, top - bottom)


def _other_wheels(sizing: Sizing, gear: Gear, loop: Loop) -> str:
    axle = loop.centres_mm[loop.names.index(COG)]
    rings, cogs = set(sizing.bike.rings) - {gear.ring}, set(sizing.bike.cogs) - {gear.cog}
    unused = circles((0.0, 0.0), map(wheel_radius_mm, rings)) + circles(axle, map(wheel_radius_mm, cogs))
    touched = set(map(tuple, loop.centres_mm.tolist()))
    passed = [idler for idler in sizing.bike.idlers if idler.at_mm not in touched]
    return unused + "".join(circles(idler.at_mm, [wheel_radius_mm(idler.teeth)]) for idler in passed)


@lru_cache(maxsize=128)
def wheel_radius_mm(teeth: int) -> float:
    return float(pitch_radius_mm(teeth))


def _drive_run_outer(loop: Loop, count: int) -> int:
    """The index of the outer link nearest to the middle of the drive run, where the joiner is shown."""
    cog = loop.names.index(COG)
    before = loop.spans_mm[:cog].sum() / PITCH_MM + (loop.teeth * loop.wraps_rad)[1 : cog + 1].sum() / TURN_RAD
    middle = int(before + loop.spans_mm[cog] / PITCH_MM / 2)
    return min(middle | 1, count - 1)


def _behind(sizing: Sizing, loop: Loop) -> Bicycle:
    axle, guide = (loop.centres_mm[loop.names.index(name)].tolist() for name in (COG, GUIDE))
    return bicycle(sizing.bike, axle, guide)


def _arm(sizing: Sizing, loop: Loop) -> str:
    """The swing arm from its pivot to the axle, if there is one."""
    pivot_mm = sizing.bike.suspension.pivot_at_mm if sizing.bike.suspension else None
    if pivot_mm is None:
        return ""
    return capsule(pivot_mm, loop.centres_mm[loop.names.index(COG)], 7.0)


def cage_plate(loop: Loop) -> str:
    guide, tension = (loop.centres_mm[loop.names.index(name)] for name in (GUIDE, TENSION))
    return capsule(guide, tension, 9.0)


def _stretched(sizing: Sizing, gear: Gear, loop: Loop) -> str:
    """The cage pulled straight; a sprung arm also at rest, because both ends of its movement count."""
    angles = [sizing.cage.stretched_rad(gear.ring, gear.cog)]
    if sizing.cage.rests_at_an_end:
        angles.append(sizing.cage.sweep.slackest_rad.item(0, 0, 0))
    return "".join(_cage_at(sizing, loop, angle) for angle in angles)


def _cage_at(sizing: Sizing, loop: Loop, cage_rad: float) -> str:
    """The cage at an angle, from straight down, forward positive."""
    guide, length_mm = loop.centres_mm[loop.names.index(GUIDE)], sizing.bike.caged.cage_length_mm
    return capsule(guide, (guide[0] + length_mm * sin(cage_rad), guide[1] - length_mm * cos(cage_rad)), 9.0)


def _reserve_arc(sizing: Sizing, gear: Gear, loop: Loop, cage_rad: float) -> str:
    """The arc from the cage at rest to where it would be straight, at the cage's length."""
    guide = loop.centres_mm[loop.names.index(GUIDE)]
    end = sizing.cage.stretched_rad(gear.ring, gear.cog)
    if not 0.02 < end - cage_rad < ARC_AT_MOST_RAD:
        return ""
    length_mm = sizing.bike.caged.cage_length_mm
    (x, y), r = guide.tolist(), length_mm
    begins, ends = (x + r * sin(cage_rad), -y + r * cos(cage_rad)), (x + r * sin(end), -y + r * cos(end))
    return drawn("M%g %gA%g %g 0 0 0 %g %g", *begins, r, r, *ends)


def _touch(loop: Loop, gear: Gear) -> tuple[float, float] | None:
    if gear.state not in ("touching", "loose"):
        return None
    i = loop.names.index(GUIDE)
    x_mm, y_mm = loop.centres_mm[i]
    return float(x_mm), float(-(y_mm - abs(loop.radii_mm[i]) - limit("plate_height") / 2))
