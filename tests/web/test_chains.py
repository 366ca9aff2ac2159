"""Chains on their pages: from a booking over three readings to the next order, wrong input, the calendar."""

import io
import re
from datetime import UTC, date, datetime, timedelta

import icalendar
import pytest
from fastapi.testclient import TestClient
from playwright.sync_api import Page, expect

from lone_pike.store.audit import audit
from lone_pike.store.chains import chain_on
from lone_pike.store.database import Database
from lone_pike.workshop.chains import chain_there
from tests.formats.test_ride_files import ride, track, zipped
from tests.web.reading import settled

OTTER, TERN, DIPPER = 2, 8, 6


def days_ago(days: int) -> str:
    return (datetime.now(UTC).date() - timedelta(days=days)).isoformat()


def backdate(database: Database, bike_id: int, days: int) -> None:
    """The chain on a bike went on so many days ago: a test cannot wait for it to wear."""
    chain = chain_on(database.connection, bike_id)
    assert chain
    sql = "UPDATE revision SET content = json_set(content, '$.stays[0].since', ?) WHERE id = ?"
    database.connection.execute(sql, (days_ago(days), chain.revision_id))


def add_reading(page: Page, mm: str, km: str, days: int) -> None:
    """A caliper's reading, typed as a mechanic does."""
    form = page.locator("#way-caliper")
    if form.get_attribute("open") is None:
        form.locator("summary").click()
    form.get_by_label("Reads, mm").fill(mm)
    form.get_by_label("New, mm").fill("120")
    form.get_by_label("Ridden in all, km").fill(km)
    form.get_by_label("Date").fill(days_ago(days))
    form.get_by_role("button", name="Add").click()
    settled(page)


def test_from_a_booking_over_three_readings_to_the_next_order(page: Page, base_url: str, database: Database) -> None:
    page.goto(f"{base_url}/jobs/4/receive")
    expect(page.get_by_text("A new chain may jump on this cassette")).to_be_visible()
    page.goto(f"{base_url}/jobs/4/book")
    expect(page.get_by_text("New chain may jump: see Receive.")).to_be_visible()
    page.get_by_role("button", name="Book").first.click()
    page.wait_for_url("**/bikes/1")
    expect(page.get_by_role("banner")).to_have_count(1)
    settled(page)
    page.get_by_role("link", name=re.compile("Otter 2")).click()
    expect(page.get_by_role("heading", name="Otter 2")).to_be_visible()
    expect(page.get_by_role("group", name="Due")).to_contain_text("in 2676 km")
    backdate(database, 1, 200)
    page.reload()
    page.locator("#words summary").click()
    page.locator("#word-riding").select_option("dry")
    page.locator("#words").get_by_role("button", name="Keep").click()
    settled(page)
    for mm, km, days in (("120.25", "800", 120), ("120.44", "1600", 60), ("120.70", "2500", 0)):
        add_reading(page, mm, km, days)
        expect(page.locator("#readings tbody tr").first).to_contain_text(f"{km} km")
    expect(page.get_by_role("img", name=re.compile("^Wear over distance: limit 0.5%"))).to_be_visible()
    expect(page.get_by_role("group", name="Due")).to_contain_text("over")
    expect(page.get_by_text("Replace: chain.")).to_be_visible()
    page.goto(f"{base_url}/chains/due")
    expect(page.get_by_role("link", name=re.compile("^Otter 2"))).to_contain_text("since about")
    page.goto(base_url)
    expect(page.get_by_role("link", name=re.compile("chains due now"))).to_be_visible()
    page.get_by_role("link", name=re.compile("chains due now")).click()
    expect(page.get_by_role("region", name="What to order")).to_contain_text("In the bin: 1 chain for 11 cogs.")
    assert audit(database).is_sound


