"""The cuts for a count: of the box alone, of several pieces in order round the loop, or with pieces of the bin."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.joiners import JOINERS, Joiner
from lone_pike.core.bike.limits import LINKS_PER_PAIR
from lone_pike.core.chain.cutting import Cut, End, link_kind, plan_cut
from lone_pike.core.chain.pieces import KeptRun, Loose, most_reach, plan_pieces
from lone_pike.core.messages import Message, links

BOX = 0


def loose_pieces(bike: Bike, box: Cut | None) -> list[Loose]:
    """The box, if one is known, and the loose pieces beside it."""
    boxed = [Loose(BOX, box.box_links, box.first_end, bike.chain.wear_percent)] if box else []
    pieces = enumerate(bike.chain.pieces, start=1)
    return boxed + [Loose(i, one.links, End(one.first_end), one.wear_percent) for i, one in pieces]


def runs_for(bike: Bike, count: int) -> tuple[KeptRun, ...]:
    """The runs of several pieces that make a count, if the box alone does not; empty if nothing reaches it.

    Raises: InvalidInput where the box's ends and count disagree.
    """
    box = plan_cut(bike, count)
    if not bike.chain.pieces or (box and not box.missing_links):
        return ()
    return plan_pieces(loose_pieces(bike, box), count - count % 2, JOINERS[bike.joiner].links) or ()


@lru_cache(maxsize=64)
def cuts_for(bike: Bike, count: int) -> tuple[Cut, ...]:
    """One cut for each piece of the loop, in order round it. If nothing reaches the count, it is a single cut that says
    what is missing; if neither box nor pieces are known, there is none.

    Raises: InvalidInput where the box's ends and count disagree.
    """
    runs = runs_for(bike, count)
    if runs:
        joiner = JOINERS[bike.joiner]
        return tuple(_cut_of(bike, run, joiner, count % 2 if i == 0 else 0) for i, run in enumerate(runs))
    box = plan_cut(bike, count)
    if box is None or box.missing_links:
        pieces = loose_pieces(bike, box)
        return (_too_short(bike, count, pieces),) if pieces else ()
    return (box,)


def _too_short(bike: Bike, count: int, pieces: Sequence[Loose]) -> Cut:
    """The longest of the pieces, uncut, and the fewest links that are missing."""
    joiner = JOINERS[bike.joiner]
    longest = max(pieces, key=lambda piece: piece.links)
    run = KeptRun(longest, 0, longest.links, longest.first)
    missing = count - count % LINKS_PER_PAIR - most_reach(pieces, joiner.links)
    return replace(_cut_of(bike, run, joiner, count % LINKS_PER_PAIR), missing_links=max(missing, 1))


def missing_links(bike: Bike, count: int) -> int:
    """The links that box and pieces lack for a count; 0 if nothing is at hand yet."""
    return sum(cut.missing_links for cut in cuts_for(bike, count))


def short_message(bike: Bike, missing: int) -> Message:
    """The message that the chain at hand is too short: the box, the pieces, or both together."""
    has_box, has_pieces = bike.chain.box_links is not None, bool(bike.chain.pieces)
    code = ("chain_short" if has_pieces else "box_short") if has_box else "pieces_short"
    return Message(code, missing=links(missing))


def _cut_of(bike: Bike, run: KeptRun, joiner: Joiner, offset_links: int) -> Cut:
    """The cut of one piece: trimmed at its start, kept, and the rest cut off."""
    piece, push = run.piece, run.start + run.links
    offcut = piece.links - push
    cuts = offcut > 0
    return Cut(
        box_links=piece.links,
        first_end=piece.first,
        trim_links=run.start,
        keep_links=run.links,
        keep_ends=(link_kind(piece.first, run.start + 1), link_kind(piece.first, push)),
        push_from_start=push if cuts else None,
        push_from_end=offcut if cuts else None,
        offcut_links=offcut,
        offcut_ends=(link_kind(piece.first, push + 1), link_kind(piece.first, piece.links)) if cuts else None,
        joiner=bike.joiner,
        joiner_links=joiner.links,
        offset_links=offset_links,
        missing_links=0,
        push_fully_out=joiner.push_fully_out,
        piece=piece.place,
        turned=run.turned,
    )


@dataclass(frozen=True)
class Offer:
    """Pieces of the bin, by id, and how many joiners the loop then has."""

    bin_ids: tuple[int, ...]
    joiners: int


def offer_of(bike: Bike, count: int, in_bin: Sequence[Loose]) -> Offer | None:
    """The pieces of the bin that make a count together with what is at hand; None if there are none.

    Parameters: in_bin, free pieces of chain for the same number of cogs, with their ids as places.
    """
    own = loose_pieces(bike, plan_cut(bike, count))
    first = max((piece.place for piece in own), default=0) + 1
    pieces = [*own, *(Loose(first + i, one.links, one.first, one.wear_percent) for i, one in enumerate(in_bin))]
    runs = plan_pieces(pieces, count - count % 2, JOINERS[bike.joiner].links)
    if runs is None:
        return None
    taken = sorted(run.piece.place - first for run in runs if run.piece.place >= first)
    return Offer(tuple(in_bin[i].place for i in taken), len(runs)) if taken else None
