"""The parts of a long bike that can be seen closely: boxes around its ring, its idlers and its cogs."""

from dataclasses import dataclass
from itertools import pairwise
from math import hypot

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.teeth import pitch_radius_mm
from lone_pike.core.messages import Term
from lone_pike.drawing.scene.bicycle import LONG_BIKE_MM
from lone_pike.drawing.svg import view_box

AROUND_MM, APART_MM = 26.0, 260.0


@dataclass(frozen=True)
class Loupe:
    """One such place: its name in the address, what is there, and its square in SVG coordinates."""

    near: str
    part: Term
    view_box: str


def loupes_of(bike: Bike) -> tuple[Loupe, ...]:
    """The ring, each group of idlers close together, and the cogs with the cage; none on a bike that is short
    enough."""
    axle_x, axle_y = bike.axle_xy_mm
    if hypot(axle_x, axle_y) <= LONG_BIKE_MM:
        return ()
    ring_mm, cog_mm = float(pitch_radius_mm(bike.largest_ring)), float(pitch_radius_mm(bike.largest_cog))
    hangs_mm = bike.caged.cage_length_mm * 0.8
    groups = [_square(group) for group in _groups(bike)]
    return (
        Loupe("cogs", Term("loupe", "cogs"), _box(axle_x + hangs_mm / 3, axle_y - hangs_mm / 2, cog_mm + hangs_mm / 2)),
        *(Loupe(f"idlers{i}", Term("loupe", "idlers"), box) for i, box in enumerate(groups, start=1)),
        Loupe("ring", Term("loupe", "ring"), _box(0.0, 0.0, ring_mm)),
    )


def _groups(bike: Bike) -> list[list[tuple[float, float, float]]]:
    """Idlers from back to front, in groups that end where the next one is well ahead: centres and radii, mm."""
    circles = sorted((*idler.at_mm, float(pitch_radius_mm(idler.teeth))) for idler in bike.idlers)
    groups = [circles[:1]] if circles else []
    for before, here in pairwise(circles):
        if here[0] - before[0] > APART_MM:
            groups.append([])
        groups[-1].append(here)
    return groups


def _square(circles: list[tuple[float, float, float]]) -> str:
    low_x, high_x = min(x - r for x, _, r in circles), max(x + r for x, _, r in circles)
    low_y, high_y = min(y - r for _, y, r in circles), max(y + r for _, y, r in circles)
    return _box((low_x + high_x) / 2, (low_y + high_y) / 2, max(high_x - low_x, high_y - low_y) / 2)


def _box(x_mm: float, y_mm: float, half_mm: float) -> str:
    half = half_mm + AROUND_MM
    return view_box(x_mm - half, -y_mm - half, 2 * half, 2 * half)
