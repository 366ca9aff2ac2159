"""What must not take a page down, nor let a word of the user's be lost: odd bikes, a full disk, hostile requests."""

import sqlite3
from collections.abc import Iterator
from contextlib import contextmanager

import pytest
from fastapi.testclient import TestClient

from lone_pike.core.bike.document import Bike
from lone_pike.core.count.answer import Answer, answer
from lone_pike.store.database import Database
from lone_pike.store.jobs import MOST_IN_HAND
from lone_pike.web.guard import POLICY
from lone_pike.workshop import answers
from lone_pike.workshop.jobs import start_new

POLICY_HEADERS = {name.lower() for name in POLICY}


@pytest.fixture
def breaks_on_kelp(monkeypatch: pytest.MonkeyPatch) -> None:
    """A sizing that breaks on one bike of the workshop, as no bike should make it."""

    def breaking(bike: Bike) -> Answer:
        if bike.name == "Kelp":
            raise ZeroDivisionError
        return answer(bike)

    monkeypatch.setattr(answers, "answer_or_refusal", breaking)


@pytest.mark.usefixtures("breaks_on_kelp")
def test_a_bike_that_breaks_the_sizing_is_a_row_that_says_so_and_takes_no_other_with_it(client: TestClient) -> None:
    saw = client.get("/jobs/4/measure").text.split('name="saw" value="')[1].split('"')[0]
    assert client.post("/jobs/4/measure", data={"saw": saw, "name": "Kelp"}).status_code == 303
    stand = client.get("/")
    assert stand.status_code == 200
    assert "One measure is wrong" in stand.text and "116" in stand.text
    for stage in ("receive", "measure", "size", "cut", "join", "prove", "book", "route"):
        own = client.get(f"/jobs/4/{stage}")
        assert own.status_code == 200 and "Undo" in own.text
    assert "measures that this program cannot size" in client.get("/jobs/4/measure").text


