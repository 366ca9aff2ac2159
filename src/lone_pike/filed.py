"""What the command answers to files: bikes are sized, chains forecast; in words or as JSON, one file or many."""

import json
import sys
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from typing import Any

DONE, WRONG_FILE = 0, 2
MANY_FILES = 64
"""From so many files on it is worth waking the other processors."""


@dataclass(frozen=True)
class Printed:
    """What is printed of one file, and whether it was a right one."""

    code: int
    out: list[str]
    err: list[str]


@dataclass(frozen=True)
class FileAnswer:
    """The answer to one file: its lines of text, and all of it as JSON; each made when it is asked for."""

    lines: Callable[[], list[str]]
    whole: Callable[[], dict[str, Any]]


Ask = Callable[[bytes], FileAnswer]
"""Answers the bytes of a file. Raises: InvalidInput."""


def sized(data: bytes) -> FileAnswer:
    """A bike's file, sized."""
    from lone_pike.core.count.answer import answer
    from lone_pike.formats.files.answer_json import answer_json
    from lone_pike.formats.files.bike_file import read_bike
    from lone_pike.wording.answers import answer_lines
    from lone_pike.wording.render import render
    from lone_pike.wording.units import DisplayUnits

    answered, units = answer(read_bike(data)), DisplayUnits()
    return FileAnswer(
        lambda: answer_lines(answered, units), lambda: answer_json(answered, lambda message: render(message, units))
    )


def forecast_of(data: bytes) -> FileAnswer:
    """A chain's file, with its wear and when it is due."""
    from lone_pike.core.wear.forecast import forecast
    from lone_pike.formats.files.chain_file import forecast_json, read_chain
    from lone_pike.wording.answers import forecast_lines
    from lone_pike.wording.render import render
    from lone_pike.wording.units import DisplayUnits

    expected, units = forecast(read_chain(data)), DisplayUnits()
    return FileAnswer(
        lambda: forecast_lines(expected, units), lambda: forecast_json(expected, lambda message: render(message, units))
    )


def answer_files(ask: Ask, files: list[str], *, as_json: bool) -> int:
    """Answers files in the order they are named. Returns: 0, or 2 where one was faulty."""
    code = DONE
    for printed in _in_order(partial(_printed, ask, as_json=as_json, several=len(files) > 1), files):
        print(*printed.out, sep="\n", end="\n" if printed.out else "")
        print(*printed.err, sep="\n", end="\n" if printed.err else "", file=sys.stderr)
        code = max(code, printed.code)
    return code


def _in_order(work: Callable[[str], Printed], files: list[str]) -> Iterator[Printed]:
    """The files' answers; many files share all processors."""
    if len(files) < MANY_FILES or "-" in files:
        yield from map(work, files)
        return
    from multiprocessing import Pool

    with Pool() as pool:
        yield from pool.imap(work, files, chunksize=MANY_FILES // 4)


def _printed(ask: Ask, file: str, *, as_json: bool, several: bool) -> Printed:
    from lone_pike.core.bike.faults import InvalidInput
    from lone_pike.formats.files.answer_json import fault_json
    from lone_pike.wording.render import fault_line, fault_words
    from lone_pike.wording.units import DisplayUnits

    units = DisplayUnits()
    try:
        answered = ask(_bytes_of(file))
    except InvalidInput as error:
        if as_json and several:
            faults = [fault_json(fault, fault_words(fault, units)) for fault in error.faults]
            return Printed(WRONG_FILE, [_compact({"file": file, "faults": faults})], [])
        lines = [fault_line(fault, units) for fault in error.faults]
        return Printed(WRONG_FILE, [], [f"{file}: {line}" if several else line for line in lines])
    if not as_json:
        return Printed(DONE, [*([f"{file}:"] if several else []), *answered.lines()], [])
    if several:
        return Printed(DONE, [_compact({"file": file} | answered.whole())], [])
    return Printed(DONE, [json.dumps(answered.whole(), ensure_ascii=False, indent=1)], [])


def _compact(document: dict[str, Any]) -> str:
    return json.dumps(document, ensure_ascii=False, separators=(",", ":"))


def _bytes_of(file: str) -> bytes:
    from lone_pike.core.bike.faults import invalid
    from lone_pike.core.messages import Message, Raw

    try:
        return sys.stdin.buffer.read() if file == "-" else Path(file).read_bytes()
    except OSError as error:
        raise invalid("file", Raw(file), Message("readable_file", problem=str(error.strerror))) from None


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
