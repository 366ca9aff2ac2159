"""Who may come in from the shop's network: by passcode, session and token, each role as far as it may."""

from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.refusals import Unfit
from lone_pike.store.access import tokens
from lone_pike.store.database import Database
from lone_pike.web.app import create_app
from lone_pike.web.certificate import certificate_of, fingerprint_of, read_certificate
from lone_pike.web.guard import LOOPBACK, Hosts
from lone_pike.web.network import COOKIE, FREE_TRIES, Network, Tries
from lone_pike.workshop.access import let_passcode_go, make_token, session_of, set_passcode, sign_in
from lone_pike.workshop.edits import job_there

NOW = datetime(2026, 5, 1, 8, tzinfo=UTC)
BENCH, COUNTER = "heron and reed", "grebe at the quay"
AT = NOW.isoformat(timespec="seconds")


@pytest.fixture
def shop(database: Database) -> Database:
    """A workshop with a passcode for each role."""
    set_passcode(database, "bench", BENCH, AT)
    set_passcode(database, "counter", COUNTER, AT)
    return database


@pytest.fixture
def tablet(shop: Database) -> Iterator[TestClient]:
    """Somebody on the network who is not known yet."""
    app = create_app(shop, Hosts(LOOPBACK, any_address=True), Network(("https://192.0.2.7:8765/",), "AA:BB"))
    yield TestClient(app, base_url="https://127.0.0.2", raise_server_exceptions=False, follow_redirects=False)


def test_the_server_begins_and_ends_as_it_does_on_loopback(tablet: TestClient) -> None:
    """What is done at the start and at the end, backups and the closing of the file among it, is done here too."""
    database = tablet.app.state.database  # type: ignore[attr-defined]
    with tablet:
        assert come_in(tablet) == 303 and database.path.with_name(f"{database.path.name}-wal").exists()
    assert not database.path.with_name(f"{database.path.name}-wal").exists()


def come_in(tablet: TestClient, passcode: str = BENCH, name: str = "stand 2") -> int:
    return tablet.post("/sign-in", data={"passcode": passcode, "name": name, "next": "/jobs/4"}).status_code


@pytest.mark.parametrize("path", ["/", "/jobs/4", "/bin", "/shop", "/jobs/4/picture/side.svg", "/about", "/practice"])
def test_nobody_unknown_sees_a_page(tablet: TestClient, path: str) -> None:
    answer = tablet.get(path)
    assert answer.status_code == 303 and answer.headers["location"].startswith("/sign-in?next=")
    assert "Otter" not in answer.text and answer.headers["cache-control"] == "no-store"


def test_a_write_of_nobody_known_changes_nothing(tablet: TestClient, shop: Database) -> None:
    before = shop.connection.execute("SELECT count(*) FROM job").fetchone()[0]
    assert tablet.post("/jobs", data={"name": "x"}).status_code == 401
    assert tablet.post("/devices/counter", content=b"T 1").status_code == 401
    assert tablet.post("/api/v1/size", json={}).status_code == 401
    assert shop.connection.execute("SELECT count(*) FROM job").fetchone()[0] == before


def test_the_bench_comes_in_and_goes_out(tablet: TestClient) -> None:
    assert come_in(tablet) == 303
    cookie = tablet.cookies[COOKIE]
    assert tablet.get("/bikes").status_code == 200 and tablet.get("/api/v1/schema").status_code == 200
    out = tablet.post("/sign-out")
    assert out.status_code == 303 and {"Secure", "HttpOnly"} <= set(out.headers["set-cookie"].split("; "))
    tablet.cookies.set(COOKIE, cookie, domain="127.0.0.2")
    assert tablet.get("/bikes").status_code == 303, "what was signed out stays out, whoever kept the cookie"


def test_the_cookie_is_for_this_host_over_tls_and_for_no_script(tablet: TestClient) -> None:
    answer = tablet.post("/sign-in", data={"passcode": BENCH})
    told = answer.headers["set-cookie"].lower()
    assert told.startswith("__host-") and all(
        one in told for one in ("secure", "httponly", "samesite=strict", "path=/")
    )
    assert "domain" not in told


