"""Which rivet to push: from the count and the box to the ends, the off-cut and what is missing (model, section 6).

A piece of n links has joints 0..n; pushing joint k leaves k links and n - k. Its links alternate inner, outer.
"""

from dataclasses import dataclass

from lone_pike.core.bike.document import Bike, BoxEnds, Chain, JoinerKind
from lone_pike.core.bike.faults import invalid, shown

COUNTS_AS_A_LINK: dict[JoinerKind, int] = {"quick_link": 1, "locking_link": 1, "joining_pin": 0, "rivet": 0}
FULLY_OUT: dict[JoinerKind, bool] = {"quick_link": True, "locking_link": True, "joining_pin": True, "rivet": False}


@dataclass(frozen=True)
class Cut:
    """The cut of one box for one count; all counts in links.

    keep_links are kept after trim_links are taken off the start to bare an inner end; push_from_start
    and push_from_end name the same rivet, counted from the ends of the loose chain, and are None where
    nothing is cut. Ends are ("inner" | "outer") in the order of counting.
    """

    box_links: int
    trim_links: int
    keep_links: int
    keep_ends: tuple[str, str]
    push_from_start: int | None
    push_from_end: int | None
    offcut_links: int
    offcut_ends: tuple[str, str] | None
    joiners: tuple[str, ...]
    pieces: tuple[int, ...]
    missing_links: int
    push_fully_out: bool


def link_kind(first: str, place: int) -> str:
    """Whether the link at a place, counted from 1, is inner or outer.

    >>> link_kind("inner", 1), link_kind("inner", 116)
    ('inner', 'outer')
    """
    other = {"inner": "outer", "outer": "inner"}[first]
    return first if place % 2 else other


def loose_links(chain: Chain) -> int | None:
    """Links of chain in the box without its joiner; None where no box is known."""
    if chain.box_links is None:
        return None
    return chain.box_links - (COUNTS_AS_A_LINK[chain.joiner] if chain.box_includes_joiner else 0)


def box_ends(chain: Chain, loose: int) -> tuple[str, str]:
    """The ends of the loose chain: as told, or what the count leaves possible, inner ends where it leaves both.

    Raises: InvalidInput where the ends told do not go with the count.
    """
    ends: BoxEnds = chain.box_ends or ("inner_inner" if loose % 2 else "inner_outer")
    first, last = ends.split("_")
    if link_kind(first, loose) != last:
        allowed = "inner_inner or outer_outer" if loose % 2 else "inner_outer"
        raise invalid("chain.box_ends", shown(ends), f"{allowed} with {loose} loose links", "Count the box again.")
    return first, last


def plan_cut(bike: Bike, links: int) -> Cut | None:
    """The cut of the bike's box for a count; None where no box is known.

    Counting starts at the end that needs no trimming. Raises: InvalidInput where the box's ends and count disagree.
    Source: model, section 6.
    """
    chain = bike.chain
    loose = loose_links(chain)
    if loose is None:
        return None
    first, _ = box_ends(chain, loose)
    offset = links % 2
    keep = links - offset - COUNTS_AS_A_LINK[chain.joiner]
    must_bare_inner = COUNTS_AS_A_LINK[chain.joiner] == 1
    trim = 1 if must_bare_inner and first == "outer" else 0
    kept_first = link_kind(first, 1 + trim)
    missing = max(0, keep + trim - loose)
    push = keep + trim
    offcut = 0 if missing else loose - push
    cuts = offcut > 0
    return Cut(
        box_links=loose,
        trim_links=trim,
        keep_links=keep,
        keep_ends=(kept_first, link_kind(kept_first, keep)),
        push_from_start=push if cuts else None,
        push_from_end=loose - push if cuts else None,
        offcut_links=offcut,
        offcut_ends=(link_kind(first, push + 1), link_kind(first, loose)) if cuts else None,
        joiners=(chain.joiner, *["offset_link"] * offset),
        pieces=(keep,),
        missing_links=missing,
        push_fully_out=FULLY_OUT[chain.joiner],
    )
