"""The whole job in a real browser, as a mechanic would do it."""

import re

import pytest
from playwright.sync_api import FilePayload, Page, expect

from lone_pike.store.bin import pieces_in_bin
from lone_pike.store.database import Database
from tests.web.reading import count, count_says, drawing, fault, field, readings, settled


def tab_to(page: Page, selector: str) -> None:
    """Moves the focus with the Tab key until it rests on the element."""
    for _ in range(60):
        page.keyboard.press("Tab")
        if page.evaluate("selector => document.activeElement.matches(selector)", selector):
            return
    pytest.fail(f"{selector} cannot be reached with the Tab key")


def test_from_stand_to_book_by_keyboard_alone(page: Page, base_url: str, database: Database) -> None:
    """Measures the check bike of the model, section 3, and reads 112 and its rivet; 118 with link keeps 111."""
    page.goto(base_url)
    tab_to(page, "#name")
    page.keyboard.type("Sandpiper")
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile("/measure$"))

    tab_to(page, "#rings")
    for text in ("30", "11-46 x 11"):
        page.keyboard.type(text)
        page.keyboard.press("Enter")
    tab_to(page, "#chainstay_mm")
    for text in ("432,0", "92 mm"):
        page.keyboard.type(text)
        page.keyboard.press("Enter")
    tab_to(page, "[id='take_up.b_gap_mm']")
    page.keyboard.type("6")
    tab_to(page, "[id='chain.box_links']")
    page.keyboard.type("118")
    page.keyboard.press("Enter")
    page.keyboard.press("ArrowDown")
    tab_to(page, "[name='chain.box_includes_joiner']")
    page.keyboard.press("Space")
    expect(count(page)).to_have_text("112")
    page.keyboard.press("3")

    expect(page).to_have_url(re.compile("/size$"))
    settled(page)
    page.keyboard.press("[")
    expect(readings(page).first).to_have_text("30 × 40")
    page.keyboard.press("'")
    expect(count(page)).to_have_text("114")
    page.keyboard.press(";")
    expect(count(page)).to_have_text("112")
    page.keyboard.press("Enter")

    expect(page).to_have_url(re.compile("/cut"))
    expect(page.get_by_role("img", name="Strip, push rivet 111")).to_be_visible()
    expect(page.get_by_role("group", name="Push rivet")).to_have_text("111")
    settled(page)
    page.keyboard.press("Space")
    expect(page.get_by_role("heading", name="Hold the start end")).to_be_visible()
    page.wait_for_load_state()
    for reached in range(10, 112, 10):
        page.keyboard.press("Space")
        expect(page.get_by_label("Counted")).to_have_text(str(reached))
    page.keyboard.press("Space")
    expect(page.get_by_role("heading")).to_have_text("Push this rivet")
    expect(page.get_by_label("Counted")).to_have_text("111")
    page.keyboard.press("Enter")
    expect(page).to_have_url(re.compile("/cut"))
    page.wait_for_load_state()
    page.keyboard.press("Enter")

    expect(page).to_have_url(re.compile("/join"))
    for step in (
        "Smallest cog",
        "Round the cog",
        "In front of",
        "Inside the cage's tab",
        "Behind the tension",
        "Up round",
    ):
        expect(page.get_by_role("heading", name=step)).to_be_visible()
        settled(page)
        page.keyboard.press("Enter")
    settled(page)
    page.keyboard.press("j")

    expect(page).to_have_url(re.compile("/prove"))
    expect(page.get_by_role("heading", name="Shift to 30/11")).to_be_visible()
    settled(page)
    page.keyboard.press("Enter")
    settled(page)
    page.keyboard.press("j")

    expect(page).to_have_url(re.compile("/book"))
    settled(page)
    page.keyboard.press("b")
    expect(page.get_by_role("group", name="Fitted").first).to_contain_text("112 links · 56 pairs")
    assert [(row.links, row.origin) for row in pieces_in_bin(database) if row.origin == "Sandpiper"] == [
        (6, "Sandpiper")
    ]


