"""A loop of several pieces: which pieces, and where each is cut. The fewest joints first, then the least waste.

Source: model, section 6. A piece of n links has joints 0 to n, and a kept run begins at a joint. With quick links
every run has inner ends on both sides, so an odd count. With pins the ends that meet are unlike, so runs of an odd
count come in pairs: one that begins with an inner link, and one that begins with an outer link. A piece may be turned
end for end, so a run of an even count, whose ends are unlike, lies either way round.
"""

from collections import Counter
from collections.abc import Sequence
from dataclasses import dataclass, replace
from functools import lru_cache
from itertools import combinations, product

import numpy as np

from lone_pike.core.bike.limits import limit
from lone_pike.core.chain.cutting import End, link_kind

MOST_PIECES, KINDS, NEARLY, NONE = 6, 4, 1e-9, -1
FEW = 9
"""Up to this many pieces, every set is tried; with more, sets are found by their totals."""

Kinds = tuple[int, ...]


@lru_cache(maxsize=MOST_PIECES)
def _states(count: int) -> list[Kinds]:
    """The possible numbers of pieces of each of the four kinds in a set of limited size."""
    return [kinds for kinds in product(range(count + 1), repeat=KINDS) if sum(kinds) <= count]


@lru_cache(maxsize=MOST_PIECES * KINDS)
def _steps(count: int, kind: int) -> tuple[list[int], list[int]]:
    """The states to which one piece of a kind can be added, and the states that this leads to."""
    states = _states(count)
    grown = [(i, tuple(n + (k == kind) for k, n in enumerate(kinds))) for i, kinds in enumerate(states)]
    pairs = [(i, states.index(after)) for i, after in grown if sum(after) <= count]
    return [before for before, _ in pairs], [after for _, after in pairs]


@dataclass(frozen=True)
class Loose:
    """A loose piece: its place in the list (0 the box), its links, the kind of its first link, its wear in percent."""

    place: int
    links: int
    first: End
    wear_percent: float = 0.0

    def longest(self, begins: End, odd: bool) -> tuple[int, int]:
        """Where the longest run of a parity begins that starts with such a link, and its count; 0 for none."""
        start = 0 if self.first is begins else 1
        left = self.links - start
        return start, max(left - (left % 2 != odd), 0)


def most_links(piece: Loose, joiner_links: int) -> int:
    """The longest loop that one piece makes alone with one joiner; 0 where it makes none.

    >>> most_links(Loose(1, 56, End.INNER), 1), most_links(Loose(1, 57, End.OUTER), 0)
    (56, 56)
    """
    _, kept = piece.longest(End.INNER, odd=True) if joiner_links else piece.longest(piece.first, odd=False)
    return kept + joiner_links if kept else 0


@dataclass(frozen=True)
class KeptRun:
    """The run that is kept of a piece: the joint where it begins, as the piece is listed, and its links. begins is the
    kind of its first link in the loop; turned says that the piece lies the other way round."""

    piece: Loose
    start: int
    links: int
    begins: End
    turned: bool = False

    @property
    def ends(self) -> End:
        """The kind of its last link in the loop."""
        return link_kind(self.begins, self.links)

    def turned_to_begin(self, begins: End) -> "KeptRun":
        """This run laid so that it begins with a given kind of link; a run of an odd count begins the same either
        way."""
        return self if self.begins is begins else replace(self, begins=begins, turned=not self.turned)


def plan_pieces(pieces: Sequence[Loose], links: int, joiner_links: int) -> tuple[KeptRun, ...] | None:
    """The runs that make a loop, in order round it; None if the pieces are not enough.

    Parameters: links, the count without an offset link; joiner_links, what each joiner adds, one for every run. Only
    pieces of like wear go together. The answer is exact: the fewest pieces that reach, and of those sets one with the
    fewest links, so that the least is cut off. Source: model, section 6; compared in the tests with trying every set.
    """
    for count in range(1, min(len(pieces), MOST_PIECES) + 1):
        wanted = links - count * joiner_links
        sets = _sets(pieces, count, wanted, joiner_links)
        for chosen in sorted((chosen for chosen in sets if _may_reach(chosen, wanted, joiner_links)), key=_total):
            runs = _with_links(chosen, wanted) if joiner_links else _with_pins(chosen, wanted)
            if runs:
                return runs
    return None


