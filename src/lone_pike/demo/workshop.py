"""Fills an empty data file with the sample workshop."""

import json
from dataclasses import replace
from importlib.resources import files
from typing import Any

from lone_pike.core.bike.joiners import JOINERS, JoinerKind
from lone_pike.core.chain.moves import Move, PieceSource
from lone_pike.core.chain.plan import cuts_for
from lone_pike.core.messages import Message
from lone_pike.demo.chains import fill_chains, prices
from lone_pike.formats.files.bike_file import bike_from_document
from lone_pike.formats.records.chain_rows import BOX
from lone_pike.formats.records.observed import observed_of
from lone_pike.store.bikes import add_bike, write_bike
from lone_pike.store.bin import move_joiners
from lone_pike.store.bookings import Fitting
from lone_pike.store.database import Database
from lone_pike.store.history import begin
from lone_pike.store.jobs import job_by_id, revise_job
from lone_pike.store.ledger import FreshPiece, enter
from lone_pike.store.photos import add_photo
from lone_pike.workshop.bookings import write_booking
from lone_pike.workshop.fitting import ChainToFit
from lone_pike.workshop.jobs import reach, start_on


def sample() -> dict[str, Any]:
    """The sample workshop's data: bikes, jobs in hand, chains fitted before."""
    loaded: dict[str, Any] = json.loads((files("lone_pike.demo") / "workshop.json").read_text())
    return loaded


def fill(database: Database) -> None:
    """Fills an empty data file with the sample workshop."""
    data = sample()
    with database.atomic() as connection:
        begin(connection, "shop", prices(), data["bin"][0]["laid_in_at"])
        ids = {row["document"]["name"]: add_bike(connection, row["document"], row["story"]) for row in data["bikes"]}
    for row in data["fitted"]:
        _book(database, ids[row["bike"]], row)
    _fill_bin(database, data)
    boxed = {row["document"]["name"]: row["document"] for row in data["bikes"]}
    for row in data["jobs"]:
        with database.atomic() as connection:  # a new box is ready for the bike
            write_bike(connection, ids[row["bike"]], boxed[row["bike"]])
        known = observed_of({"complaint": row["complaint"], **row.get("observed", {})})
        job_id = start_on(database, ids[row["bike"]], row["opened_at"], known)
        reach(database, job_id, row.get("stage", "measure"))
        if "photo" in row:
            _mark_photo(database, job_id, row["photo"], row["opened_at"])
    for row in data["fitted_since"]:
        _book(database, ids[row["bike"]], row)
    fill_chains(database, ids)


def sample_photo() -> bytes:
    """The drawn side photo that ships, JPEG."""
    return (files("lone_pike.demo") / "sample_photo.jpg").read_bytes()


def _book(database: Database, bike_id: int, row: dict[str, Any]) -> None:
    """Enters a chain that was fitted before, cut from a box that left the given off-cut."""
    when = row["booked_at"]
    job = job_by_id(database, start_on(database, bike_id, when))
    if job is None:
        return
    chain = {key: value for key, value in job.document["chain"].items() if key not in (*BOX, "pieces")}
    loose = row["links"] - JOINERS[JoinerKind(row["joiner"])].links + row["offcut_links"]
    bike = bike_from_document(job.document | {"chain": chain | {"joiner": row["joiner"], "box_links": loose}})
    loop = ChainToFit(bike, row["links"], cuts_for(bike, row["links"]))
    fitting = Fitting(row["links"], row["joiner"], row["speeds"], row["note"], None)
    with database.atomic():
        write_booking(database, job, loop, fitting, when, keeps_old=row.get("keeps_old", False))


def _fill_bin(database: Database, data: dict[str, Any]) -> None:
    """Fills the bin with boxes, pieces and joiners."""
    with database.atomic() as connection:
        for row in data["bin"]:
            fields = {key: value for key, value in row.items() if key != "laid_in_at"}
            enter(connection, FreshPiece(**fields, source=PieceSource.HAND), Move.LAID_IN, row["laid_in_at"])
        for row in data["joiners"]:
            move_joiners(connection, row["kind"], row["speeds"], row["change"], data["bin"][0]["laid_in_at"])


def _mark_photo(database: Database, job_id: int, photo: dict[str, Any], when: str) -> None:
    """Enters the drawn photo with its marks."""
    job = job_by_id(database, job_id)
    if job is None:
        return
    width, height = photo["size"]
    with database.atomic() as connection:
        photo_id = add_photo(connection, job_id, sample_photo(), (width, height), when)
        marked = observed_of({"photo": photo["notes"] | {"id": photo_id}})
        observed = replace(job.observed, photo=marked.photo)
        revise_job(connection, job, replace(job.state, observed=observed), Message("photo_marked"), when)
