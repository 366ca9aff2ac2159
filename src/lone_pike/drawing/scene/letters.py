"""Letters of measures on a drawing, and where each measure of a bike with a cage or an arm is taken."""

from dataclasses import dataclass

import numpy as np

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.limits import limit
from lone_pike.core.bike.teeth import pitch_radius_mm
from lone_pike.core.chain.stops import COG, GUIDE, TENSION
from lone_pike.drawing.scene.chain import Loop
from lone_pike.drawing.scene.instruments import caliper, ruler
from lone_pike.drawing.svg import polyline


@dataclass(frozen=True)
class Letter:
    """A measure's letter on the drawing, its line, and the instrument on it, in SVG coordinates."""

    letter: str
    x: float
    y: float
    line: str
    instrument: str


def cage_letters(bike: Bike, loop: Loop) -> tuple[Letter, ...]:
    """Where each length is measured: A chainstay, B cage, C gap."""
    axle = loop.centres_mm[loop.names.index(COG)]
    guide, tension = (loop.centres_mm[loop.names.index(name)] for name in (GUIDE, TENSION))
    over = max(float(pitch_radius_mm(bike.largest_ring)), float(pitch_radius_mm(bike.largest_cog) + axle[1])) + 20
    span = np.array([axle, (axle[0], over), (0.0, over), (0.0, 0.0)])
    out = (guide - axle) / np.hypot(*(guide - axle))
    tips = [
        axle + out * (float(pitch_radius_mm(bike.largest_cog)) + limit("tooth_tip")),
        guide - out * (float(pitch_radius_mm(bike.caged.guide_teeth)) + limit("tooth_tip")),
    ]
    pivot = _pivot_letter(bike)
    return (
        *pivot,
        Letter("A", float(axle[0] / 2), -over, polyline(span), ruler(axle, (0.0, 0.0))),
        _letter_at("B", guide, tension, aside_mm=30.0),
        _letter_at("G", axle, guide, aside_mm=-34.0)
        if bike.caged.guide_at_mm
        else _letter_at("C", tips[0], tips[1], aside_mm=-34.0),
    )


def _pivot_letter(bike: Bike) -> tuple[Letter, ...]:
    """D, the pivot: forward of the crank, then up."""
    pivot_mm = bike.suspension.pivot_at_mm if bike.suspension else None
    if pivot_mm is None:
        return ()
    x_mm, y_mm = pivot_mm
    return (Letter("D", x_mm + 16, -y_mm - 16, polyline([(0.0, 0.0), (x_mm, 0.0), (x_mm, y_mm)]), ""),)


def _letter_at(letter: str, start: np.ndarray, end: np.ndarray, aside_mm: float) -> Letter:
    along = (end - start) / max(float(np.hypot(*(end - start))), 1e-9)
    place = (start + end) / 2 + np.array([along[1], -along[0]]) * -aside_mm
    return Letter(
        letter, float(place[0]), float(-place[1]), polyline([start, end]), caliper(start, end, np.sign(-aside_mm))
    )