def test_typing_recomputes_keeps_the_caret_and_saves(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/4/measure")
    chainstay = field(page, "chainstay_mm")
    cost = page.locator("#chainstay_mm-cost")
    expect(cost).to_have_text("3.1 mm less changes the count")
    chainstay.fill("445")  # 432 stands up to 442.1, so 445 is 2.9 above that edge
    expect(count(page)).to_have_text("114")
    expect(cost).to_have_text("2.9 mm less changes the count")
    chainstay.press("End")
    chainstay.type(",5")
    expect(field(page, "chainstay_mm")).to_be_focused()
    expect(chainstay).to_have_value("445,5")
    chainstay.blur()
    expect(page.get_by_role("status").first).to_contain_text("Chainstay 432 → 445.5")
    page.reload()
    expect(chainstay).to_have_value("445.5")
    page.locator("h1").click()
    page.keyboard.press("u")
    expect(chainstay).to_have_value("432")
    expect(count(page)).to_have_text("112")


def test_two_tabs_on_one_job_are_told_and_lose_nothing(page: Page, base_url: str) -> None:
    other = page.context.new_page()
    for tab in (page, other):
        tab.goto(f"{base_url}/jobs/4/measure")
    field(page, "chainstay_mm").fill("435")
    field(page, "chainstay_mm").blur()
    expect(page.get_by_role("status").first).to_contain_text("Chainstay 432 → 435")
    expect(page.get_by_role("button", name="Undo the last change")).to_be_visible()
    field(other, "take_up.cage_mm").fill("90")
    field(other, "take_up.cage_mm").blur()
    expect(other.get_by_role("status").first).to_contain_text(
        "Another tab changed Chainstay 432 → 435 mm meanwhile; both are kept"
    )
    expect(field(other, "chainstay_mm")).to_have_value("435")
    field(page, "take_up.cage_mm").fill("88")
    field(page, "take_up.cage_mm").blur()
    expect(page.get_by_role("status").first).to_contain_text("yours is kept, undo brings theirs back")
    page.get_by_role("button", name="Undo the last change").click()
    expect(field(page, "take_up.cage_mm")).to_have_value("90")


def test_dials_rail_and_back_button_share_the_address(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/5/size")
    before = drawing(page)
    page.get_by_role("link", name=re.compile("^33 × 11")).click()
    expect(page).to_have_url(re.compile("ring=33&cog=11"))
    expect(readings(page).first).to_have_text("33 × 11")
    assert drawing(page) != before
    page.get_by_role("link", name="110 links · 55 pairs, too long: hangs").click()
    expect(count(page)).to_have_text("110")
    expect(page.get_by_role("region", name="Size")).to_contain_text("touch the guide pulley")
    page.reload()
    expect(count(page)).to_have_text("110")
    page.go_back()
    expect(count(page)).to_have_text("106")
    expect(readings(page).first).to_have_text("33 × 11")


@pytest.mark.parametrize(
    ("path", "text", "told"),
    [
        ("rings", "0", "16 to 70 teeth"),
        ("rings", "500", "16 to 70 teeth"),
        ("chainstay_mm", "a hand", "“a hand” won’t do here: 150 to 2500 mm"),
        ("chainstay_mm", "9" * 40, "150 to 2500 mm"),
        ("cogs", "11-46", "How many cogs?"),
        ("chainstay_mm", "255", "ring and cog overlap"),
        ("take_up.cage_mm", "<script>alert(1)</script>", "35 to 150 mm"),
    ],
)
def test_bad_measures_are_answered_at_the_field_and_stay(
    page: Page, base_url: str, path: str, text: str, told: str
) -> None:
    page.goto(f"{base_url}/jobs/4/measure")
    if text == "255":
        field(page, "rings").fill("70")
        field(page, "cogs").fill("11-60 x 11")
    if path == "cogs":
        field(page, "chain.speeds").select_option("")
    field(page, path).fill(text)
    field(page, path).blur()
    expect(fault(page, path)).to_contain_text(told)
    page.reload()
    expect(field(page, path)).to_have_value(text)
    expect(fault(page, path)).to_contain_text(told)


def test_units_and_order_are_converted_and_said(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/4/measure")
    field(page, "chainstay_mm").fill("17 in")
    field(page, "chainstay_mm").blur()
    expect(page.get_by_role("status").first).to_contain_text("“17 in” read as 431.8 mm")
    field(page, "cogs").fill("46 40 34 30 26 23 20 17 15 13 11")
    field(page, "cogs").blur()
    expect(field(page, "cogs")).to_have_value("11 13 15 17 20 23 26 30 34 40 46")


def test_the_travel_handle_moves_the_bike_and_the_dials_show_the_worst(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/6/size")
    expect(count(page)).to_have_text("116")
    expect(page.locator("#legend")).to_contain_text("Dashed: worst of the travel.")
    at_rest, rail = drawing(page), page.get_by_role("group", name="Count rail")
    box = rail.bounding_box()
    page.keyboard.press(".")
    expect(page).to_have_url(re.compile("travel=10"))
    expect(page.get_by_role("link", name="10 mm of travel", exact=True)).to_have_attribute("aria-current", "true")
    assert drawing(page) != at_rest
    page.get_by_role("link", name="140 mm of travel").click()
    expect(page.locator("#legend")).to_contain_text("At 140 mm.")
    expect(readings(page).nth(2)).to_have_text("51°")
    assert rail.bounding_box() == box
    page.keyboard.press(",")
    expect(page).to_have_url(re.compile("travel=130"))


def test_a_suspension_is_measured_row_by_row_and_bad_rows_are_named(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/4/measure")
    field(page, "suspension.type").select_option("table")
    points = field(page, "suspension.points")
    points.fill("travel, chainstay\n0, 432\n50 436,5\n40 438")
    points.blur()
    expect(fault(page, "suspension.points")).to_contain_text("row 3: “40, 438” won’t do here: travels that rise")
    points.fill("0 432\n50 436,5\n100 433")
    points.blur()
    expect(fault(page, "suspension.points")).to_have_count(0)
    expect(count(page)).to_have_text("112")
    page.reload()
    expect(points).to_have_value("0 432\n50 436.5\n100 433")
    table: FilePayload = {"name": "axle.csv", "mimeType": "text/csv", "buffer": b"mm,mm\n0,432\n60,437.5\n110,434\n"}
    page.get_by_label("Read the table from a CSV file").set_input_files(table)
    expect(page.get_by_role("status").first).to_contain_text("Travel, chainstay, turn 3 → 3 rows, 2 new")
    field(page, "suspension.type").select_option("")
    expect(points).to_have_count(0)


def test_what_if_sets_another_bike_beside_and_keeps_nothing(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/4/size")
    page.get_by_text("What if").click()
    page.get_by_label("Chainstay").fill("445")
    page.get_by_label("Chainstay").press("Enter")
    expect(page.get_by_role("status").nth(-2)).to_contain_text("114 links instead of 112")
    expect(page.locator(".side-view .ghost")).to_be_visible()
    expect(page.locator(".rail .other-bar").first).to_be_visible()
    page.keyboard.press("Escape")
    page.get_by_role("link", name=re.compile("^30 × 20")).click()
    expect(page.get_by_role("status").nth(-2)).to_contain_text("114 links instead of 112")
    page.get_by_role("link", name="Close").click()
    expect(page.locator(".side-view .ghost")).to_have_count(0)
    expect(page.get_by_role("button", name="Undo the last change")).to_have_count(0)
    page.goto(f"{base_url}/jobs/4/size?if_rings=banana")
    expect(page.get_by_role("region", name="Size")).to_contain_text("“banana” won’t do here")


def test_the_shock_pressure_is_noted_and_asked_for_at_booking(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/6/measure")
    page.get_by_text("By hand: the suspension compressed").click()
    expect(page.get_by_text("only through its valve")).to_be_in_viewport()
    page.get_by_label("Shock before, with its unit").fill("185 psi")
    page.get_by_label("Air let out through the valve").check()
    expect(page.get_by_role("status").first).to_contain_text("1 of 5 steps done")
    page.reload()
    expect(page.get_by_label("Air let out through the valve")).to_be_checked()
    expect(page.get_by_label("Shock before, with its unit")).to_have_value("185 psi")
    page.goto(f"{base_url}/jobs/6/book")
    page.get_by_role("button", name="Book 116 links").click()
    expect(page).to_have_url(re.compile("/book$"))
    page.get_by_label("Shock put back").fill("185 psi")
    page.get_by_role("button", name="Book 116 links").click()
    expect(page.get_by_role("group", name="Fitted").first).to_contain_text("Shock 185 psi before, 185 psi put back")


def test_what_was_unfolded_stays_so_while_typing_in_it(page: Page, base_url: str) -> None:
    """And the house rule and the maker's sheet, which are asked there, decide at once."""
    page.goto(f"{base_url}/jobs/4/measure")
    page.get_by_text("More measurements").click()
    field(page, "sheet_links").fill("118")
    expect(count(page)).to_have_text("118")
    expect(count_says(page)).to_contain_text("too long: hangs")
    field(page, "sheet_links").blur()
    expect(page.get_by_role("status").first).to_contain_text("Maker's sheet: 118")
    expect(field(page, "sheet_links")).to_be_visible()
    page.keyboard.press("3")
    expect(page.get_by_role("region", name="Size")).to_contain_text("The maker's sheet says 118")
    settled(page)
    page.keyboard.press("2")
    expect(page.get_by_role("region", name="Measure")).to_be_visible()
    settled(page)
    page.get_by_text("More measurements").click()
    field(page, "sheet_links").fill("")
    field(page, "house_rule").select_option("bare_wrap_1_pair")
    expect(count(page)).to_have_text("110")
