"""Drawings of what stands: the slot of the axle, the eccentric of the crank, and where they are measured."""

import numpy as np

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.take_up import Moves
from lone_pike.core.bike.take_ups import Standing
from lone_pike.core.bike.teeth import pitch_radius_mm
from lone_pike.core.take_up.crank import axle_from_shell_xy_mm
from lone_pike.drawing.scene.bicycle import capsule, outlined
from lone_pike.drawing.scene.instruments import caliper, ruler
from lone_pike.drawing.scene.letters import Letter
from lone_pike.drawing.svg import Points, polyline, view_box

MARGIN_MM, LETTER_MM, CRANK_BELOW_MM = 16.0, 52.0, 158.0
SLOT_HALF_MM, PLATE_HALF_MM, SHELL_MM = 5.5, 15.0, 12.0


def standing_box(bike: Bike, part: Standing) -> str:
    """Room for the wheels with the axle anywhere in its reach, the crank below and the letters above."""
    ring_mm, cog_mm = (float(pitch_radius_mm(teeth)) + 6 for teeth in (bike.largest_ring, bike.largest_cog))
    _, far = _ends(bike, part)
    left, right = far[0] - max(cog_mm, PLATE_HALF_MM + 14) - MARGIN_MM, ring_mm + MARGIN_MM
    top = max(ring_mm, far[1] + cog_mm) + MARGIN_MM + LETTER_MM
    bottom = -max(CRANK_BELOW_MM, ring_mm) - MARGIN_MM
    return view_box(left, -top, right - left, top - bottom)


def _ends(bike: Bike, part: Standing) -> tuple[Points, Points]:
    """The two ends of the slot; for a fixed axle, both are its place."""
    axle = np.array(axle_from_shell_xy_mm(bike))
    if part.moves is not Moves.AXLE:
        return axle, axle
    away = float(np.hypot(*axle))
    near_mm, far_mm = part.centres_mm(away)
    return near_mm * axle / away, far_mm * axle / away


def dropout(bike: Bike, part: Standing) -> str:
    """The dropout with its slot, or the shell with its eccentric: path data."""
    near, far = _ends(bike, part)
    if part.moves is Moves.AXLE:
        return capsule(near, far, SLOT_HALF_MM) + capsule(near, far, PLATE_HALF_MM)
    return outlined((0.0, 0.0), part.crank_radius_mm + SHELL_MM) if part.crank_radius_mm else ""


def reach_of(part: Standing) -> str:
    """The circle that the crank centre goes round on its eccentric."""
    return outlined((0.0, 0.0), part.crank_radius_mm) if part.crank_radius_mm else ""


def standing_letters(bike: Bike, part: Standing) -> tuple[Letter, ...]:
    """Where each length is measured: E and F the two ends of the slot, A the chainstay, H the eccentric."""
    near, far = _ends(bike, part)
    over = max(float(pitch_radius_mm(bike.largest_ring)), float(pitch_radius_mm(bike.largest_cog)) + far[1]) + 14
    if part.moves is Moves.AXLE:
        return _along("E", near, over), _along("F", far, over + 26)
    chainstay = _along("A", far, over)
    if part.crank_radius_mm:
        rim = (0.0, -part.crank_radius_mm)
        line = polyline([(0.0, 0.0), rim])
        return chainstay, Letter("H", -34.0, 30.0, line, caliper((0.0, 0.0), rim, -1))
    return (chainstay,)


def _along(letter: str, axle: Points, over_mm: float) -> Letter:
    """A length from the crank centre to an axle, drawn above both."""
    x_mm, y_mm = axle.tolist()
    line = polyline([(x_mm, y_mm), (x_mm, over_mm), (0.0, over_mm), (0.0, 0.0)])
    return Letter(letter, x_mm * 0.55, -over_mm, line, ruler((x_mm, y_mm), (0.0, 0.0)))
