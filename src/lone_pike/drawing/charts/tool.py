"""The tool at the rivet, seen from above: plates edge on, the driving pin behind the rivet, how far it goes."""

from dataclasses import dataclass
from typing import Literal

from lone_pike.core.bike.limits import PITCH_MM
from lone_pike.core.chain.cutting import Cut, End, link_kind
from lone_pike.drawing.svg import number

INNER_MM, OUTER_MM, PLATE_MM = 2.6, 3.8, 1.0
"""The distance of the plates from the chain's middle, and their thickness in the drawing."""

PIN_MM, DRIVER_MM = 1.8, 1.5
HELD_MM = OUTER_MM + 0.3
OUT_MM = 2 * OUTER_MM + 2.4
"""How far the rivet is pushed: until only the far plate holds it, and until it is out."""

LINKS = 4
WIDTH_MM, MIDDLE_MM, HEIGHT_MM = 74.0, 24.0, 52.0
CRADLE_MM = 15.0


@dataclass(frozen=True)
class Box:
    """A rectangle, mm, y down."""

    x: str
    y: str
    width: str
    height: str


@dataclass(frozen=True)
class ToolView:
    """The parts of the drawing: plates and rollers of a few links, the rivets that stay, the pushed one, and the
    tool."""

    width: float
    height: float
    plates: tuple[Box, ...]
    rollers: tuple[Box, ...]
    rivets: tuple[Box, ...]
    pushed: Box
    cradle: tuple[Box, ...]
    driver: Box
    screw: Box
    joint: int
    goes: Literal["out", "held"]


def tool_view(cut: Cut) -> ToolView | None:
    """The tool at the rivet of a cut; None where nothing is cut."""
    joint = cut.push_from_start
    if joint is None:
        return None
    links = [link for link in range(joint - LINKS // 2 + 1, joint + LINKS // 2 + 1) if 1 <= link <= cut.box_links]
    x_of = {at: WIDTH_MM / 2 + (at - joint) * PITCH_MM for at in range(links[0] - 1, links[-1] + 1)}
    pushed_mm = OUT_MM if cut.push_fully_out else HELD_MM
    return ToolView(
        width=WIDTH_MM,
        height=HEIGHT_MM,
        plates=tuple(plate for link in links for plate in _plates(x_of[link - 1], link_kind(cut.first_end, link))),
        rollers=tuple(_box(x - 3.6, MIDDLE_MM - INNER_MM, 7.2, 2 * INNER_MM) for x in x_of.values()),
        rivets=tuple(_rivet(x, 0.0) for at, x in x_of.items() if at != joint),
        pushed=_rivet(x_of[joint], -pushed_mm),
        cradle=_cradle(x_of[joint]),
        driver=_driver(x_of[joint], pushed_mm),
        screw=_box(x_of[joint] - 4.0, MIDDLE_MM + OUTER_MM + 14.0, 8.0, 9.0),
        joint=joint,
        goes="out" if cut.push_fully_out else "held",
    )


def _plates(x_mm: float, kind: End) -> tuple[Box, ...]:
    """The two plates of a link that begins at a place."""
    aside = INNER_MM if kind is End.INNER else OUTER_MM
    tops = (MIDDLE_MM - aside - PLATE_MM / 2, MIDDLE_MM + aside - PLATE_MM / 2)
    return tuple(_box(x_mm - 4.0, top, PITCH_MM + 8.0, PLATE_MM) for top in tops)


def _rivet(x_mm: float, moved_mm: float) -> Box:
    half = OUTER_MM + PLATE_MM
    return _box(x_mm - PIN_MM, MIDDLE_MM - half + moved_mm, 2 * PIN_MM, 2 * half)


def _driver(x_mm: float, pushed_mm: float) -> Box:
    """The driving pin, from the screw to the rivet it has pushed."""
    top = MIDDLE_MM + OUTER_MM + PLATE_MM - pushed_mm
    return _box(x_mm - DRIVER_MM, top, 2 * DRIVER_MM, MIDDLE_MM + OUTER_MM + 15.0 - top)


def _cradle(x_mm: float) -> tuple[Box, ...]:
    """The far backing with its hole, either side of the rivet, and the near wall that the screw goes through."""
    far = MIDDLE_MM - OUTER_MM - PLATE_MM - 7.5
    near = MIDDLE_MM + OUTER_MM + PLATE_MM + 1.0
    return tuple(
        _box(x_mm + side * (CRADLE_MM + 2.5) / 2 - (CRADLE_MM - 2.5) / 2, top, CRADLE_MM - 2.5, 7.0)
        for side in (-1, 1)
        for top in (far, near + 3.0)
    )


def _box(x_mm: float, y_mm: float, width_mm: float, height_mm: float) -> Box:
    return Box(*map(number, (x_mm, y_mm, width_mm, height_mm)))
