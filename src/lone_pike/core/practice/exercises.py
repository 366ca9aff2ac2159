"""All exercises, each with the kinds of bike for which it is suitable.

An exercise draws its question from the same seed as the bike. The order of the options gives nothing away; the right
answer comes from the sizing, like every other answer of the product.
"""

from collections.abc import Callable
from dataclasses import dataclass

from lone_pike.core.practice import of_bike, of_counts, of_parts, of_wear
from lone_pike.core.practice.asking import Draft, Question
from lone_pike.core.practice.making import lot_of, made

LEVELS = {1: 50, 2: 30, 3: 20}
"""The levels of difficulty, and how many of a hundred questions have each."""

CAGED = ("hardtail", "road", "touring", "suspension", "high_pivot")
STANDING = ("slot", "flip_flop", "vertical", "eccentric")


@dataclass(frozen=True)
class Exercise:
    """One exercise: the kinds of bike for which it is suitable, and how it makes its question."""

    kinds: tuple[str, ...]
    ask: Callable[[Draft], Question]


EXERCISES: dict[str, Exercise] = {
    "judge": Exercise((*CAGED, "long"), of_bike.judge),
    "clock": Exercise((*CAGED, "long"), of_bike.clock),
    "school": Exercise(CAGED, of_counts.school),
    "rivet": Exercise((*CAGED, *STANDING, "hub"), of_parts.rivet),
    "thread": Exercise(("hardtail", "road", "touring"), of_bike.thread),
    "suspension": Exercise(("suspension", "high_pivot"), of_bike.suspension),
    "fixed": Exercise(STANDING, of_counts.fixed),
    "cause": Exercise((*CAGED, *STANDING, "hub"), of_wear.cause),
    "worn": Exercise((*CAGED, *STANDING), of_wear.worn),
}
"""All exercises, in the order in which a mechanic meets them."""


def question(seed: int, exercise: str, kind: str) -> Question:
    """The question of a seed. Raises: KeyError if there is no such exercise, or it is not suitable for the kind."""
    if kind not in EXERCISES[exercise].kinds:
        raise KeyError(kind)
    lot = lot_of(seed, exercise, kind)
    level = lot.choices(list(LEVELS), list(LEVELS.values()))[0]
    return EXERCISES[exercise].ask(Draft(exercise, kind, seed, level, made(seed, kind), lot))


def exercise_of_seed(seed: int, kind: str) -> str:
    """The exercise of a seed if none was asked for; one that is suitable for the kind. Raises: KeyError if there is no
    such kind."""
    suiting = [name for name, one in EXERCISES.items() if kind in one.kinds]
    if not suiting:
        raise KeyError(kind)
    return lot_of(seed, "exercise", kind).choice(suiting)
