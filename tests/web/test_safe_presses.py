"""The hand slips: a double press, a held key, a caliper without a field. None of it may move what was not meant."""

import re

import pytest
from playwright.sync_api import Page, expect

from lone_pike.formats.files.bike_file import bike_from_document
from lone_pike.store.database import Database
from lone_pike.store.jobs import job_by_id
from tests.bikes import wide_document
from tests.web.reading import count, field, settled

AS_A_CALIPER = """keys => keys.forEach(key =>
    document.dispatchEvent(new KeyboardEvent("keydown", {key, bubbles: true, cancelable: true})))"""


def is_booked(database: Database) -> bool:
    job = job_by_id(database, 4)
    return bool(job and job.booked_at)


@pytest.fixture
def at_size(page: Page, base_url: str) -> Page:
    """The Otter at Size, with another count than the advised one under test."""
    page.set_viewport_size({"width": 1280, "height": 800})
    page.goto(f"{base_url}/jobs/4/size?links=110")
    return page


def test_enter_after_the_cut_was_chosen_undoes_nothing_and_cuts_nothing(at_size: Page, database: Database) -> None:
    at_size.evaluate(
        """() => document.addEventListener("htmx:after:swap", () => {
          const enter = () => new KeyboardEvent("keydown", { key: "Enter", bubbles: true });
          for (let i = 0; i < 3; i++) document.body.dispatchEvent(enter());
        }, { once: true })"""
    )
    at_size.get_by_role("button", name="Cut to 110 links").click()
    expect(at_size).to_have_url(re.compile("/cut"))
    expect(at_size.get_by_role("heading", name="Push rivet")).to_be_focused()
    assert at_size.title().endswith("Cut · Lone Pike")
    job = job_by_id(database, 4)
    assert job and (job.chosen_links, job.stage) == (110, "cut")


@pytest.mark.parametrize("pause_ms", [60, 250, 700])
def test_presses_in_one_place_never_book(at_size: Page, database: Database, pause_ms: int) -> None:
    box = at_size.get_by_role("button", name="Cut to 110 links").bounding_box()
    assert box
    for _ in range(5):
        at_size.mouse.click(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
        at_size.wait_for_timeout(pause_ms)
    assert not is_booked(database)
    expect(at_size).to_have_url(re.compile("/(cut|join|book)"))


def test_enter_held_for_a_second_acts_once(at_size: Page, database: Database) -> None:
    for _ in range(30):
        at_size.keyboard.down("Enter")
        at_size.wait_for_timeout(33)
    at_size.keyboard.up("Enter")
    expect(at_size).to_have_url(re.compile("/cut"))
    assert not is_booked(database)


def test_a_caliper_without_a_field_is_told_so_and_moves_nothing(at_size: Page) -> None:
    was = at_size.url
    at_size.evaluate(AS_A_CALIPER, [*"93.24", "Enter"])
    settled(at_size)
    assert at_size.url == was
    expect(at_size.locator("#status")).to_contain_text("Read 93.24 with no box selected")
    expect(at_size.get_by_text("A reading came in with no box selected")).to_be_visible()
    at_size.keyboard.press("2")
    expect(at_size).to_have_url(re.compile("/measure"))


def test_the_count_along_stays_under_the_finger_and_keys_go_on_after_a_press(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/4/tally")
    on, counted = page.locator("#tally-on"), page.get_by_label("Counted")
    places = []
    for reached in ("10", "20", "30"):
        places.append(on.bounding_box())
        on.click()
        expect(counted).to_have_text(reached)
    assert places[0] == places[1] == places[2]
    page.keyboard.press("Space")
    expect(counted).to_have_text("40")
    page.keyboard.press("Enter")
    expect(counted).to_have_text("50")


def test_a_new_count_is_announced(at_size: Page) -> None:
    at_size.wait_for_load_state("networkidle")
    at_size.keyboard.press("'")
    expect(at_size.locator("#status")).to_contain_text("112 links · 56 pairs safe")


@pytest.mark.parametrize("path", ["cut", "tally", "book"])
def test_an_unsafe_count_is_named_beside_the_rivet_with_the_advised_one(page: Page, base_url: str, path: str) -> None:
    page.goto(f"{base_url}/jobs/4/{path}?links=108")
    expect(page.get_by_role("main")).to_contain_text(
        "Not safe: at 108 links, the cage would have only 18° of its 25° of reserve left"
    )
    expect(page.get_by_role("main")).to_contain_text("Advised: 112 links.")


@pytest.mark.parametrize(
    ("path", "text", "words"),
    [
        ("chain.box_links", "7", "20 to 600"),
        ("old_chain.links", "many", "20 to 600"),
        ("take_up.capacity", "3", "4 to 80"),
    ],
)
def test_a_wrong_side_field_is_marked_and_the_count_stays(
    page: Page, base_url: str, path: str, text: str, words: str
) -> None:
    page.goto(f"{base_url}/jobs/4/measure")
    typed = "(field, text) => { field.value = text; field.dispatchEvent(new Event('input', {bubbles: true})) }"
    field(page, path).evaluate(typed, text)
    expect(page.locator(f"[id='{path}-notes']")).to_contain_text(words)
    expect(count(page)).to_have_text("112")


def test_a_chain_for_twelve_is_closed_by_a_locking_link_unless_told_otherwise() -> None:
    """Trade, section 10: quick links to 9 cogs, locking links from 10 on."""
    joiners = {
        cogs: bike_from_document(wide_document(cogs=list(range(11, 11 + cogs)))).joiner.value for cogs in (8, 9, 10, 12)
    }
    assert joiners == {8: "quick_link", 9: "quick_link", 10: "locking_link", 12: "locking_link"}


def test_what_is_being_typed_survives_a_reload_and_is_gone_once_it_is_kept(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/4/measure")
    field(page, "chainstay_mm").press_sequentially("9")
    page.reload()
    expect(field(page, "chainstay_mm")).to_have_value("9432")
    expect(page.locator("[id='chainstay_mm-notes']")).to_contain_text("150 to 2500")
    field(page, "chainstay_mm").fill("433")
    field(page, "chainstay_mm").blur()
    expect(page.get_by_role("button", name="Undo")).to_be_visible()
    assert page.evaluate("localStorage.length") == 0


def test_what_was_typed_while_the_workshop_is_away_is_sent_again_and_said(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/4/measure")
    page.wait_for_load_state("networkidle")
    page.route("**/*", lambda route: route.abort())
    field(page, "chainstay_mm").fill("434")
    field(page, "chainstay_mm").blur()
    expect(page.locator("#status")).to_contain_text("The workshop does not answer")
    page.unroute("**/*")
    expect(page.get_by_text("Chainstay 432 → 434")).to_be_visible(timeout=15_000)
    expect(field(page, "chainstay_mm")).to_have_value("434")
