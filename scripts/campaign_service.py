"""Parts of the campaign against a served workshop: requests, kills, a full disk, a lock, slow clients, growth."""

import http.client
import multiprocessing
import os
import random
import resource
import signal
import socket
import sqlite3
import sys
import tempfile
import time
from contextlib import closing, suppress
from pathlib import Path
from urllib.parse import urlencode

from campaign_tried import SHORT, SLOWEST_SECONDS, Tried

sys.path.insert(0, str(Path(__file__).parent.parent))


from lone_pike.demo.workshop import fill
from lone_pike.store.audit import audit
from lone_pike.store.database import Database
from lone_pike.store.keeping import problems_of
from lone_pike.web import guard, serving
from lone_pike.workshop.access import set_passcode
from lone_pike.workshop.clock import now

PATHS = [
    "/", "/bikes", "/bin", "/shop", "/healthz", "/jobs", "/jobs/{n}", "/jobs/{n}/measure", "/jobs/{n}/size",
    "/jobs/{n}/cut", "/jobs/{n}/book", "/jobs/{n}/tally", "/jobs/{n}/photo", "/jobs/{n}/typed", "/jobs/{n}/sure",
    "/jobs/{n}/choose", "/jobs/{n}/undo", "/jobs/{n}/take-back", "/jobs/{n}/bike.json", "/jobs/{n}/photo/mark",
    "/jobs/{n}/photo/scale", "/jobs/{n}/photo/take", "/jobs/{n}/photo/{n}.jpg", "/bikes/{n}", "/bikes/{n}/bike.json",
    "/jobs/{n}/route", "/jobs/{n}/route/drag", "/jobs/{n}/join", "/jobs/{n}/slip", "/jobs/{n}/from-bin",
    "/jobs/{n}/weigh", "/jobs/{n}/wheel", "/jobs/{n}/strip.pdf", "/jobs/{n}/picture/rail.svg", "/bin/{n}",
    "/bin/{n}/take", "/bin/scan", "/bin/joiners", "/devices/counter", "/devices/scale", "/shop/undo",
    "/static/app.css", "/nowhere", "/static/../app.py", "/jobs/{n}/{n}",
]  # fmt: skip
USUAL_FILES = 1024
"""Files that a process may have open where nobody says otherwise."""

NAMES = [
    "saw", "chainstay_mm", "rings", "cogs", "take_up.cage_mm", "take_up.class", "suspension.type",
    "suspension.points", "idlers", "chain.box_links", "links", "ring", "cog", "travel", "then", "stage", "find",
    "page", "mark", "to", "by", "at.x", "at.y", "unit", "name", "whole", "least_reserve_deg", "observed.steps",
    "scale", "old_chain.links", "note", "do", "idler", "idler.teeth", "idler.forward", "idler.up", "tape.crank",
    "tape.axle", "x", "y", "run", "tubes", "near", "pieces", "rivet", "piece", "counted", "label", "chain", "change",
    "kind", "speeds", "chain.pieces", "observed.threaded",
]  # fmt: skip
TEXTS = [
    "", "0", "-1", "431,5", "432 ± 3", "±", "11-46 x 11", "58 pairs", "9" * 5000, " " * 10_000, "\x00", "%", "4",
    "12", "<script>alert(1)</script>", "１２", "½", "1e999", "NaN", "null", "pivot", "table", "0 432\n100 440", "ring",
    "drive over 15 -700 -40", "drag", "tell", "tapes", "add", "drive", "swap", "115 inner bin 4", "LP1*57*I*9*0*X",
    "'; DROP TABLE job", "../../etc", "size", "🐟" * 99,
]  # fmt: skip
IDS = ["1", "4", "6", "999999", "-1", "0", "x", "9" * 300, "4 ", "%00", "1.0"]


def requests(seed: int, count: int) -> Tried:
    """Requests that no page makes, on one connection: answered in words, in time, with every header."""
    tried, lot = Tried("hostile requests"), random.Random(seed)
    with serving_process() as (_, port):
        line = http.client.HTTPConnection("127.0.0.1", port, timeout=90)
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
            holds = answered.status < 500 and policed and (took < SLOWEST_SECONDS or SHORT.is_set())
            what = f"seed {seed}, request {i}: {method} {address[:200]} {sent[:300]}"
            tried.hold(bool(holds), f"{what}: {answered.status}, {took:.1f} s")
    return tried


