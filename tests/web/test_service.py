"""What the service refuses, bounds, or gives back: foreign pages, odd hosts, a moved data file, too much at once."""

import http.client
import json
import os
import shutil
import signal
import threading
import time
from collections.abc import Iterator
from contextlib import closing
from multiprocessing import active_children
from pathlib import Path
from types import SimpleNamespace
from urllib.parse import urlsplit

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from uvicorn.protocols.http.h11_impl import H11Protocol

from lone_pike.store.database import Database
from lone_pike.web import dear
from lone_pike.web.dear import MOST_WAITING, Apart
from lone_pike.web.guard import LARGEST_REQUEST_BYTES, POLICY
from lone_pike.web.serving import HEAD_SECONDS, PatientProtocol
from lone_pike.workshop.jobs import start_from_file
from tests.served import PATIENCE_S, served
from tests.test_cli import COMMAND

NOW = "2026-05-01T08:00:00+00:00"
TYPED = '<input type="hidden" name="chainstay_mm" value="431,7 ± 2">'
FOREIGN = {"Sec-Fetch-Site": "cross-site"}


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        (FOREIGN | {"Sec-Fetch-Mode": "no-cors", "Sec-Fetch-Dest": "image"}, 403),
        (FOREIGN | {"Sec-Fetch-Mode": "navigate", "Sec-Fetch-Dest": "iframe"}, 403),
        ({"Sec-Fetch-Site": "same-site", "Sec-Fetch-Mode": "cors", "Sec-Fetch-Dest": "empty"}, 403),
        (FOREIGN | {"Sec-Fetch-Mode": "navigate", "Sec-Fetch-Dest": "document"}, 200),
        ({"Sec-Fetch-Site": "same-origin", "Sec-Fetch-Mode": "cors"}, 200),
    ],
)
@pytest.mark.parametrize("path", ["/", "/static/app.css", "/jobs/4/picture/side.svg"])
def test_a_foreign_page_may_link_here_and_no_more(
    client: TestClient, path: str, headers: dict[str, str], status: int
) -> None:
    answer = client.get(path, headers=headers)
    assert answer.status_code == status
    assert {name: answer.headers[name] for name in POLICY} == POLICY


@pytest.mark.parametrize(
    ("host", "status"),
    [
        ("127.0.0.1", 200),
        ("localhost:8765", 200),
        ("[::1]:8765", 200),
        ("127.0.0.1:80@evil.example", 400),
        ("evil.example@127.0.0.1", 400),
        ("127.0.0.1:", 400),
        ("127.0.0.1:0", 400),
        ("127.0.0.1:1", 200),
        ("127.0.0.1:65535", 200),
        ("127.0.0.1:65536", 400),
        ("127.0.0.1:99999", 400),
        ("127.0.0.1:８０", 400),
    ],
)
def test_only_our_own_names_are_answered(client: TestClient, host: str, status: int) -> None:
    assert client.get("/healthz", headers=[(b"Host", host.encode())]).status_code == status


@pytest.mark.parametrize("path", ["/", "/jobs/4/size", "/static/app.css", "/nowhere"])
def test_a_head_is_answered_as_the_get_without_its_body(client: TestClient, path: str) -> None:
    head, got = client.head(path), client.get(path)
    assert (head.status_code, head.content) == (got.status_code, b"")
    assert head.headers["content-type"] == got.headers["content-type"]


