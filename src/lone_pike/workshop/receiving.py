"""Receiving a bike: readings of its old chain's wear, and pictures taken before anything comes off."""

from collections.abc import Mapping
from dataclasses import replace

from lone_pike.core.messages import LengthUnit, Message, number
from lone_pike.core.refusals import Conflict, Unfit
from lone_pike.formats.files.photo_file import PhotoFile
from lone_pike.formats.records.observed import LONGEST_NOTE, MOST_GAUGED
from lone_pike.formats.typed.wear_form import read_gauged
from lone_pike.store.database import Database
from lone_pike.store.jobs import JobRow, JobState
from lone_pike.store.photos import MOST_SHOWN, add_picture
from lone_pike.workshop.edits import keep_state, open_job


def gauge(database: Database, job_id: int, form: Mapping[str, str], unit: LengthUnit, now: str) -> JobRow:
    """Adds a reading of the old chain's wear; if there are too many, the oldest is dropped.

    Parameters: form, by the reading's keys. Raises: InvalidInput by field; NotThere, NotOpen.
    """
    reading = read_gauged(form, unit)
    with database.atomic() as connection:
        job = open_job(database, job_id)
        gauged = (*job.observed.gauged, reading)[-MOST_GAUGED:]
        state = replace(job.state, observed=replace(job.observed, gauged=gauged))
        message = Message("readings_gauged", readings=number(len(gauged)))
        return keep_state(database, connection, job, state, message, now)


def let_reading_go(database: Database, job_id: int, place: int, now: str) -> JobRow:
    """Removes a reading by its index. Raises: Unfit if there is none; NotThere, NotOpen."""
    with database.atomic() as connection:
        job = open_job(database, job_id)
        if not 0 <= place < len(job.observed.gauged):
            raise Unfit("no_such_reading")
        gauged = tuple(one for i, one in enumerate(job.observed.gauged) if i != place)
        state = replace(job.state, observed=replace(job.observed, gauged=gauged))
        message = Message("readings_gauged", readings=number(len(gauged)))
        return keep_state(database, connection, job, state, message, now)


def take_picture_in(database: Database, job_id: int, file: PhotoFile, word: str, now: str) -> JobRow:
    """Adds a picture with a caption. Raises: Conflict if there are too many; NotThere, NotOpen."""
    with database.atomic() as connection:
        job = open_job(database, job_id)
        shown = [int(one) for one, _ in job.observed.pictures]
        if len(shown) >= MOST_SHOWN:
            raise Conflict("no_more_pictures", most=number(MOST_SHOWN))
        caption = word.strip()[:LONGEST_NOTE]
        picture_id = add_picture(connection, job_id, file.image, (file.width, file.height), now, shown)
        state = _with_pictures(job, (*job.observed.pictures, (str(picture_id), caption)))
        message = Message("picture_added", word=caption or str(picture_id))
        return keep_state(database, connection, job, state, message, now)


def remove_picture(database: Database, job_id: int, picture_id: int, now: str) -> JobRow:
    """Removes a picture from the job; an undo brings it back. Raises: Unfit if the job has no such picture; NotThere,
    NotOpen."""
    with database.atomic() as connection:
        job = open_job(database, job_id)
        words = dict(job.observed.pictures)
        if str(picture_id) not in words:
            raise Unfit("no_such_photo")
        left = tuple((one, word) for one, word in job.observed.pictures if one != str(picture_id))
        message = Message("picture_removed", word=words[str(picture_id)] or str(picture_id))
        state = _with_pictures(job, left)
        return keep_state(database, connection, job, state, message, now)


def _with_pictures(job: JobRow, pictures: tuple[tuple[str, str], ...]) -> JobState:
    return replace(job.state, observed=replace(job.observed, pictures=pictures))
