"""The strip: the loose chain in rows of ten with every rivet numbered, the rivet to push, and the off-cut greyed.

Units are mm, so that a strip printed without scaling matches the chain pitch for pitch.
"""

from dataclasses import dataclass, replace
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from lone_pike.core.bike.limits import PITCH_MM
from lone_pike.core.chain.cutting import Cut, End, link_kind
from lone_pike.drawing.scene.chain import ChainShapes, plain_shapes
from lone_pike.drawing.svg import Points

ROW_LINKS = 10
ROWS_A_PAGE = 14
CLOSE_UP_LINKS = 2
LONGEST_PIECE_LINKS, LINKS_AFTER_GAP, GAP_LINKS = 36, 4, 3
ROW_MM = 15.0
LEFT_MM, RIGHT_MM, TOP_MM = 17.0, 14.0, 8.0
CLOSE_UP_LEFT_MM = 7.0

Part = Literal["keep", "trim", "offcut"]


@dataclass(frozen=True)
class Number:
    """A rivet's number and place."""

    joint: int
    x: float
    y: float
    part: Part
    shown: int

    @property
    def is_ten(self) -> bool:
        """Whether it is a whole ten."""
        return self.shown % ROW_LINKS == 0


@dataclass(frozen=True)
class Push:
    """A rivet to push, its place, and its number as it is counted."""

    joint: int
    x: float
    y: float
    shown: int


@dataclass(frozen=True)
class KeptEnd:
    """An end of what is kept: "inner" or "outer", at the first or last kept link."""

    kind: End
    x: float
    y: float
    side: Literal["first", "last"]


@dataclass(frozen=True)
class Closing:
    """What goes between the two kept ends: its key and its place, to scale."""

    kind: str
    x: float
    y: float


@dataclass(frozen=True)
class Strip:
    """The whole strip."""

    width: float
    height: float
    parts: dict[Part, ChainShapes]
    numbers: tuple[Number, ...]
    pushes: tuple[Push, ...]
    ends: tuple[KeptEnd, ...]
    closed_by: tuple[Closing, ...]
    title: str
    tried: Push | None = None


def strip(cut: Cut, *, from_end: bool = False, tried: int | None = None) -> Strip:
    """The strip of a cut: the whole box in rows of ten; with from_end, its rivets are numbered from the other end.
    tried is a rivet that is only being tried."""
    laid = _lay(cut, 1, cut.box_links, ROW_LINKS, LEFT_MM, "Strip")
    if from_end:
        laid = replace(
            laid,
            numbers=tuple(replace(one, shown=cut.box_links - one.joint) for one in laid.numbers),
            pushes=tuple(replace(one, shown=cut.box_links - one.joint) for one in laid.pushes),
        )
    places = {one.joint: (one.x, one.y) for one in laid.numbers}
    if tried in places and tried is not None:
        laid = replace(laid, tried=Push(tried, *places[tried], tried))
    if not cut.offset_links:
        return laid
    kinds = ["offset_link", *([str(cut.joiner)] if cut.joiner_links else [])]
    closings = tuple(Closing(kind, LEFT_MM + 46.0 * i, laid.height + 5.0) for i, kind in enumerate(kinds))
    return replace(laid, height=laid.height + ROW_MM, closed_by=closings)


@dataclass(frozen=True)
class StripPage:
    """The rows of a strip on one page; goes_on_from and goes_on_at are the rivets where pages meet."""

    strip: Strip
    goes_on_from: int | None
    goes_on_at: int | None


def strip_pages(cut: Cut) -> tuple[StripPage, ...]:
    """The strip of a cut over as many pages as it needs, ten links a row."""
    each = ROW_LINKS * ROWS_A_PAGE
    firsts = range(1, cut.box_links + 1, each)
    return tuple(
        StripPage(
            _lay(cut, first, min(first + each - 1, cut.box_links), ROW_LINKS, LEFT_MM, "Strip"),
            first - 1 if first > 1 else None,
            first + each - 1 if first + each <= cut.box_links else None,
        )
        for first in firsts
    )


def close_up(cut: Cut) -> Strip | None:
    """The few links round the rivet to push; None where nothing is cut."""
    if cut.push_from_start is None:
        return None
    first = max(1, cut.push_from_start - CLOSE_UP_LINKS + 1)
    return _lay(
        cut, first, min(cut.box_links, first + 2 * CLOSE_UP_LINKS - 1), 2 * CLOSE_UP_LINKS, CLOSE_UP_LEFT_MM, "Close-up"
    )


