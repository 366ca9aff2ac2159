"""Long bikes in the browser: crossed runs found and mended, idlers placed, pieces cut, the chain threaded."""

import re

import pytest
from fastapi.testclient import TestClient
from playwright.sync_api import Page, expect

from lone_pike.store.bin import pieces_in_bin
from lone_pike.store.database import Database
from lone_pike.store.jobs import job_by_id
from tests.web.reading import count, drawing, settled

PINTAIL, GODWIT = "/jobs/11", "/jobs/12"


def told(page: Page) -> str:
    return page.get_by_role("status").first.inner_text()


def test_crossed_runs_are_found_on_the_drawing_and_mended(page: Page, base_url: str) -> None:
    page.goto(base_url)
    row = page.get_by_role("link", name="Godwit")
    expect(row).to_contain_text("The chain cannot run like that. Which idler is on which run?")
    expect(row.get_by_role("img", name="Side view of the route as entered, with what is wrong")).to_be_visible()
    row.click()
    expect(page.locator("#side .touch")).to_have_count(2)
    expect(count(page)).to_have_text("–")
    page.get_by_role("link", name="Idlers and tubes: 2").click()
    expect(page.get_by_text("The pedals would turn the cassette backwards").first).to_be_visible()
    settled(page)
    page.get_by_role("button", name="Swap drive and return run").click()
    expect(page.get_by_text("The chain runs this route.")).to_be_visible()
    expect(page.locator("#side .touch")).to_have_count(0)
    expect(count(page)).to_have_text("282")
    page.get_by_role("button", name="Undo").click()
    expect(count(page)).to_have_text("–")


def test_an_idler_is_dragged_nudged_taped_and_told(page: Page, base_url: str, database: Database) -> None:
    """Dragged 40 mm back on a drawing of 1618 mm in 820 px; by tapes 700 and 710 mm it lies where they meet, above."""
    page.goto(f"{base_url}{PINTAIL}/route")
    before = drawing(page)
    handle = page.locator("[data-idler='1']")
    box = handle.bounding_box()
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x - 20, y + 4, steps=5)
    expect(page.locator("#route-drawing .plate-outer").first).not_to_have_attribute("d", before)
    page.mouse.up()
    expect(page.get_by_text(re.compile(r"Drive idler placed at -7\d[05], -[45][05] mm"))).to_be_visible()
    expect(page.get_by_role("heading", name="drive idler")).to_be_visible()
    forward = page.get_by_label("Forward")
    at = float(forward.input_value())
    assert at % 5 == 0
    settled(page)
    page.keyboard.press("ArrowLeft")
    expect(forward).to_have_value(f"{at - 1:g}")
    page.keyboard.press("Shift+ArrowLeft")
    expect(forward).to_have_value(f"{at - 11:g}")
    page.get_by_text("By two tapes").click()
    page.get_by_label("From the crank").fill("100")
    page.get_by_label("From the axle").fill("71 cm")
    page.get_by_role("button", name="Place by tapes").click()
    expect(page.get_by_role("alert")).to_contain_text("end 588 mm short of each other")
    expect(page.get_by_label("From the axle")).to_have_value("71 cm")
    page.get_by_label("From the crank").fill("702")
    page.get_by_label("From the axle").fill("71 cm")
    page.get_by_role("button", name="Place by tapes").click()
    expect(page.get_by_text("placed by two tapes at")).to_be_visible()
    expect(page.get_by_label("Off by, at most")).not_to_have_value("")
    page.get_by_role("button", name="chain over").click()
    expect(page.get_by_role("button", name="chain over")).to_have_attribute("aria-pressed", "true")
    job = job_by_id(database, 11)
    assert job and job.document["idlers"][0]["chain"] == "over"


