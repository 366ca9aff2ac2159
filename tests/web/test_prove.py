"""Prove: the steps in their order, what is seen beside what is drawn, pairs off and on, and the bike that learns."""

import json
import re
from typing import Any

from fastapi.testclient import TestClient
from playwright.sync_api import Page, expect

from lone_pike.formats.typed.idler_form import rows_of, swapped
from lone_pike.store.database import Database
from lone_pike.store.jobs import job_by_id
from tests.bikes import CROSSED, SAMPLES, wide_document
from tests.web.reading import count, settled

BY_CLASS = wide_document(
    chainstay_mm=438,
    take_up={"type": "derailleur", "class": "long", "b_gap_mm": 6},
    about={"chainstay_mm": 14},
    chain={"box_links": 118, "box_includes_joiner": True},
)
"""Told 438 mm, about: its true chainstay is 426."""


def job_on(client: TestClient, document: dict[str, Any]) -> str:
    """The address of a job on a bike of a file."""
    started = client.post("/jobs", files={"file": ("bike.json", json.dumps(document))})
    assert started.status_code == 303, started.text
    return started.headers["location"]


def told(client: TestClient, at: str, **form: str) -> str:
    """The page of Prove after a press."""
    answer = client.post(f"{at}/prove", data=form, follow_redirects=True)
    assert answer.status_code == 200, answer.text
    return answer.text


def open_step(page: Page) -> str:
    return page.get_by_role("listitem").locator("[aria-current=step]").inner_text()


def test_a_bike_sized_too_long_loses_a_pair_and_learns(
    page: Page, base_url: str, client: TestClient, database: Database
) -> None:
    """Sized by class and an estimate it gets 114; small/small touches, a pair comes off, and 112 stay right."""
    at = job_on(client, BY_CLASS)
    page.goto(base_url + at + "/size")
    advised = int(count(page).inner_text())
    page.get_by_role("button", name=re.compile("^Choose|Cut to|Use ")).first.click()
    settled(page)
    page.get_by_role("button", name="It is cut").click()
    settled(page)
    page.get_by_role("button", name="It is joined").click()
    settled(page)
    expect(page.locator("#step-now")).to_contain_text("Shift to 30/11")
    page.get_by_role("button", name="Press the rim where the hand points").click(position={"x": 20, "y": 100})
    settled(page)
    expect(page.locator("#advice")).to_contain_text("Take off 1 pair")
    expect(page.locator("#learned")).to_contain_text("chainstay is nearer")
    page.get_by_role("button", name="Take over into the measures").click()
    settled(page)
    kept = job_by_id(database, int(at.split("/")[2]))
    assert kept and kept.document["chainstay_mm"] < 436 and kept.document["seen"][0]["taken_over"] is True
    page.get_by_role("button", name=f"Back to Cut for {advised - 2}").click()
    settled(page)
    assert page.url.endswith("/cut") and count(page).inner_text() == str(advised - 2)
    cut = job_by_id(database, int(at.split("/")[2]))
    assert cut and sum(row["links"] for row in cut.document["chain"]["pieces"]) == 117, "no link is lost"
    page.get_by_role("button", name="Undo the last change").click()
    settled(page)
    undone = job_by_id(database, int(at.split("/")[2]))
    assert undone and undone.document["chain"]["box_links"] == 118


def test_the_largest_cog_waits_and_is_not_offered_where_the_cage_is_straight(client: TestClient) -> None:
    at = job_on(client, wide_document())
    largest = client.get(f"{at}/prove?step=largest").text
    assert "Do this first: Second largest cog." in largest and "As drawn, next" not in largest
    held = told(client, at, step="second_largest", state="straight")
    assert re.search(r"Stop here. Add \d pairs?, then prove it again", held)
    assert "the cage has no movement left" in client.get(f"{at}/prove?step=largest").text
    again = client.post(f"{at}/prove/again", data={"step": "second_largest"}, follow_redirects=True).text
    assert "Stop here" not in again
    told(client, at, step="second_largest", clock="4:40")
    assert "As drawn, next" in client.get(f"{at}/prove?step=largest").text


def test_a_cage_that_is_straight_on_the_largest_cog_holds_the_travel_back(client: TestClient) -> None:
    at = job_on(client, {name: part for name, part in SAMPLES["Osprey"].items() if name != "seen"})
    told(client, at, step="second_largest", as_drawn="1")
    told(client, at, step="largest", state="straight")
    for step in ("through_travel", "guide_gap"):
        assert "the cage has no movement left" in client.get(f"{at}/prove?step={step}").text