def test_keys_alone_add_a_reading_and_undo_it(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/chains/{DIPPER}")
    page.locator("#way-past summary").focus()
    page.keyboard.press("Enter")
    page.get_by_label("Sixteenths past").focus()
    page.keyboard.type("0.4")
    page.keyboard.press("Enter")
    expect(page.locator("#readings tbody tr")).to_have_count(1)
    expect(page.get_by_text("With 1 reading so far, it leans on these.")).to_be_visible()
    settled(page)
    page.keyboard.press("Escape")
    page.locator("h1").click()
    page.keyboard.press("u")
    expect(page.get_by_text("No reading yet")).to_be_visible()


def test_rides_come_in_by_files_twice_and_count_once(page: Page, base_url: str, database: Database) -> None:
    page.goto(f"{base_url}/chains/{TERN}")
    page.locator("#distance summary").click()
    begin = f"{days_ago(2)}T08:00:00"
    csv = f"date,km\n{days_ago(1)},30\n".encode()
    packed = zipped({"b.gpx": track(ride(begin)), "c.csv": csv})
    files = [
        {"name": "a.gpx", "mimeType": "application/gpx+xml", "buffer": track(ride(begin))},
        {
            "name": "more.zip",
            "mimeType": "application/zip",
            "buffer": packed,
        },
        {"name": "no.gpx", "mimeType": "application/gpx+xml", "buffer": b"<!DOCTYPE gpx><gpx/>"},
    ]
    page.get_by_label("Rides: GPX, CSV or a zip of them").set_input_files(files)  # type: ignore[arg-type]
    page.get_by_role("button", name="Add the rides").click()
    notices = page.get_by_label("What to do")
    expect(notices).to_contain_text("Rides added: 2")
    expect(notices).to_contain_text("Already here: 1 ride")
    expect(notices).to_contain_text("DOCTYPE")
    assert [one.source for one in chain_there(database, TERN).life.ridden[-2:]] == ["ride", "ride"]


def test_a_chain_comes_off_and_goes_on_another_bike_by_its_name(page: Page, base_url: str, database: Database) -> None:
    page.goto(f"{base_url}/chains/{TERN}")
    page.locator("#where summary").click()
    page.get_by_role("button", name="Take it off").click()
    expect(page.get_by_text("Hung up: not on a bike.")).to_be_visible()
    settled(page)
    page.get_by_label("Another bike, by its name").fill("Nobody")
    page.get_by_role("button", name="Put on", exact=True).click()
    expect(page.get_by_role("alert")).to_contain_text("the name of a bike")
    page.get_by_label("Another bike, by its name").fill("avocet")
    page.get_by_role("button", name="Put on", exact=True).click()
    expect(page.get_by_role("link", name=re.compile("On Avocet since"))).to_be_visible()
    settled(page)
    page.keyboard.press("u")
    expect(page.get_by_text("Hung up: not on a bike.")).to_be_visible()
    avocet = chain_on(database.connection, 16)
    assert avocet and avocet.life.name == "Avocet 1" and audit(database).is_sound


@pytest.mark.parametrize(
    ("path", "form", "says"),
    [
        ("/gauge", {"way": "ruler", "pitches": "24", "mm": "306", "date": "2999-01-01"}, "a day from"),
        ("/gauge", {"way": "gauge", "passes": "0.5 in"}, "Drops in: “0.5 in”"),
        ("/gauge", {"way": "tape"}, "Gauged with: “tape”"),
        ("/gauge", {"way": "ruler", "pitches": "24", "mm": "306", "km": "-5"}, "Distance: “-5 km” won’t do here: 0 to"),
        ("/distance", {"by": "total", "km": "12"}, "2700 km or more"),
        ("/distance", {"by": "odometer", "km": "1e9"}, "Odometer: “1e9”"),
        ("/distance", {"by": "total", "km": "9" * 400}, "Distance: “999"),
        ("/distance", {"by": "total", "km": "2900", "date": "not a day"}, "Date: “not a day”"),
        ("/words", {"week_km": "-3"}, "0 to 3000"),
        ("/words", {"limit_percent": "0.5 in"}, "Limit: “0.5 in”"),
        ("/words", {"name": ""}, "Name"),
        ("/words", {"used_cogs": "11 900"}, "9 to 60"),
        ("/end", {"ending": "eaten"}, "“eaten”"),
        ("/put-on", {"bike": "<i>x"}, ""),
        ("/rides", {}, "GPX tracks"),
    ],
)
def test_what_cannot_be_is_told_at_its_field_and_changes_nothing(
    client: TestClient, database: Database, path: str, form: dict[str, str], says: str
) -> None:
    before = chain_there(database, OTTER)
    answer = client.post(f"/chains/{OTTER}{path}", data=form)
    assert answer.status_code in (409, 422) and says in answer.text.replace("&#34;", '"') and "<i>" not in answer.text
    assert chain_there(database, OTTER).life == before.life


def test_two_gigabytes_are_refused_and_others_are_answered_meanwhile(client: TestClient) -> None:
    headers = {"content-length": str(2 * 10**9), "content-type": "multipart/form-data; boundary=a"}
    answer = client.post(f"/chains/{OTTER}/rides", content=io.BytesIO(b"x"), headers=headers)
    assert answer.status_code == 413 and "up to 60 MB" in answer.text
    assert client.get("/healthz").status_code == 200


def test_the_calendar_keeps_its_names_and_holds_only_what_is_due(client: TestClient) -> None:
    first, second = (client.get("/chains/due.ics") for _ in range(2))
    assert first.text == second.text and first.headers["content-type"].startswith("text/calendar")
    events = icalendar.Calendar.from_ical(first.content).walk("VEVENT")
    assert {str(event["uid"]) for event in events} >= {
        f"chain-{OTTER}@lone-pike.invalid",
        f"chain-{TERN}@lone-pike.invalid",
    }
    horizon = date.today() + timedelta(days=62)
    assert all(event["dtstart"].dt <= horizon for event in events) and len(events) < 6


def test_prices_are_the_shops_own_and_a_wrong_one_is_told(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/chains/costs")
    half = page.get_by_role("group", name="Replaced at 0.5%")
    before = half.locator("b").first.inner_text()
    page.get_by_label("Price of a chain").fill("dear")
    page.get_by_role("button", name="Keep").click()
    expect(page.get_by_role("alert")).to_contain_text("“dear” won’t do here")
    page.get_by_label("Price of a chain").fill("76")
    page.get_by_role("button", name="Keep").click()
    expect(half.locator("b").first).not_to_have_text(before)
    page.get_by_role("link", name="3", exact=True).click()
    expect(page.get_by_text("Assumed: a cassette with 3 chains in turn")).to_be_visible()


def test_a_chains_file_table_and_drawing_can_be_saved(client: TestClient) -> None:
    assert client.get(f"/chains/{OTTER}/chain.json").json()["lone_pike_chain"] == 1
    rows = client.get(f"/chains/{OTTER}/chain.csv").text.splitlines()
    assert rows[0].startswith("date,km") and len(rows) == 8
    assert "<style>" in client.get(f"/chains/{OTTER}/wear.svg").text
    assert client.get("/chains/999").status_code == 404
