"""Two wheels and a chain round them: its length by their centres' distance, the other way round, and its slack."""

import numpy as np

from lone_pike.core.bike.limits import PITCH_MM
from lone_pike.core.bike.teeth import Array, Number, pitch_radius_mm

STEPS, NEARLY_MM = 4, 1e-6


def span_mm(ring_teeth: Number, cog_teeth: Number, centre_mm: Number) -> Array:
    """Length of each of the two straight runs: sqrt(C^2 - (r_ring - r_cog)^2), mm."""
    apart = pitch_radius_mm(ring_teeth) - pitch_radius_mm(cog_teeth)
    return np.asarray(np.sqrt(np.asarray(centre_mm) ** 2 - apart * apart))


def links_round(ring_teeth: Number, cog_teeth: Number, centre_mm: Number) -> Array:
    """Length of the taut loop round two wheels.

    Equation: 2 s / p + (z1 + z2) / 2 + (z1 - z2) b / pi, sin b = (r1 - r2) / C: the path of model, section 1, with two
    stops. Parameters: teeth, and the centre distance, mm. Returns: links; nan where one wheel holds the other. Range:
    wheels that do not overlap. Source: compared in the tests with the path traced stop by stop.

    >>> round(float(links_round(42, 15, 412.308)), 4)
    94.0
    """
    apart = pitch_radius_mm(ring_teeth) - pitch_radius_mm(cog_teeth)
    slant_rad = np.arctan2(apart, span := span_mm(ring_teeth, cog_teeth, centre_mm))
    wrapped = (ring_teeth + cog_teeth) / 2 + (ring_teeth - cog_teeth) * slant_rad / np.pi
    return np.asarray(2 * span / PITCH_MM + wrapped)


def taut_centre_mm(ring_teeth: Number, cog_teeth: Number, links: Number) -> Array:
    """The centre distance at which a chain of so many links is taut round two wheels.

    Equation: L(C) = N (model, section 5). Parameters: teeth and links, of shapes that meet; links may be fractions, for
    a worn chain. Returns: mm; nan if the chain is too short to go round two such wheels. Range: wheels that do not
    overlap. Source: L grows with C by 2 cos b / p; refined by that slope between the least centre and half the chain.
    """
    least = np.abs(pitch_radius_mm(ring_teeth) - pitch_radius_mm(cog_teeth)) + NEARLY_MM
    links = np.asarray(links, dtype=float)
    most = np.maximum(links * PITCH_MM / 2, least)
    with np.errstate(invalid="ignore"):
        short = links <= links_round(ring_teeth, cog_teeth, least)
        centre = np.clip((links - (ring_teeth + cog_teeth) / 2) * PITCH_MM / 2, least, most)
        for _ in range(STEPS):
            slope = 2 * span_mm(ring_teeth, cog_teeth, centre) / centre / PITCH_MM
            amiss = links - links_round(ring_teeth, cog_teeth, centre)
            centre = np.clip(centre + amiss / np.maximum(slope, NEARLY_MM), least, most)
    return np.where(short, np.nan, centre)


def movement_mm(spare_mm: Number, span_mm: Number) -> Number:
    """Movement of the return run at its middle, up and down together.

    Equation: 2 sqrt(e s / 2) (model, section 5). Parameters: spare chain e and the run's span s, mm; without spare
    chain nothing moves. Returns: mm. Range: shallow slack, e far below s. Source: a run drawn aside is two straight
    halves, each s / 2 long and (s + e) / 2 when taut.

    >>> round(float(movement_mm(1.0, 420.0)), 1)
    29.0
    """
    return 2 * np.sqrt(np.maximum(spare_mm, 0.0) * span_mm / 2)


def stands_at_mm(movement: Number, taut_mm: Number, span_mm: Number, runout_mm: float) -> Number:
    """The centre distance at which the run moves by a given amount at its middle, at the tightest point of the turn.

    Equation: C - (e + o) C / (2 s), e the spare chain for the movement (model, section 5). Parameters: movement, the
    taut centre distance C, the run's span s there, and by how much o the ring is out of round, mm. Returns: mm.
    """
    return taut_mm - (spare_for_mm(movement, span_mm) + runout_mm) * taut_mm / (2 * span_mm)


def spare_for_mm(movement: Number, span_mm: Number) -> Number:
    """The spare chain at which the return run moves by a given amount at its middle: the inverse of movement_mm.

    Equation: e = m^2 / (2 s). Parameters: movement m and span s, mm. Returns: mm.

    >>> round(float(spare_for_mm(movement_mm(0.25, 400.0), 400.0)), 6)
    0.25
    """
    return movement * movement / (2 * span_mm)
