"""All pieces of a loop, one in each row: the part that is kept, the rivet to push, the off-cut, and the joiner behind
it."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from lone_pike.core.bike.limits import PITCH_MM
from lone_pike.core.chain.cutting import Cut, End, link_kind
from lone_pike.drawing.scene.chain import ChainShapes, plain_shapes

ROW_MM, FIRST_MM, LEFT_MM, RIGHT_MM = 54.0, 30.0, 6.0, 60.0


@dataclass(frozen=True)
class PieceShape:
    """One piece: its shapes, the middle line of its row, the place of the rivet to push, the tens, and its joiner."""

    y: float
    parts: dict[str, ChainShapes]
    push_x: float | None
    push: int | None
    tens: tuple[tuple[int, float], ...]
    joiner_x: float


@dataclass(frozen=True)
class PiecesRow:
    """The picture, mm."""

    width: float
    height: float
    rows: tuple[PieceShape, ...]


def pieces_row(cuts: Sequence[Cut]) -> PiecesRow:
    """The pieces in order round the loop, the first on top."""
    longest = max(cut.box_links for cut in cuts)
    rows = tuple(_row(cut, FIRST_MM + i * ROW_MM) for i, cut in enumerate(cuts))
    return PiecesRow(longest * PITCH_MM + RIGHT_MM, len(cuts) * ROW_MM, rows)


def _row(cut: Cut, y_mm: float) -> PieceShape:
    links = np.arange(1, cut.box_links + 1)
    starts = np.stack([(links - 1) * PITCH_MM + LEFT_MM, np.full(len(links), -y_mm)], axis=1)
    ends = starts + np.array([PITCH_MM, 0.0])
    inner = np.array([link_kind(cut.first_end, int(link)) is End.INNER for link in links])
    kept = (links > cut.trim_links) & (links <= cut.trim_links + cut.keep_links)
    parts = {name: plain_shapes(starts[on], ends[on], inner[on]) for name, on in (("keep", kept), ("offcut", ~kept))}
    return PieceShape(
        y=y_mm,
        parts=parts,
        push_x=None if cut.push_from_start is None else LEFT_MM + cut.push_from_start * PITCH_MM,
        push=cut.push_from_start,
        tens=tuple((ten, LEFT_MM + ten * PITCH_MM) for ten in range(10, cut.box_links + 1, 10)),
        joiner_x=LEFT_MM + cut.box_links * PITCH_MM + 14.0,
    )
