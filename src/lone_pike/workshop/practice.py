"""Practice in a shop: who practises, what they answered, and removing a name for good."""

from lone_pike.core.bike.faults import invalid
from lone_pike.core.messages import Message, Quantity, Raw, Unit
from lone_pike.core.practice.asking import Answers, Question
from lone_pike.core.practice.making import VERSION
from lone_pike.core.refusals import Conflict, NotThere
from lone_pike.store.database import Database
from lone_pike.store.practice import (
    MOST_MECHANICS,
    Mechanic,
    Practised,
    keep_answer,
    mechanic_by_id,
    mechanic_named,
    mechanics,
    remove_mechanic,
)

LONGEST_NAME = 60


def add_mechanic(database: Database, name: str) -> int:
    """Finds somebody who practises by name, or adds them. Returns: their number.

    Raises: InvalidInput for no name; Conflict where there are too many.
    """
    wanted = " ".join(name.split())
    if not 1 <= len(wanted) <= LONGEST_NAME:
        low, high = (Quantity(count, Unit.LETTERS) for count in (1, LONGEST_NAME))
        raise invalid("name", Raw(wanted[:LONGEST_NAME] or None), Message("letters_between", fewest=low, most=high))
    with database.atomic() as connection:
        if len(mechanics(database)) >= MOST_MECHANICS:
            raise Conflict("too_many_names")
        return mechanic_named(connection, wanted)


def mechanic_there(database: Database, mechanic_id: int) -> Mechanic:
    """Somebody who practises. Raises: NotThere."""
    found = mechanic_by_id(database, mechanic_id)
    if found is None:
        raise NotThere("no_such_name")
    return found


def remove(database: Database, mechanic_id: int) -> None:
    """Removes a name and all that it answered, for good."""
    with database.atomic() as connection:
        remove_mechanic(connection, mechanic_id)


def answer(database: Database, mechanic_id: int, question: Question, answers: Answers, now: str) -> None:
    """Stores whether a question was answered right; if it is answered again, the first answer stays. Raises:
    NotThere."""
    with database.atomic() as connection:
        mechanic = mechanic_there(database, mechanic_id)
        about = (VERSION, question.seed, question.kind, question.exercise)
        keep_answer(connection, Practised(mechanic.id, *about, question.is_right(answers)), now)