def _sets(pieces: Sequence[Loose], count: int, wanted: int, joiner_links: int) -> list[tuple[Loose, ...]]:
    """Sets of a given number of pieces of like wear, including one with the fewest links that still reaches the
    count."""
    if _total(sorted(pieces, key=lambda piece: -piece.links)[:count]) < wanted:
        return []
    if len(pieces) <= FEW:
        return [chosen for chosen in combinations(pieces, count) if _of_like_wear(chosen)]
    return _Sums(pieces, wanted, count).sets(wanted, joiner_links)


def _may_reach(chosen: Sequence[Loose], wanted: int, joiner_links: int) -> bool:
    """Whether a set still has enough links after what it must lose for its runs to meet."""
    kinds = [0] * KINDS
    for piece in chosen:
        kinds[_kind(piece)] += 1
    return _total(chosen) - loss_links(tuple(kinds), joiner_links) >= wanted


def _total(chosen: Sequence[Loose]) -> int:
    return sum(piece.links for piece in chosen)


def _of_like_wear(chosen: Sequence[Loose]) -> bool:
    """Whether the wears of a set are close enough to each other."""
    wears_percent = [piece.wear_percent for piece in chosen]
    return max(wears_percent) - min(wears_percent) <= limit("like_wear") + NEARLY


def loss_links(kinds: tuple[int, ...], joiner_links: int) -> int:
    """The fewest links that a set must lose so that its runs meet, by how many of its pieces are of each kind.

    The kinds are: odd and inner first, odd and outer first, even and inner first, even and outer first. With quick
    links an even piece loses one link and an odd one with outer ends two. With pins, odd runs are needed in pairs, one
    that begins inner and one that begins outer. One too many loses a link and becomes even, or an even one loses a
    link to pair with it. Even runs lie either way round, so they ask for nothing.
    """
    odd_inner, odd_outer, even_inner, even_outer = kinds
    return even_inner + even_outer + 2 * odd_outer if joiner_links else abs(odd_inner - odd_outer)


def most_reach(pieces: Sequence[Loose], joiner_links: int) -> int:
    """The longest loop that pieces of like wear make together, each with a joiner, up to the most pieces of a loop.

    >>> box, piece = Loose(0, 116, End.INNER), Loose(1, 116, End.INNER)
    >>> most_reach([box, piece], 1), most_reach([box, piece], 0), most_reach([], 1)
    (232, 232, 0)
    """
    best = 0
    for least_worn in pieces:
        worn = [piece.wear_percent - least_worn.wear_percent for piece in pieces]
        alike = [one for one, more in zip(pieces, worn, strict=True) if -NEARLY <= more <= limit("like_wear") + NEARLY]
        best = max(best, _reach_of_alike(alike, joiner_links))
    return best


def _reach_of_alike(pieces: Sequence[Loose], joiner_links: int) -> int:
    """The choices among pieces of like wear: the longest of each kind, in every mix of kinds."""
    longest = [
        sorted((piece.links for piece in pieces if _kind(piece) == kind), reverse=True)[:MOST_PIECES]
        for kind in range(KINDS)
    ]
    states = _states(min(MOST_PIECES, len(pieces)))
    mixes = [kinds for kinds in states if all(n <= len(of) for n, of in zip(kinds, longest, strict=True))]
    return max(
        sum(sum(of[:n]) for n, of in zip(kinds, longest, strict=True))
        + sum(kinds) * joiner_links
        - loss_links(kinds, joiner_links)
        for kinds in mixes
    )


