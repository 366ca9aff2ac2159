"""What to order for the chains that are due, after using what the bin has."""

from collections import Counter
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from lone_pike.core.bike.joiners import STOCKED


@dataclass(frozen=True)
class Need:
    """A chain that is due: its number of cogs, its links with and without joiners, its joiner."""

    speeds: int
    loose_links: int
    links: int
    joiner: str
    joiners: int = 1


@dataclass(frozen=True)
class ChainOrder:
    """Chains to order for a number of cogs: the counts that are needed, longest first, and how many chains the bin
    has."""

    speeds: int
    links: tuple[int, ...]
    in_bin: int


@dataclass(frozen=True)
class JoinerOrder:
    """Joiners to order: their kind, their number of cogs, how many are needed, and how many there are."""

    kind: str
    speeds: int
    amount: int
    in_bin: int


@dataclass(frozen=True)
class Order:
    """Everything to order."""

    chains: tuple[ChainOrder, ...]
    joiners: tuple[JoinerOrder, ...]

    @property
    def is_empty(self) -> bool:
        """Whether the bin has everything."""
        return not any(one.links for one in self.chains) and not self.joiners


def to_order(
    needs: Sequence[Need], pieces: Mapping[int, Sequence[int]], joiners: Mapping[tuple[str, int], int]
) -> Order:
    """What to order.

    The longest need takes the shortest piece that is long enough; each piece is used once. A driven-back rivet belongs
    to the chain, so it is not ordered.

    Parameters: needs; pieces, links of the free ones by cogs; joiners, how many there are by kind and cogs.
    """
    chains = tuple(_chains(speeds, needs, pieces.get(speeds, ())) for speeds in sorted({one.speeds for one in needs}))
    wanted: Counter[tuple[str, int]] = Counter()
    for one in needs:
        if one.joiner in STOCKED:
            wanted[one.joiner, one.speeds] += one.joiners
    missing = tuple(
        JoinerOrder(*key, amount - joiners.get(key, 0), joiners.get(key, 0))
        for key, amount in sorted(wanted.items())
        if amount > joiners.get(key, 0)
    )
    return Order(chains, missing)


def _chains(speeds: int, needs: Sequence[Need], pieces: Sequence[int]) -> ChainOrder:
    left, missing, found = sorted(pieces), list[int](), 0
    for need in sorted((one for one in needs if one.speeds == speeds), key=lambda one: -one.loose_links):
        fits = next((links for links in left if links >= need.loose_links), None)
        if fits is None:
            missing.append(need.links)
        else:
            left.remove(fits)
            found += 1
    return ChainOrder(speeds, tuple(missing), found)
