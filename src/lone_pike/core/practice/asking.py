"""Questions: the bike, what is asked, the possible answers, and the right ones."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, field
from random import Random
from typing import Any

from lone_pike.core.bike.document import Bike
from lone_pike.core.chain.cutting import Cut
from lone_pike.core.count.sizing import Sizing
from lone_pike.core.messages import Message, links
from lone_pike.core.practice.families import FAMILIES
from lone_pike.core.take_up.protocol import Gear
from lone_pike.core.wear.gauging import WearReading


@dataclass(frozen=True)
class AskedPart:
    """One part of a question: the keys of its options, in order, and whether several may be chosen; or, without keys, a
    whole number up to most. of is the method it is about, if there is one part for each of several methods."""

    key: str
    options: tuple[str, ...] = ()
    several: bool = False
    most: int = 0
    of: str = ""

    @property
    def name(self) -> str:
        """The name under which its answer is sent and stored."""
        return f"{self.key}.{self.of}" if self.of else self.key


Answers = Mapping[str, frozenset[str]]
"""Answers by the name of the part."""


@dataclass(frozen=True)
class Question:
    """One question: its bike, what is asked, what is given beside it, and the right answers. right holds for each part
    the keys that are right: any one of them, or all of them together if the part accepts several. gears are those to
    look at; shown_links, the chain that is drawn; apart_mm, how much lower an old chain hangs than a new one beside it.
    because says why the answer is right."""

    exercise: str
    kind: str
    seed: int
    level: int
    sizing: Sizing
    parts: tuple[AskedPart, ...]
    right: Answers
    beside: tuple[Message, ...] = ()
    because: tuple[Message, ...] = ()
    gears: tuple[Gear, ...] = ()
    shown_links: int = 0
    cut: Cut | None = None
    reading: WearReading | None = None
    apart_mm: float | None = None
    truth: Mapping[str, Any] = field(default_factory=dict)

    @property
    def bike(self) -> Bike:
        """The bike."""
        return self.sizing.bike

    def is_right(self, answers: Answers) -> bool:
        """Whether every part was answered right."""
        return all(self._part_is_right(part, answers.get(part.name, frozenset())) for part in self.parts)

    def _part_is_right(self, part: AskedPart, answered: frozenset[str]) -> bool:
        right = self.right[part.name]
        return answered == right if part.several else len(answered) == 1 and answered <= right

    def answers_in(self, query: Mapping[str, Sequence[str]]) -> Answers | None:
        """The answers to all parts; None if a part has no answer, or an impossible one."""
        answers = {}
        for part in self.parts:
            chosen = frozenset(one.strip() for one in query.get(f"a.{part.name}", ()))
            if part.most:
                chosen = frozenset(one for one in chosen if _is_within(one, part.most))
            elif not chosen <= set(part.options):
                return None
            if not chosen:
                return None
            answers[part.name] = chosen
        return answers

    @property
    def chance(self) -> float:
        """The likelihood that a blind guess is right."""
        chance = 1.0
        for part in self.parts:
            every = part.most or len(part.options)
            chance *= 0.5 ** len(part.options) if part.several else len(self.right[part.name]) / every
        return chance


LONGEST_NUMBER = 6


def _is_within(text: str, most: int) -> bool:
    """Whether a text is a whole number from 1 to the most."""
    return text.isascii() and text.isdecimal() and len(text) <= LONGEST_NUMBER and 1 <= int(text) <= most


@dataclass(frozen=True)
class Draft:
    """The material from which a question is made."""

    exercise: str
    kind: str
    seed: int
    level: int
    sizing: Sizing
    lot: Random

    @property
    def measures(self) -> Message:
        """The measures of the bike, as a mechanic has them before the chain goes on."""
        return FAMILIES[self.kind].measures(self.sizing.bike)

    def question(self, **parts: Any) -> Question:
        """The question, with the right answer as the product computes it."""
        window = self.sizing.window
        truth = {
            "links": self.sizing.recommended_links,
            "window": {"min": window.min, "max": window.max} if window else None,
        }
        right = {name: sorted(keys) for name, keys in parts["right"].items()}
        truth |= parts.pop("truth", {}) | {"right": right}
        about = (self.exercise, self.kind, self.seed, self.level, parts.pop("sizing", self.sizing))
        return Question(*about, truth=truth, **parts)


def safe_message(sizing: Sizing) -> Message:
    """The safe counts, in half a sentence."""
    low, high = window_of(sizing)
    return (
        Message("practice_only", low=links(low))
        if low == high
        else Message("practice_from", low=links(low), high=links(high))
    )


def window_of(sizing: Sizing) -> tuple[int, int]:
    """The smallest and the largest safe count; a bike made for practice always has them."""
    window = sizing.window
    return (window.min, window.max) if window else (sizing.recommended_links, sizing.recommended_links)
