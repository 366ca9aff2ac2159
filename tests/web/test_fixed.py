"""Bikes without a cage, and a sprung arm: which bike it is, the slot's counts, the slack, the checks, the clip."""

import re

import pytest
from fastapi.testclient import TestClient
from playwright.sync_api import Page, expect

from lone_pike.store.bikes import bikes_like
from lone_pike.store.database import Database
from lone_pike.store.jobs import job_by_id
from tests.web.reading import count, count_says, drawing, field, settled


def start(page: Page, base_url: str, kind: str) -> None:
    page.goto(base_url)
    page.get_by_label("A new bike").fill("Dabchick")
    page.keyboard.press("Enter")
    page.wait_for_url("**/measure")
    page.get_by_role("button", name=kind).click()
    expect(page.get_by_role("button", name=kind)).to_have_attribute("aria-pressed", "true")


def readings_of(page: Page) -> str:
    return " ".join(page.get_by_role("group", name="Readings").inner_text().split())


def test_a_bmx_job_from_the_question_which_bike_to_the_book(page: Page, base_url: str, database: Database) -> None:
    """42/15 as in the model, section 5: 94 is taut at 412.308 mm, 96 at 425.117; in 405 to 430 the middle takes 94."""
    start(page, base_url, "sliding dropouts or track ends")
    expect(field(page, "rings")).to_be_focused()
    assert page.get_by_label("E Slot from").is_visible()
    expect(page.get_by_label("A Chainstay")).to_have_count(0)
    for text in ("42", "15", "405", "430"):
        page.keyboard.type(text)
        page.keyboard.press("Enter")
    expect(count(page)).to_have_text("94")
    page.get_by_label("Box", exact=True).fill("112")
    page.get_by_label("Joiner", exact=True).select_option(label="clip link")
    expect(page.get_by_role("button", name="Undo the last change")).to_be_visible()
    page.get_by_role("button", name="Size it").click()
    expect(page.get_by_role("heading", name="Why 94 links")).to_be_focused()
    assert "axle at 412.3 mm room behind 17.7 mm" in readings_of(page)
    settled(page)
    before = drawing(page)
    page.get_by_role("group", name="Counts that fit").get_by_role("link", name="96 links").click()
    expect(count(page)).to_have_text("96")
    assert "axle at 425.1 mm" in readings_of(page) and drawing(page) != before
    page.get_by_role("group", name="Counts that fit").get_by_role("link", name="94 links").click()
    expect(page.locator("#setting")).to_contain_text("10 mm to 15 mm of slack")
    page.get_by_role("button", name="Cut to 94 links").click()
    expect(page.get_by_role("img", name="Spring clip on the drive run")).to_be_visible()
    expect(page.get_by_role("group", name="Push rivet")).to_have_text("93")
    settled(page)
    page.get_by_role("button", name="It is cut").click()
    expect(page.get_by_role("heading", name="Axle all the way forward")).to_be_focused()
    settled(page)
    page.get_by_role("button", name="It is joined").click()
    expect(page.get_by_text("Fingers out of the moving chain")).to_be_in_viewport()
    settled(page)
    page.get_by_role("link", name="Slack set there").click()
    settled(page)
    page.get_by_label("Slack, mm").fill("12")
    page.keyboard.press("Enter")
    expect(page.get_by_role("link", name=re.compile("Slack set there ?, done 12 mm of slack"))).to_be_visible()
    page.reload()
    settled(page)
    page.get_by_role("button", name="It is proved").click()
    expect(page.get_by_text(re.compile(r"Proved: 1 of \d+ steps"))).to_be_visible()
    settled(page)
    page.get_by_role("button", name="Book 94 links").click()
    expect(page.get_by_role("group", name="Fitted").first).to_contain_text("94 links")
    assert "Dabchick" in [bike.name for bike in bikes_like(database, "Dabchick", 1, 5)]


def test_another_kind_keeps_what_still_applies(page: Page, base_url: str, database: Database) -> None:
    page.goto(f"{base_url}/jobs/4/measure")
    page.get_by_text("More measurements").click()
    page.get_by_label("Chain tension set by").select_option(label="eccentric")
    expect(page.get_by_label("H Eccentric")).to_be_visible()
    expect(field(page, "rings")).to_have_value("30")
    expect(field(page, "chainstay_mm")).to_have_value("432")
    expect(page.get_by_label("Box", exact=True)).to_have_value("118")
    job = job_by_id(database, 4)
    assert job and job.document["take_up"] == {"type": "eccentric"}
    page.get_by_label("H Eccentric").fill("6")
    expect(page.locator("[id='cogs-fault']")).to_contain_text("1 to 3 cogs")
    page.get_by_label("Chain tension set by").select_option(label="derailleur")
    page.get_by_label("Cage class").select_option(label="long")
    expect(count(page)).to_have_text("112")


def test_an_offset_link_lands_on_vertical_dropouts(page: Page, base_url: str) -> None:
    """Smew of the sample workshop: no even count lands; 97 with an offset link."""
    page.goto(f"{base_url}/jobs/10/size")
    expect(count(page)).to_have_text("97")
    expect(count_says(page)).to_have_text("safe")
    rows = page.locator("#combinations tr").all_inner_texts()
    assert re.match(r"40 × 17\s+97 links · 48½ pairs\s+2.35\s+11 mm", rows[1])
    page.goto(f"{base_url}/jobs/10/cut")
    expect(page.get_by_text("quick link and offset link make 97 links")).to_be_visible()
    strip = page.get_by_role("img", name="Strip")
    assert [text.strip() for text in strip.locator(".closing text").all_text_contents()] == [
        "offset link",
        "quick link",
    ]
    page.goto(f"{base_url}/jobs/10/size?links=96")
    expect(count_says(page)).to_contain_text("too short")


