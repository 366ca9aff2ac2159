"""What the command answers of practice: a question of a seed as plain data, and in a few lines."""

from typing import Any


def question_of(seed: int, kind: str | None, exercise: str | None) -> dict[str, Any]:
    """A question as plain data. Raises: InvalidInput where the exercise does not suit the kind."""
    from lone_pike.core.bike.faults import invalid
    from lone_pike.core.messages import Message, Raw
    from lone_pike.core.practice.exercises import EXERCISES, exercise_of_seed, question
    from lone_pike.core.practice.making import VERSION, kind_of_seed, lot_of
    from lone_pike.formats.files.answer_json import message_json
    from lone_pike.formats.files.bike_file import document_of
    from lone_pike.wording.render import render
    from lone_pike.wording.units import DisplayUnits

    if kind is None:
        kind = lot_of(seed, "kind of", exercise).choice(EXERCISES[exercise].kinds) if exercise else kind_of_seed(seed)
    if exercise is None:
        exercise = exercise_of_seed(seed, kind)
    if kind not in EXERCISES[exercise].kinds:
        raise invalid("kind", Raw(kind), Message("one_of", keys=EXERCISES[exercise].kinds))
    asked, units = question(seed, exercise, kind), DisplayUnits()
    beside = [message_json(message, lambda one: render(one, units)) for message in asked.beside]
    return {
        "seed": seed,
        "version": VERSION,
        "kind": kind,
        "exercise": exercise,
        "level": asked.level,
        "question": {
            "told": beside,
            "parts": [
                {"key": part.key, "options": list(part.options), "several": part.several, "most": part.most}
                for part in asked.parts
            ],
        },
        "bike": document_of(asked.bike),
        "truth": dict(asked.truth),
    }


def lines_of(found: dict[str, Any]) -> list[str]:
    """The question in a few lines, without what is right."""
    from lone_pike.core.messages import Term
    from lone_pike.wording.terms import word_of

    words = [word_of(Term(kind, found["exercise"])) for kind in ("exercise", "asked")]
    head = f"{words[0]}, {word_of(Term('family', found['kind']))}, seed {found['seed']}: {words[1]}"
    parts = [
        f"{word_of(Term('asked_part', part['key']))}: {', '.join(part['options']) or '…'}"
        for part in found["question"]["parts"]
    ]
    return [head, *(one["text"] for one in found["question"]["told"]), *parts]