def test_a_body_that_grows_past_its_bound_in_chunks_is_too_large(client: TestClient) -> None:
    def chunks() -> Iterator[bytes]:
        for _ in range(LARGEST_REQUEST_BYTES // 60_000 + 2):
            yield b"name=" + b"x" * 60_000

    form = {"Content-Type": "application/x-www-form-urlencoded"}
    assert client.post("/jobs", content=chunks(), headers=form).status_code == 413


def test_a_refusal_gives_back_what_was_typed(client: TestClient) -> None:
    client.post("/jobs/4/close")
    answer = client.post("/jobs/4/measure", data={"saw": "4", "chainstay_mm": "431,7 ± 2"})
    assert (answer.status_code, TYPED in answer.text) == (409, True)


def test_a_mistake_of_the_program_is_called_one(
    client: TestClient, database: Database, monkeypatch: pytest.MonkeyPatch
) -> None:
    def breaking(*_: object, **__: object) -> None:
        database.connection.execute("INSERT INTO job (bike_id, history_id, opened_at) VALUES (1, 999999, '')")

    monkeypatch.setattr("lone_pike.workshop.edits.revise_job", breaking)
    answer = client.post("/jobs/4/measure", data={"chainstay_mm": "431,7 ± 2"})
    assert answer.status_code == 500 and "a fault in the program" in answer.text and TYPED in answer.text


@pytest.mark.parametrize("harm", ["moved", "replaced", "folder gone"])
def test_a_data_file_that_is_no_longer_in_place_takes_no_write(
    client: TestClient, database: Database, tmp_path: Path, harm: str
) -> None:
    folder, aside = database.path.parent, tmp_path.with_name(f"{tmp_path.name}-aside")
    if harm == "folder gone":
        folder.rename(aside)
    else:
        aside.mkdir()
        database.path.rename(aside / database.path.name)
        if harm == "replaced":
            Database(database.path).close()
    answer = client.post("/jobs/4/measure", data={"chainstay_mm": "431,7 ± 2"})
    assert answer.status_code == 503 and "no longer where it was" in answer.text and TYPED in answer.text
    if harm == "replaced":
        return
    if harm == "folder gone":
        aside.rename(folder)
    else:
        (aside / database.path.name).replace(database.path)
    assert client.post("/jobs/4/measure", data={"chainstay_mm": "431,7 ± 2"}).status_code == 303


@pytest.mark.parametrize(("kind", "path"), [("paper", "card.pdf"), ("sure", "sure"), ("photo", "photo")])
def test_too_much_dear_work_at_once_is_turned_away_and_the_rest_is_served(
    client: TestClient, application: FastAPI, monkeypatch: pytest.MonkeyPatch, kind: str, path: str
) -> None:
    monkeypatch.setattr(application.state.dear.queues[kind], "waiting", MOST_WAITING)
    ask = client.get if path.endswith("pdf") else client.post
    answer = ask(f"/jobs/4/{path}")
    assert (answer.status_code, answer.headers["Retry-After"]) == (503, "5")
    assert client.get("/").status_code == 200


def ended(pid: int) -> bool:
    """Waits for the end of a process that this one began."""
    while pid in {child.pid for child in active_children()}:
        time.sleep(0.01)
    return True


def test_a_process_apart_is_begun_anew_and_ended_alone(monkeypatch: pytest.MonkeyPatch) -> None:
    """Anew where it died at rest; what takes too long is ended, not only given up."""
    one, other = Apart(fresh=False), Apart(fresh=False)
    others = other.run(os.getpid)
    running = set(threading.enumerate())
    first = one.run(os.getpid)
    watching = set(threading.enumerate()) - running
    os.kill(first, signal.SIGKILL)
    for thread in watching:
        thread.join(PATIENCE_S)  # until its end is noticed
    second = one.run(os.getpid)
    assert second not in (first, others)
    one.end()
    assert ended(second) and other.run(os.getpid) == others
    monkeypatch.setattr(dear, "LONGEST_SECONDS", 0.01)
    with pytest.raises(dear.Busy):
        other.run(time.sleep, 600)
    assert ended(others)


def test_a_stop_while_papers_are_made_comes_to_an_end_and_breaks_nothing(tmp_path: Path, filled_file: Path) -> None:
    data, statuses = tmp_path / "workshop.sqlite3", list[int]()
    shutil.copy(filled_file, data)

    def ask(address: str) -> None:
        with closing(http.client.HTTPConnection(urlsplit(address).netloc, timeout=30)) as line:
            try:
                line.request("GET", "/jobs/4/strip.pdf")
                with line.getresponse() as answer:
                    statuses.append(answer.status)
            except (http.client.HTTPException, OSError):
                statuses.append(0)

    with served([*COMMAND, "serve", "--data", str(data)], tmp_path) as (process, address):
        askers = [threading.Thread(target=ask, args=(address,)) for _ in range(12)]
        for asker in askers:
            asker.start()
        time.sleep(1)
        process.send_signal(signal.SIGTERM)
        process.communicate(timeout=PATIENCE_S)
        for asker in askers:
            asker.join()
    assert process.returncode == 0
    assert set(statuses) <= {0, 200, 503}, statuses
    assert not list(tmp_path.glob("*-wal"))


LONG_SLOT = {"type": "slot", "min_mm": 230, "max_mm": 2468}
HEAVY = {
    "a slot of two metres and sixty pieces": {
        "rings": [40, 44],
        "cogs": [16, 17],
        "take_up": LONG_SLOT,
        "chain": {"pieces": [{"links": 50, "first_end": "inner"}] * 60},
    },
    "three rings and thirteen cogs": {
        "rings": [22, 32, 42],
        "cogs": list(range(11, 37, 2)),
        "chainstay_mm": 430,
        "take_up": {"type": "derailleur", "cage_mm": 90},
        "suspension": {"type": "pivot", "pivot_mm": [10, 60], "travel_mm": 170},
    },
}


@pytest.mark.parametrize("name", HEAVY)
def test_no_page_of_a_job_weighs_more_than_150_kb(client: TestClient, database: Database, name: str) -> None:
    job_id = start_from_file(database, json.dumps({"lone_pike": 1, "name": "Knot"} | HEAVY[name]).encode(), NOW)
    for stage in ("receive", "measure", "size", "cut", "join", "prove", "book", "route"):
        page = client.get(f"/jobs/{job_id}/{stage}")
        assert page.status_code == 200 and len(page.content) < 150_000, (stage, len(page.content))


def test_after_a_long_answer_the_next_head_has_all_its_time(monkeypatch: pytest.MonkeyPatch) -> None:
    """A look that falls between a long answer and the next request lets the connection stand."""
    monkeypatch.setattr(H11Protocol, "on_response_complete", lambda _: None)
    closed, later = list[str](), list[float]()
    protocol = PatientProtocol.__new__(PatientProtocol)
    vars(protocol)["transport"] = SimpleNamespace(is_closing=lambda: False, close=lambda: closed.append("closed"))
    vars(protocol)["loop"] = SimpleNamespace(time=lambda: 100.0, call_later=lambda seconds, _: later.append(seconds))
    vars(protocol)["cycle"] = SimpleNamespace(response_complete=True)
    protocol._asked_at = 100.0 - 2 * HEAD_SECONDS
    protocol.on_response_complete()
    protocol._look()
    assert not closed and later == [HEAD_SECONDS]


def test_room_is_made_by_the_oldest_connection_of_who_has_most(
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    """What is being answered neither counts nor is closed, and a client that waits alone keeps its place."""
    connections, closed = set[PatientProtocol](), list[tuple[str, int]]()

    def come(client: str, asked_at: int, *, is_answered: bool = False) -> PatientProtocol:
        protocol = PatientProtocol.__new__(PatientProtocol)
        protocol.client, protocol._asked_at = (client, 1), asked_at
        vars(protocol)["connections"] = connections
        vars(protocol)["cycle"] = SimpleNamespace(response_complete=False, more_body=False) if is_answered else None
        vars(protocol)["transport"] = SimpleNamespace(close=lambda: closed.append((client, asked_at)))
        vars(protocol)["loop"] = SimpleNamespace(time=lambda: asked_at, call_later=lambda *_: None)
        connections.add(protocol)
        return protocol

    for moment in (1, 2, 3):
        come("10.0.0.1", moment, is_answered=moment > 1)
    come("10.0.0.2", 4)
    newest = come("10.0.0.2", 5)
    monkeypatch.setattr(H11Protocol, "connection_made", lambda *_: None)
    monkeypatch.setattr("lone_pike.web.serving.MOST_CONNECTIONS", len(connections))
    newest.connection_made(newest.transport)
    assert not closed
    monkeypatch.setattr("lone_pike.web.serving.MOST_CONNECTIONS", len(connections) - 1)
    newest.connection_made(newest.transport)
    assert closed == [("10.0.0.2", 4)]
