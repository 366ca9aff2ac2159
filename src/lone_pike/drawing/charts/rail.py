"""The count rail: joinable counts, the safe window, and each school as a flag on its count."""

from collections.abc import Mapping
from dataclasses import dataclass
from operator import itemgetter

from lone_pike.core.count.answer import Answer
from lone_pike.core.messages import Message
from lone_pike.core.messages import links as in_links
from lone_pike.core.take_up.protocol import Safety

FEWEST, MOST, FARTHEST = 9, 13, 10
WIDTH, HEIGHT = 1000, 112


FLAGS_HIGH, LETTER_WIDE, FLAG_ENDS, POLE_AT = 4, 7.8, 24, 7
"""How many flags stand on each other, how wide one is for each letter of its name and for its ends, and how far the
pole stands within its place."""

TOGETHER = frozenset({"overlap_floor", "by_cogs", "tight_and_quiet"})
"""Schools that have no flag of their own if another school's flag is on the same count (model, section 3)."""


@dataclass(frozen=True)
class Flag:
    """A school's flag: its row and its width.

    beyond is -1 if its count is off the rail's left end, 1 if it is off the right end, and 0 if the rail shows it. A
    flag flies to the left of its pole if there is no room on the right.
    """

    school: str
    message: Message
    beyond: int
    row: int
    width: float
    flies_left: bool


@dataclass(frozen=True)
class RailPlace:
    """One joinable count on the rail; x in the rail's own units."""

    links: int
    x: float
    safety: Safety
    chosen: bool
    recommended: bool
    flags: tuple[Flag, ...]
    other_safe: bool
    other: bool


@dataclass(frozen=True)
class Rail:
    """The whole rail."""

    width: int
    height: int
    width_of_place: float
    pole_at: int
    places: tuple[RailPlace, ...]


def rail(answer: Answer, chosen_links: int, names: Mapping[str, str], other: Answer | None = None) -> Rail:
    """The rail of an answer with one count chosen; with another bike's answer, also its window.

    Parameters: names, the text on each school's flag, for its width.
    """
    counts = _counts(answer, chosen_links, [other.links] if other else [])
    beside = other.sizing.margins(counts).safe_counts if other else []
    margins = answer.sizing.margins(counts)
    width = round(WIDTH / len(counts), 1)
    flags = _flags(answer, counts, width, names)
    places = [
        RailPlace(
            links=links,
            x=round(i * width, 1),
            safety=margins.safety(links),
            chosen=links == chosen_links,
            recommended=links == answer.links,
            flags=tuple(flags.get(links, ())),
            other_safe=links in beside,
            other=other is not None and links == other.links,
        )
        for i, links in enumerate(counts)
    ]
    return Rail(WIDTH, HEIGHT, width, POLE_AT, tuple(places))


def _counts(answer: Answer, chosen_links: int, wanted: list[int]) -> list[int]:
    """The counts to show: the window, the chosen and the wanted ones, and the votes as far as there is room."""
    step = answer.sizing.step_links
    low, high = (answer.window.min, answer.window.max) if answer.window else (answer.links, answer.links)
    low, high = (
        min(low, chosen_links, answer.links, *wanted) - 2 * step,
        max(high, chosen_links, answer.links, *wanted) + 2 * step,
    )
    for links in sorted((vote.links for vote in answer.votes), key=lambda links: abs(links - answer.links)):
        if (max(high, links) - min(low, links)) // step < MOST:
            low, high = min(low, links), max(high, links)
    middle = answer.recommended_links
    low, high = max(low, middle - FARTHEST * step), min(high, middle + FARTHEST * step)
    low -= (low - middle) % step
    while (high - low) // step + 1 < FEWEST:
        low, high = low - step, high + step
    return list(range(low, high + 1, step))


def _flags(answer: Answer, counts: list[int], place: float, names: Mapping[str, str]) -> dict[int, list[Flag]]:
    """The flags by the count at which they stand, each in the lowest row where it overlaps no other."""
    step, flags = counts[1] - counts[0], dict[int, list[Flag]]()
    ends = [0.0] * FLAGS_HIGH
    taken = {vote.links for vote in answer.votes if vote.school not in TOGETHER}
    planted = [
        (min(max(vote.links - vote.links % step, counts[0]), counts[-1]), vote)
        for vote in answer.votes
        if vote.school not in TOGETHER or vote.links not in taken
    ]
    for count, vote in sorted(planted, key=itemgetter(0)):
        pole, beyond = place * counts.index(count), (vote.links > counts[-1]) - (vote.links < counts[0])
        width = round(LETTER_WIDE * (len(names[vote.school]) + 2 * abs(beyond)) + FLAG_ENDS, 1)
        mirrored = pole + 2 * POLE_AT - width
        flies_left = pole + width > WIDTH and min(ends) <= mirrored
        left = mirrored if flies_left else pole
        row = next((row for row, end in enumerate(ends) if end <= left), FLAGS_HIGH - 1)
        ends[row] = left + width
        message = Message("flag_says", count=in_links(vote.links), why=vote.why)
        flags.setdefault(count, []).append(Flag(vote.school, message, beyond, row, width, flies_left))
    return flags
