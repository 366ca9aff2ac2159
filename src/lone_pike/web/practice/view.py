"""Practice: who practises and with what results, a question without its answer, and the explanation once it is
answered."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from urllib.parse import urlencode

from lone_pike.core.messages import Message, Term, Value, links, mm, number
from lone_pike.core.practice.asking import Answers, AskedPart, Question
from lone_pike.core.practice.consequences import would_do
from lone_pike.core.practice.exercises import EXERCISES, question
from lone_pike.core.practice.making import LARGEST_SEED, VERSION, lot_of
from lone_pike.core.practice.spacing import PastAnswer, Strength, next_up, seed_next, strength_of
from lone_pike.drawing.charts.gauge import GaugePicture, gauge_picture
from lone_pike.drawing.charts.level import LevelPicture, level_picture
from lone_pike.drawing.charts.ruler import RulerPicture, ruler_picture
from lone_pike.drawing.charts.strip import Strip
from lone_pike.drawing.scene.moving import Moving
from lone_pike.store.practice import Mechanic
from lone_pike.web.practice.pictures import (
    LedPicture,
    PosedPicture,
    answered_pictures,
    asked_pictures,
    led_pictures,
    moving_picture,
    strip_of,
)

SHEET = 10


@dataclass(frozen=True)
class OptionView:
    """One option: its key, its text, whether it was chosen, and whether it is right."""

    key: str
    said: Message
    chosen: bool
    right: bool


@dataclass(frozen=True)
class AskedView:
    """One part of a question: its name and text; the method it is about if there are several; its options; or, without
    options, what was typed and what is right."""

    name: str
    asked: Term
    of: Term | None
    options: tuple[OptionView, ...]
    several: bool
    most: int
    typed: str
    right: str


@dataclass(frozen=True)
class QuestionView:
    """A question: beside is what is given with it, and answered says whether the right answer is shown."""

    exercise: Term
    kind: Term
    asked: Term
    beside: tuple[Message, ...]
    parts: tuple[AskedView, ...]
    pictures: tuple[PosedPicture, ...]
    strip: Strip | None
    ruler: RulerPicture | None
    gauge: GaugePicture | None
    hung: LevelPicture | None
    led: tuple[LedPicture, ...]
    moving: Moving | None
    action: str
    who: int
    answered: bool
    right: bool
    said: tuple[Message, ...]
    because: tuple[Message, ...]
    next_url: str
    home_url: str


@dataclass(frozen=True)
class StrengthLine:
    """The results with one exercise or one kind of bike, and the address to practise it."""

    word: Term
    figures: Message
    url: str


@dataclass(frozen=True)
class PracticeView:
    """The place: the names, which of them practises, what comes next, and the results."""

    who: Mechanic | None
    names: tuple[tuple[str, str], ...]
    next_url: str
    next_up: tuple[Term, Term] | None
    exercises: tuple[StrengthLine, ...]
    kinds: tuple[StrengthLine, ...]
    sheet_url: str
    problem: str
    typed: str


def at_question(exercise: str, kind: str, seed: int, who: int, answers: Answers | None = None) -> str:
    """The address of a question; with answers, of its explanation."""
    chosen_ones = [(f"a.{key}", one) for key, chosen in (answers or {}).items() for one in sorted(chosen)]
    asked = urlencode([*([("who", who)] if who else []), *chosen_ones])
    return f"/practice/v{VERSION}/{exercise}/{kind}/{seed}" + (f"?{asked}" if asked else "")


def practice_view(
    names: Sequence[Mechanic], who: Mechanic | None, answers: Sequence[PastAnswer], problem: str = "", typed: str = ""
) -> PracticeView:
    """Builds the place. Parameters: answers of the person who practises, oldest first."""
    number_of = who.id if who else 0
    exercise, kind = next_up(answers)
    seed = seed_next(answers, number_of)
    kinds = dict.fromkeys(kind for one in EXERCISES.values() for kind in one.kinds)
    return PracticeView(
        who=who,
        names=tuple((one.name, f"/practice?who={one.id}") for one in names),
        next_url=at_question(exercise, kind, seed, number_of),
        next_up=(Term("exercise", exercise), Term("family", kind)),
        exercises=tuple(
            _strength(
                "exercise", name, [one for one in answers if one.exercise == name], _any_of(name, seed, number_of)
            )
            for name in EXERCISES
        ),
        kinds=tuple(
            _strength("family", kind, [one for one in answers if one.kind == kind], _any_on(kind, seed, number_of))
            for kind in kinds
        ),
        sheet_url=f"/practice/v{VERSION}/sheet/{seed}",
        problem=problem,
        typed=typed,
    )


def question_view(asked: Question, who: int, answers: Answers | None, next_url: str) -> QuestionView:
    """Builds a question, or with answers its explanation."""
    parts = tuple(_part(asked, part, answers) for part in asked.parts)
    said = [one.said for part in parts for one in part.options if one.chosen]
    said += [Message("as_written", text=part.typed) for part in parts if part.typed]
    asks_methods = any(part.of for part in asked.parts)
    home = f"/practice?who={who}" if who else "/practice"
    return QuestionView(
        exercise=Term("exercise", asked.exercise),
        kind=Term("family", asked.kind),
        asked=Term("asked", asked.exercise),
        beside=asked.beside,
        parts=parts,
        pictures=answered_pictures(asked, answers) if answers is not None else asked_pictures(asked),
        strip=strip_of(asked, answers),
        ruler=ruler_picture(asked.reading) if asked.reading else None,
        gauge=gauge_picture(asked.reading) if asked.reading else None,
        hung=None if asked.apart_mm is None else level_picture(asked.apart_mm),
        led=led_pictures(asked, answers is not None),
        moving=moving_picture(asked, answers) if answers is not None else None,
        action=at_question(asked.exercise, asked.kind, asked.seed, who),
        who=who,
        answered=answers is not None,
        right=answers is not None and asked.is_right(answers),
        said=() if asks_methods else tuple(said),
        because=_because(asked, answers) if answers is not None else (),
        next_url=next_url,
        home_url=home,
    )


def sheet_of(seed: int) -> tuple[QuestionView, ...]:
    """Ten questions of a seed, each with the right answer for overleaf."""
    lot = lot_of(seed, "sheet")
    names = [*EXERCISES, *lot.choices(list(EXERCISES), k=SHEET - len(EXERCISES))]
    views = []
    for name in names:
        kind = lot.choice(EXERCISES[name].kinds)
        asked = question(lot.randrange(LARGEST_SEED), name, kind)
        view = question_view(asked, 0, None, "")
        because = tuple(map(_sentence, asked.because))
        views.append(replace(view, because=because, parts=tuple(_part(asked, part, {}) for part in asked.parts)))
    return tuple(views)


def _strength(kind: str, key: str, answers: Sequence[PastAnswer], url: str) -> StrengthLine:
    found: Strength = strength_of(answers)
    figures = {name: number(value) for name, value in vars(found).items()}
    code = "practice_figures" if found.answered else "practice_none"
    return StrengthLine(Term(kind, key), Message(code, **figures), url)


def _any_of(exercise: str, seed: int, who: int) -> str:
    """The address of a question of an exercise, on any kind of bike that it suits."""
    kind = lot_of(seed, "any", exercise).choice(EXERCISES[exercise].kinds)
    return at_question(exercise, kind, seed, who)


def _any_on(kind: str, seed: int, who: int) -> str:
    """The address of a question on a kind of bike, of any exercise that suits it."""
    exercise = lot_of(seed, "any on", kind).choice([name for name, one in EXERCISES.items() if kind in one.kinds])
    return at_question(exercise, kind, seed, who)


def _part(asked: Question, part: AskedPart, answers: Answers | None) -> AskedView:
    chosen = (answers or {}).get(part.name, frozenset())
    right = asked.right[part.name] if answers is not None else frozenset()
    options = tuple(OptionView(key, _words(part, key), key in chosen, key in right) for key in part.options)
    typed = next(iter(sorted(chosen)), "") if not part.options else ""
    of = Term("method", part.of) if part.of else None
    answer = "" if part.options else min(right, default="")
    return AskedView(part.name, Term("asked_part", part.key), of, options, part.several, part.most, typed, answer)


def _words(part: AskedPart, key: str) -> Message:
    """The text of an option."""
    if part.key == "pairs":
        pairs = int(key)
        if not pairs:
            return Message("pairs_right")
        return Message("pairs_short" if pairs < 0 else "pairs_long", pairs=links(2 * abs(pairs)))
    if part.key == "counts":
        return Message("practice_count", count=links(int(key)))
    if part.key == "moves":
        return Message("practice_length", length=mm(int(key)))
    word = {"part": Term("turning", key), "cause": Term("cause", key)}.get(part.key)
    value: Value = word or Term("option", f"{part.key}.{key}")
    return Message("practice_option", option=key if part.key == "hand" else value)


def _because(asked: Question, answers: Answers) -> tuple[Message, ...]:
    """What a wrong answer would have done, and why the right answer is right."""
    return tuple(map(_sentence, (*would_do(asked, answers), *asked.because)))


def _sentence(message: Message) -> Message:
    """A message as a sentence of its own."""
    return Message("practice_sentence", told=message)
