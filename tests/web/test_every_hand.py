"""By keyboard alone, by thumb, on narrow screens and enlarged: every page within reach, nothing cut off."""

import json

import pytest
from axe_playwright_python.base import AXE_SCRIPT
from fastapi.testclient import TestClient
from playwright.sync_api import Page, expect

from tests.bikes import wide_document
from tests.web.conftest import WINDOW
from tests.web.reading import count, field, settled
from tests.web.test_pages import PAGES

JOB_PAGES = [page for page in PAGES if page.startswith("/jobs/") and "tally" not in page]
PRESSED = "a[href], button, summary, select, textarea, input:not([type=hidden])"
TOO_SMALL = """(pressed) => [...document.querySelectorAll(pressed)]
  .map(each => each.matches("input[type=checkbox]") ? each.closest("label") ?? each : each)
  .filter(each => each.checkVisibility() && !each.closest("dialog, .sr-only, .contents"))
  .filter(each => getComputedStyle(each).clipPath === "none")
  .map(each => [each.getBoundingClientRect(), (each.innerText || each.ariaLabel || each.id).slice(0, 40)])
  .filter(([box]) => box.width && (box.height < 47.5 || box.width < 47.5)).map(([box, text]) => text)"""


def test_a_new_bike_from_stand_to_book_by_keyboard_in_25_presses(page: Page, base_url: str) -> None:
    presses = 0

    def press(key: str) -> None:
        nonlocal presses
        presses += 1
        page.keyboard.press(key)

    page.goto(base_url)
    press("n")
    page.keyboard.type("Dabchick")
    press("Enter")
    page.wait_for_url("**/measure")
    expect(field(page, "rings")).to_be_focused()
    order = ["rings", "cogs", "chainstay_mm", "take_up.cage_mm", "take_up.b_gap_mm", "chain.box_links"]
    values = ["32", "11 13 15 17 19 22 25 28 32 36 42", "435", "90", "6", "126"]
    for path, value in zip(order, values, strict=True):
        expect(field(page, path)).to_be_focused()
        page.keyboard.type(value)
        press("Enter")
    # The old chain is not known: an empty field is left by Enter, to the next step.
    press("Enter")
    expect(page.get_by_role("button", name="Size it")).to_be_focused()
    expect(count(page)).not_to_have_text("–")
    for heading, key in (
        ("Why", "Enter"),
        ("Push rivet", "Enter"),
        ("Smallest cog", "Enter"),
        ("Shift to", "j"),
        ("What was fitted", "j"),
    ):
        press(key)
        expect(page.get_by_role("heading", name=heading).first).to_be_focused()
        settled(page)
    press("b")
    page.wait_for_url("**/bikes/*")
    expect(page.get_by_role("heading", name="Dabchick")).to_be_visible()
    assert presses <= 25


