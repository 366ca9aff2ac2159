"""A part of the campaign against a workshop on the shop's network: sign-in, cookies, tokens, devices, the API."""

import random
import sys
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from campaign_tried import SHORT, Tried

sys.path.insert(0, str(Path(__file__).parent.parent))

from fastapi import FastAPI
from fastapi.testclient import TestClient

from lone_pike.demo.workshop import fill
from lone_pike.store.database import Database
from lone_pike.web.app import create_app
from lone_pike.web.guard import LOOPBACK, Hosts
from lone_pike.web.network import COOKIE, Network
from lone_pike.workshop.access import make_token, set_passcode

BENCH, COUNTER = "heron and reed", "grebe at the quay"
AT_COUNTER = ("/jobs", "/jobs/4/complaint")
WRITES = (
    *AT_COUNTER,
    *("/jobs/4/measure", "/jobs/4/choose", "/jobs/4/cut", "/jobs/4/book", "/jobs/4/undo", "/bin", "/bin/scan"),
    *("/bin/1/take", "/bin/joiners", "/shop", "/shop/undo", "/shop/backup", "/shop/access/tokens", "/chains/costs"),
    *(
        "/shop/access/passcode",
        "/bikes/1/words",
        "/bikes/1/put-away",
        "/chains/1/gauge",
        "/practice",
        "/practice/remove",
    ),
)
READS = (
    "/",
    "/bikes",
    "/bikes/1",
    "/bin",
    "/bin/6/label.svg",
    "/chains",
    "/shop",
    "/shop/access",
    "/jobs/4/size",
    "/live?job=4",
    "/about",
)
PROGRAMS = ("size", "wear", "cut", "schema", "bikes", "jobs", "bin", "chains", "due", "due.ics", "openapi.json")
ODD = ("", "x", "." * 200, "\t", "null", "' OR 1=1 --", "../../etc", "%00", "a" * 5000)


@contextmanager
def network_app() -> Iterator[tuple[FastAPI, Database]]:
    """A sample workshop that asks who comes, with a passcode for each role."""
    with tempfile.TemporaryDirectory(prefix="lone-pike-network-") as folder:
        database = Database(Path(folder) / "workshop.sqlite3")
        fill(database)
        now = datetime.now(UTC).isoformat(timespec="seconds")
        set_passcode(database, "bench", BENCH, now)
        set_passcode(database, "counter", COUNTER, now)
        yield create_app(database, Hosts(LOOPBACK, any_address=True), Network(("https://127.0.0.2/",), "AA")), database
        database.close()


def network(seed: int, count: int) -> Tried:
    """Nobody who is not known sees or changes anything; whoever is known does no more than they may; nothing breaks."""
    lot, broke, tried = random.Random(seed), [], 0
    with network_app() as (app, database):
        before = _whole(database)
        for _ in range(count):
            one = lot.choice([_stranger, _forged, _wrong_token, _guessing])
            tried += 1
            broke += [f"network: {said}" for said in one(app, database, lot)]
        if _whole(database) != before:
            broke.append("network: a stranger changed the data file")
        broke += [f"network: {said}" for said in _counter(app, lot)]
        described, wrong = _as_described(app, database, 2 if SHORT.is_set() else 300)
        tried, broke = tried + described, broke + wrong
    return Tried("network", tried, broke)


def _client(app: FastAPI) -> TestClient:
    return TestClient(app, base_url="https://127.0.0.2", raise_server_exceptions=False, follow_redirects=False)


def _whole(database: Database) -> list[tuple[Any, ...]]:
    """Counts of what a write could change."""
    tables = ("bike", "job", "revision", "piece", "piece_move", "chain", "booking", "token", "mechanic")
    return [(one, database.connection.execute(f"SELECT count(*) FROM {one}").fetchone()[0]) for one in tables]


def _stranger(app: FastAPI, _: Database, lot: random.Random) -> list[str]:
    client, path = _client(app), lot.choice([*READS, *WRITES])
    answer = client.get(path) if path in READS else client.post(path, data={"name": lot.choice(ODD), "saw": "1"})
    shut = answer.status_code in (303, 401) and "Otter" not in answer.text
    return [] if shut else [f"{path} let a stranger in: {answer.status_code}"]


