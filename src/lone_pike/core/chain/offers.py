"""Which pieces of the bin can complete a chain that is too short: the fewest pieces, and among those sets the least
waste."""

from collections.abc import Sequence
from dataclasses import dataclass

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.joiners import JOINERS
from lone_pike.core.chain.cutting import plan_cut
from lone_pike.core.chain.pieces import Loose, plan_pieces
from lone_pike.core.chain.plan import at_hand


@dataclass(frozen=True)
class Offer:
    """Pieces of the bin, by id, and how many joiners the loop then has."""

    bin_ids: tuple[int, ...]
    joiners: int


def offer_of(bike: Bike, count: int, in_bin: Sequence[Loose]) -> Offer | None:
    """The pieces of the bin that make a count together with what is at hand; None if there are none.

    Parameters: in_bin, free pieces of chain for the same number of cogs, with their ids as places.
    """
    own = at_hand(bike, plan_cut(bike, count))
    first = max((piece.place for piece in own), default=0) + 1
    pieces = [*own, *(Loose(first + i, one.links, one.first, one.wear_percent) for i, one in enumerate(in_bin))]
    runs = plan_pieces(pieces, count - count % 2, JOINERS[bike.joiner].links)
    if runs is None:
        return None
    taken = sorted(run.piece.place - first for run in runs if run.piece.place >= first)
    return Offer(tuple(in_bin[i].place for i in taken), len(runs)) if taken else None
