"""Receive: the complaint and its causes, the tick finder, the old chain gauged, pictures, and what is laid out."""

import io
import re

import pytest
from fastapi.testclient import TestClient
from PIL import Image
from playwright.sync_api import Page, expect

from lone_pike.store.database import Database
from lone_pike.store.jobs import job_by_id
from tests.bikes import wide_document
from tests.web.reading import settled
from tests.web.test_prove import job_on

WITH_OLD = wide_document(old_chain={"links": 118})


def a_picture(colour: str = "teal") -> bytes:
    out = io.BytesIO()
    Image.effect_noise((640, 480), 60).convert("RGB").save(out, "JPEG", comment=colour)
    return out.getvalue()


def test_a_worn_chain_whose_level_ends_mislead(page: Page, base_url: str, client: TestClient) -> None:
    """118 are two pairs past the safe 114 (model, section 3); 1.04 % of 118 links is 1.2 links."""
    at = job_on(client, WITH_OLD)
    page.goto(base_url + at + "/receive")
    page.get_by_role("button", name="Rubs or hangs on small cogs").click()
    settled(page)
    causes = page.locator("#causes li")
    expect(causes.first).to_contain_text("Chain too long")
    expect(causes.first).to_contain_text("The old 118 links are 2 pairs too many")
    page.get_by_text("Ruler, in sixteenths").click()
    page.get_by_label("Sixteenths past").fill("2")
    page.keyboard.press("Enter")
    settled(page)
    expect(page.get_by_role("img", name="New chain above, old chain below")).to_be_visible()
    expect(page.locator("#old-chain")).to_contain_text("Laid level, the ends mislead by 1.2 links")
    expect(page.locator("#old-chain")).to_contain_text("Compare rivet by rivet")
    expect(page.locator("#old-chain")).to_contain_text("cannot serve these gears: 2 pairs too long")
    expect(causes.nth(1)).to_contain_text("Worn chain")
    page.get_by_label("Chain too long").check()
    settled(page)
    page.get_by_text("What to replace").click()
    page.get_by_label("Cassette").check()
    settled(page)
    page.get_by_text(re.compile("^Lay out")).click()
    expect(page.get_by_label("Chain whip")).to_be_visible()
    page.get_by_label("Eye protection").check()
    settled(page)
    page.reload()
    expect(page.get_by_label("Chain too long")).to_be_checked()
    expect(page.get_by_label("Eye protection")).to_be_checked()


def test_the_old_chain_is_counted_along_in_tens_and_ones(
    page: Page, base_url: str, client: TestClient, database: Database
) -> None:
    at = job_on(client, wide_document())
    page.goto(base_url + at + "/receive")
    page.get_by_text("Old chain", exact=True).click()
    page.get_by_role("link", name="Count along").click()
    expect(page.get_by_role("heading", name="Hold one end")).to_be_visible()
    page.wait_for_load_state()
    for key, reached in ((" ", "10"), (" ", "20"), (".", "21"), (".", "22"), ("u", "20"), (".", "21")):
        page.keyboard.press(key)
        expect(page.get_by_label("Counted")).to_have_text(reached)
    page.goto(base_url + at + "/count-old?at=112")
    page.keyboard.press("Enter")
    expect(page.locator("#old-chain")).to_contain_text("The old chain can serve these gears")
    job = job_by_id(database, int(at.split("/")[2]))
    assert job and job.document["old_chain"]["links"] == 112


def test_a_tick_is_found_by_its_period(page: Page, base_url: str, client: TestClient) -> None:
    """In 30/15 the chain of 118 links comes round every 3.93 turns."""
    at = job_on(client, WITH_OLD)
    page.goto(base_url + at + "/receive")
    page.get_by_role("button", name="Ticks at each turn").click()
    settled(page)
    page.locator("#tick-cog").select_option("15")
    page.get_by_label("Once every how many turns").fill("3,9")
    page.keyboard.press("Enter")
    settled(page)
    expect(page.locator("#tick-says")).to_contain_text("Once every 3.93 turns: chain.")
    assert "tick=3" in page.url and "cog=15" in page.url


@pytest.mark.parametrize(
    ("form", "says"),
    [
        ({"way": "ruler", "pitches": "24", "mm": "wet"}, "“wet” won’t do here"),
        ({"way": "ruler", "pitches": "0", "mm": "305"}, "won’t do here"),
        ({"way": "ruler", "pitches": "24"}, "Missing"),
        ({"way": "gauge"}, "Missing"),
        ({"way": "gauge", "passes": "0.75", "stops": "0.5"}, "a step above 0.75"),
        ({"way": "string"}, "a way to gauge"),
    ],
)
def test_a_reading_that_cannot_be_is_refused_in_words(client: TestClient, form: dict[str, str], says: str) -> None:
    at = job_on(client, WITH_OLD)
    refused = client.post(f"{at}/gauge", data=form)
    assert refused.status_code == 422 and says in refused.text
    assert client.post(f"{at}/reading-out", data={"place": "0"}).status_code == 422


def test_pictures_are_kept_with_a_word_shown_at_join_and_undone(client: TestClient, database: Database) -> None:
    at = job_on(client, WITH_OLD)
    job_id = int(at.split("/")[2])
    added = client.post(f"{at}/pictures", data={"word": "tab side"}, files={"file": ("a.jpg", a_picture())})
    assert added.status_code == 303, added.text
    page = client.get(f"{at}/receive").text
    address = re.findall(r'src="(/jobs/\d+/pictures/\d+\.jpg)"', page)[0]
    assert client.get(address).headers["content-type"] == "image/jpeg" and "tab side" in page
    assert address in client.get(f"{at}/join").text
    assert client.get(address.replace(f"/jobs/{job_id}/", "/jobs/4/")).status_code == 404
    number = re.findall(r"\d+", address)[-1]
    client.post(f"{at}/picture-out", data={"picture": number})
    assert address not in client.get(f"{at}/receive").text
    job = job_by_id(database, job_id)
    assert job
    client.post(f"{at}/undo", data={"saw": str(job.revision_id), "stage": "receive"})
    assert address in client.get(f"{at}/receive").text
    for _ in range(11):
        assert client.post(f"{at}/pictures", files={"file": ("a.jpg", a_picture())}).status_code == 303
    too_many = client.post(f"{at}/pictures", files={"file": ("a.jpg", a_picture())})
    assert too_many.status_code == 409 and "up to 12 pictures" in too_many.text
    assert client.post(f"{at}/pictures", files={"file": ("a.txt", b"no picture")}).status_code in (409, 422)


def test_a_typed_complaint_leads_to_its_causes_too(client: TestClient) -> None:
    at = job_on(client, WITH_OLD)
    for told, cause in (("It slaps on cobbles", "Clutch off"), ("Snapped at the ferry", "Rivet driven back")):
        client.post(f"{at}/receive", data={"observed.complaint": told})
        assert cause in client.get(f"{at}/receive").text
    client.post(f"{at}/receive", data={"observed.complaint": "Blue"})
    assert "What may cause it" not in client.get(f"{at}/receive").text


def test_a_known_bike_begins_with_what_is_wrong_and_nothing_is_compulsory(client: TestClient) -> None:
    started = client.post("/jobs", data={"bike": "1"}).headers["location"]
    first = client.get(started, follow_redirects=True)
    assert first.status_code == 200
    new = client.post("/jobs", data={"name": "Knot"}).headers["location"]
    assert client.get(new).headers["location"].endswith("/measure")
    page = client.get(f"{new}/receive").text
    assert "Nothing here has to be filled in" in page and "To Measure" in page
