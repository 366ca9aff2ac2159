"""The API: what the command prints, what the pages keep, in the parts that other programs read."""

import hashlib
import json
from typing import Any

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, Phase, given, settings

from lone_pike.api.stateless import BIKE, CHAIN
from lone_pike.filed import forecast_of, sized
from lone_pike.store.database import Database
from lone_pike.workshop.access import make_token, take_token_back

NOW = "2026-05-01T08:00:00+00:00"
STATEFUL = ("bikes", "bikes/1", "jobs", "jobs/1", "bin", "chains", "due", "due.ics", "bin/1/label", "bin/1/label.svg")


@pytest.fixture
def client(application: FastAPI, database: Database) -> TestClient:
    application.state.database = database
    return TestClient(application, base_url="http://127.0.0.1", raise_server_exceptions=False)


@pytest.fixture
def till(client: TestClient, database: Database) -> TestClient:
    """A client that sends a token."""
    client.headers["Authorization"] = f"Bearer {make_token(database, 'till', 'program', NOW)}"
    return client


def at(path: str) -> str:
    return f"/api/v1/{path}"


def test_size_and_wear_answer_what_the_command_prints(client: TestClient) -> None:
    for path, document, ask in (("size", BIKE, sized), ("wear", CHAIN, forecast_of)):
        sent = json.dumps(document).encode()
        answer = client.post(at(path), content=sent)
        assert answer.status_code == 200 and answer.json() == json.loads(json.dumps(ask(sent).whole()))


def test_a_cut_makes_the_count_with_its_joiner(client: TestClient) -> None:
    answer = client.post(at("cut?links=110"), json=BIKE).json()
    (cut,) = answer["cuts"]
    assert (answer["links"], cut["push_from_start"], cut["keep_links"] + cut["joiner_links"]) == (110, 109, 110)
    assert client.post(at("cut"), json=BIKE).json()["links"] == client.post(at("size"), json=BIKE).json()["links"]


@pytest.mark.parametrize("sent", [b"", b"{", b"[1]", b'{"lone_pike": 1, "rings": [999]}', b"\xff\xfe", b"1" * 300_000])
def test_what_is_wrong_is_a_problem_with_its_faults(client: TestClient, sent: bytes) -> None:
    answer = client.post(at("size"), content=sent)
    assert answer.status_code == 422 and answer.headers["content-type"] == "application/problem+json"
    told = answer.json()
    assert told["faults"] and all(fault["field"] and fault["allowed"] for fault in told["faults"])


def test_without_a_token_nothing_of_the_workshop_is_told(client: TestClient, database: Database) -> None:
    device = make_token(database, "wheel", "device", NOW)
    ended = make_token(database, "old till", "program", NOW)
    take_token_back(database, 2, NOW)
    for secret in ("", "nonsense", device, ended):
        for path in STATEFUL:
            answer = client.get(at(path), headers={"Authorization": f"Bearer {secret}"} if secret else {})
            assert answer.status_code == 401 and "Otter" not in answer.text, (secret[:3], path)
    assert client.post(at("jobs"), json={"complaint": "x"}).status_code == 401


def test_a_secret_is_shown_once_and_only_its_digest_is_kept(database: Database) -> None:
    secret = make_token(database, "till", "program", NOW)
    rows = [tuple(row) for row in database.connection.execute("SELECT * FROM token")]
    assert secret not in str(rows) and hashlib.sha256(secret.encode()).hexdigest() in str(rows)


def test_a_cursor_goes_on_where_it_stood_whatever_comes_in(till: TestClient) -> None:
    first = till.get(at("bikes?limit=5")).json()
    till.post(at("jobs"), json={"name": "Newcomer"})
    seen, cursor = [one["id"] for one in first["items"]], first["next"]
    while cursor:
        page = till.get(at(f"bikes?limit=5&cursor={cursor}")).json()
        seen, cursor = seen + [one["id"] for one in page["items"]], page["next"]
    assert seen == sorted(seen, reverse=True) and len(seen) == len(set(seen)) == 16