def test_a_loop_of_three_pieces_is_cut_threaded_joined_and_booked(
    page: Page, base_url: str, database: Database
) -> None:
    """268 links of 115 + 115 + 56: three quick links, and 265 of chain; least waste keeps 21 of 286 back."""
    page.goto(f"{base_url}{PINTAIL}/size")
    page.get_by_role("button", name="Cut to 268 links").click()
    pieces = page.get_by_role("group", name="Pieces").get_by_role("link")
    expect(pieces).to_have_count(3)
    kept = [int(text) for text in re.findall(r"keep (\d+)", " ".join(pieces.all_inner_texts()))]
    assert sum(kept) == 268 - 3 and all(links % 2 for links in kept)
    settled(page)
    pieces.nth(2).click()
    expect(page.get_by_role("group", name="Push rivet")).to_have_text(str(kept[2]))
    page.get_by_role("button", name="It is cut").click()
    for step in (
        "Smallest cog",
        "Join the pieces end to end",
        "A retaining pin",
        "Round the cog",
        "In front of the guide",
    ):
        expect(page.get_by_role("heading", name=step)).to_be_visible()
        settled(page)
        page.get_by_role("button", name="Done, next").click()
    expect(page.get_by_role("heading", name="Inside the cage's tab")).to_be_visible()
    expect(page.get_by_role("img", name="The wrong way")).to_be_visible()
    page.reload()
    expect(page.get_by_label("Round the cog from behind.")).to_be_checked()
    page.get_by_role("button", name="It is joined").click()
    settled(page)
    page.get_by_role("button", name="It is proved").click()
    settled(page)
    page.get_by_role("button", name="Book 268 links").click()
    expect(page.get_by_role("group", name="Fitted").first).to_contain_text("268 links")
    laid_in = [row.links for row in pieces_in_bin(database) if row.origin == "Pintail"]
    assert sum(laid_in) == 286 - 265


def test_a_long_bike_is_looked_at_closely_by_loupe_wheel_and_keys(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}{PINTAIL}/size")
    view = page.locator("#side [data-zooms]")
    whole = view.get_attribute("viewBox")
    assert whole
    page.get_by_role("link", name="Look at the ring closely").click()
    expect(page).to_have_url(re.compile("near=ring"))
    expect(view).not_to_have_attribute("viewBox", whole)
    page.reload()
    expect(view).not_to_have_attribute("viewBox", whole)
    page.get_by_role("link", name="Look at the ring closely").click()
    expect(view).to_have_attribute("viewBox", whole)
    view.hover()
    page.mouse.wheel(0, -300)
    expect(view).not_to_have_attribute("viewBox", whole)
    page.mouse.wheel(0, 300)
    expect(view).to_have_attribute("viewBox", whole)
    page.keyboard.press("z")
    expect(view).not_to_have_attribute("viewBox", whole)
    settled(page)
    page.get_by_role("link", name="46 × 11").click()
    expect(page).to_have_url(re.compile("cog=11"))
    expect(view).not_to_have_attribute("viewBox", whole)


@pytest.mark.parametrize(
    "form",
    [
        {"do": "drag", "idler": "9", "x": "1", "y": "1"},
        {"do": "drag", "idler": "1", "x": "1e9999", "y": "NaN"},
        {"do": "nudge", "idler": "1", "to": "aside", "by": "99999999999"},
        {"do": "tell", "idler": "1", "idler.teeth": "-5", "idler.forward": "\x00", "idler.up": "½"},
        {"do": "add", "run": "sideways"},
        {"do": "tapes", "idler": "2"},
        {"do": "steal", "idler": "1"},
        {"tubes": "drive 9 1 1 1\n" * 20},
        {},
    ],
)
def test_what_is_no_press_on_the_route_changes_nothing_that_cannot_be_undone(
    client: TestClient, form: dict[str, str]
) -> None:
    answer = client.post(f"{PINTAIL}/route", data=form)
    assert answer.status_code in (303, 422)
    assert client.post(f"{PINTAIL}/route/drag", data=form).status_code == 200
    for page in ("route", "measure", "size", "join"):
        assert client.get(f"{PINTAIL}/{page}").status_code == 200
