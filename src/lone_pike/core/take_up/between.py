"""The least value between poses that were looked at: what lies between two of them is read off a parabola."""

from lone_pike.core.bike.teeth import Array


def least_between(at_mm: Array, values: Array) -> float:
    """The least of a smooth quantity along the travel, from its values at some travels, rising.

    Equation: the vertex of the parabola through the least value and its two neighbours. Parameters: two arrays (P,).
    Returns: never more than the least of the values. Range: where neighbours lie so near that it bends one way.

    >>> import numpy as np
    >>> at = np.array([0.0, 20.0, 40.0, 60.0])
    >>> round(least_between(at, (at - 33.0) ** 2 / 100 + 3.76), 6)
    3.76
    """
    k = int(values.argmin())
    least = float(values[k])
    if not 0 < k < len(values) - 1:
        return least
    (before, here, after), (above, here_value, below) = at_mm[k - 1 : k + 2], values[k - 1 : k + 2]
    rise, fall = (above - here_value) / (before - here), (below - here_value) / (after - here)
    bend = (fall - rise) / (after - before)
    if not bend > 0:
        return least
    slope = rise - bend * (before - here)
    return float(min(least, here_value - slope**2 / (4 * bend)))
