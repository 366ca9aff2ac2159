"""Links, pairs and which counts can be joined."""

import math

from lone_pike.core.bike.limits import LINKS_PER_PAIR

EXACT = 1e-9


def step_links(offset_link: bool) -> int:
    """How far apart joinable counts are: a pair, or one link where an offset link may be used."""
    return 1 if offset_link else LINKS_PER_PAIR


def joinable_at_or_above(links: float, step: int) -> int:
    """The first joinable count that is not below a length.

    >>> joinable_at_or_above(106.222, 2), joinable_at_or_above(108.0, 2)
    (108, 108)
    """
    return math.ceil(links / step - EXACT) * step


def joinable_nearest(links: float, step: int) -> int:
    """The joinable count nearest to a length.

    >>> joinable_nearest(106.9, 2)
    106
    """
    return math.floor(links / step + 0.5) * step


def pairs_of(links: int) -> float:
    """Pairs in a count of links.

    >>> pairs_of(116)
    58.0
    """
    return links / LINKS_PER_PAIR


def links_and_pairs(links: int) -> str:
    """Both words, always.

    >>> links_and_pairs(116), links_and_pairs(95)
    ('116 links · 58 pairs', '95 links · 47½ pairs')
    """
    return f"{links} {'link' if links == 1 else 'links'} · {pairs_words(links)}"


def pairs_words(links: int) -> str:
    """A count in pairs, in words.

    >>> pairs_words(2), pairs_words(3)
    ('1 pair', '1½ pairs')
    """
    whole, half = divmod(links, LINKS_PER_PAIR)
    number = f"{whole or ''}½" if half else str(whole)
    return f"{number} {'pair' if links == LINKS_PER_PAIR else 'pairs'}"
