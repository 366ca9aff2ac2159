"""The count rail: joinable counts, the safe window, each school a flag on its count."""

from dataclasses import dataclass

from lone_pike.core.judging.answer import Answer
from lone_pike.core.messages import Message
from lone_pike.core.messages import links as in_links
from lone_pike.core.take_up.protocol import Ground

FEWEST, MOST, FARTHEST = 9, 13, 10
WIDTH, HEIGHT = 1000, 112


@dataclass(frozen=True)
class Flag:
    """A school's flag; beyond says that its count lies off the rail."""

    school: str
    message: Message
    beyond: bool


@dataclass(frozen=True)
class Place:
    """One joinable count on the rail; x in the rail's own units."""

    links: int
    x: float
    ground: Ground
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
    places: tuple[Place, ...]


def rail(answer: Answer, chosen_links: int, other: Answer | None = None) -> Rail:
    """The rail of an answer with one count chosen; with another bike's answer, its window beside."""
    counts = _counts(answer, chosen_links, [other.links] if other else [])
    beside = other.sizing.margins(counts).safe_counts if other else []
    margins = answer.sizing.margins(counts)
    width = round(WIDTH / len(counts), 1)
    return Rail(
        WIDTH,
        HEIGHT,
        width,
        tuple(
            Place(
                links=links,
                x=round(i * width, 1),
                ground=margins.ground(links),
                chosen=links == chosen_links,
                recommended=links == answer.links,
                flags=_flags(answer, links, counts),
                other_safe=links in beside,
                other=other is not None and links == other.links,
            )
            for i, links in enumerate(counts)
        ),
    )


def _counts(answer: Answer, chosen_links: int, wanted: list[int]) -> list[int]:
    """The counts shown: the window, what is chosen and wanted, and the votes as far as there is room."""
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


def _flags(answer: Answer, links: int, counts: list[int]) -> tuple[Flag, ...]:
    step = counts[1] - counts[0]

    def planted(count: int) -> int:
        return min(max(count - count % step, counts[0]), counts[-1])

    here = [vote for vote in answer.votes if planted(vote.links) == links]
    return tuple(
        Flag(
            vote.school,
            Message("flag_says", count=in_links(vote.links), why=vote.why),
            not counts[0] <= vote.links <= counts[-1],
        )
        for vote in here
    )
