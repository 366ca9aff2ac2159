"""The same job by thumb, by ear, on paper and in the shop's own units."""

from fastapi.testclient import TestClient
from playwright.sync_api import Page, expect

from lone_pike.core.chain.weighing import label_line
from tests.web.reading import field, settled


def test_on_a_phone_idlers_and_dials_take_a_fingertip_and_two_fingers_zoom(first_page: Page, base_url: str) -> None:
    page = first_page
    page.set_viewport_size({"width": 390, "height": 844})
    page.goto(f"{base_url}/jobs/11/route")
    for grip in page.locator("#handles .grip").all():
        box = grip.bounding_box()
        assert box
        x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
        hit = "([x, y]) => Boolean(document.elementFromPoint(x, y)?.closest('[data-idler]'))"
        assert [page.evaluate(hit, [x + dx, y + dy]) for dx, dy in ((-23, 0), (23, 0), (0, -23), (0, 23))] == [True] * 4
    page.goto(f"{base_url}/jobs/4/size")
    settled(page)
    for dial in page.get_by_role("group", name="Cage dials").get_by_role("link").all():
        box = dial.bounding_box()
        assert box
        assert min(box["width"], box["height"]) >= 48
    drawn = page.locator("#side svg").first
    box, whole = drawn.bounding_box(), drawn.get_attribute("viewBox")
    assert box
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    touch = page.context.new_cdp_session(page)
    for kind, apart in (("touchStart", 20), ("touchMove", 40), ("touchMove", 80), ("touchEnd", None)):
        points = [] if apart is None else [{"x": x - apart, "y": y, "id": 0}, {"x": x + apart, "y": y, "id": 1}]
        touch.send("Input.dispatchTouchEvent", {"type": kind, "touchPoints": points})
    expect(drawn).to_have_attribute("data-zoomed", "")
    assert drawn.get_attribute("viewBox") != whole


def said(page: Page) -> str:
    """What was announced last to those who do not see the page."""
    return page.locator("#status").inner_text()


def test_what_changes_is_said_and_half_a_figure_is_not(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/4/size")
    settled(page)
    page.keyboard.press("[")
    settled(page)
    assert "30 × 40" in said(page)
    page.goto(f"{base_url}/jobs/4/join")
    settled(page)
    page.keyboard.press("Enter")
    settled(page)
    assert page.locator("#step-now").inner_text() in said(page)
    page.goto(f"{base_url}/jobs/4/measure")
    settled(page)
    field(page, "chainstay_mm").click()
    page.keyboard.type("46", delay=300)
    settled(page)
    assert said(page) == ""
    page.keyboard.type("0")
    page.keyboard.press("Tab")
    settled(page)
    assert "links" in said(page)


def test_the_arrows_move_the_idler_that_has_the_focus(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/11/route")
    settled(page)
    page.locator("#idler-2").focus()
    before = page.locator("#idler-2").get_attribute("transform")
    page.keyboard.press("Shift+ArrowRight")
    settled(page)
    expect(page.locator("#idler-2")).not_to_have_attribute("transform", before or "")
    expect(page.locator("#idler-2")).to_be_focused()


def test_u_undoes_after_a_press_on_the_photo(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/4/photo")
    page.get_by_role("button", name="Try it with a drawn sample").click()
    photo = page.locator("input[type=image]")
    expect(photo).to_be_enabled()
    settled(page)
    photo.click(position={"x": 200, "y": 200})
    settled(page)
    expect(page.locator("[data-mark]")).to_have_count(1)
    page.keyboard.press("u")
    settled(page)
    expect(page.locator("[data-mark]")).to_have_count(0)


def test_a_printed_code_is_found_by_typing_wherever_its_piece_is(page: Page, base_url: str, client: TestClient) -> None:
    client.post("/bin/scan", data={"label": label_line(57, "inner", 9, "A-0057")})
    assert client.post("/bin/scan", data={"label": "a-0057"}).headers["location"] == "/bin?find=a-0057"
    page.goto(f"{base_url}/bin")
    find = page.get_by_role("searchbox")
    find.press_sequentially("a-005")
    expect(page.locator("#list a")).to_have_count(1)
    expect(page.locator("#list a")).to_contain_text("A-0057")
    page.get_by_role("button", name="Take out, for no job").click()
    page.goto(f"{base_url}/bin?find=A-0057")
    expect(page.locator("#list")).to_contain_text("A-0057 is not in the bin")


def test_a_bike_starts_from_one_of_its_kind(page: Page, base_url: str) -> None:
    page.goto(base_url)
    page.get_by_label("A new bike").fill("Merganser")
    page.get_by_role("group", name="Or start with a bike like this:").get_by_role("button", name="sprung arm").click()
    page.wait_for_url("**/measure")
    expect(page.locator('[id="take_up.pivot_mm"]')).to_be_visible()
    expect(page.get_by_role("heading", name="Merganser")).to_be_visible()


def test_units_and_scheme_switch_in_place(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/4/size?cog=30")
    page.get_by_role("button", name="Help and keys").click()
    page.get_by_role("button", name="dark", exact=True).click()
    expect(page.locator("html")).to_have_css("color-scheme", "dark")
    page.get_by_role("button", name="pairs first").click()
    expect(page).to_have_url(f"{base_url}/jobs/4/size?cog=30")
    expect(page.locator("#count strong")).to_have_text("56")
    expect(page.locator("html")).to_have_css("color-scheme", "dark")
    page.get_by_role("button", name="Help and keys").click()
    page.get_by_role("button", name="as the system").click()
    expect(page.locator("html")).to_have_css("color-scheme", "light dark")