@pytest.mark.parametrize("forged", ["", "x", "x.y", "secret.AAAA", "%C3%A9.x" * 9])
def test_a_cookie_that_was_not_signed_here_is_none(tablet: TestClient, forged: str) -> None:
    tablet.headers["Cookie"] = f"{COOKIE}={forged}"
    assert tablet.get("/bikes").status_code == 303


def test_the_counter_looks_begins_jobs_and_says_what_is_wrong(tablet: TestClient, shop: Database) -> None:
    assert come_in(tablet, COUNTER) == 303
    assert tablet.get("/bikes").status_code == 200
    assert tablet.post("/jobs", data={"name": "Snipe", "complaint": "slaps"}).headers["location"].startswith("/jobs/")
    said = {"observed.complaint": "slaps; rubs", "observed.symptom": "slaps", "chainstay_mm": "444"}
    assert tablet.post("/jobs/4/complaint", data=said).status_code == 303
    job = job_there(shop, 4)
    assert (job.complaint, job.observed.symptom) == ("slaps; rubs", "slaps") and job.document["chainstay_mm"] != 444
    for path in ("/bin", "/jobs/4/measure", "/shop", "/shop/access/passcode", "/shop/access/tokens", "/bin/1/take"):
        answer = tablet.post(path, data={"role": "bench", "passcode": "mine from now on"})
        assert answer.status_code == 403 and "bench" in answer.text, path


def test_a_change_of_passcode_and_thirty_days_end_a_session(shop: Database) -> None:
    kept = sign_in(shop, BENCH, "stand", AT)
    assert session_of(shop, kept, AT)
    for days, stands in ((29, True), (31, False)):
        assert bool(session_of(shop, kept, (NOW + timedelta(days=days)).isoformat(timespec="seconds"))) == stands
    at_counter = sign_in(shop, COUNTER, "till", AT)
    set_passcode(shop, "bench", "another one now", AT)
    assert session_of(shop, kept, AT) is None and session_of(shop, at_counter, AT)
    let_passcode_go(shop, "counter", AT)
    assert session_of(shop, at_counter, AT) is None
    with pytest.raises(Unfit):
        sign_in(shop, COUNTER, "till", AT)


def test_no_passcode_and_no_session_is_kept_as_it_is(shop: Database) -> None:
    secret = sign_in(shop, BENCH, "stand", AT)
    tables = ("passcode", "session")
    kept = [str(tuple(row)) for table in tables for row in shop.connection.execute(f"SELECT * FROM {table}")]
    assert not any(one in row for row in kept for one in (secret, BENCH, COUNTER)) and "argon2id" in kept[0]


@pytest.mark.parametrize("passcode", ["", "seven77", "x" * 129])
def test_a_passcode_has_its_length(shop: Database, passcode: str) -> None:
    with pytest.raises(InvalidInput) as error:
        set_passcode(shop, "bench", passcode, AT)
    assert error.value.faults[0].field == "passcode"
    with pytest.raises(Unfit):
        set_passcode(shop, "bench", COUNTER, AT)


def test_wrong_tries_make_their_own_address_wait_and_nobody_else() -> None:
    """Four are free; then 1, 2, 4 … s, a minute at the most; a right one forgets them."""
    tries, waits = Tries(), []
    for _ in range(12):
        tries.note("192.0.2.1", 100.0, right=False)
        waits.append(tries.wait_s("192.0.2.1", 100.0))
    assert waits[: FREE_TRIES + 2] == [0, 0, 0, 1, 2, 4] and max(waits) == 60
    assert tries.wait_s("192.0.2.2", 100.0) == 0 and tries.wait_s("192.0.2.1", 161.0) == 0
    tries.note("192.0.2.1", 161.0, right=True)
    assert tries.wait_s("192.0.2.1", 161.0) == 0


def test_many_addresses_are_not_remembered_for_ever() -> None:
    tries = Tries()
    for number in range(6000):
        tries.note(f"2001:db8::{number:x}", 0.0, right=False)
    assert len(tries.wrong) == 5000


