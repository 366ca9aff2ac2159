"""The normal distribution over arrays, without a library of statistics."""

import numpy as np

from lone_pike.core.bike.teeth import Array


def normal_share(sigmas: Array) -> Array:
    """The share of a normal distribution below a number of standard deviations.

    Equation: (1 + tanh(0.7979 x + 0.03567 x^3)) / 2. Returns: 0 to 1. Range: any; off by less than 0.0002. Source: a
    usual approximation of the normal distribution (E. Page, 1977).

    >>> [round(float(one), 3) for one in normal_share(np.array([-2.0, 0.0, 1.0]))]
    [0.023, 0.5, 0.841]
    """
    return np.asarray((1 + np.tanh(0.7978846 * sigmas + 0.0356774 * sigmas**3)) / 2)
