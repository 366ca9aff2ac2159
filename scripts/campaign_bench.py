"""The workshop's chain under several clients with stale pages: after every step all of it adds up."""

import json
import random
import tempfile
import time
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import closing, contextmanager, suppress
from functools import partial
from itertools import combinations_with_replacement
from pathlib import Path

from campaign_tried import Tried
from starlette.testclient import TestClient

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.chain.moves import PieceSource
from lone_pike.core.messages import LengthUnit
from lone_pike.core.refusals import NotThere, Refusal
from lone_pike.formats.records.chain_rows import without_chain_at_hand
from lone_pike.formats.typed.bin_form import read_label
from lone_pike.store.audit import audit
from lone_pike.store.bikes import bike_document
from lone_pike.store.bookings import bookings_of
from lone_pike.store.chains import chain_by_id
from lone_pike.store.database import Database
from lone_pike.store.jobs import job_by_id
from lone_pike.web.app import create_app
from lone_pike.workshop import bikes, bin, bookings, cutting, jobs
from lone_pike.workshop.bin import add_piece
from lone_pike.workshop.edits import job_there

NOW = "2026-05-01T08:00:00+00:00"
STEPS_A_FILE, BIKES, MOST_BIKES = 500, 4, 12
JOINERS = ("quick_link", "joining_pin")
MEASURED = {
    "lone_pike": 1, "rings": [32], "cogs": [11, 13, 15, 18, 21, 24, 28, 30, 32], "chainstay_mm": 440,
    "take_up": {"type": "derailleur", "cage_mm": 90}, "chain": {"speeds": 9, "joiner": "quick_link"},
}  # fmt: skip


class Bench:
    """A small workshop, and what its clients can press; each press may come from a page that is long out of date."""

    def __init__(self, database: Database, client: TestClient, lot: random.Random) -> None:
        self.database, self.client, self.lot = database, client, lot
        for i in range(BIKES):
            jobs.start_from_file(database, json.dumps(MEASURED | {"name": f"Knot {i}"}).encode(), NOW)
        for i, count in enumerate((57, 61, 90, 113, 180, 21)):
            add_piece(database, read_label(f"LP1*{count}*{'IO'[i % 2]}*9*0*P-{i}"), PieceSource.SCAN, NOW)

    def press(self) -> tuple[str, int]:
        """One press of a client. Returns: what was sent, and the status of the answer."""
        path, form = self.lot.choice(PRESSES)(self)
        answer = self.client.post(path, data=form, follow_redirects=False)
        return f"{path} {json.dumps(form)}", answer.status_code

    def job(self) -> int:
        """An open job, or at times any, booked and closed ones too."""
        return self._one_of("SELECT id FROM job WHERE booked_at IS NULL AND closed_at IS NULL", "job")

    def booked_job(self) -> int:
        """A booked job, or at times any."""
        return self._one_of("SELECT id FROM job WHERE booked_at IS NOT NULL", "job")

    def closed_job(self) -> int:
        """A closed job, or at times any."""
        return self._one_of("SELECT id FROM job WHERE closed_at IS NOT NULL", "job")

    def bike(self) -> int:
        """Any bike."""
        return self.lot.randint(1, self._most("bike"))

    def chain(self) -> int:
        """Any chain, or at times none."""
        return self.lot.randint(1, max(self._most("chain"), 1) + 1)

    def piece(self) -> int:
        """A free piece, or at times any, wherever it is."""
        return self._one_of("SELECT id FROM piece WHERE place = 'bin'", "piece")

    def saw(self, job_id: int) -> str:
        """The newest revision of a job, or at times an old one."""
        job = job_by_id(self.database, job_id)
        if job is None or self.lot.random() < 0.2:
            return str(self.lot.randint(1, self._most("revision")))
        return str(job.revision_id)

    def at(self, job_id: int, path: str, **form: str) -> tuple[str, dict[str, str]]:
        """A form of a job's page."""
        return f"/jobs/{job_id}/{path}", {"saw": self.saw(job_id), **form}

    def _one_of(self, sql: str, table: str) -> int:
        usual = [int(row[0]) for row in self.database.connection.execute(sql)]
        usual_one = usual and self.lot.random() < 0.85
        return self.lot.choice(usual) if usual_one else self.lot.randint(1, self._most(table) + 1)

    def _most(self, table: str) -> int:
        return int(self.database.connection.execute(f"SELECT coalesce(max(id), 0) FROM {table}").fetchone()[0])


Sent = tuple[str, dict[str, str]]


