"""What closes a loop: how many links each joiner counts, and whether the rivet beside it is pushed fully out."""

from dataclasses import dataclass

from lone_pike.core.bike.base import JoinerKind


@dataclass(frozen=True)
class Joiner:
    """One kind of joiner. links: what it adds to the count; an added link is an outer one, so both ends are inner."""

    links: int
    push_fully_out: bool

    @property
    def needs_inner_ends(self) -> bool:
        """Whether both ends it joins must be inner; else one of each."""
        return self.links == 1


JOINERS: dict[JoinerKind, Joiner] = {
    JoinerKind.QUICK_LINK: Joiner(links=1, push_fully_out=True),
    JoinerKind.LOCKING_LINK: Joiner(links=1, push_fully_out=True),
    JoinerKind.CLIP_LINK: Joiner(links=1, push_fully_out=True),
    JoinerKind.JOINING_PIN: Joiner(links=0, push_fully_out=True),
    JoinerKind.RIVET: Joiner(links=0, push_fully_out=False),
}
"""Source: trade, section 10."""

STOCKED = tuple(kind for kind in JoinerKind if kind is not JoinerKind.RIVET)
"""Joiners that the bin keeps; a driven-back rivet is the chain's own."""
