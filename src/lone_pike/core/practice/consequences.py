"""What a wrong answer would have done to the bike."""

from lone_pike.core.bike.joiners import JOINERS
from lone_pike.core.bike.limits import LEAST_LINKS, LINKS_PER_PAIR, MOST_LINKS
from lone_pike.core.messages import Message, Term, links, number
from lone_pike.core.practice.asking import Answers, Question


def would_do(asked: Question, answers: Answers) -> tuple[Message, ...]:
    """What comes of acting on an answer; nothing of one that is right, or that changes no chain."""
    if asked.is_right(answers):
        return ()
    if asked.exercise == "rivet":
        return _pushed(asked, answers)
    return _would(asked, _count_told(asked, answers))


def _count_told(asked: Question, answers: Answers) -> int | None:
    """The count that the bike would get."""
    if asked.exercise == "judge":
        return asked.shown_links - LINKS_PER_PAIR * int(_first(answers, "pairs"))
    if asked.exercise == "school":
        return int(_first(answers, "count"))
    wrong = sorted(answers.get("counts", frozenset()) - asked.right.get("counts", frozenset()))
    return int(wrong[0]) if wrong else None


def _pushed(asked: Question, answers: Answers) -> tuple[Message, ...]:
    """The chain that is left of a box where another rivet is pushed."""
    told, cut = int(_first(answers, "rivet")), asked.cut
    if cut is None or cut.push_from_start is None:
        return ()
    if (told - cut.push_from_start) % LINKS_PER_PAIR:
        return (Message("practice_no_ends", rivet=number(told), joiner=Term("joiner", cut.joiner)),)
    return _would(asked, told + JOINERS[cut.joiner].links)


def _would(asked: Question, count: int | None) -> tuple[Message, ...]:
    """What a count does at both ends; nothing of one that no chain has."""
    if count is None or not LEAST_LINKS <= count <= MOST_LINKS:
        return ()
    return (Message("practice_would", count=links(count), meaning=asked.sizing.take_up.meaning(count)),)


def _first(answers: Answers, key: str) -> str:
    return min(answers[key])