def _forged(app: FastAPI, _: Database, lot: random.Random) -> list[str]:
    """A cookie that is bent at one place, or that is made up."""
    client = _client(app)
    client.post("/sign-in", data={"passcode": BENCH})
    good = client.cookies.get(COOKIE, domain="127.0.0.2") or ""
    place = lot.randrange(max(len(good), 1))
    bent = good[:place] + lot.choice("abcXYZ019-_") + good[place + 1 :]
    forged = lot.choice([bent, good[:-1], good.partition(".")[0], lot.choice(ODD).strip()])
    client.post("/sign-out")
    broke = []
    for cookie in (forged, good):
        other = _client(app)
        other.headers["Cookie"] = f"{COOKIE}={cookie[:2000]}"
        answer = other.get("/bikes")
        if answer.status_code != 303:
            broke.append(f"a cookie {cookie[:20]!r} came in: {answer.status_code}")
    return broke


def _wrong_token(app: FastAPI, database: Database, lot: random.Random) -> list[str]:
    now = datetime.now(UTC).isoformat(timespec="seconds")
    device = make_token(database, "wheel", "device", now)
    database.connection.execute("DELETE FROM token")
    secret = lot.choice([device, *ODD])
    headers = {"Authorization": f"{lot.choice(['Bearer', 'bearer', 'Basic'])} {secret}".strip()}
    client, path = _client(app), lot.choice(PROGRAMS)
    answers = [
        client.get(f"/api/v1/{path}", headers=headers),
        client.post(f"/api/v1/{path}", content=lot.choice(ODD).encode(), headers=headers),
        client.post(f"/devices/{lot.choice(['counter', 'scale', 'x'])}", content=b"T 1", headers=headers),
    ]
    return [f"{one.url} took a wrong token: {one.status_code}" for one in answers if one.status_code not in (401, 405)]


def _guessing(app: FastAPI, _: Database, lot: random.Random) -> list[str]:
    """Wrong passcodes: refused, then told to wait, and never a session."""
    client = _client(app)
    answer = client.post("/sign-in", data={"passcode": lot.choice([*ODD, BENCH.upper(), COUNTER + " "]), "next": "//x"})
    app.state.tries.wrong.clear()
    shut = answer.status_code in (422, 429) and COOKIE not in answer.headers.get("set-cookie", "")
    return [] if shut else [f"a wrong passcode: {answer.status_code}"]


def _counter(app: FastAPI, lot: random.Random) -> list[str]:
    client = _client(app)
    client.post("/sign-in", data={"passcode": COUNTER})
    wrong = []
    for path in AT_COUNTER:
        if client.post(path, data={"name": "x", "observed.complaint": "x"}).status_code != 303:
            wrong.append(f"the counter may not {path}")
    for path in lot.sample(WRITES[len(AT_COUNTER) :], len(WRITES) - len(AT_COUNTER)):
        answer = client.post(
            path, data={"role": "bench", "passcode": "mine from now on", "name": "x", "kind": "program"}
        )
        if answer.status_code != 403:
            wrong.append(f"the counter may {path}: {answer.status_code}")
    return wrong


def _as_described(app: FastAPI, database: Database, examples: int) -> tuple[int, list[str]]:
    """Whatever the description lets a program send: nothing that is not described, and nothing that breaks."""
    import schemathesis  # large: the parts before it are measured without it
    from hypothesis import HealthCheck, Phase, given, settings

    secret = make_token(database, "campaign", "program", datetime.now(UTC).isoformat(timespec="seconds"))
    headers = {"Host": "127.0.0.2", "Authorization": f"Bearer {secret}"}
    described = schemathesis.openapi.from_asgi("/api/v1/openapi.json", app, headers=headers)
    names = ("not_a_server_error", "status_code_conformance", "content_type_conformance", "response_schema_conformance")
    wanted = [schemathesis.checks.CHECKS.get_one(name) for name in names]
    tried, broke = 0, []
    for found in described.get_all_operations():
        operation = found.ok()

        @given(case=operation.as_strategy())
        @settings(
            max_examples=examples,
            deadline=None,
            database=None,
            phases=[Phase.generate],
            suppress_health_check=list(HealthCheck),
        )
        def as_described(case: Any) -> None:
            nonlocal tried
            tried += 1
            case.validate_response(case.call(headers=headers), checks=wanted)

        try:
            as_described()
        except Exception as error:
            broke.append(f"{operation.label}: {str(error)[:300]}")
    return tried, broke