@dataclass(frozen=True)
class DrawnPiece:
    """A loose piece in one row, for the bin. gap_x is the middle of the gap in a long one, where links are left out."""

    width: float
    shapes: ChainShapes
    links: int
    first_end: str
    last_end: str
    gap_x: float | None


def piece(links: int, first_end: End) -> DrawnPiece:
    """A piece by its count and the kind of its first link; of a long one, its two ends."""
    drawn, gap_mm = min(links, LONGEST_PIECE_LINKS), GAP_LINKS * PITCH_MM if links > LONGEST_PIECE_LINKS else 0.0
    before_gap = drawn - LINKS_AFTER_GAP
    order = np.arange(drawn)
    shown = 1 + np.where(order < before_gap, order, order + links - drawn)
    left_mm = 5.0 + order * PITCH_MM + np.where(order < before_gap, 0.0, gap_mm)
    starts = np.stack([left_mm, np.full(drawn, -5.0)], axis=1)
    inner = np.array([link_kind(first_end, int(link)) is End.INNER for link in shown])
    return DrawnPiece(
        width=10.0 + drawn * PITCH_MM + gap_mm,
        shapes=plain_shapes(starts, starts + np.array([PITCH_MM, 0.0]), inner),
        links=links,
        first_end=first_end,
        last_end=link_kind(first_end, links),
        gap_x=5.0 + before_gap * PITCH_MM + gap_mm / 2 if gap_mm else None,
    )


def _lay(cut: Cut, first: int, last: int, row_links: int, left_mm: float, title: str) -> Strip:
    """Links first to last of the loose chain, so many to a row."""
    links = np.arange(first, last + 1)
    places = _places(links - first, row_links) + np.array([left_mm, 0.0])
    starts, ends = places, places + np.array([PITCH_MM, 0.0])
    inner = np.array([link_kind(cut.first_end, int(link)) is End.INNER for link in links])
    kept_to = cut.trim_links + cut.keep_links
    parts: dict[Part, NDArray[np.bool_]] = {
        "trim": links <= cut.trim_links,
        "keep": (links > cut.trim_links) & (links <= kept_to),
        "offcut": links > kept_to,
    }
    at = {int(link): end for link, end in zip(links, ends, strict=True)} | {first - 1: starts[0]}
    pushed = [joint for joint in (cut.trim_links, cut.push_from_start or 0) if joint in at and joint]
    return Strip(
        width=left_mm + row_links * PITCH_MM + RIGHT_MM,
        height=TOP_MM + -(-len(links) // row_links) * ROW_MM,
        parts={part: plain_shapes(starts[here], ends[here], inner[here]) for part, here in parts.items()},
        numbers=tuple(Number(int(link), *_svg(at[int(link)]), _part(cut, int(link)), int(link)) for link in links),
        pushes=tuple(Push(joint, *_svg(at[joint]), joint) for joint in pushed),
        ends=_ends(cut, at),
        closed_by=(),
        title=title,
    )


def _places(order: NDArray[np.int_], row_links: int) -> Points:
    """Where the links begin, in order, in rows; the frame is y up."""
    row, place = np.divmod(order, row_links)
    return np.stack([place * PITCH_MM, -(TOP_MM + row * ROW_MM + 3.0)], axis=1)


def _svg(point: NDArray[np.float64]) -> tuple[float, float]:
    return float(point[0]), float(-point[1])


def _part(cut: Cut, link: int) -> Part:
    if link <= cut.trim_links:
        return "trim"
    return "keep" if link <= cut.trim_links + cut.keep_links else "offcut"


def _ends(cut: Cut, at: dict[int, NDArray[np.float64]]) -> tuple[KeptEnd, ...]:
    """The two ends of what is kept, if they are in the drawing."""
    if cut.missing_links:
        return ()
    sides: tuple[tuple[int, Literal["first", "last"]], ...] = (
        (cut.trim_links, "first"),
        (cut.trim_links + cut.keep_links, "last"),
    )
    first, last = cut.keep_ends
    kinds = {"first": first, "last": last}
    return tuple(KeptEnd(kinds[side], *_svg(at[joint]), side) for joint, side in sides if joint in at)
