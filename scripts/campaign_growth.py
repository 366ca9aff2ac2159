"""Growth: pages over a data file of many jobs against one of a hundred."""

import json
import os
import sys
import tempfile
import time
import urllib.request
from collections.abc import Iterator
from contextlib import ExitStack, closing, contextmanager
from pathlib import Path

from campaign_service import serving_process
from campaign_tried import Tried

sys.path.insert(0, str(Path(__file__).parent.parent))

from tests.core.random_bikes import random_bike

from lone_pike.core.chain.plan import cuts_for
from lone_pike.demo.workshop import fill
from lone_pike.formats.files.bike_file import bike_from_document
from lone_pike.formats.records.observed import Observed
from lone_pike.store.bikes import add_bike
from lone_pike.store.database import Database
from lone_pike.store.history import begin
from lone_pike.store.jobs import JobState
from lone_pike.store.ledger import Owner
from lone_pike.workshop.fitting import ChainToFit, fit_loop

BOXED = bike_from_document(
    {"lone_pike": 1, "name": "Otter", "chainstay_mm": 430, "rings": [32], "cogs": [11, 13, 17, 21, 25, 32]}
    | {"take_up": {"type": "derailleur", "cage_mm": 90}}
    | {"chain": {"speeds": 9, "joiner": "quick_link", "box_links": 119}}
)
LOOP = ChainToFit(BOXED, 112, cuts_for(BOXED, 112))
"""A chain that leaves an off-cut of 8."""

PROCESS_CLOCK = 2
"""What tells the kernel that a process is meant, and all of its threads."""

PATHS = ("/", "/bikes", "/bikes?find=Otter", "/bin")
MOST_TIMES = 1.5
"""How much more of the processor a page may take of many jobs than of a hundred."""


def growth(jobs: int, rounds: int) -> Tried:
    """Pages over a grown data file against a small one: within one and a half times, under 150 kB each."""
    tried, times = Tried("growth"), {}
    with tempfile.TemporaryDirectory() as folder, ExitStack() as served:
        lines = {}
        for size in (100, jobs):
            data = Path(folder) / f"{size}.sqlite3"
            grown(data, size)
            with on_one_processor():
                process, port = served.enter_context(serving_process(data))
            lines[size] = process.pid or 0, port
        for path in PATHS:
            # Turn by turn: the machine's mood meets both alike.
            taken: dict[int, list[float]] = {size: [] for size in lines}
            weighs = dict.fromkeys(lines, 0)
            for _ in range(rounds):
                for size, (pid, port) in lines.items():
                    start = spent_ms(pid)
                    with urllib.request.urlopen(f"http://127.0.0.1:{port}{path}", timeout=60) as page:
                        weighs[size] = len(page.read())
                    taken[size].append(spent_ms(pid) - start)
            for size, row in taken.items():
                times[path, size] = min(row)
                tried.hold(weighs[size] < 150_000, f"{path} of {size} jobs: {weighs[size] / 1000:.0f} kB")
    for path in PATHS:
        few, many = times[path, 100], times[path, jobs]
        tried.hold(many < MOST_TIMES * few, f"{path}: {few:.1f} ms with 100 jobs, {many:.1f} with {jobs}")
    ratios = (f"{times[path, jobs] / times[path, 100]:.2f}" for path in PATHS)
    tried.told = f"{jobs} jobs: Stand, Bikes, finding, Bin {', '.join(ratios)} times 100's"
    return tried


@contextmanager
def on_one_processor() -> Iterator[None]:
    """Processes that are begun within it share a processor, for one may be slower than another."""
    usual = os.sched_getaffinity(0)
    os.sched_setaffinity(0, {min(usual)})
    yield
    os.sched_setaffinity(0, usual)


def spent_ms(pid: int) -> float:
    """What a process has had of the processor so far; it hangs on no other program's work."""
    return time.clock_gettime(~pid << 3 | PROCESS_CLOCK) * 1000


def grown(path: Path, jobs: int) -> None:
    """A data file with so many jobs, half of them booked, five revisions and an off-cut each."""
    with closing(Database(path)) as database:
        fill(database)
        with database.atomic() as connection:
            for i in range(jobs):
                document = random_bike(i % 50, "rigid") | {"name": f"Otter {i}"}
                bike = add_bike(connection, document, "grown for the campaign")
                history = begin(
                    connection, "job", JobState(document, None, Observed()).content, "2026-01-01T00:00:00+00:00"
                )
                for _ in range(4):
                    connection.execute(
                        "INSERT INTO revision (history_id, parent_id, content, message, made_at)"
                        " SELECT history_id, id, content, message, made_at FROM revision WHERE history_id = ?"
                        " ORDER BY id DESC LIMIT 1",
                        (history,),
                    )
                booked = "2026-02-01T00:00:00+00:00" if i % 2 else None
                job = connection.execute(
                    "INSERT INTO job (bike_id, history_id, opened_at, booked_at) VALUES (?, ?, ?, ?)",
                    (bike, history, "2026-01-01T00:00:00+00:00", booked),
                ).lastrowid
                if booked:
                    booking = connection.execute(
                        "INSERT INTO booking (job_id, bike_id, links, joiner, speeds, document_before, booked_at)"
                        " VALUES (?, ?, 112, 'quick_link', 9, ?, ?)",
                        (job, bike, json.dumps(document), booked),
                    ).lastrowid
                    fit_loop(connection, LOOP, Owner(job, bike, booking), booked)
