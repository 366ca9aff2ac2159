"""What closes a loop of chain, with each kind declared as a whole; the words are in `wording/joiners.py`.

Source: trade, section 10.
"""

from dataclasses import dataclass
from enum import StrEnum

from lone_pike.core.bike.limits import limit

MANY_COGS = 13


class JoinerKind(StrEnum):
    """What may close a loop of chain."""

    QUICK_LINK = "quick_link"
    LOCKING_LINK = "locking_link"
    JOINING_PIN = "joining_pin"
    RIVET = "rivet"
    CLIP_LINK = "clip_link"


class JoinerShape(StrEnum):
    """The shapes of joiners, for drawing."""

    LINK = "link"
    PIN = "pin"
    RIVET = "rivet"
    CLIP = "clip"


@dataclass(frozen=True)
class Joiner:
    """One kind of joiner. links is what it adds to the count; an added link is an outer one, so both ends are inner.
    push_fully_out: whether the rivet beside it is pushed out completely; most_cogs: the most cogs for which its chains
    are made; has_arrow: whether it points in the chain's direction of travel; once: whether it may be closed only once;
    in_bin: whether the bin keeps it."""

    links: int
    push_fully_out: bool
    shape: JoinerShape
    most_cogs: int = MANY_COGS
    has_arrow: bool = False
    once: bool = False
    in_bin: bool = True

    @property
    def needs_inner_ends(self) -> bool:
        """Whether both ends that it joins must be inner; otherwise one of each."""
        return self.links == 1


JOINERS: dict[JoinerKind, Joiner] = {
    JoinerKind.QUICK_LINK: Joiner(1, True, JoinerShape.LINK),
    JoinerKind.LOCKING_LINK: Joiner(1, True, JoinerShape.LINK, has_arrow=True, once=True),
    JoinerKind.JOINING_PIN: Joiner(0, True, JoinerShape.PIN, once=True),
    JoinerKind.RIVET: Joiner(0, False, JoinerShape.RIVET, most_cogs=int(limit("rivet_cogs")), in_bin=False),
    JoinerKind.CLIP_LINK: Joiner(1, True, JoinerShape.CLIP, most_cogs=int(limit("clip_link_cogs"))),
}

STOCKED = tuple(kind for kind, joiner in JOINERS.items() if joiner.in_bin)
"""Joiners that the bin keeps; a driven-back rivet is the chain's own."""


def usual_joiner(speeds: int) -> JoinerKind:
    """The joiner that the trade uses for a number of cogs.

    >>> str(usual_joiner(9)), str(usual_joiner(11))
    ('quick_link', 'locking_link')
    """
    return JoinerKind.QUICK_LINK if speeds <= limit("quick_link_cogs") else JoinerKind.LOCKING_LINK
