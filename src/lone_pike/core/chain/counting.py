"""Links and pairs, and which counts can be joined."""

import math
from collections.abc import Sequence

import numpy as np

from lone_pike.core.bike.limits import LINKS_PER_PAIR
from lone_pike.core.bike.parts import Chain
from lone_pike.core.bike.teeth import Array

EPSILON = 1e-9


def step_links(offset_link: bool) -> int:
    """The step between joinable counts: a pair, or one link if an offset link may be used."""
    return 1 if offset_link else LINKS_PER_PAIR


def joinable_at_or_above(links: float, step: int) -> int:
    """The smallest joinable count that is not below a length.

    >>> joinable_at_or_above(106.222, 2), joinable_at_or_above(108.0, 2)
    (108, 108)
    """
    return math.ceil(links / step - EPSILON) * step


def joinable_nearest(links: float, step: int) -> int:
    """The joinable count nearest to a length.

    >>> joinable_nearest(106.9, 2)
    106
    """
    return math.floor(links / step + 0.5) * step


def joins_at(chain: Chain, new_links: float) -> int:
    """The smallest joinable count of a worn chain that is not shorter than a length in links of a new one.

    Equation: N (1 + w) >= L (model, section 5): a worn chain is longer, so it takes fewer links.
    Parameters: new_links, a computed length. Returns: links of this chain.

    >>> joins_at(Chain(), 106.222), joins_at(Chain(wear_percent=3.0), 106.222)
    (108, 104)
    """
    return joinable_at_or_above(new_links / chain.stretch, step_links(chain.offset_link))


def joins_nearest(chain: Chain, new_links: float) -> int:
    """The joinable count of a worn chain that is nearest to a length in links of a new one.

    >>> joins_nearest(Chain(), 106.9), joins_nearest(Chain(wear_percent=3.0), 106.9)
    (106, 104)
    """
    return joinable_nearest(new_links / chain.stretch, step_links(chain.offset_link))


def pairs_of(links: int) -> float:
    """Pairs in a count of links.

    >>> pairs_of(116)
    58.0
    """
    return links / LINKS_PER_PAIR


def as_new_links(counts: Sequence[int] | Array, stretch: float) -> Array:
    """Counts of a worn chain as links of a new one of the same length; stretch is its length as a multiple of a new
    chain's.

    >>> as_new_links([100], 1.01).tolist()
    [101.0]
    """
    return np.asarray(counts, dtype=float) * stretch
