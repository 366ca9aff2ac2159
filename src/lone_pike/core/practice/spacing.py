"""What to practise next: wrong answers come again soon, right ones at growing intervals, counted in questions."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from lone_pike.core.practice.exercises import EXERCISES
from lone_pike.core.practice.making import LARGEST_SEED, lot_of

DISTANCES = (2, 5, 12, 30)
"""The number of questions until one comes again: after a wrong answer, and after one, two and more right ones in a
row."""

NEWEST, EVERY_OTHER = 10, 2

Pair = tuple[str, str]
"""An exercise and a kind of bike."""


@dataclass(frozen=True)
class PastAnswer:
    """One answer: the exercise, the kind of bike, and whether it was right."""

    exercise: str
    kind: str
    right: bool


@dataclass(frozen=True)
class Strength:
    """The results: the number of answers, how many were right, and how many of the newest ten."""

    answered: int
    right: int
    newest: int
    newest_right: int


def strength_of(answers: Sequence[PastAnswer]) -> Strength:
    """The results of some answers, oldest first.

    >>> strength_of([PastAnswer("judge", "road", True), PastAnswer("judge", "road", False)])
    Strength(answered=2, right=1, newest=2, newest_right=1)
    """
    newest = answers[-NEWEST:]
    return Strength(len(answers), sum(one.right for one in answers), len(newest), sum(one.right for one in newest))


def next_up(answers: Sequence[PastAnswer]) -> Pair:
    """The exercise and the kind to practise next: the one that has been due longest, and every other time one that was
    never asked.

    Parameters: answers, oldest first.
    """
    this = len(answers) + 1
    due = {pair: this - at for pair, at in _due_at(answers).items() if at <= this}
    new = [pair for pair in _pairs() if not any((one.exercise, one.kind) == pair for one in answers)]
    asked = {exercise: sum(one.exercise == exercise for one in answers) for exercise in EXERCISES}
    if due and not (new and this % EVERY_OTHER):
        return max(due, key=lambda pair: (due[pair], pair))
    if new:
        fewest = min(asked[exercise] for exercise, _ in new)
        least_asked = [pair for pair in new if asked[pair[0]] == fewest]
        first = least_asked[0][0]
        return lot_of(len(answers), "next").choice([pair for pair in least_asked if pair[0] == first])
    coming = _due_at(answers)
    return min(coming, key=lambda pair: (coming[pair], pair))


def seed_next(answers: Sequence[PastAnswer], mechanic: int) -> int:
    """The seed of a mechanic's next question, which differs each time."""
    return lot_of(len(answers), "seed", str(mechanic)).randrange(LARGEST_SEED)


def _pairs() -> list[Pair]:
    return [(exercise, kind) for exercise, one in EXERCISES.items() for kind in one.kinds]


def _due_at(answers: Sequence[PastAnswer]) -> Mapping[Pair, int]:
    """For each pair that was asked, the number of answers at which it comes again."""
    streaks: dict[Pair, int] = {}
    due: dict[Pair, int] = {}
    for place, one in enumerate(answers, 1):
        pair = (one.exercise, one.kind)
        streaks[pair] = streaks.get(pair, 0) + 1 if one.right else 0
        due[pair] = place + DISTANCES[min(streaks[pair], len(DISTANCES) - 1)]
    return due