def _typed_pieces(bench: Bench) -> Sent:
    rows = [
        f"{bench.lot.choice((21, 40, 57, 61, 120))} {bench.lot.choice(('inner', 'outer'))}"
        + (f" bin {bench.piece()}" if bench.lot.random() < 0.5 else "")
        for _ in range(bench.lot.randint(0, 3))
    ]
    return bench.at(bench.job(), "measure", **{"chain.pieces": "; ".join(rows)})


def _typed_box(bench: Bench) -> Sent:
    return bench.at(bench.job(), "measure", **{"chain.box_links": bench.lot.choice(("", "114", "118", "126", "60"))})


def _typed_other(bench: Bench) -> Sent:
    change = {"chainstay_mm": str(bench.lot.randint(425, 450)), "chain.joiner": bench.lot.choice(JOINERS)}
    return bench.at(bench.job(), "measure", **change)


def _started(bench: Bench) -> Sent:
    form = {"bike": str(bench.bike())}
    few = bench.database.connection.execute("SELECT count(*) FROM bike").fetchone()[0] < MOST_BIKES
    return "/jobs", form | ({"copy": "yes"} if few and bench.lot.random() < 0.2 else {})


def _taken(bench: Bench) -> Sent:
    numbers = [str(bench.piece()) for _ in range(bench.lot.randint(1, 3))]
    return bench.at(bench.job(), "from-bin", pieces=",".join(numbers))


def _undone_chain(bench: Bench) -> Sent:
    chain = chain_by_id(bench.database.connection, bench.chain())
    saw = chain.revision_id if chain and bench.lot.random() < 0.8 else bench.lot.randint(1, 99)
    return f"/chains/{chain.id if chain else 1}/undo", {"saw": str(saw)}


PRESSES: list[Callable[[Bench], Sent]] = [
    _typed_pieces,
    _typed_box,
    _typed_other,
    _started,
    _taken,
    _taken,
    lambda bench: bench.at(bench.job(), "slip", rivet=str(bench.lot.randint(1, 120))),
    lambda bench: bench.at(bench.job(), "undo"),
    lambda bench: bench.at(bench.job(), "undo"),
    lambda bench: bench.at(bench.job(), "choose", links=str(bench.lot.choice((60, 90, 100, 108, 112, 113)))),
    lambda bench: bench.at(bench.job(), "book"),
    lambda bench: bench.at(bench.job(), "book"),
    lambda bench: bench.at(bench.booked_job(), "take-back"),
    lambda bench: bench.at(bench.booked_job(), "chain-off"),
    lambda bench: bench.at(bench.job(), "close"),
    lambda bench: bench.at(bench.closed_job(), "reopen"),
    lambda bench: bench.at(bench.closed_job(), "reopen"),
    lambda bench: bench.at(bench.job(), "book", keeps_old="yes"),
    lambda bench: (f"/chains/{bench.chain()}/put-on", {"bike_id": str(bench.bike())}),
    lambda bench: (f"/chains/{bench.chain()}/put-on", {"bike_id": str(bench.bike())}),
    lambda bench: (f"/chains/{bench.chain()}/take-off", {}),
    lambda bench: (f"/chains/{bench.chain()}/end", {"ending": bench.lot.choice(("worn", "broken", "apart"))}),
    _undone_chain,
    _undone_chain,
    lambda bench: (f"/bikes/{bench.bike()}/chain", {"links": "112", "speeds": "9"}),
    lambda bench: (f"/bikes/{bench.bike()}/put-away", {}),
    lambda bench: (f"/bin/{bench.piece()}/take", {}),
    lambda bench: (f"/bin/{bench.piece()}/lay-back", {}),
    lambda bench: ("/bin", {"links": str(bench.lot.randint(1, 130)), "speeds": "9", "first_end": "outer"}),
]


def bench(seed: int, count: int) -> Tried:
    """Random presses of several clients, each step audited."""
    tried, lot = Tried("chain adds up"), random.Random(seed)
    for start in range(0, count, STEPS_A_FILE):
        with new_file() as database:
            client = TestClient(create_app(database, frozenset({"testserver"})), raise_server_exceptions=False)
            workshop = Bench(database, client, lot)
            for i in range(start, min(start + STEPS_A_FILE, count)):
                sent, status = workshop.press()
                found = audit(database)
                what = f"seed {seed}, step {i}: {sent}: {status}"
                tried.hold(status < 500 and found.is_sound, f"{what} {found.troubles if status < 500 else ''}")
    return tried