class _Sums:
    """Which totals of links can be made from up to so many pieces of like wear, by their kinds, and from which pieces.

    Pieces are added from the least worn on. Among sets with the same total, the one whose least worn piece is the most
    worn is kept: whatever can be added to another of them can be added to this one too.
    """

    def __init__(self, pieces: Sequence[Loose], wanted: int, count: int) -> None:
        self.count, self.states = count, _states(count)
        self.pieces = _in_row([piece for piece in pieces if piece.links], count)
        most = max(wanted, 0) + 2 * MOST_PIECES + max((piece.links for piece in self.pieces), default=0)
        self.least = np.full((len(self.pieces) + 1, len(self.states), most + 1), NONE, dtype=np.int16)
        self.least[0, 0, 0] = len(self.pieces)
        wears_percent = np.array([piece.wear_percent for piece in self.pieces])
        alike = np.searchsorted(wears_percent, wears_percent - limit("like_wear") - NEARLY)
        for i, piece in enumerate(self.pieces):
            before, after = _steps(count, _kind(piece))
            self.least[i + 1] = self.least[i]
            with_it = self.least[i, before, : -piece.links]
            with_it[with_it < alike[i]] = NONE
            here = self.least[i + 1, :, piece.links :]
            here[after] = np.maximum(here[after], np.minimum(with_it, i))

    def sets(self, wanted: int, joiner_links: int) -> list[tuple[Loose, ...]]:
        """A set of a given number of pieces for each mix of kinds, with the smallest total that still reaches the
        count."""
        found = []
        for state, kinds in enumerate(self.states):
            if sum(kinds) == self.count:
                first = max(wanted, 0) + loss_links(kinds, joiner_links)
                totals = np.flatnonzero(self.least[-1, state, first:] > NONE)
                found += [self.taken(state, first + int(totals[0]))] if totals.size else []
        return found

    def taken(self, state: int, total: int) -> tuple[Loose, ...]:
        """The pieces of a set with a given total."""
        chosen = []
        for i in range(len(self.pieces), 0, -1):
            if self.least[i - 1, state, total] == self.least[i, state, total]:
                continue
            piece = self.pieces[i - 1]
            chosen.append(piece)
            kinds = list(self.states[state])
            kinds[_kind(piece)] -= 1
            state, total = self.states.index(tuple(kinds)), total - piece.links
        return tuple(chosen)


def _in_row(pieces: Sequence[Loose], count: int) -> list[Loose]:
    """The pieces, the least worn first. Of pieces that are equal in everything, no more than a set can use."""
    seen = Counter[tuple[float, int, End]]()
    row = []
    for piece in sorted(pieces, key=lambda each: each.wear_percent):
        alike = piece.wear_percent, piece.links, piece.first
        seen[alike] += 1
        row += [piece] if seen[alike] <= count else []
    return row


def _kind(piece: Loose) -> int:
    """0 odd and inner first, 1 odd and outer first, 2 even and inner first, 3 even and outer first."""
    return 2 * (piece.links % 2 == 0) + (piece.first is End.OUTER)


def _with_links(chosen: Sequence[Loose], wanted: int) -> tuple[KeptRun, ...] | None:
    """Runs with inner ends on both sides, each as long as possible, then shortened by the surplus."""
    runs = [KeptRun(piece, *piece.longest(End.INNER, odd=True), End.INNER) for piece in chosen]
    return _shortened(runs, wanted)


def _with_pins(chosen: Sequence[Loose], wanted: int) -> tuple[KeptRun, ...] | None:
    """Runs whose ends meet inner to outer. Odd ones come in pairs, one that begins inner, one that begins outer."""
    for shapes in product((None, End.INNER, End.OUTER), repeat=len(chosen)):
        if shapes.count(End.INNER) != shapes.count(End.OUTER):
            continue
        runs = [
            KeptRun(piece, *piece.longest(begins or piece.first, begins is not None), begins or piece.first)
            for piece, begins in zip(chosen, shapes, strict=True)
        ]
        kept = _shortened(runs, wanted)
        if kept:
            return _in_turn(kept)
    return None


def _shortened(runs: list[KeptRun], wanted: int) -> tuple[KeptRun, ...] | None:
    """The runs, shortened by two links at a time, the longest first, until they have the wanted total."""
    if any(not run.links for run in runs):
        return None
    over = sum(run.links for run in runs) - wanted
    if over < 0 or over % 2:
        return None
    kept = []
    for run in sorted(runs, key=lambda each: -each.links):
        least = 2 - run.links % 2
        off = min(over, run.links - least)
        over -= off
        kept.append(replace(run, links=run.links - off))
    return None if over else tuple(kept)


def _in_turn(runs: Sequence[KeptRun]) -> tuple[KeptRun, ...]:
    """The runs in an order in which each begins with the other kind of link than the one before ends with.

    Even runs are turned to fit, and all laid before the next odd one.
    """
    left = sorted(runs, key=lambda run: run.links % 2)
    laid = [left.pop()]
    while left:
        begins = laid[-1].ends.other
        fits = next(i for i, run in enumerate(left) if run.links % 2 == 0 or run.begins is begins)
        laid.append(left.pop(fits).turned_to_begin(begins))
    return tuple(laid)
