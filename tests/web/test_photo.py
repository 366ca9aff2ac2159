"""Measuring from a photo, by pressing it, by keys and without script; and what is no photo."""

import re

import pytest
from fastapi.testclient import TestClient
from playwright.sync_api import Page, expect

from lone_pike.demo.workshop import sample_photo
from lone_pike.store.database import Database
from lone_pike.store.jobs import job_by_id
from lone_pike.store.photos import MOST_OF_A_JOB
from tests.web.conftest import NewContext
from tests.web.reading import field, settled

TRUE_PX = {
    "crank": (1120.0, 560.0),
    "axle": (442.6, 470.1),
    "guide": (479.9, 619.6),
    "tension": (549.5, 694.6),
    "scale_from": (608.5, 966.1),
    "scale_to": (1073.5, 966.1),
}
"""Where the drawn sample really has its parts, as the script that draws it says."""
SHOWN = 772 / 1600


def press_all(page: Page) -> None:
    """Every mark where it really is, as near as whole px of the page allow."""
    marks = page.get_by_role("group", name="Marks")
    for done, (x, y) in enumerate(TRUE_PX.values(), start=1):
        page.locator("input[type=image]").click(position={"x": x * SHOWN, "y": y * SHOWN})
        expect(marks.get_by_text("is set")).to_have_count(done)


def offered(page: Page, path: str) -> list[float]:
    """The value and the spread that a measure is offered with."""
    text = page.locator(f"[data-offer='{path}'] strong").inner_text()
    return [float(number) for number in re.findall(r"[\d.]+", text)]


@pytest.mark.parametrize("script", [True, False], ids=["script", "no script"])
def test_the_sample_is_pressed_measured_and_taken_over(new_context: NewContext, base_url: str, script: bool) -> None:
    """True are a chainstay of 440.8 (437 and 58), a cage of 66 and a gap of 7.5 mm."""
    page = new_context(java_script_enabled=script).new_page()
    page.set_viewport_size({"width": 1280, "height": 720})
    page.goto(f"{base_url}/jobs/4/photo")
    page.get_by_role("button", name="drawn sample").click()
    page.locator("#gear").wait_for()
    press_all(page)
    for path, true in (("chainstay_mm", 440.8), ("take_up.cage_mm", 66.0)):
        value, spread = offered(page, path)
        assert abs(value - true) < spread < 20
    if script:
        by_hand = offered(page, "chainstay_mm")[1]
        for care in ("Scale held in the chain's plane", "Camera on a stand"):
            page.get_by_label(care).check()
            settled(page)
        assert offered(page, "chainstay_mm")[1] < 0.75 * by_hand
    expect(page.locator(".over-chain")).to_have_count(1)
    assert not page.locator("[name=chainstay_mm]").is_checked(), "a caliper's figure is never overwritten unasked"
    page.locator("[name=chainstay_mm]").check()
    page.get_by_role("button", name="Take these").click()
    expect(page.get_by_role("status").first).to_contain_text("From the photo: Chainstay 432 → 44")
    page.get_by_role("link", name="To Measure").click()
    expect(field(page, "chainstay_mm")).to_have_value(re.compile(r"^44[01]\.\d ± \d+(\.\d)?$"))
    if script:
        settled(page)
    page.get_by_role("button", name="Undo").click()
    expect(field(page, "chainstay_mm")).to_have_value("432")


def test_keys_move_a_mark_and_undo_brings_it_back(page: Page, base_url: str, database: Database) -> None:
    page.goto(f"{base_url}/jobs/8/photo?mark=guide")
    for key, left in (("ArrowLeft", "479.5"), ("Shift+ArrowLeft", "459.5")):
        page.keyboard.press(key)
        expect(page.locator("[data-mark=guide]")).to_have_attribute("transform", f"translate({left} 620.0)")
    page.keyboard.press("u")
    expect(page.locator("[data-mark=guide]")).to_have_attribute("transform", "translate(479.5 620.0)")
    job = job_by_id(database, 8)
    assert job and job.observed.photo and job.observed.photo.marks["guide"] == (479.5, 620.0)


def test_the_scale_may_be_a_ring_and_wrong_ones_are_told(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/8/photo")
    page.locator("#by").select_option("ring")
    ring = page.get_by_label("Teeth of the ring")
    expect(ring).to_have_value("38")
    ring.fill("200")
    ring.blur()
    expect(page.get_by_role("alert")).to_contain_text("Ring: “200” won’t do here: 16 to 70 teeth")


@pytest.mark.parametrize(
    ("name", "data", "status", "told"),
    [
        ("../../<b>\x00.jpg", b"no photo at all", 422, "here: a JPEG, PNG or WebP photo"),
        ("bike.jpg", b"", 422, "an empty file"),
        ("bike.jpg", bytes(60_000_000), 413, "“60.0 MB” won’t do here: up to 25 MB"),
    ],
)
def test_what_is_no_photo_changes_nothing(
    client: TestClient, database: Database, name: str, data: bytes, status: int, told: str
) -> None:
    before = job_by_id(database, 4)
    answer = client.post("/jobs/4/photo", files={"file": (name, data)})
    assert (answer.status_code, job_by_id(database, 4)) == (status, before)
    assert told in answer.text and "<b>" not in answer.text


def test_another_photo_is_a_revision_and_the_first_comes_back(client: TestClient, database: Database) -> None:
    first = job_by_id(database, 8)
    assert client.post("/jobs/8/photo", files={"file": ("s.jpg", sample_photo())}).status_code == 303
    second = job_by_id(database, 8)
    assert first and second and first.observed.photo and second.observed.photo
    photo = second.observed.photo
    assert "crank" not in photo.marks and photo.photo_id != first.observed.photo.photo_id and photo.ring_teeth == 38
    assert client.get(f"/jobs/4/photo/{photo.photo_id}.jpg").status_code == 404, "another job's photo"
    client.post("/jobs/8/undo", data={"saw": second.revision_id})
    assert job_by_id(database, 8) == first


def test_a_photo_of_the_wrong_side_is_told(client: TestClient) -> None:
    client.post("/jobs/8/photo/mark", data={"mark": "axle", "at.x": "700", "at.y": "220"})
    assert "a photo of the drive side" in client.get("/jobs/8/photo").text
    assert client.post("/jobs/8/photo/mark", data={"mark": "moon", "at.x": "1", "at.y": "1"}).status_code == 422
    assert client.post("/jobs/4/photo/take", data={"chainstay_mm": "yes"}).status_code == 422


def test_replaced_photos_do_not_pile_up_and_a_photo_and_its_note_are_one_commit(
    client: TestClient, database: Database, monkeypatch: pytest.MonkeyPatch
) -> None:
    def kept() -> int:
        return int(database.connection.execute("SELECT count(*) FROM photo WHERE job_id = 4").fetchone()[0])

    for _ in range(MOST_OF_A_JOB + 2):
        assert client.post("/jobs/4/photo", data={"sample": "1"}).status_code == 303
    assert kept() == MOST_OF_A_JOB
    newest = database.connection.execute("SELECT max(id) FROM photo").fetchone()[0]
    monkeypatch.setattr("lone_pike.workshop.edits.revise_job", None)
    assert client.post("/jobs/4/photo", data={"sample": "1"}).status_code == 500
    assert database.connection.execute("SELECT max(id) FROM photo").fetchone()[0] == newest