@contextmanager
def new_file() -> Iterator[Database]:
    """An empty data file that need not outlive a loss of power."""
    folder = tempfile.TemporaryDirectory(prefix="campaign-")
    with folder as path, closing(Database(Path(path) / "workshop.sqlite3")) as database:
        database.connection.execute("PRAGMA synchronous = OFF")
        yield database


AT_ONCE_SECONDS = 0.05
"""Two presses fall within so short a time."""

Operation = Callable[[Database, int, int], object]
OPERATIONS: dict[str, Operation] = {
    "book": lambda data, job_id, saw: bookings.book(data, job_id, saw, NOW),
    "undo": lambda data, job_id, saw: jobs.undo(data, job_id, saw, NOW),
    "close": lambda data, job_id, _: jobs.close(data, job_id, NOW),
    "measure": lambda data, job_id, saw: jobs.keep_measures(
        data, job_id, saw, {"chainstay_mm": "433"}, LengthUnit.MM, NOW
    ),
    "choose": lambda data, job_id, saw: jobs.choose(data, job_id, saw, "108", NOW),
    "slip": lambda data, job_id, saw: cutting.cut_by_mistake(data, job_id, saw, "30", NOW),
    "take": lambda data, job_id, saw: cutting.take_from_bin(data, job_id, saw, [1], NOW),
    "undo booking": lambda data, job_id, _: bookings.undo_booking(data, job_id, NOW),
    "chain off": lambda data, job_id, _: bookings.take_chain_off(data, job_id, NOW),
    "start": lambda data, job_id, _: jobs.start_on(data, job_there(data, job_id).bike_id, NOW),
    "put away": lambda data, job_id, _: bikes.put_bike_away(data, job_there(data, job_id).bike_id, NOW),
    "reopen": lambda data, job_id, _: jobs.reopen(data, job_id, NOW),
    "take out": lambda data, *_: bin.take_out(data, 1, NOW),
}


def pairs(seed: int, times: int, *, with_all: bool = True) -> Tried:
    """Each two operations on one job, pressed in the same moment: both are refused or done one after the other.

    Parameters: with_all, whether every two are tried, or only each with a booking.
    """
    tried, lot = Tried("two presses at once"), random.Random(seed)
    for first, second in combinations_with_replacement(OPERATIONS, 2):
        if not with_all and "book" not in (first, second):
            continue
        with new_file() as database, ThreadPoolExecutor(2) as hands:
            add_piece(database, read_label("LP1*113*I*9*0*P-0"), PieceSource.SCAN, NOW)
            for i in range(times):
                job_id = _job_to_press(database, booked=bool({"undo booking", "chain off"} & {first, second}))
                saw = job_there(database, job_id).revision_id
                broke = [
                    one
                    for one in hands.map(partial(_pressed, database, job_id, saw, lot.random()), (first, second))
                    if one
                ]
                found = audit(database)
                what = f"{first} and {second}, seed {seed}, try {i}: {broke} {found.troubles}"
                tried.hold(not broke and found.is_sound and _is_whole(database, job_id), what)
                _let_go(database, job_id)
    return tried


def _job_to_press(database: Database, *, booked: bool) -> int:
    box = {"chain": {**MEASURED["chain"], "box_links": 120}}  # type: ignore[dict-item]
    job_id = jobs.start_from_file(database, json.dumps(MEASURED | box | {"name": "Knot"}).encode(), NOW)
    jobs.choose(database, job_id, job_there(database, job_id).revision_id, "112", NOW)
    if booked:
        bookings.book(database, job_id, job_there(database, job_id).revision_id, NOW)
    return job_id


def _pressed(database: Database, job_id: int, saw: int, wait: float, name: str) -> str:
    """Presses after a moment. Returns: what broke, which a refusal does not."""
    time.sleep(wait * AT_ONCE_SECONDS if name != "book" else 0)
    try:
        OPERATIONS[name](database, job_id, saw)
    except (Refusal, InvalidInput):
        return ""
    except Exception as error:
        return f"{name}: {error!r}"
    return ""


def _is_whole(database: Database, job_id: int) -> bool:
    """A booked job is closed to edits: its bike is just as the job has it."""
    job = job_there(database, job_id)
    newest = bookings_of(database, job.bike_id)
    if not job.booked_at or not newest or newest[0].job_id != job_id:
        return True
    return not job.closed_at and bike_document(database.connection, job.bike_id) == without_chain_at_hand(job.document)


def _let_go(database: Database, job_id: int) -> None:
    """The piece is free again for the next try."""
    job = job_there(database, job_id)
    if not job.booked_at and not job.closed_at:
        jobs.close(database, job_id, NOW)
    with suppress(NotThere):  # the first piece was cut
        bin.put_back(database, 1, NOW)
