"""Bikes: what their owners call them, their stories, put away and back."""

from lone_pike.core.refusals import Conflict, NotThere
from lone_pike.store.bikes import LONGEST_STORY, LONGEST_WORD, BikeRow, bike_by_id, put_away, write_words
from lone_pike.store.database import Database


def bike_there(database: Database, bike_id: int) -> BikeRow:
    """The bike. Raises: NotThere."""
    row = bike_by_id(database, bike_id)
    if row is None:
        raise NotThere("no_such_bike")
    return row


def keep_words(
    database: Database, bike_id: int, now: str, *, owner_word: str | None = None, story: str | None = None
) -> None:
    """Stores the owner's name for a bike and its story; None leaves either as it is. Raises: NotThere."""
    with database.atomic() as connection:
        row = bike_there(database, bike_id)
        word = (row.owner_word if owner_word is None else owner_word).strip()[:LONGEST_WORD]
        text = (row.story if story is None else story).strip()[:LONGEST_STORY]
        write_words(connection, row.id, word, text, now)


def put_bike_away(database: Database, bike_id: int, now: str) -> None:
    """Takes a bike out of the lists; it is still found by typing. Raises: NotThere; Conflict while a job is open."""
    with database.atomic() as connection:
        if bike_there(database, bike_id).open_job_id:
            raise Conflict("bike_has_a_job")
        put_away(connection, bike_id, now)


def bring_bike_back(database: Database, bike_id: int) -> None:
    """Puts a bike back among the others. Raises: NotThere."""
    with database.atomic() as connection:
        put_away(connection, bike_there(database, bike_id).id, None)
