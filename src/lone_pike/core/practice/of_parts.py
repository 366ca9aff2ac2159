"""Questions about the rivet to push: in a box that is too long, or in a piece that completes a box."""

from dataclasses import replace

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.joiners import JoinerKind
from lone_pike.core.bike.limits import LINKS_PER_PAIR
from lone_pike.core.bike.parts import ChainPiece
from lone_pike.core.chain.cutting import Cut
from lone_pike.core.chain.plan import cuts_for
from lone_pike.core.messages import Message, Term, Value, links, number
from lone_pike.core.practice.asking import AskedPart, Draft, Question

ENDS = ("inner_inner", "inner_outer", "outer_outer")
"""The options for the two ends between which a joiner goes."""

LONGEST_MORE = {1: 6, 2: 12, 3: 20}
"""By how many pairs a box is at most longer than the count, by level."""

MOST_DRAWN, PIECES_FROM = 40, 2
"""The most draws to find a box and a piece with exactly one rivet to push, and the level from which pieces are used."""


def rivet(draft: Draft) -> Question:
    """Which rivet to push, counted from the start, and between which two ends the joiner goes."""
    joiner = draft.lot.choice([draft.sizing.bike.joiner, JoinerKind.JOINING_PIN])
    with_piece = draft.level >= PIECES_FROM and draft.lot.random() < 0.5
    bike, cuts = _made_up(draft, joiner) if with_piece else _boxed(draft, joiner)
    cut = next(one for one in cuts if one.push_from_start is not None)
    count = draft.sizing.recommended_links
    return draft.question(
        sizing=replace(draft.sizing, bike=bike),
        parts=(AskedPart("rivet", most=cut.box_links - 1), AskedPart("ends", ENDS)),
        right={"rivet": frozenset({str(cut.push_from_start)}), "ends": frozenset({_ends_of(cut)})},
        beside=(_chain_message(bike, cuts, count),),
        because=(
            Message(
                "practice_push_piece" if len(cuts) > 1 else "practice_push",
                rivet=number(cut.push_from_start or 0),
                keep=links(cut.keep_links),
                ends=tuple(Term("end", end) for end in cut.keep_ends),
                joiner=Term("joiner", cut.joiner),
                count=links(count),
                box=links(cuts[0].keep_links),
            ),
        ),
        cut=cut,
        shown_links=count,
        truth={
            "box_links": [one.box_links for one in cuts],
            "rivet": cut.push_from_start,
            "keep_links": [one.keep_links for one in cuts],
        },
    )


def _chain_message(bike: Bike, cuts: tuple[Cut, ...], count: int) -> Message:
    values: dict[str, Value] = {
        "count": links(count),
        "joiner": Term("joiner", bike.joiner),
        "first": Term("end", cuts[-1].first_end),
    }
    if len(cuts) == 1:
        return Message("practice_box", box=links(cuts[0].box_links), **values)
    box, piece = cuts
    return Message("practice_piece", box=links(box.box_links), piece=links(piece.box_links), **values)


def _ends_of(cut: Cut) -> str:
    """The two ends of what is kept, in either order."""
    return "_".join(sorted(cut.keep_ends))


def _boxed(draft: Draft, joiner: JoinerKind) -> tuple[Bike, tuple[Cut, ...]]:
    """The bike with a box that is too long by some pairs."""
    more = draft.lot.randint(1, LONGEST_MORE[draft.level]) * LINKS_PER_PAIR
    box = draft.sizing.recommended_links + more
    bike = _with_chain(draft.sizing.bike, joiner=joiner, box_links=box, box_includes_joiner=True)
    return bike, cuts_for(bike, draft.sizing.recommended_links)


def _made_up(draft: Draft, joiner: JoinerKind) -> tuple[Bike, tuple[Cut, ...]]:
    """The bike with a box that is too short and kept whole, and a piece in which one rivet is pushed."""
    count = draft.sizing.recommended_links
    for _ in range(MOST_DRAWN):
        short, longer = draft.lot.randint(*SHORT_LINKS), draft.lot.randint(*LONGER_LINKS)
        piece = ChainPiece(links=short + longer, first_end=draft.lot.choice(["inner", "outer"]))
        bike = _with_chain(draft.sizing.bike, joiner=joiner, box_links=count - short, pieces=(piece,))
        cuts = tuple(sorted(cuts_for(bike, count), key=lambda one: one.piece))
        if [(one.piece, bool(one.joints)) for one in cuts] == BOX_AND_PIECE and not cuts[1].trim_links:
            return bike, cuts
    return _boxed(draft, joiner)


SHORT_LINKS, LONGER_LINKS = (4, 20), (1, 9)
"""By how many links a box may be too short, and a piece longer than what is missing."""

BOX_AND_PIECE = [(0, False), (1, True)]
"""Whether the box stays whole and the piece is cut."""


def _with_chain(bike: Bike, **changes: object) -> Bike:
    return bike.model_copy(update={"chain": bike.chain.model_copy(update=changes)})
