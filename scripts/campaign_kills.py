"""Kills: of the server at every kind of write, of a migration, of a backup, of a restore; nothing is lost or torn."""

import http.client
import multiprocessing
import random
import shutil
import sqlite3
import tempfile
import time
from collections.abc import Callable
from contextlib import closing, suppress
from pathlib import Path

from campaign_growth import grown
from campaign_service import is_whole, kept_chainstays, post, serving_process
from campaign_tried import Tried
from tests.old_schema import file_of_schema

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.demo.workshop import fill
from lone_pike.store.database import Database, check_ours
from lone_pike.store.keeping import back_up, restore

JOBS_TO_COPY = 400
OLD_SCHEMA = 7


class Told:
    """What the server said that it has kept: chainstays of a job, names of bikes, codes of pieces, and bookings."""

    def __init__(self) -> None:
        self.chainstays: set[float] = set()
        self.names: set[str] = set()
        self.codes: set[str] = set()
        self.count = 0

    def press(self, line: http.client.HTTPConnection, lot: random.Random) -> None:
        """One write of any kind; what is answered well is told."""
        self.count += 1
        job = str(lot.randint(4, 12))
        kind = lot.randrange(6)
        if kind == 0:
            value = round(400 + self.count / 100, 2)
            if post(line, "/jobs/4/measure", saw="0", chainstay_mm=str(value)) == 303:
                self.chainstays.add(value)
        elif kind == 1:
            name = f"Knot {self.count}"
            if post(line, "/jobs", name=name) == 303:
                self.names.add(name)
        elif kind == 2:
            code = f"K-{self.count}"
            if post(line, "/bin/scan", label=f"LP1*{lot.randint(2, 120)}*I*9*0*{code}") == 303:
                self.codes.add(code)
        elif kind == 3:
            post(line, f"/jobs/{job}/from-bin", pieces=str(lot.randint(1, 20)))
        elif kind == 4:
            post(line, f"/jobs/{job}/{lot.choice(('book', 'take-back', 'chain-off', 'close', 'reopen'))}")
        else:
            post(line, "/shop", first=lot.choice(("links", "pairs")))

    def lost_from(self, data: Path) -> list[object]:
        """What was told and is not there."""
        with closing(Database(data)) as database:
            names = {row[0] for row in database.connection.execute("SELECT name FROM bike")}
            codes = {row[0] for row in database.connection.execute("SELECT code FROM piece")}
        return [*(self.chainstays - kept_chainstays(data)), *(self.names - names), *(self.codes - codes)]


def kills(seed: int, count: int) -> Tried:
    """The server is killed at every kind of write: what it said it had kept is there, and the file is whole."""
    tried, lot, told = Tried("kills while saving"), random.Random(seed), Told()
    with tempfile.TemporaryDirectory() as folder:
        data = Path(folder) / "workshop.sqlite3"
        for i in range(count):
            with serving_process(data) as (process, port):
                until = time.monotonic() + lot.uniform(0.05, 0.6)
                line = http.client.HTTPConnection("127.0.0.1", port, timeout=10)
                while time.monotonic() < until:
                    told.press(line, lot)
                process.kill()
                process.join()
                line.close()
            lost = told.lost_from(data)
            tried.hold(not lost and is_whole(data), f"seed {seed}, kill {i}: lost {lost[:5]}")
    tried.told = f"{len(told.chainstays) + len(told.names) + len(told.codes)} acknowledged saves"
    return tried


def kills_of_commands(seed: int, count: int) -> Tried:
    """A migration, a backup, a restore is killed at any moment: each file is whole, old or new, or not there."""
    tried, lot = Tried("kills of commands"), random.Random(seed)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        large, small = folder / "large.sqlite3", folder / "small.sqlite3"
        grown(large, JOBS_TO_COPY)
        with closing(Database(small)) as database:
            fill(database)
        old = _old_file(folder / "old.sqlite3")
        for i in range(count):
            work, holds = _command(lot, folder / str(i), large, small, old)
            process = multiprocessing.get_context("fork").Process(target=work)
            process.start()
            time.sleep(lot.uniform(0.0, 0.25))
            process.kill()
            process.join()
            tried.hold(holds(), f"seed {seed}, kill {i}")
    return tried


def _command(
    lot: random.Random, folder: Path, large: Path, small: Path, old: Path
) -> tuple[Callable[[], object], Callable[[], bool]]:
    """What is to be killed, and what must hold afterwards."""
    folder.mkdir()
    data = folder / "workshop.sqlite3"
    kind = lot.randrange(3)
    if kind == 0:
        return lambda: back_up(large, data), lambda: not data.exists() or _bikes(data) == _bikes(large)
    if kind == 1:
        shutil.copy(small, data)
        return lambda: restore(large, data), lambda: _bikes(data) in (_bikes(small), _bikes(large))
    shutil.copy(old, data)
    return lambda: Database(data), lambda: _bikes(data) == JOBS_TO_COPY and is_whole(data)


def _bikes(data: Path) -> int:
    """How many bikes there are, in a file that is whole; -1 where it is not."""
    with suppress(InvalidInput, sqlite3.Error):
        check_ours(data, may_be_empty=False)
        with closing(Database(data)) as database:
            return int(database.connection.execute("SELECT count(*) FROM bike").fetchone()[0])
    return -1


def _old_file(path: Path) -> Path:
    """A data file as an earlier schema had it, with bikes, jobs and a bin."""
    with file_of_schema(path, OLD_SCHEMA) as connection:
        for i in range(1, JOBS_TO_COPY + 1):
            connection.execute("INSERT INTO bike (id, name, document) VALUES (?, ?, '{}')", (i, f"Knot {i}"))
            connection.execute("INSERT INTO history (id, kind) VALUES (?, 'job')", (i,))
            content = '{"document": {}, "chosen_links": null, "observed": {}}'
            connection.execute(
                "INSERT INTO revision (id, history_id, content, message, made_at) VALUES (?, ?, ?, ?, '')",
                (i, i, content, '{"code": "started", "values": {}}'),
            )
            connection.execute("UPDATE history SET revision_id = ? WHERE id = ?", (i, i))
            connection.execute(
                "INSERT INTO job (id, bike_id, history_id, opened_at, booked_at) VALUES (?, ?, ?, '', ?)",
                (i, i, i, "2026-01-01" if i % 2 else None),
            )
            if i % 2:
                connection.execute(
                    "INSERT INTO booking (id, job_id, bike_id, links, joiner, speeds, document_before, booked_at)"
                    " VALUES (?, ?, ?, 112, 'quick_link', 9, '{}', '2026-01-01')",
                    (i, i, i),
                )
                connection.execute(
                    "INSERT INTO offcut (booking_id, links, first_end, last_end, speeds, origin, laid_in_at)"
                    " VALUES (?, 8, 'inner', 'outer', 9, '', '2026-01-01')",
                    (i,),
                )
    return path
