"""What a wrong answer would have done to the bike."""

from lone_pike.core.bike.limits import LEAST_LINKS, LINKS_PER_PAIR, MOST_LINKS
from lone_pike.core.messages import Message, Term, links, number
from lone_pike.core.practice.asking import Answers, Question


def would_do(asked: Question, answers: Answers) -> tuple[Message, ...]:
    """What happens if an answer is followed; empty if it is right, or does not change a chain."""
    if asked.is_right(answers):
        return ()
    count = count_said(asked, answers)
    if asked.exercise == "rivet" and answers["rivet"] <= asked.right["rivet"]:
        return ()
    if asked.exercise == "rivet" and count is None and asked.cut:
        rivet = number(int(_first(answers, "rivet")))
        return (Message("practice_no_ends", rivet=rivet, joiner=Term("joiner", asked.cut.joiner)),)
    return _would(asked, count)


def count_said(asked: Question, answers: Answers) -> int | None:
    """The count that the bike would get by a wrong answer; None if the answer leads to no count."""
    if asked.exercise == "judge":
        return asked.shown_links - LINKS_PER_PAIR * int(_first(answers, "pairs"))
    if asked.exercise == "rivet":
        return _pushed(asked, answers)
    if asked.exercise == "school":
        counts = (part.name for part in asked.parts if part.key == "count")
        wrong = (_first(answers, name) for name in counts if not answers[name] <= asked.right[name])
        return next(map(int, wrong), None)
    wrong_counts = sorted(answers.get("counts", frozenset()) - asked.right.get("counts", frozenset()))
    return int(wrong_counts[0]) if wrong_counts else None


def _pushed(asked: Question, answers: Answers) -> int | None:
    """The chain that results from pushing another rivet; None if its ends do not fit together."""
    cut, pushed = asked.cut, int(_first(answers, "rivet"))
    more = pushed - (cut.push_from_start or 0) if cut else 0
    return None if more % LINKS_PER_PAIR else asked.shown_links + more


def _would(asked: Question, count: int | None) -> tuple[Message, ...]:
    """What a count does at both ends; empty if no chain can have it."""
    if count is None or not LEAST_LINKS <= count <= MOST_LINKS:
        return ()
    return (Message("practice_would", count=links(count), meaning=asked.sizing.take_up.meaning(count)),)


def _first(answers: Answers, key: str) -> str:
    return min(answers[key])
