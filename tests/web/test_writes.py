"""Every write names what it saw: nothing of another tab's is taken back, overwritten or booked unseen."""

import sqlite3

import pytest
from fastapi.testclient import TestClient
from playwright.sync_api import Page, expect

from lone_pike.store.bin import pieces_in_bin
from lone_pike.store.bookings import bookings_of
from lone_pike.store.database import Database
from lone_pike.store.jobs import JobRow, job_by_id
from lone_pike.store.shop import shop_now
from tests.web.reading import count, field


def job(database: Database, job_id: int = 4) -> JobRow:
    row = job_by_id(database, job_id)
    assert row
    return row


def saw(database: Database) -> str:
    return str(job(database).revision_id)


def measure(client: TestClient, seen: str, **texts: str) -> None:
    assert client.post("/jobs/4/measure", data={"saw": seen, **texts}).status_code == 303


def test_two_tabs_undo_only_what_they_showed(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/4/measure")
    field(page, "chainstay_mm").fill("435")
    field(page, "chainstay_mm").blur()
    expect(page.get_by_role("status").first).to_contain_text("435")
    other = page.context.new_page()
    other.goto(f"{base_url}/jobs/4/measure")
    field(other, "take_up.cage_mm").fill("90")
    field(other, "take_up.cage_mm").blur()
    expect(other.get_by_role("status").first).to_contain_text("90")
    page.get_by_role("button", name="Undo the last change").click()
    expect(page.locator("#announced")).to_contain_text(
        "Another tab changed this meanwhile: Cage 92 → 90 mm. Nothing was undone"
    )
    expect(field(page, "take_up.cage_mm")).to_have_value("90")
    page.get_by_role("button", name="Undo the last change").click()
    expect(field(page, "take_up.cage_mm")).to_have_value("92")
    expect(field(page, "chainstay_mm")).to_have_value("435")


def test_a_booking_from_a_page_that_saw_other_rings_asks_first(page: Page, base_url: str, database: Database) -> None:
    page.goto(f"{base_url}/jobs/4/book")
    expect(count(page)).to_have_text("112")
    other = page.context.new_page()
    other.goto(f"{base_url}/jobs/4/measure")
    field(other, "rings").fill("34")
    field(other, "rings").blur()
    expect(other.get_by_role("status").first).to_contain_text("Rings 30 → 34")
    page.get_by_role("button", name="Book 112 links").click()
    expect(page.locator("#announced")).to_contain_text("Rings 30 → 34. Nothing was booked; look again")
    assert [row.links for row in bookings_of(database, 1)] == [110]
    page.get_by_role("button", name="Book 114 links").click()
    expect(page.get_by_role("group", name="Fitted").first).to_contain_text("114 links")


def test_a_count_chosen_for_the_bike_as_it_was_asks_again(client: TestClient, database: Database) -> None:
    before = saw(database)
    measure(client, before, rings="34")
    asked = client.post("/jobs/4/choose", data={"saw": before, "links": "110"})
    assert asked.status_code == 409 and "Nothing was kept; look again" in asked.text
    assert job(database).chosen_links is None
    assert client.post("/jobs/4/choose", data={"saw": saw(database), "links": "110"}).status_code == 303
    assert (job(database).chosen_links, job(database).stage) == (110, "cut")


def test_a_cut_told_in_two_tabs_is_a_cut_of_the_chain_that_each_saw(client: TestClient, database: Database) -> None:
    """Both saw the box whole; the second tab's is merged, and the pieces of the first are no longer the box's."""
    seen = saw(database)
    for rivet, pieces in ((30, [30, 87]), (40, [40, 77])):
        assert client.post("/jobs/4/slip", data={"saw": seen, "rivet": str(rivet)}).status_code == 303
        assert [row["links"] for row in job(database).document["chain"]["pieces"]] == pieces
        assert client.get("/jobs/4/cut").status_code == 200


@pytest.mark.parametrize("path", ["choose", "undo", "book"])
def test_a_write_that_does_not_say_what_it_saw_asks(client: TestClient, database: Database, path: str) -> None:
    measure(client, saw(database), rings="34")
    before = job(database)
    for nonsense in ("", "9" * 30, "-1", "x", "3"):
        asked = client.post(f"/jobs/4/{path}", data={"saw": nonsense, "links": "110"})
        assert asked.status_code == 409 and "look again" in asked.text
    assert job(database) == before


def test_edits_of_two_tabs_are_merged_field_by_field(client: TestClient, database: Database) -> None:
    before = saw(database)
    measure(client, before, chainstay_mm="435")
    measure(client, before, **{"take_up.cage_mm": "90", "observed.pressure_before": "180 psi"})
    measure(client, before, rings="32")
    document = job(database).document
    assert (document["chainstay_mm"], document["take_up"]["cage_mm"], document["rings"]) == (435, 90, [32])
    assert job(database).observed.pressure_before == "180 psi"
    assert job(database).message.code == "with_merge"


def test_marks_of_two_tabs_are_both_kept(client: TestClient, database: Database) -> None:
    seen = str(job(database, 8).revision_id)
    for name, x in (("crank", "400"), ("axle", "200")):
        pressed = {"saw": seen, "mark": name, "at.x": x, "at.y": "250"}
        assert client.post("/jobs/8/photo/mark", data=pressed).status_code == 303
    photo = job(database, 8).observed.photo
    assert photo and (int(photo.marks["crank"][0]), int(photo.marks["axle"][0])) == (830, 415)


def test_the_shops_settings_merge_and_are_not_undone_unseen(client: TestClient, database: Database) -> None:
    client.post("/shop", data={"unit": "in", "saw": ""})
    seen = str(shop_now(database).revision_id)
    client.post("/shop", data={"first": "pairs", "saw": seen})
    client.post("/shop", data={"house_rule": "formula", "saw": seen})
    settings = shop_now(database).settings
    assert (settings["unit"], settings["first"], settings["house_rule"]) == ("in", "pairs", "formula")
    asked = client.post("/shop/undo", data={"saw": seen})
    assert asked.status_code == 409 and "Nothing was undone" in asked.text
    assert shop_now(database).settings == settings


def test_reading_a_page_writes_nothing(client: TestClient, database: Database) -> None:
    def content() -> list[str]:
        return list(database.connection.iterdump())

    before = content()
    stages = [
        f"/jobs/{one}/{stage}" for one in (4, 6, 8) for stage in ("measure", "size", "cut", "book", "photo", "tally")
    ]
    for path in ("/", "/bikes", "/bikes/1", "/bin", "/shop", "/jobs/4", *stages):
        for headers in ({}, {"HX-Request": "true", "HX-Request-Type": "partial"}):
            assert client.get(path, headers=headers).status_code in (200, 303)
    for path in ("typed", "sure"):
        client.post(f"/jobs/4/{path}", data={"saw": saw(database), "rings": "34"})
    assert content() == before


def test_what_was_booked_is_never_deleted(client: TestClient, database: Database) -> None:
    for _ in range(2):
        assert client.post("/jobs/4/book", data={"saw": saw(database)}).status_code == 303
        assert client.post("/jobs/4/take-back").status_code == 303
    count_of = "SELECT (SELECT count(*) FROM booking WHERE job_id = 4), (SELECT count(*) FROM cancellation)"
    assert tuple(database.connection.execute(count_of).fetchone()) == (2, 2)
    assert "Otter" not in [row.origin for row in pieces_in_bin(database) if row.links == 6]
    with pytest.raises(sqlite3.IntegrityError):
        database.connection.execute("DELETE FROM booking WHERE job_id = 4")