def test_after_too_many_wrong_ones_even_the_right_one_waits(tablet: TestClient) -> None:
    assert [come_in(tablet, "wrong") for _ in range(FREE_TRIES)] == [422] * FREE_TRIES
    answer = tablet.post("/sign-in", data={"passcode": BENCH})
    assert answer.status_code == 429 and int(answer.headers["retry-after"]) >= 1 and COOKIE not in tablet.cookies


@pytest.mark.parametrize(
    ("asked", "leads"),
    [("/jobs/4?gear=2", "/jobs/4?gear=2"), ("//x.invalid", "/"), ("https://x.invalid", "/"), ("/\\x.invalid", "/")],
)
def test_a_sign_in_leads_nowhere_else(tablet: TestClient, asked: str, leads: str) -> None:
    answer = tablet.post("/sign-in", data={"passcode": BENCH, "next": asked})
    assert answer.headers["location"] == leads


def test_a_host_by_name_is_ours_or_refused_by_number_it_is_taken(tablet: TestClient) -> None:
    for host, status in (("evil.invalid", 400), ("192.0.2.9:8765", 200), ("[2001:db8::1]", 200), ("1.2.3.4.evil", 400)):
        assert tablet.get("/sign-in", headers={"Host": host}).status_code == status, host


def test_a_device_comes_in_by_its_own_token(tablet: TestClient, shop: Database) -> None:
    secret = make_token(shop, "wheel", "device", AT)
    for sent, status in ((secret, 204), (make_token(shop, "till", "program", AT), 401)):
        headers = {"Authorization": f"Bearer {sent}"}
        assert tablet.post("/devices/counter", content=b"T 1", headers=headers).status_code == status


def test_a_device_is_heard_at_the_bench_of_its_token_and_at_no_other(tablet: TestClient, shop: Database) -> None:
    """The wheel at stand 1 counts there; stand 2 hears nothing of it, only a wheel that belongs to all."""
    other = TestClient(tablet.app, base_url="https://127.0.0.2", raise_server_exceptions=False)
    come_in(tablet, name="stand 1"), come_in(other, name="stand 2")
    page = tablet.get("/shop/access").text
    assert "<option selected>stand 1</option>" in page and "<option>stand 2</option>" in page
    made = tablet.post("/shop/access/tokens", data={"name": "wheel", "kind": "device", "bench": "stand 1"})
    secret = made.text.partition('id="secret">')[2].partition("<")[0]
    for sent, lines in ((secret, b"T 100"), (make_token(shop, "spare wheel", "device", AT), b"T 100\nT 900")):
        tablet.post("/devices/counter", content=lines, headers={"Authorization": f"Bearer {sent}"})
    for each, counted in ((tablet, "1"), (other, "2")):
        assert each.get("/jobs/4/wheel?seen=0").status_code == 200
        assert each.get(f"/jobs/4/wheel?seen={counted}").status_code == 204


def test_tokens_are_made_shown_once_and_taken_back(client: TestClient, database: Database) -> None:
    made = client.post("/shop/access/tokens", data={"name": "till", "kind": "program"}).text
    secret = made.partition('id="secret">')[2].partition("<")[0]
    assert len(secret) > 40 and secret not in client.get("/shop/access").text
    asked = {"Authorization": f"Bearer {secret}"}
    assert client.get("/api/v1/bikes", headers=asked).status_code == 200
    client.post("/shop/access/tokens/1/end")
    assert client.get("/api/v1/bikes", headers=asked).status_code == 401 and not tokens(database)
    for name, kind in (("", "program"), ("x" * 61, "program"), ("till", "key")):
        assert client.post("/shop/access/tokens", data={"name": name, "kind": kind}).status_code == 422


def test_a_certificate_is_made_once_and_anew_before_it_ends(tmp_path: Path) -> None:
    data, now = tmp_path / "w.sqlite3", datetime.now(UTC)
    cert, key = certificate_of(data, now)
    first = fingerprint_of(cert)
    assert len(first) == 95 and key.stat().st_mode & 0o777 == 0o600
    assert fingerprint_of(certificate_of(data, now + timedelta(days=600))[0]) == first
    certificate_of(data, now + timedelta(days=701))
    assert fingerprint_of(cert) != first and read_certificate(cert).not_valid_after_utc > now + timedelta(days=1000)