def test_what_cannot_be_is_said_at_the_field_and_nothing_is_lost(client: TestClient, database: Database) -> None:
    at = job_on(client, wide_document())
    for form, says in (
        ({"clock": "16:99"}, "“16:99” won’t do here"),
        ({"clearance_mm": "wet"}, "“wet” won’t do here"),
        ({}, "what was seen"),
    ):
        refused = client.post(f"{at}/prove", data={"step": "clear_of_guide", **form})
        assert refused.status_code == 422 and says in refused.text, form
        assert all(f'value="{text}"' in refused.text for text in form.values())
    assert client.post(f"{at}/prove", data={"step": "slack", "slack_mm": "12"}).status_code == 422
    without_word = client.post(f"{at}/prove/skip", data={"step": "ride", "skipped": " "})
    assert without_word.status_code == 422 and "a reason why" in without_word.text
    job = job_by_id(database, int(at.split("/")[2]))
    assert job and "seen" not in job.document and not job.observed.proved


def test_two_tablets_keep_what_both_saw_and_the_second_press_changes_nothing(
    client: TestClient, database: Database
) -> None:
    at = job_on(client, wide_document())
    told(client, at, step="clear_of_guide", clearance_mm="36")
    told(client, at, step="clear_of_guide", clock="7:35")
    told(client, at, step="clear_of_guide", clock="7:40")
    told(client, at, step="clear_of_guide", clock="7:40")
    job = job_by_id(database, int(at.split("/")[2]))
    assert job and [row.get("clock", row.get("clearance_mm")) for row in job.document["seen"]] == [36, "7:40"]
    stale = client.post(f"{at}/prove/learn", data={"saw": "1"})
    assert stale.status_code == 409 and "Nothing was kept" in stale.text


def test_a_cog_that_is_gone_leaves_the_count_and_what_else_was_seen(client: TestClient) -> None:
    at = job_on(client, wide_document(seen=[{"links": 112, "ring": 30, "cog": 46, "clock": "4:05"}]))
    saw = client.get(f"{at}/measure").text.split('name="saw" value="')[1].split('"')[0]
    kept = client.post(
        f"{at}/measure", data={"saw": saw, "cogs": "11 13 15 17 20 23 26 30 34 42", "chain.speeds": "10"}
    )
    assert kept.status_code == 303
    size = client.get(f"{at}/size")
    assert size.status_code == 200 and "Not measured yet" not in size.text


def test_a_trike_is_proved_by_its_own_steps_and_the_book_tells(client: TestClient) -> None:
    at = job_on(client, {**SAMPLES[CROSSED], "idlers": [*swapped(rows_of(SAMPLES[CROSSED])).idlers]})
    page = client.get(f"{at}/prove").text
    assert "Both ends of the boom" in page and "No twist" in page
    told(client, at, step="no_twist", as_drawn="1")
    told(client, at, step="boom_ends", as_drawn="1")
    client.post(f"{at}/prove/skip", data={"step": "torque", "skipped": "bolts not touched"})
    book = client.get(f"{at}/book").text
    assert re.search(r"Proved: 2 of \d+ steps", book) and "skipped, “bolts not touched”" in book
    saw = book.split('name="saw" value="')[1].split('"')[0]
    booked = client.post(f"{at}/book", data={"saw": saw})
    assert booked.status_code == 303, booked.text
    assert "bolts not touched" in client.get(booked.headers["location"]).text


def test_dropouts_are_proved_by_their_slack(client: TestClient, database: Database) -> None:
    """42/17 with 96 links at about 430 mm; 40 mm of slack says that the wheels stand nearer."""
    dropouts = {"rings": [42], "cogs": [17], "chainstay_mm": 432, "take_up": {"type": "none"}}
    at = job_on(client, wide_document() | dropouts | {"about": {"chainstay_mm": 4}})
    page = client.get(f"{at}/prove?step=slack").text
    assert "10 to 15 mm in all is right" in page and "Fingers out of the moving chain" in page
    learned = told(client, at, step="slack", slack_mm="40")
    assert "chainstay is nearer" in learned
    job = job_by_id(database, int(at.split("/")[2]))
    assert job and job.document["seen"][0]["slack_mm"] == 40
