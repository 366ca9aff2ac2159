"""Tries to break the workshop, and says what held; other seeds on each run, printed. Called by scripts/campaign."""

import argparse
import http.client
import json
import multiprocessing
import os
import random
import resource
import signal
import socket
import sqlite3
import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from contextlib import closing
from dataclasses import dataclass, field
from io import BytesIO
from pathlib import Path
from typing import Any
from urllib.parse import urlencode

from PIL import Image
from rich.console import Console
from rich.table import Table

sys.path.insert(0, str(Path(__file__).parent.parent))

from tests.core.random_bikes import KINDS, random_bike, random_slot

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.judging.answer import answer
from lone_pike.demo.workshop import fill
from lone_pike.formats.bike_file import bike_from_document, read_bike
from lone_pike.formats.photo_file import read_photo
from lone_pike.store.bikes import add_bike
from lone_pike.store.database import Database
from lone_pike.store.history import begin
from lone_pike.store.jobs import JobState
from lone_pike.store.keeping import problems_of
from lone_pike.web import guard, serving

PORT = 8811
SLOWEST_SECONDS = 3.0
"""An answer or a reading that takes longer holds the bench up."""


@dataclass
class Tried:
    """One part of the campaign: how many were tried, and what broke, in a line each."""

    part: str
    tried: int = 0
    broke: list[str] = field(default_factory=list)
    told: str = ""

    def hold(self, holds: bool, line: str) -> None:
        """Counts one try."""
        self.tried += 1
        if not holds:
            self.broke.append(line)


def guarded(tried: Tried, line: str, work: Callable[[], object], *allowed: type[Exception]) -> None:
    """One try that may raise what is allowed and must not take long."""
    start = time.monotonic()
    try:
        work()
    except allowed:
        pass
    except Exception as error:
        tried.hold(False, f"{line}: {error!r}")
        return
    took = time.monotonic() - start
    tried.hold(took < SLOWEST_SECONDS, f"{line}: took {took:.1f} s")


ODD_VALUES: list[Any] = [
    None, True, -1, 0, 1, 3.5, 1e9, -1e9, 1e300, "", "x", "9" * 5000, [], [[]], {}, [None], ["x"] * 50, [0] * 2000,
    {"type": "slot"}, {"type": "none"}, "±", "\x00", "11-46", 10**40,
]  # fmt: skip


def bent(document: dict[str, Any], lot: random.Random) -> dict[str, Any]:
    """A document with one to three places changed for something odd."""
    bike: dict[str, Any] = json.loads(json.dumps(document))
    for _ in range(lot.randint(1, 3)):
        here: Any = bike
        while True:
            keys = list(here) if isinstance(here, dict) else list(range(len(here)))
            if not keys:
                break
            key = lot.choice(keys)
            if isinstance(here[key], dict | list) and here[key] and lot.random() < 0.6:
                here = here[key]
                continue
            move = lot.random()
            if move < 0.4:
                here[key] = json.loads(json.dumps(lot.choice(ODD_VALUES)))
            elif isinstance(here[key], int | float) and not isinstance(here[key], bool):
                here[key] = here[key] * lot.choice([-1, 0, 0.5, 0.9, 1.1, 2, 10])
            elif isinstance(here, dict) and move < 0.9:
                here[f"{key}x" if move > 0.7 else key] = here.pop(key)
            break
    return bike


def bikes(seed: int, count: int) -> Tried:
    """Random bikes of every kind and bent ones: each has an answer, or faults that name their fields."""
    tried, lot = Tried("bikes and bent files"), random.Random(seed)
    for i in range(count):
        kind = lot.choice([*KINDS, "slot"])
        number = lot.randrange(10**6)
        document = random_slot(number) if kind == "slot" else random_bike(number, kind)
        if lot.random() < 0.6:
            document = bent(document, lot)

        def work(document: dict[str, Any] = document) -> None:
            answered = answer(bike_from_document(document))
            if not (answered.why and answered.warnings is not None and 0 < answered.links < 1000):
                raise ValueError("an answer that is none")

        guarded(tried, f"seed {seed}, bike {i}: {json.dumps(document)[:300]}", work, InvalidInput)
    many = {"lone_pike": 1, "name": "x"} | {f"key{i}": i for i in range(2000)}
    for line, data in {
        "2 000 unknown keys": json.dumps(many).encode(),
        "lists without end": b"[" * 200_000,
        "10 000 blanks": json.dumps({"name": " " * 10_000}).encode(),
        "no text": b"\xff\xfe\x00" * 999,
        "too large": b" " * 300_000,
    }.items():
        guarded(tried, line, lambda data=data: read_bike(data), InvalidInput)
    return tried