def test_a_till_begins_a_job_lays_a_box_in_and_adds_a_reading_once(till: TestClient) -> None:
    made = till.post(at("jobs"), json={"name": "Snipe", "complaint": "slaps"})
    job = till.get(at(f"jobs/{made.json()['id']}")).json()
    assert made.status_code == 201 and (job["complaint"], job["bike"]["name"]) == ("slaps", "Snipe")
    for _ in range(2):
        again = till.post(at("jobs"), json={"bike_id": job["bike_id"], "complaint": "rubs"}).json()
        assert again["id"] == job["id"], "a bike has one job in hand"
    assert till.get(at(f"jobs/{job['id']}")).json()["complaint"] == "slaps; rubs"
    till.post(at("jobs"), json={"bike_id": job["bike_id"], "complaint": "rub"})
    assert till.get(at(f"jobs/{job['id']}")).json()["complaint"] == "slaps; rubs; rub", "a part of a word is no word"
    full = till.post(at("jobs"), json={"bike_id": job["bike_id"], "complaint": "x" * 200})
    assert full.status_code == 422 and "complaint" in full.json()["faults"][0]["field"]
    box = {"links": 116, "speeds": 11, "kind": "box", "code": "B-1"}
    laid = till.post(at("bin"), json=box)
    assert laid.status_code == 201 and till.get(at("bin")).json()["items"][0]["id"] == laid.json()["id"]
    assert till.post(at("bin"), json=box).status_code == 409
    assert till.get(at(f"bin/{laid.json()['id']}/label")).text == "LP1*116*I*11*0*B-1\n"
    chain = till.get(at("chains?limit=1")).json()["items"][0]
    reading = {"saw": chain["revision"], "way": "gauge", "passes": 0.5, "stops": 0.75}
    for _ in range(2):
        told = till.post(at(f"chains/{chain['id']}/readings"), json=reading).json()
    assert len(told["chain"]["gauged"]) == len(chain["chain"].get("gauged", [])) + 1


@pytest.mark.parametrize(
    ("path", "sent", "field"),
    [
        ("jobs", {"bike_id": 0}, "bike_id"),
        ("jobs", {"kind": "unicycle"}, "kind"),
        ("jobs", {"colour": "red"}, "colour"),
        ("bin", {"links": 0, "speeds": 11}, "links"),
        ("chains/1/readings", {"way": "thumb"}, "way"),
        ("chains/1/readings", {"way": "ruler"}, "mm"),
        ("chains/1/readings", {"way": "gauge", "passes": 0.5, "date": "2999-01-01"}, "date"),
    ],
)
def test_a_write_that_cannot_be_names_its_field(till: TestClient, path: str, sent: dict[str, Any], field: str) -> None:
    answer = till.post(at(path), json=sent)
    assert answer.status_code == 422 and field in {fault["field"] for fault in answer.json()["faults"]}


def test_what_is_not_there_and_what_no_program_may_are_problems_too(till: TestClient) -> None:
    for method, path, status in (("GET", "bikes/999", 404), ("GET", "nothing", 404), ("DELETE", "bikes/1", 405)):
        answer = till.request(method, at(path))
        assert answer.status_code == status and answer.headers["content-type"] == "application/problem+json"
    foreign = till.post(at("jobs"), json={}, headers={"Origin": "https://elsewhere.invalid"})
    assert foreign.status_code == 403 and foreign.json()["detail"]


def test_the_calendar_comes_by_its_address_alone(client: TestClient, database: Database) -> None:
    secret = make_token(database, "calendar", "program", NOW)
    assert client.get(at(f"due.ics?token={secret}")).text.startswith("BEGIN:VCALENDAR")
    assert client.get(at("due.ics?token=x")).status_code == 401


def test_every_operation_is_as_it_is_described(application: FastAPI, till: TestClient) -> None:
    """Drawn by the description: no status, no media type and no answer that is not in it, and nothing breaks."""
    import schemathesis  # it takes two seconds, of each of the processes that the tests are shared out to
    from schemathesis import checks

    described = schemathesis.openapi.from_asgi(at("openapi.json"), application, headers={"Host": "127.0.0.1"})
    headers = {"Host": "127.0.0.1", "Authorization": till.headers["Authorization"]}
    names = ("not_a_server_error", "status_code_conformance", "content_type_conformance", "response_schema_conformance")
    wanted = [checks.CHECKS.get_one(name) for name in names]
    seen = []
    for found in described.get_all_operations():
        operation = found.ok()
        seen.append(operation.label)

        @given(case=operation.as_strategy())
        @settings(
            max_examples=4,
            database=None,
            derandomize=True,
            phases=[Phase.generate],
            suppress_health_check=list(HealthCheck),
        )
        def answers_as_described(case: Any) -> None:
            case.validate_response(case.call(headers=headers), checks=wanted)

        answers_as_described()
    assert len(seen) == 19


def test_the_reader_s_page_names_every_operation(client: TestClient) -> None:
    described = client.get(at("openapi.json")).json()
    assert described["openapi"].startswith("3.1")
    text = client.get("/shop/access/api").text
    assert all(f"/api/v1{path}" in text for path in described["paths"])
