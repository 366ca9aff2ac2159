"""Slack of a chain without a cage: how far the run moves at its middle, and the chain it takes (model, section 5)."""

import numpy as np

from lone_pike.core.bike.teeth import Number


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