def test_a_slash_finds_a_bike_from_anywhere(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/4/size")
    page.keyboard.press("/")
    page.wait_for_url("**/bikes#find")
    page.keyboard.type("heron")
    expect(page.get_by_role("link", name="Heron")).to_be_visible()
    expect(page.get_by_role("link", name="Otter")).to_have_count(0)


@pytest.mark.parametrize("path", JOB_PAGES[:6])
def test_tab_reaches_the_next_step_within_12_stops(page: Page, base_url: str, path: str) -> None:
    page.goto(base_url + path)
    page.keyboard.press("Tab")
    page.keyboard.press("Enter")
    page.wait_for_function("document.activeElement.id === 'next'")


def test_a_bike_not_yet_measured_stands_in_faint_line_and_firms_up(page: Page, base_url: str) -> None:
    page.goto(base_url)
    page.get_by_label("A new bike").fill("Dabchick")
    page.keyboard.press("Enter")
    drawn = page.get_by_role("img", name="Side view of a typical bike")
    faint = "Number(getComputedStyle(e.querySelector('.wheel.ring')).opacity)"
    assert drawn.evaluate(f"e => {faint}") < 0.5
    assert [text.strip() for text in drawn.locator(".letter").all_text_contents()] == ["A", "B", "C"]
    before = drawn.locator(".wheel.ring").get_attribute("d")
    field(page, "rings").fill("38")
    expect(page.locator(".lacks-rings")).to_have_count(0)
    assert drawn.evaluate(f"e => {faint}") == 1
    assert drawn.locator(".wheel.ring").get_attribute("d") != before


def test_the_instrument_lies_where_the_field_in_hand_is_measured(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/4/measure")
    shown = "[...document.querySelectorAll('.instrument')].map(e => getComputedStyle(e).visibility)"
    assert page.evaluate(shown) == ["hidden"] * 3
    field(page, "take_up.cage_mm").focus()
    assert page.evaluate(shown) == ["hidden", "visible", "hidden"]


@pytest.mark.parametrize(
    ("width", "height"), [(1280, 650), (1024, 768), (820, 1180), (800, 1600), (390, 844), (320, 640), (640, 400)]
)
def test_count_and_next_step_stay_in_sight_on_small_and_enlarged_screens(
    page: Page, base_url: str, width: int, height: int
) -> None:
    """640 × 400 is 1280 × 800 enlarged to 200 %: there both share a foot of at most a quarter of the height.

    800 × 1600 is taller than what stands on some pages: there the drawing takes the room that is left.
    1280 × 650 is what the browser of a small laptop leaves: the drawing of Measure has a fifth of its height there.
    """
    page.set_viewport_size({"width": width, "height": height})
    for path in ("/jobs/4/measure", "/jobs/6/size", "/jobs/4/cut", "/jobs/4/join"):
        page.goto(base_url + path)
        expect(count(page)).to_be_in_viewport(ratio=1)
        if path.endswith("measure"):
            drawn = page.get_by_role("img", name="Side view").bounding_box()
            assert drawn and drawn["height"] >= height / 5
        step, foot, last = (page.locator(each).bounding_box() for each in ("#next", "#foot", "#stages a:last-child"))
        assert step and foot and last
        assert last["y"] + last["height"] <= foot["y"], path
        assert step["x"] >= 0 and step["x"] + step["width"] <= width, path
        if height == 400:
            told = count(page).bounding_box()
            assert told and step["y"] + step["height"] <= height and foot["height"] <= height / 4, path
            assert told["x"] + told["width"] < step["x"], path
            continue
        assert step["y"] >= 0 and step["y"] + step["height"] <= foot["y"], path


def test_a_caution_is_in_sight_where_the_hand_is_at_risk(page: Page, base_url: str) -> None:
    """In the window that a small laptop leaves; the Pintail's chain is cut of three pieces."""
    page.set_viewport_size({"width": 1366, "height": 650})
    for path in ("4/measure", "4/cut", "11/cut", "4/join", "4/prove", "4/book"):
        page.goto(f"{base_url}/jobs/{path}")
        expect(page.get_by_role("note")).to_be_in_viewport(ratio=0.99)


CLIPPED = """() => [...document.querySelectorAll('#measures-bed input')].filter(
    (box) => box.offsetParent && box.scrollWidth > box.clientWidth).map((box) => box.name)"""


@pytest.mark.parametrize(("width", "height"), [(1280, 800), (1024, 768), (820, 1180), (390, 844)])
def test_every_measure_is_read_whole_in_its_box(page: Page, base_url: str, width: int, height: int) -> None:
    """1024 × 768 is a tablet held across; there the panel leaves the boxes little room."""
    page.set_viewport_size({"width": width, "height": height})
    for job in range(4, 11):
        page.goto(f"{base_url}/jobs/{job}/measure")
        assert page.evaluate(CLIPPED) == [], job


@pytest.mark.parametrize("width", [1280, 820, 390, 320])
def test_no_hint_is_cut_off(page: Page, base_url: str, width: int) -> None:
    page.set_viewport_size({"width": width, "height": 900})
    page.goto(f"{base_url}/jobs/6/measure")
    over_label = """() => [...document.querySelectorAll("#measures-bed [form=measures]")].filter(each => {
      each.focus();
      const hint = document.getElementById(`${each.id}-how`).getBoundingClientRect();
      const label = document.querySelector("#measures-bed label").getBoundingClientRect();
      return hint.bottom > label.top || hint.right > innerWidth;
    }).map(each => each.id)"""
    assert page.evaluate(over_label) == []
    page.set_viewport_size({"width": 1280, "height": 900})
    field(page, "chain.box_links").focus()
    expect(page.locator("#how-line")).to_have_text("The count printed on the box, in links of one pitch each.")


TRIPLE = wide_document(rings=[24, 34, 44], cogs=[11, 13, 15, 17, 20, 23, 26, 30, 34])
CROWDED = [
    TRIPLE,
    TRIPLE | {"suspension": {"type": "table", "points": [[0, 430], [60, 434], [120, 440]]}},
    {"lone_pike": 1, "rings": [42], "cogs": [15, 18], "take_up": {"type": "slot", "min_mm": 405, "max_mm": 430}},
]
"""Bikes that leave their drawing little room beside dials, growth and counts that fit."""

LAID_OVER = """() => [...document.querySelectorAll("#readings p")].map(each => each.getBoundingClientRect()).some(
  reading => [...document.querySelectorAll("#side a")].map(each => each.getBoundingClientRect()).some(
    button => reading.left < button.right && button.left < reading.right
      && reading.top < button.bottom && button.top < reading.bottom))"""


@pytest.mark.parametrize(("width", "height"), [(1280, 800), (1280, 720), (1366, 650), (820, 1180), (390, 844)])
def test_no_button_lies_over_a_reading(page: Page, client: TestClient, base_url: str, width: int, height: int) -> None:
    page.set_viewport_size({"width": width, "height": height})
    for bike in CROWDED:
        started = client.post("/jobs", files={"file": ("bike.json", json.dumps(bike | {"name": "Eider"}))})
        page.goto(f"{base_url}{started.headers['location']}/size")
        expect(page.locator("#readings p")).to_have_count(4)
        assert not page.evaluate(LAID_OVER), bike


LOOKED_AT = {(1280, "light"): slice(None), (820, "dark"): slice(1, None, 6), (390, "dark"): slice(0, None, 4)}
"""At a stand's width by day every page is looked at; by night every sixth one on a tablet, every fourth on a phone."""


@pytest.mark.parametrize(("width", "scheme"), LOOKED_AT)
def test_best_practice_at_three_widths(first_page: Page, base_url: str, width: int, scheme: str) -> None:
    """As tall as it takes: what lies under the foot and is scrolled to is no small target."""
    page = first_page
    page.add_init_script(AXE_SCRIPT)
    page.set_viewport_size({"width": width, "height": 2600 if width < 1001 else 800})
    page.emulate_media(color_scheme="dark" if scheme == "dark" else "light")
    tags = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa", "best-practice"]
    for path in PAGES[LOOKED_AT[width, scheme]]:
        page.goto(base_url + path)
        # On a tall page the rule counts what a pointer's hint says as if it were seen.
        options = {
            "runOnly": tags,
            "resultTypes": ["violations"],
            "rules": {"label-content-name-mismatch": {"enabled": width == WINDOW["width"]}},
        }
        broken = page.evaluate("options => axe.run(options).then(found => found.violations)", options)
        assert [(rule["id"], [node["html"][:160] for node in rule["nodes"]]) for rule in broken] == [], path
        if path in JOB_PAGES and width == WINDOW["width"]:
            page.evaluate("document.querySelectorAll('details').forEach(each => each.open = true)")
            assert page.evaluate(TOO_SMALL, PRESSED) == [], f"{path}: what is pressed is 48 px"
