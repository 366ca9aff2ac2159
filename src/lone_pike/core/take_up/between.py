"""The least value between computed poses, interpolated with a parabola."""

from lone_pike.core.bike.teeth import Array


def least_between(at_mm: Array, values: Array) -> float:
    """The least value of a smooth quantity along the travel, from its values at some travels in rising order.

    Equation: the vertex of the parabola through the least value and its two neighbours. Parameters: two arrays (P,).
    Returns: a value that is never more than the least given one. Range: neighbours so close that the curve bends only
    one way between them.

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
