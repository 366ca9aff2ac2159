"""The crank on its eccentric: the axle's place from the shell, and the crank's place on its circle (model, section
5)."""

from math import cos, hypot, radians, sin

import numpy as np

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.take_up import as_a
from lone_pike.core.bike.take_ups import Standing
from lone_pike.core.bike.teeth import Array, Number

ON_ITS_END = 1e-9


def crank_deg(bike: Bike, centre_mm: Number, away_mm: Number, radius_mm: float) -> Array:
    """The crank's place on its circle for a centre distance, on the lower half.

    Equation: C^2 = A^2 + e^2 - 2 A e cos(t), t between crank and axle as seen from the shell. Parameters: the centre
    distance C, the axle's distance A from the shell's centre, and the circle's radius e, mm. Returns: degrees forward
    of straight down; nan if the crank does not reach.
    """
    x_mm, y_mm = axle_from_shell_xy_mm(bike)
    cosine = (np.square(away_mm) + radius_mm**2 - np.square(centre_mm)) / (2 * np.asarray(away_mm) * radius_mm)
    cosine = np.where(np.abs(np.abs(cosine) - 1) < ON_ITS_END, np.sign(cosine), cosine)
    with np.errstate(invalid="ignore"):
        return np.asarray(np.degrees(np.arccos(cosine)) - 90 - np.degrees(np.arctan2(y_mm, -x_mm)))


def axle_from_shell_mm(bike: Bike) -> float:
    """The axle's distance from the centre of the eccentric's shell, or from the crank if there is no eccentric."""
    return hypot(*axle_from_shell_xy_mm(bike))


def axle_from_shell_xy_mm(bike: Bike) -> tuple[float, float]:
    """The axle's place from the centre of the eccentric's shell, forward and up, mm. If the chainstay was measured from
    the crank in its present position, the crank's place on its circle is added."""
    part, (x_mm, y_mm) = as_a(Standing, bike.take_up), bike.axle_xy_mm
    if part.crank_stands_deg is None:
        return x_mm, y_mm
    turn, radius = radians(part.crank_stands_deg), part.crank_radius_mm
    return x_mm + radius * sin(turn), y_mm - radius * cos(turn)