PATHS = [
    "/", "/bikes", "/bin", "/shop", "/healthz", "/jobs", "/jobs/{n}", "/jobs/{n}/measure", "/jobs/{n}/size",
    "/jobs/{n}/cut", "/jobs/{n}/book", "/jobs/{n}/tally", "/jobs/{n}/photo", "/jobs/{n}/typed", "/jobs/{n}/sure",
    "/jobs/{n}/choose", "/jobs/{n}/undo", "/jobs/{n}/take-back", "/jobs/{n}/bike.json", "/jobs/{n}/photo/mark",
    "/jobs/{n}/photo/scale", "/jobs/{n}/photo/take", "/jobs/{n}/photo/{n}.jpg", "/bikes/{n}", "/bikes/{n}/bike.json",
    "/shop/undo", "/static/app.css", "/nowhere", "/static/../app.py", "/jobs/{n}/{n}",
]  # fmt: skip
NAMES = [
    "saw", "chainstay_mm", "rings", "cogs", "take_up.cage_mm", "take_up.class", "suspension.type", "suspension.points",
    "idlers", "chain.box_links", "links", "ring", "cog", "travel", "then", "stage", "find", "page", "mark", "to", "by",
    "at.x", "at.y", "unit", "name", "whole", "least_reserve_deg", "observed.steps", "scale", "old_chain.links", "note",
]  # fmt: skip
TEXTS = [
    "", "0", "-1", "431,5", "432 ± 3", "±", "11-46 x 11", "58 pairs", "9" * 5000, " " * 10_000, "\x00", "%", "4", "12",
    "<script>alert(1)</script>", "１２", "½", "1e999", "NaN", "null", "pivot", "table", "0 432\n100 440", "ring",
    "drive over 15 -700 -40", "'; DROP TABLE job", "../../etc", "size", "🐟" * 99,
]  # fmt: skip
IDS = ["1", "4", "6", "999999", "-1", "0", "x", "9" * 300, "4 ", "%00", "1.0"]


def requests(seed: int, count: int) -> Tried:
    """Requests that no page makes, on one connection: answered in words, in time, with every header."""
    tried, lot = Tried("hostile requests"), random.Random(seed)
    with serving_process() as (_, port):
        line = http.client.HTTPConnection("127.0.0.1", port, timeout=20)
        for i in range(count):
            path = lot.choice(PATHS)
            while "{n}" in path:
                path = path.replace("{n}", lot.choice(IDS), 1)
            sent = urlencode([(lot.choice(NAMES), lot.choice(TEXTS)) for _ in range(lot.randint(0, 6))])
            method = lot.choice(["GET", "GET", "POST", "POST", "PUT", "DELETE", "HEAD", "BREW"])
            headers = {"Content-Type": lot.choice(["application/x-www-form-urlencoded", "text/odd; charset=x", "\x01"])}
            headers |= lot.choice([{}, {}, {"Origin": "null"}, {"HX-Request": "true", "HX-Request-Type": "partial"}])
            address = path.replace(" ", "%20") + ("" if method == "POST" or not sent else f"?{sent}")
            start = time.monotonic()
            try:
                line.request(method, address[:60_000], sent if method == "POST" else None, headers)
                answered = line.getresponse()
                answered.read()
            except (http.client.HTTPException, OSError, ValueError) as error:
                line.close()
                tried.hold(
                    isinstance(error, ValueError | http.client.InvalidURL), f"{method} {address[:200]}: {error!r}"
                )
                continue
            took = time.monotonic() - start
            policed = answered.headers.get("Content-Security-Policy") or answered.status == 400
            holds = answered.status < 500 and policed and took < SLOWEST_SECONDS
            what = f"seed {seed}, request {i}: {method} {address[:200]} {sent[:300]}"
            tried.hold(bool(holds), f"{what}: {answered.status}, {took:.1f} s")
    return tried


