"""What scale and scanner read of chain: a count by weight, against a piece whose links are counted; a label's line."""

from dataclasses import dataclass

from lone_pike.core.bike.limits import limit


@dataclass(frozen=True)
class Weighed:
    """Links by weight, with their spread."""

    links: float
    about_links: float

    def says(self, links: int) -> bool:
        """Whether a count is within the spread."""
        return abs(self.links - links) <= self.about_links


def links_by_weight(chain_g: float, piece_g: float, piece_links: int) -> Weighed:
    """Links of a chain, from its weight and that of a piece of it.

    Equation: n = m G / g; off by n (s / G + s / g + 1 / 2m), s what the scale may be off: a piece that begins and ends
    with the same kind of link is half a link lighter or heavier than its count says. Parameters: both weights, grams;
    piece_links, counted. Returns: links and doubt. Range: a piece of a few links up. Source: proportion.

    >>> weighed = links_by_weight(252.0, 25.2, 12)
    >>> round(weighed.links, 1), weighed.says(120), weighed.says(150)
    (120.0, True, False)
    """
    links, off_g = piece_links * chain_g / piece_g, limit("scale")
    return Weighed(links, links * (off_g / chain_g + off_g / piece_g + 0.5 / piece_links))


LABEL, PARTS = "LP1", 6


def label_line(links: int, first: str, speeds: int, code: str, wear_percent: float = 0.0) -> str:
    """The line of a piece.

    >>> label_line(57, "inner", 9, "CUT-0057")
    'LP1*57*I*9*0*CUT-0057'
    """
    return f"{LABEL}*{links}*{first[0].upper()}*{speeds}*{wear_percent:g}*{code}"
