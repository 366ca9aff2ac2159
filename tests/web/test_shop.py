"""The shop's settings, followed by every page."""

import re

import pytest
from fastapi.testclient import TestClient
from playwright.sync_api import Page, expect

from lone_pike.store.database import Database
from lone_pike.store.jobs import job_by_id
from lone_pike.store.shop import shop_now
from tests.web.reading import Texts, count, count_says, fault, field
from tests.web.test_pages import PAGES


def test_pairs_and_inches_reach_every_page(page: Page, base_url: str, client: TestClient) -> None:
    """No mm is left, no count stands in links first; fields that are typed in links say so. Programs are told in mm."""
    page.goto(f"{base_url}/shop")
    page.get_by_role("button", name="56 pairs · 112 links").click()
    expect(page.get_by_role("button", name="56 pairs · 112 links")).to_have_attribute("aria-pressed", "true")
    page.get_by_role("button", name="17.01 inches").click()
    expect(page.get_by_role("status").first).to_have_text("Lengths: mm → inches")
    for path in (one for one in PAGES if one != "/shop/access/api"):
        told = Texts(client.get(path, follow_redirects=True).text)
        text = told.text
        assert not re.search(r"\d mm\b|in mm\b", text), (path, re.findall(r".{20}\d mm\b.{5}", text))
        for match in re.finditer(r"(.{0,3})(\d+) links\b", text):
            assert match[1].endswith(("· ", "· 1", "· 11")), (path, match[0])
        assert not [name for name in told.names if re.search(r"(?<!· )\b\d+ links\b|\d mm\b", name)], path
    page.goto(f"{base_url}/jobs/4/size")
    expect(count(page)).to_have_text("56")
    expect(page.get_by_role("group", name="Count rail").locator("[aria-current] .number")).to_have_text("56")


def test_inches_are_typed_and_a_page_from_before_keeps_its_unit(
    page: Page, base_url: str, client: TestClient, database: Database
) -> None:
    page.goto(f"{base_url}/jobs/4/measure")
    client.post("/shop", data={"unit": "in"})
    field(page, "chainstay_mm").fill("430")
    field(page, "chainstay_mm").blur()
    expect(page.get_by_role("status").first).to_have_text("Chainstay 432 → 430 mm")
    expect(field(page, "chainstay_mm")).to_have_value("430")
    page.reload()
    expect(field(page, "chainstay_mm")).to_have_value("16.929")
    field(page, "chainstay_mm").fill("17 1/16")
    field(page, "chainstay_mm").blur()
    expect(page.get_by_role("status").first).to_have_text("Chainstay 16.93 → 17.062 in")
    job = job_by_id(database, 4)
    assert job and job.document["chainstay_mm"] == pytest.approx(433.3875, abs=0.001)
    field(page, "chainstay_mm").fill("99")
    field(page, "chainstay_mm").blur()
    expect(fault(page, "chainstay_mm")).to_have_text("“99.000 in” won’t do here: 5.91 to 98.43 in.")


def test_the_house_rule_decides_and_the_window_still_warns(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/shop")
    page.get_by_role("button", name="plumb").click()
    expect(page.get_by_role("status").first).to_have_text("House rule: the window → plumb")
    page.goto(f"{base_url}/jobs/4/size")
    expect(count(page)).to_have_text("104")
    expect(page.get_by_role("region", name="Size")).to_contain_text(
        "The house rule says 104 links, but it is too short"
    )
    page.goto(f"{base_url}/shop")
    page.keyboard.press("u")
    expect(page.get_by_role("button", name="the window")).to_have_attribute("aria-pressed", "true")


def test_what_is_no_setting_is_refused_and_undo_goes_all_the_way_back(client: TestClient, database: Database) -> None:
    for unit in ("in", "mm", "in"):
        assert client.post("/shop", data={"unit": unit}).status_code == 303
    refused = client.post("/shop", data={"unit": "furlong"})
    assert refused.status_code == 422 and "Unit: “furlong” won’t do here: mm or in" in refused.text
    undone = []
    for _ in range(4):
        client.post("/shop/undo", data={"saw": str(shop_now(database).revision_id)})
        undone.append(shop_now(database).settings.get("unit"))
    assert undone == ["mm", "in", None, None]


def test_the_shops_own_limits_move_the_window_and_wrong_ones_stay_typed(page: Page, base_url: str) -> None:
    """At 110 the handbook's bike keeps 35.3 degrees."""
    page.goto(f"{base_url}/shop")
    page.get_by_label("Smallest reserve").fill("4°")
    page.get_by_role("button", name="Save").click()
    expect(fault(page, "least_reserve_deg")).to_have_text("“4°” won’t do here: 15 to 45°.")
    expect(page.get_by_label("Smallest reserve")).to_have_value("4°")
    page.get_by_label("Smallest reserve").fill("36")
    page.get_by_role("button", name="Save").click()
    expect(page.get_by_role("status").first).to_have_text("Smallest reserve: 25 → 36°")
    page.goto(f"{base_url}/jobs/4/size?links=110")
    expect(count_says(page)).to_contain_text("too short: breaks")
    expect(page.get_by_role("region", name="Size")).to_contain_text(
        "35.3° of reserve left in big/big, on the edge of the 36° it needs"
    )


def test_saving_what_the_page_shows_in_inches_changes_nothing(client: TestClient, database: Database) -> None:
    """5 mm is shown as 0.197 in, which is 5.0038 mm."""
    client.post("/shop", data={"unit": "in", "least_clearance_mm": "5 mm", "typed_in": "mm"})
    before = shop_now(database).settings
    shown = re.search(r'name="least_clearance_mm"[^>]*value="([^"]*)"', client.get("/shop").text)
    assert shown
    assert shown[1] == "0.197"
    client.post("/shop", data={"least_clearance_mm": shown[1], "typed_in": "in"})
    assert shop_now(database).settings == before


def test_a_conflict_leads_to_where_the_thing_is_now(client: TestClient) -> None:
    client.post("/jobs/4/close")
    refused = client.post("/jobs/4/measure", data={"whole": "1", "rings": "32"})
    assert refused.status_code == 409
    assert 'href="/jobs/4"' in refused.text
    assert client.get("/jobs/4").headers["location"] == "/bikes/1"
    taken = client.post("/jobs/5/from-bin", data={"pieces": "999999"})
    assert taken.status_code == 409
    assert 'href="/bin">To the bin' in taken.text
