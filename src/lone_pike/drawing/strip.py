"""The strip: the loose chain in rows of ten, every rivet numbered, the rivet to push, the off-cut greyed.

Units are mm: printed without scaling it lies beside the chain, pitch for pitch.
"""

from dataclasses import dataclass
from typing import Literal

import numpy as np

from lone_pike.core.cutting import Cut, link_kind
from lone_pike.core.limits import PITCH_MM
from lone_pike.drawing.chain import INNER_HALF_MM, OUTER_HALF_MM, RIVET_MM, plates
from lone_pike.drawing.svg import discs

ROW_LINKS = 10
ROW_MM = 15.0
LEFT_MM, RIGHT_MM, TOP_MM = 17.0, 7.0, 8.0

Part = Literal["keep", "trim", "offcut"]


@dataclass(frozen=True)
class Number:
    """A rivet's number and place."""

    joint: int
    x: float
    y: float
    part: Part


@dataclass(frozen=True)
class Push:
    """A rivet to push, and its place."""

    joint: int
    x: float
    y: float


@dataclass(frozen=True)
class End:
    """An end that must be right: "inner" or "outer", at the first or last kept link."""

    kind: str
    x: float
    y: float
    side: Literal["first", "last"]


@dataclass(frozen=True)
class Strip:
    """The whole strip; plates[part][kind] is path data, kind "inner" or "outer"."""

    width: float
    height: float
    plates: dict[Part, dict[str, str]]
    rivets: dict[Part, str]
    numbers: tuple[Number, ...]
    pushes: tuple[Push, ...]
    ends: tuple[End, ...]


def strip(cut: Cut) -> Strip:
    """The strip of a cut: the whole box, or what is there of it."""
    links = cut.box_links
    rows = -(-links // ROW_LINKS)
    first = cut.keep_ends[0] if not cut.trim_links else "outer"
    place = np.arange(1, links + 1)
    starts = np.array([_joint_at(link, starts_row=True) for link in range(links)])
    ends = np.array([_joint_at(link + 1) for link in range(links)])
    inner = np.array([link_kind(first, link + 1) == "inner" for link in range(links)])
    parts: dict[Part, np.ndarray] = {
        "trim": place <= cut.trim_links,
        "keep": (place > cut.trim_links) & (place <= cut.trim_links + cut.keep_links),
        "offcut": place > cut.trim_links + cut.keep_links,
    }
    return Strip(
        width=LEFT_MM + ROW_LINKS * PITCH_MM + RIGHT_MM,
        height=TOP_MM + rows * ROW_MM,
        plates={
            part: {
                "inner": plates(starts[here & inner], ends[here & inner], INNER_HALF_MM),
                "outer": plates(starts[here & ~inner], ends[here & ~inner], OUTER_HALF_MM),
            }
            for part, here in parts.items()
        },
        rivets={part: discs(np.concatenate([starts[here], ends[here]]), RIVET_MM) for part, here in parts.items()},
        numbers=tuple(
            Number(joint, float(_joint_at(joint)[0]), float(-_joint_at(joint)[1]), _part(cut, joint))
            for joint in range(1, links + 1)
        ),
        pushes=tuple(_push(joint) for joint in (cut.trim_links, cut.push_from_start or 0) if joint),
        ends=_ends(cut),
    )


def _joint_at(joint: int, *, starts_row: bool = False) -> np.ndarray:
    """Place of a joint; one that ends a row also starts the next, told by starts_row. Frame is y up."""
    row, place = divmod(joint, ROW_LINKS)
    if place == 0 and joint and not starts_row:
        row, place = row - 1, ROW_LINKS
    return np.array([LEFT_MM + place * PITCH_MM, -(TOP_MM + row * ROW_MM + 3.0)])


def _part(cut: Cut, link: int) -> Part:
    if link <= cut.trim_links:
        return "trim"
    return "keep" if link <= cut.trim_links + cut.keep_links else "offcut"


def _push(joint: int) -> Push:
    x, y = _joint_at(joint)
    return Push(joint, float(x), float(-y))


def _ends(cut: Cut) -> tuple[End, ...]:
    if cut.missing_links:
        return ()
    first, last = _joint_at(cut.trim_links, starts_row=True), _joint_at(cut.trim_links + cut.keep_links)
    return (
        End(cut.keep_ends[0], float(first[0]), float(-first[1]), "first"),
        End(cut.keep_ends[1], float(last[0]), float(-last[1]), "last"),
    )