def test_two_rings_and_two_cogs_are_pairs_on_every_page(client: TestClient) -> None:
    slot = {"take_up.min_mm": "400", "take_up.max_mm": "425"}
    client.post("/jobs/9/measure", data={"rings": "42 39", "cogs": "15 18", "chain.joiner": "quick_link", **slot})
    for query in ("", "?ring=39", "?cog=15", "?ring=39&cog=18", "?ring=42&cog=18"):
        shown = client.get(f"/jobs/9/size{query}").text
        assert "39 × 18" in shown and "42 × 15" in shown and "breaks on" not in shown, query


def test_saving_measure_leaves_the_search_as_it_was(page: Page, base_url: str, database: Database) -> None:
    page.goto(f"{base_url}/jobs/10/measure")
    page.get_by_label("A Chainstay").fill("432.5")
    page.get_by_label("A Chainstay").blur()
    expect(page.get_by_role("button", name="Undo the last change")).to_be_visible()
    job = job_by_id(database, 10)
    assert job and job.document["chainstay_mm"] == 432.5 and job.document["search"]["offset_link"] is True


@pytest.mark.parametrize("name", ["Coot", "Tern", "Smew", "Scaup"])
def test_every_page_of_every_such_bike_answers(client: TestClient, database: Database, name: str) -> None:
    bike = bikes_like(database, name, 1, 1).rows[0]
    started = client.post("/jobs", data={"bike": str(bike.id)})
    job = started.headers["location"].rsplit("/", 1)[0] if started.headers["location"].endswith("measure") else None
    job = job or started.headers["location"]
    for stage in (
        "measure",
        "size",
        "cut",
        "book",
        "photo",
        "tally?at=20",
        "size?links=40",
        "size?links=300",
        "size?cog=99",
    ):
        answer = client.get(f"{job}/{stage}", follow_redirects=True)
        assert answer.status_code == 200, stage
        assert "breaks on" not in answer.text, stage
    for page in (f"/bikes/{bike.id}", "/bikes", "/"):
        assert client.get(page).status_code == 200


WRONG = [
    ({"take_up.min_mm": "430", "take_up.max_mm": "405"}, "entered the wrong way round"),
    ({"take_up.min_mm": "405", "take_up.max_mm": "405"}, "here: another than 405"),
    ({"take_up.min_mm": "408", "take_up.max_mm": "411"}, "No count fits"),
    ({"take_up.min_mm": "60", "take_up.max_mm": "80"}, "150 to 2500"),
    ({"take_up.max_mm": "far back"}, "far back"),
    ({"chain.width": "3/32", "chain.teeth_width": "1/8"}, "does not go over 1/8 in teeth"),
    ({"take_up.type": "spring"}, "derailleur, arm, slot, eccentric or none"),
]


@pytest.mark.parametrize(("form", "told"), WRONG)
def test_wrong_slots_and_widths_are_told(client: TestClient, form: dict[str, str], told: str) -> None:
    """Coot of the sample workshop is job 9."""
    good = {"rings": "42", "cogs": "15", "take_up.min_mm": "405", "take_up.max_mm": "430"}
    assert client.post("/jobs/9/measure", data={**good, **form}).status_code in (200, 303)
    shown = client.get("/jobs/9/measure").text + client.get("/jobs/9/size").text
    assert told in shown.replace("&#39;", "'").replace("&#34;", '"')
    for value in (value for value in form.values() if value[0].isdigit()):
        assert value in shown


def test_a_slot_may_be_told_by_its_length_and_the_slack_be_seen_where_the_axle_is_clamped(
    page: Page, base_url: str
) -> None:
    """94 links are taut at 412.308 mm (model, section 5); 0.2 mm ahead of it 0.4 mm of chain hang: 2 sqrt(e s / 2)."""
    page.goto(f"{base_url}/jobs/9/measure")
    for path, text in (("rings", "42"), ("cogs", "15")):
        field(page, path).fill(text)
    page.get_by_label("E Slot from").fill("405")
    page.get_by_label("F Slot to").fill("+25")
    expect(count(page)).to_have_text("94")
    page.get_by_label("F Slot to").blur()
    expect(page.get_by_label("F Slot to")).to_have_value("430")
    page.get_by_role("button", name="Size it").click()
    settled(page)
    page.get_by_label("Clamped at").fill("412,1")
    page.get_by_role("button", name="See the slack").click()
    said = page.locator("#clamped-says")
    expect(said).to_contain_text("The run moves")
    moved = int(re.findall(r"(\d+) mm", said.inner_text())[0])
    assert moved == pytest.approx(2 * ((2 * 0.208 * 0.991) * 408.6 / 2) ** 0.5, abs=1)
    page.get_by_label("Clamped at").fill("900")
    page.get_by_role("button", name="See the slack").click()
    expect(said).to_contain_text("does not reach that place in the slot")


def test_an_arm_says_what_it_absorbs_and_is_drawn_at_both_ends(page: Page, base_url: str) -> None:
    page.goto(base_url)
    page.get_by_role("button", name="Scaup").click()
    page.get_by_role("link", name="To Measure").click()
    settled(page)
    page.get_by_role("button", name="Size it").click()
    expect(page.get_by_text("It takes up")).to_contain_text("the axle can go")
    ends = page.get_by_role("img", name="Side view").locator(".cage-stretched").get_attribute("d")
    assert ends and ends.count("M") == 2
