"""Fills an empty data file with the sample workshop."""

import json
from dataclasses import replace
from importlib.resources import files
from typing import Any

from lone_pike.formats.photo_notes import with_photo
from lone_pike.store.bikes import add_bike
from lone_pike.store.database import Database
from lone_pike.store.jobs import Fitting, book, job_by_id, revise, start_job
from lone_pike.store.photos import add_photo


def sample() -> dict[str, Any]:
    """The sample workshop's data: bikes, jobs in hand, chains fitted before."""
    loaded: dict[str, Any] = json.loads((files("lone_pike.demo") / "workshop.json").read_text())
    return loaded


def fill(database: Database) -> None:
    """Writes the sample workshop into an empty data file."""
    data = sample()
    with database.atomic() as connection:
        ids = {row["document"]["name"]: add_bike(connection, row["document"], row["story"]) for row in data["bikes"]}
    documents = {row["document"]["name"]: row["document"] for row in data["bikes"]}
    for row in data["fitted"]:
        name, when = row.pop("bike"), row.pop("booked_at")
        job = job_by_id(database, start_job(database, documents[name], when, ids[name]))
        if job:
            ends = row.pop("offcut_ends")
            book(database, job, Fitting(**row, offcut_ends=(ends[0], ends[1])), when)
    for row in data["jobs"]:
        job_id = start_job(database, documents[row["bike"]], row["opened_at"], ids[row["bike"]], row["complaint"])
        if "photo" in row:
            _mark_photo(database, job_id, row["photo"], row["opened_at"])


def sample_photo() -> bytes:
    """The drawn side photo that ships, JPEG."""
    return (files("lone_pike.demo") / "sample_photo.jpg").read_bytes()


def _mark_photo(database: Database, job_id: int, photo: dict[str, Any], when: str) -> None:
    """The drawn photo with what was marked in it."""
    photo_id = add_photo(database, job_id, sample_photo(), (photo["size"][0], photo["size"][1]), when)
    job = job_by_id(database, job_id)
    if job:
        observed = with_photo(job.observed, photo_id) | photo["observed"]
        with database.atomic() as connection:
            revise(connection, job, replace(job.revision, observed=observed, note="Photo taken in and marked"), when)