def test_a_view_that_breaks_shows_the_job_without_its_count(
    client: TestClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    def breaking(*_: object) -> None:
        raise ValueError("cannot convert float NaN to integer")

    monkeypatch.setattr("lone_pike.web.job.size.view.dials", breaking)
    page = client.get("/jobs/4/size")
    assert page.status_code == 200 and "this program cannot size" in page.text


@pytest.mark.parametrize(
    "what", ["chainstay=432,5", "chainstay=+", "chainstay=%C2%B1", "cogs=%C2%B1", "cage=92,,", "gap=NaN"]
)
def test_what_if_takes_any_text(client: TestClient, what: str) -> None:
    assert client.get(f"/jobs/4/size?{what}").status_code == 200


CAUSES = {
    "database is locked": "Another program is using the data file",
    "database or disk is full": "The disk is full",
    "attempt to write a readonly database": "is read-only",
    "disk I/O error": "cannot be used just now",
}


@pytest.mark.parametrize("words", CAUSES)
def test_a_data_file_that_cannot_be_written_is_told_by_its_cause_and_the_typed_text_is_kept(
    client: TestClient, database: Database, monkeypatch: pytest.MonkeyPatch, words: str
) -> None:
    @contextmanager
    def refusing() -> Iterator[sqlite3.Connection]:
        raise sqlite3.OperationalError(words)
        yield database.connection

    monkeypatch.setattr(database, "atomic", refusing)
    page = client.post("/jobs/4/measure", data={"saw": "4", "chainstay_mm": "431,7 ± 2"})
    assert page.status_code == 503
    assert CAUSES[words] in page.text
    assert '<input type="hidden" name="chainstay_mm" value="431,7 ± 2">' in page.text
    assert set(page.headers) >= POLICY_HEADERS


def test_a_commit_that_is_refused_leaves_nothing_open(database: Database) -> None:
    """A full disk at the commit: the next write goes through as if nothing had been."""
    with pytest.raises(sqlite3.IntegrityError), database.atomic() as connection:
        connection.execute("PRAGMA defer_foreign_keys = ON")
        connection.execute("INSERT INTO job (bike_id, history_id, opened_at) VALUES (999, 999, 'now')")
    with database.atomic() as connection:
        assert connection.execute("SELECT count(*) FROM job WHERE bike_id = 999").fetchone()[0] == 0


HOSTILE = {
    "another host": ("GET", "/", {"Host": "evil.example"}, 400),
    "no host": ("GET", "/", {"Host": ""}, 400),
    "broken origin": ("POST", "/jobs", {"Origin": "http://[::1"}, 403),
    "null origin": ("POST", "/jobs", {"Origin": "null"}, 403),
    "other site": ("POST", "/jobs", {"Sec-Fetch-Site": "cross-site"}, 403),
    "odd charset": ("POST", "/jobs", {"Content-Type": "application/x-www-form-urlencoded; charset=klingon"}, 415),
    "giant length": ("POST", "/jobs", {"Content-Length": "9" * 5000}, 413),
    "negative id": ("GET", "/jobs/-1/size", {}, 404),
    "giant id": ("GET", f"/jobs/{'9' * 400}/size", {}, 404),
    "endless number": ("GET", f"/jobs/4/size?links={'9' * 5000}&travel={'1' * 5000}", {}, 200),
    "endless id": ("GET", f"/bikes/{'7' * 5000}", {}, 404),
}


@pytest.mark.parametrize(("method", "path", "headers", "status"), HOSTILE.values(), ids=HOSTILE)
def test_hostile_requests_are_answered_in_words_with_every_header(
    client: TestClient, method: str, path: str, headers: dict[str, str], status: int
) -> None:
    answered = client.request(method, path, headers=headers)
    assert answered.status_code == status
    assert set(answered.headers) >= POLICY_HEADERS


def test_what_breaks_inside_is_a_page_with_every_header(client: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    def breaking(*_: object) -> None:
        raise RuntimeError

    monkeypatch.setattr("lone_pike.web.bikes.routes.chains_on", breaking)
    page = client.get("/bikes")
    assert (page.status_code, "Something broke here" in page.text) == (500, True)
    assert set(page.headers) >= POLICY_HEADERS


def test_long_lists_come_a_page_at_a_time_and_are_found_by_typing(client: TestClient, database: Database) -> None:
    for i in range(90):
        start_new(database, "2026-01-01T00:00:00+00:00", name=f"Teal {i:02}")
    first = client.get("/bikes").text
    assert "Teal 31" not in first and 'href="/bikes?page=2"' in first
    pages = [client.get(f"/bikes?page={number}").text for number in range(1, 7)]
    shown = [page.count(">Teal ") for page in pages]
    assert sum(shown) == 90, "every bike stands on one page"
    assert ['rel="next"' in page for page in pages] == [True] * 5 + [False]
    stand = client.get("/").text
    assert stand.count('href="/jobs/') == MOST_IN_HAND and 'href="/?page=2"' in stand
    only = client.get("/bikes", params={"find": "eal 3"}).text
    assert only.count(">Teal 3") == 10 and only.count(">Teal ") == 10
    assert "No bike matches" in client.get("/bikes", params={"find": "100%"}).text
    assert client.get("/bikes?page=99999999999&find=_").status_code == 200


def test_a_bike_booked_often_hides_no_other_with_the_same_count(client: TestClient, database: Database) -> None:
    """Otter was fitted with 110 links; a newer bike is fitted with as many, thirty times over."""
    job_id = start_new(database, "2026-01-01T00:00:00+00:00", name="Teal")
    bike_id = database.connection.execute("SELECT bike_id FROM job WHERE id = ?", (job_id,)).fetchone()[0]
    for _ in range(30):
        database.connection.execute(
            "INSERT INTO booking (job_id, bike_id, links, joiner, speeds, document_before, booked_at)"
            " VALUES (?, ?, 110, 'locking_link', 11, '{}', '')",
            (job_id, bike_id),
        )
    found = client.get("/bikes", params={"find": "110"}).text
    assert ">Teal" in found and ">Otter" in found


def test_an_unchanged_bike_is_not_sized_twice(client: TestClient, monkeypatch: pytest.MonkeyPatch) -> None:
    before = client.get("/").text
    monkeypatch.setattr("lone_pike.core.count.answer.size_bike", None)
    assert client.get("/").text == before


@pytest.mark.parametrize("stage", ["size", "cut", "book"])
def test_what_is_not_measured_yet_is_named_whole_and_led_to(client: TestClient, stage: str) -> None:
    location = client.post("/jobs", data={"name": "Teal"}).headers["location"]
    shown = client.get(f"{location}/{stage}").text
    assert "Still to measure: rings, cogs, cage, chainstay." in shown
    assert f'href="{location}/measure"' in shown.split("Still to measure")[1]


def test_about_tells_where_the_data_is_and_what_it_stands_on(client: TestClient, database: Database) -> None:
    about = client.get("/about").text
    assert str(database.path.absolute()) in about
    assert "numpy" in about and "OFL-1.1" in about
