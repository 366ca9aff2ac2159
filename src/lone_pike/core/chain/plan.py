"""What is cut for a count: of the box alone, or of several pieces in order round the loop."""

from dataclasses import replace
from functools import lru_cache

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.joiners import JOINERS, Joiner
from lone_pike.core.chain.cutting import Cut, End, link_kind, plan_cut
from lone_pike.core.chain.pieces import KeptRun, Loose, most_links, plan_pieces

BOX = 0


def at_hand(bike: Bike, box: Cut | None) -> list[Loose]:
    """The box, where one is known, and the loose pieces beside it."""
    boxed = [Loose(BOX, box.box_links, box.first_end, bike.chain.wear_percent)] if box else []
    pieces = enumerate(bike.chain.pieces, start=1)
    return boxed + [Loose(i, one.links, End(one.first_end), one.wear_percent) for i, one in pieces]


def runs_for(bike: Bike, count: int) -> tuple[KeptRun, ...]:
    """The runs of several pieces that make a count, where the box alone does not; none where nothing reaches.

    Raises: InvalidInput where the box's ends and count disagree.
    """
    box = plan_cut(bike, count)
    if not bike.chain.pieces or (box and not box.missing_links):
        return ()
    return plan_pieces(at_hand(bike, box), count - count % 2, JOINERS[bike.joiner].links) or ()


@lru_cache(maxsize=64)
def cuts_for(bike: Bike, count: int) -> tuple[Cut, ...]:
    """One cut for each piece of the loop, in order round it.

    The box's own, which says what is missing, where nothing reaches; none where neither box nor piece is known.
    Raises: InvalidInput where the box's ends and count disagree.
    """
    runs = runs_for(bike, count)
    if runs:
        joiner = JOINERS[bike.joiner]
        return tuple(_cut_of(bike, run, joiner, count % 2 if i == 0 else 0) for i, run in enumerate(runs))
    box = plan_cut(bike, count)
    if box:
        return (box,)
    return (_too_short(bike, count),) if bike.chain.pieces else ()


def _too_short(bike: Bike, count: int) -> Cut:
    """The longest of the pieces, and what all of them together, each with a joiner, are short of a count."""
    joiner, pieces = JOINERS[bike.joiner], at_hand(bike, None)
    longest = max(pieces, key=lambda piece: piece.links)
    reach = sum(most_links(piece, joiner.links) for piece in pieces)
    run = KeptRun(longest, 0, longest.links, longest.first)
    return replace(_cut_of(bike, run, joiner, count % 2), missing_links=max(count - reach, 1))


def missing_links(bike: Bike, count: int) -> int:
    """What box and pieces are short of a count; 0 where nothing is at hand yet."""
    return sum(cut.missing_links for cut in cuts_for(bike, count))


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
        keep_ends=(run.begins, run.ends),
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
    )
