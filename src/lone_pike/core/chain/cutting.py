"""Which rivet to push: from the count and the box to the ends, the off-cut and what is missing (model, section 6).

A piece of n links has joints 0..n; pushing joint k leaves k links and n - k. Its links alternate inner, outer.
"""

from dataclasses import dataclass
from enum import StrEnum

from lone_pike.core.bike.base import BoxEnds
from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import invalid
from lone_pike.core.bike.joiners import JOINERS, Joiner, JoinerKind
from lone_pike.core.bike.parts import Chain
from lone_pike.core.messages import Message, Term, links


class End(StrEnum):
    """The kinds of links, and so of the ends of a piece."""

    INNER = "inner"
    OUTER = "outer"

    @property
    def other(self) -> "End":
        """The kind of the neighbouring links."""
        return End.OUTER if self is End.INNER else End.INNER


@dataclass(frozen=True)
class Cut:
    """The cut of one box for one count; all counts in links.

    keep_links are kept after trim_links are taken off the start to bare an inner end; push_from_start
    and push_from_end name the same rivet, counted from the ends of the loose chain, and are None where
    nothing is cut. Ends stand in the order of counting.
    """

    box_links: int
    first_end: End
    trim_links: int
    keep_links: int
    keep_ends: tuple[End, End]
    push_from_start: int | None
    push_from_end: int | None
    offcut_links: int
    offcut_ends: tuple[End, End] | None
    joiner: JoinerKind
    joiner_links: int
    offset_links: int
    missing_links: int
    push_fully_out: bool
    piece: int = 0
    """The piece that is cut: 0 for the box, then the pieces at hand in their order."""

    turned: bool = False
    """Whether it lies in the loop in the opposite direction to its counting."""

    @property
    def joints(self) -> list[int]:
        """The joints where the piece is cut, counted from its start, rising: before and after the run that is kept."""
        return sorted({self.trim_links, self.trim_links + self.keep_links} - {0, self.box_links})


def link_kind(first: End, place: int) -> End:
    """Whether the link at a place, counted from 1, is inner or outer.

    >>> link_kind(End.INNER, 1).value, link_kind(End.INNER, 116).value
    ('inner', 'outer')
    """
    return first if place % 2 else first.other


def loose_links(chain: Chain, joiner: Joiner) -> int | None:
    """Links of chain in the box without its joiner; None if no box is known."""
    if chain.box_links is None:
        return None
    return chain.box_links - (joiner.links if chain.box_includes_joiner else 0)


def box_ends(chain: Chain, loose: int) -> tuple[End, End]:
    """The ends of the loose chain: as given, or as the count allows; inner ends if it allows both.

    Raises: InvalidInput if the given ends do not fit the count.
    """
    possible = (BoxEnds.INNER_INNER, BoxEnds.OUTER_OUTER) if loose % 2 else (BoxEnds.INNER_OUTER,)
    ends = chain.box_ends or next(iter(possible))
    if ends not in possible:
        allowed = Message("ends_with_count", keys=possible, loose=links(loose))
        raise invalid("chain.box_ends", Term("key", ends), allowed, Message("count_box_again"))
    first, last = ends.split("_")
    return End(first), End(last)


def plan_cut(bike: Bike, count: int) -> Cut | None:
    """The cut of the bike's box for a count; None if no box is known.

    Counting starts at the end that needs no trimming. Raises: InvalidInput where the box's ends and count disagree.
    Source: model, section 6.
    """
    chain, joiner = bike.chain, JOINERS[bike.joiner]
    loose = loose_links(chain, joiner)
    if loose is None:
        return None
    first, _ = box_ends(chain, loose)
    offset = count % 2
    keep = count - offset - joiner.links
    trim = 1 if joiner.needs_inner_ends and first is End.OUTER else 0
    push = keep + trim
    missing = max(0, push - loose)
    offcut = 0 if missing else loose - push
    cuts = offcut > 0
    kept_first = link_kind(first, 1 + trim)
    return Cut(
        box_links=loose,
        first_end=first,
        trim_links=trim,
        keep_links=keep,
        keep_ends=(kept_first, link_kind(kept_first, keep)),
        push_from_start=push if cuts else None,
        push_from_end=loose - push if cuts else None,
        offcut_links=offcut,
        offcut_ends=(link_kind(first, push + 1), link_kind(first, loose)) if cuts else None,
        joiner=bike.joiner,
        joiner_links=joiner.links,
        offset_links=offset,
        missing_links=missing,
        push_fully_out=joiner.push_fully_out,
    )