class serving_process:
    """A workshop served by a process of its own; stopped, or killed, at the end. Limits on slow clients are short."""

    def __init__(self, data: Path | None = None, most_bytes: int = 0) -> None:
        self.folder = tempfile.TemporaryDirectory(prefix="campaign-")
        self.data = data or Path(self.folder.name) / "workshop.sqlite3"
        self.most_bytes = most_bytes
        if not self.data.exists():
            with closing(Database(self.data)) as database:
                fill(database)

    def __enter__(self) -> tuple[multiprocessing.Process, int]:
        port = free_port()
        self.process = multiprocessing.Process(target=_serve, args=(self.data, port, self.most_bytes), daemon=True)
        self.process.start()
        until = time.monotonic() + 20
        while time.monotonic() < until:
            with socket.socket() as probe:
                if probe.connect_ex(("127.0.0.1", port)) == 0:
                    break
            time.sleep(0.02)
        return self.process, port

    def __exit__(self, *_: object) -> None:
        self.process.terminate()
        self.process.join(20)
        self.folder.cleanup()


def free_port() -> int:
    """A port that nothing listens on."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


def _serve(data: Path, port: int, most_bytes: int) -> None:
    serving.HEAD_SECONDS, guard.BODY_SECONDS, guard.HEARD_OUT_SECONDS = 2, 2.0, 2.0
    sys.stdout = sys.stderr = Path(os.devnull).open("w")  # noqa: SIM115
    if most_bytes:
        signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
        resource.setrlimit(resource.RLIMIT_FSIZE, (most_bytes, most_bytes))
    serving.serve_workshop(data, "127.0.0.1", port)


def keep(line: http.client.HTTPConnection, text: str) -> int:
    """Keeps one measure of job 4; returns the status."""
    body = urlencode({"saw": "0", "chainstay_mm": text})
    line.request("POST", "/jobs/4/measure", body, {"Content-Type": "application/x-www-form-urlencoded"})
    answered = line.getresponse()
    answered.read()
    return answered.status


def kept_chainstays(data: Path) -> set[float]:
    """Every chainstay that job 4 ever had."""
    with closing(Database(data)) as database:
        rows = database.connection.execute(
            "SELECT json_extract(content, '$.document.chainstay_mm') FROM revision"
            " JOIN job ON job.history_id = revision.history_id WHERE job.id = 4"
        )
        return {float(row[0]) for row in rows if row[0] is not None}


def kills(seed: int, count: int) -> Tried:
    """The server is killed while it saves: what it said it had kept is there, and the file is whole."""
    tried, lot = Tried("kills while saving"), random.Random(seed)
    saved = 0
    with tempfile.TemporaryDirectory() as folder:
        data = Path(folder) / "workshop.sqlite3"
        told: set[float] = set()
        for i in range(count):
            with serving_process(data) as (process, port):
                until = time.monotonic() + lot.uniform(0.05, 0.6)
                line = http.client.HTTPConnection("127.0.0.1", port, timeout=10)
                while time.monotonic() < until:
                    value = round(400 + len(told) / 100, 2)
                    if keep(line, str(value)) == 303:
                        told.add(value)
                        saved += 1
                process.kill()
                process.join()
            lost = told - kept_chainstays(data)
            tried.hold(not lost and not problems_of(data), f"seed {seed}, kill {i}: lost {sorted(lost)[:5]}")
    tried.told = f"{saved} acknowledged saves"
    return tried


def disk_and_lock() -> Tried:
    """A full disk and a long lock: a page that names the cause, the text in it, nothing lost, and then it goes on."""
    tried = Tried("full disk, long lock")
    with tempfile.TemporaryDirectory() as folder:
        data = Path(folder) / "workshop.sqlite3"
        with closing(Database(data)) as database:
            fill(database)
        with serving_process(data, most_bytes=data.stat().st_size + 200_000) as (_, port):
            line, statuses = http.client.HTTPConnection("127.0.0.1", port, timeout=20), []
            while len(statuses) < 900 and (not statuses or statuses[-1] == 303):
                statuses.append(keep(line, str(round(410 + len(statuses) / 50, 2))))
        tried.hold(statuses[-1] == 503, f"a full disk answered {statuses[-1]} after {len(statuses)} saves")
        tried.hold(len(kept_chainstays(data)) >= len(statuses) - 1 and not problems_of(data), "a full disk lost a save")
        with serving_process(data) as (_, port):
            line = http.client.HTTPConnection("127.0.0.1", port, timeout=20)
            with closing(sqlite3.connect(data, isolation_level=None)) as other:
                other.execute("BEGIN IMMEDIATE")
                tried.hold(keep(line, "455.5") == 503, "a lock was not told")
                other.execute("ROLLBACK")
            tried.hold(keep(line, "456.5") == 303, "after a lock nothing is kept")
    return tried


def images() -> Tried:
    """Pictures whole, broken and monstrous: read, or refused in words, and never much memory."""
    tried = Tried("images")

    def picture(kind: str, size: tuple[int, int], mode: str = "RGB") -> bytes:
        out = BytesIO()
        Image.new(mode, size).save(out, kind)
        return out.getvalue()

    whole = picture("JPEG", (1200, 900))
    files = {
        **{
            f"{kind} {mode}": picture(kind, (640, 480), mode)
            for kind in ("PNG", "WEBP")
            for mode in ("RGB", "RGBA", "L")
        },
        **{f"PNG {mode}": picture("PNG", (640, 480), mode) for mode in ("RGB", "RGBA", "L", "1", "P", "I;16", "LA")},
        **{f"JPEG cut at {share}": whole[: len(whole) * share // 10] for share in range(10)},
        **{f"JPEG bent at {at}": whole[:at] + b"\xff\x00\xee" + whole[at + 3 :] for at in (2, 20, 200, 2000)},
        "GIF": picture("GIF", (640, 480)),
        "BMP": picture("BMP", (640, 480)),
        "small": picture("PNG", (299, 800)),
        "a long strip": picture("PNG", (300, 266_000), "1"),
        "more than 24 megapixels": picture("PNG", (6001, 4001), "1"),
        "24 megapixels": picture("JPEG", (6000, 4000)),
        "nothing": b"",
        "text": b"not a picture " * 99,
    }
    for name, data in files.items():
        guarded(tried, name, lambda data=data: read_photo(data), InvalidInput)
    for name in ("a long strip", "more than 24 megapixels", "GIF", "nothing"):
        refused = False
        try:
            read_photo(files[name])
        except InvalidInput:
            refused = True
        tried.hold(refused, f"{name} was taken in")
    with multiprocessing.get_context("spawn").Pool(1) as pool:
        peak_mb = pool.apply(_peak_mb, (files["24 megapixels"],))
    tried.hold(peak_mb < 300, f"24 megapixels took {peak_mb:.0f} MB")
    tried.told = f"peak {peak_mb:.0f} MB"
    return tried


def _peak_mb(data: bytes) -> float:
    """The most memory a process has held that read a photo, MB."""
    read_photo(data)
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1000


def slow_clients() -> Tried:
    """Clients that send half a head, half a body, or go away: they are let go, and others are answered meanwhile."""
    tried = Tried("slow clients")
    head = "POST /jobs HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Type: application/x-www-form-urlencoded\r\n"
    body = f"{head}Content-Length: 99\r\n\r\nna".encode()
    with serving_process() as (_, port):
        for name, sent in {"half a head": b"GET / HTTP/1.1\r\nHost: 127", "half a body": body, "nothing": b""}.items():
            clients = [socket.create_connection(("127.0.0.1", port)) for _ in range(20)]
            for client in clients:
                client.sendall(sent)
            line = http.client.HTTPConnection("127.0.0.1", port, timeout=5)
            line.request("GET", "/healthz")
            tried.hold(line.getresponse().status == 200, f"{name}: others were not answered")
            ended = 0
            for client in clients:
                client.settimeout(8)
                try:
                    told = client.recv(4096)
                    ended += told == b"" or b"408" in told
                except OSError:
                    pass
                client.close()
            tried.hold(ended == len(clients), f"{name}: {ended} of {len(clients)} were let go")
        for _ in range(5):
            with socket.create_connection(("127.0.0.1", port)) as client:
                client.sendall(body)
        line = http.client.HTTPConnection("127.0.0.1", port, timeout=5)
        line.request("GET", "/")
        tried.hold(line.getresponse().status == 200, "clients that went away took the stand with them")
    return tried


def growth(jobs: int) -> Tried:
    """Pages over a grown data file against a small one: within one and a half times, under 150 kB each."""
    tried, times = Tried("growth"), {}
    with tempfile.TemporaryDirectory() as folder:
        for size in (100, jobs):
            data = Path(folder) / f"{size}.sqlite3"
            grown(data, size)
            with serving_process(data) as (_, port):
                line = http.client.HTTPConnection("127.0.0.1", port, timeout=60)
                for path in ("/", "/bikes", "/bikes?find=Otter+7", "/bin"):
                    taken = []
                    for _ in range(24):
                        start = time.perf_counter()
                        line.request("GET", path)
                        body = line.getresponse().read()
                        taken.append((time.perf_counter() - start) * 1000)
                    times[path, size] = statistics.median(taken[4:])
                    tried.hold(len(body) < 150_000, f"{path} of {size} jobs: {len(body) / 1000:.0f} kB")
    for path in ("/", "/bikes", "/bikes?find=Otter+7", "/bin"):
        few, many = times[path, 100], times[path, jobs]
        tried.hold(many < max(1.5 * few, few + 5), f"{path}: {few:.1f} ms with 100 jobs, {many:.1f} with {jobs}")
    ratios = (f"{times[path, jobs] / times[path, 100]:.2f}" for path in ("/", "/bikes", "/bin"))
    tried.told = f"{jobs} jobs: Stand, Bikes, Bin {', '.join(ratios)} times 100's"
    return tried


def grown(path: Path, jobs: int) -> None:
    """A data file with so many jobs, half of them booked, five revisions and an off-cut each."""
    with closing(Database(path)) as database:
        fill(database)
        with database.atomic() as connection:
            for i in range(jobs):
                document = random_bike(i % 50, "rigid") | {"name": f"Otter {i}"}
                bike = add_bike(connection, document, "grown for the campaign")
                history = begin(connection, "job", JobState(document, None, {}).content, "2026-01-01T00:00:00+00:00")
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
                    connection.execute(
                        "INSERT INTO offcut (booking_id, links, first_end, last_end, speeds, origin, laid_in_at)"
                        " VALUES (?, 8, 'inner', 'outer', 9, ?, ?)",
                        (booking, f"Otter {i}", booked),
                    )


def main() -> None:
    """Runs every part, and prints what held."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--short", action="store_true", help="under a minute")
    parser.add_argument("--seed", type=int, default=random.SystemRandom().randrange(10**6))
    arguments = parser.parse_args()
    seed, short = arguments.seed, arguments.short
    parts: list[Callable[[], Tried]] = [
        lambda: bikes(seed, 250 if short else 8000),
        lambda: requests(seed, 600 if short else 10_000),
        lambda: kills(seed, 3 if short else 30),
        disk_and_lock,
        images,
        slow_clients,
        lambda: growth(400 if short else 10_000),
    ]
    table = Table("what", "tried", "held", "broke", "measured", title=f"seed {seed}")
    lines: list[str] = []
    for part in parts:
        start = time.monotonic()
        tried = part()
        lines += tried.broke
        held = tried.tried - len(tried.broke)
        took = f"{time.monotonic() - start:.0f} s"
        table.add_row(
            tried.part, str(tried.tried), str(held), str(len(tried.broke)), ", ".join(filter(None, [tried.told, took]))
        )
    Console(width=120).print(table)
    print(*lines[:40], sep="\n")
    sys.exit(1 if lines else 0)


if __name__ == "__main__":
    main()