class serving_process:
    """A workshop served by a process of its own; stopped, or killed, at the end. Limits on slow clients are short."""

    def __init__(self, data: Path | None = None, most_bytes: int = 0, *, passcode: str = "") -> None:
        """Parameters: passcode, of the bench, where it is served to a network over TLS."""
        self.passcode = passcode
        self.folder = tempfile.TemporaryDirectory(prefix="campaign-")
        self.data = data or Path(self.folder.name) / "workshop.sqlite3"
        self.most_bytes = most_bytes
        if not self.data.exists():
            with closing(Database(self.data)) as database:
                fill(database)
        if passcode:
            with closing(Database(self.data)) as database:
                set_passcode(database, "bench", passcode, now())

    def __enter__(self) -> tuple[multiprocessing.Process, int]:
        port = free_port()
        self.process = multiprocessing.Process(
            target=_serve, args=(self.data, port, self.most_bytes, bool(self.passcode))
        )
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


def _serve(data: Path, port: int, most_bytes: int, to_network: bool) -> None:
    serving.HEAD_SECONDS, guard.BODY_SECONDS, guard.HEARD_OUT_SECONDS = 2, 2.0, 2.0
    sys.stdout = sys.stderr = Path(os.devnull).open("w")  # noqa: SIM115
    if most_bytes:
        signal.signal(signal.SIGXFSZ, signal.SIG_IGN)
        resource.setrlimit(resource.RLIMIT_FSIZE, (most_bytes, most_bytes))
    if to_network:
        resource.setrlimit(resource.RLIMIT_NOFILE, (USUAL_FILES, resource.getrlimit(resource.RLIMIT_NOFILE)[1]))
        serving.serve_network(data, serving.NetworkRequest("127.0.0.1", port))
    else:
        serving.serve_workshop(data, "127.0.0.1", port)


def keep(line: http.client.HTTPConnection, text: str) -> int:
    """Keeps one measure of job 4; returns the status."""
    return post(line, "/jobs/4/measure", saw="0", chainstay_mm=text)


def post(line: http.client.HTTPConnection, path: str, **form: str) -> int:
    """Sends a form; returns the status."""
    line.request("POST", path, urlencode(form), {"Content-Type": "application/x-www-form-urlencoded"})
    answered = line.getresponse()
    answered.read()
    return answered.status


def is_whole(data: Path) -> bool:
    """Whether nothing is damaged in a data file, and its chain adds up."""
    with closing(Database(data)) as database:
        return not problems_of(database) and audit(database).is_sound


def kept_chainstays(data: Path) -> set[float]:
    """Every chainstay that job 4 ever had."""
    with closing(Database(data)) as database:
        rows = database.connection.execute(
            "SELECT json_extract(content, '$.document.chainstay_mm') FROM revision"
            " JOIN job ON job.history_id = revision.history_id WHERE job.id = 4"
        )
        return {float(row[0]) for row in rows if row[0] is not None}


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
        tried.hold(len(kept_chainstays(data)) >= len(statuses) - 1 and is_whole(data), "a full disk lost a save")
        with serving_process(data) as (_, port):
            line = http.client.HTTPConnection("127.0.0.1", port, timeout=20)
            with closing(sqlite3.connect(data, isolation_level=None)) as other:
                other.execute("BEGIN IMMEDIATE")
                tried.hold(keep(line, "455.5") == 503, "a lock was not told")
                other.execute("ROLLBACK")
            tried.hold(keep(line, "456.5") == 303, "after a lock nothing is kept")
    return tried


def _drip(tried: Tried, port: int) -> None:
    """So many heads that come in drop by drop that there is no room for another: pages are answered all the same."""
    clients = [socket.create_connection(("127.0.0.1", port)) for _ in range(serving.MOST_CONNECTIONS + 20)]
    for letter in b"GET / H":
        for client in clients:
            with suppress(OSError):
                client.sendall(bytes([letter]))
        line = http.client.HTTPConnection("127.0.0.1", port, timeout=5)
        line.request("GET", "/healthz")
        tried.hold(line.getresponse().status == 200, "slow heads took the room of others")
        line.close()
    for client in clients:
        client.close()


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
        _drip(tried, port)
        line = http.client.HTTPConnection("127.0.0.1", port, timeout=5)
        line.request("GET", "/")
        tried.hold(line.getresponse().status == 200, "clients that went away took the stand with them")
    return tried
