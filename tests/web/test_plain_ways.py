"""The shortest way to the next thing: a press or a key leads to the very box that is asked for."""

from playwright.sync_api import Page, expect

from tests.web.reading import field, settled
from tests.web.test_fixed import start


def size_dropouts(page: Page, base_url: str, chainstay: str) -> None:
    """A new bike of 42 and 17 teeth with a fixed axle, at Size."""
    start(page, base_url, "fixed axle (vertical dropouts)")
    for path, text in (("rings", "42"), ("cogs", "17"), ("chainstay_mm", chainstay)):
        field(page, path).fill(text)
    page.keyboard.press("Enter")
    settled(page)
    page.get_by_role("button", name="Size it").click()
    settled(page)


def test_size_it_goes_to_the_red_box_and_a_range_to_the_number_of_cogs(page: Page, base_url: str) -> None:
    start(page, base_url, "derailleur")
    field(page, "rings").fill("30")
    field(page, "cogs").fill("10–51")
    page.keyboard.press("Enter")
    expect(field(page, "chain.speeds")).to_be_focused()
    expect(page.locator('[id="cogs-fault"]')).to_have_text("How many cogs?")
    page.keyboard.type("12")
    page.keyboard.press("Enter")
    expect(field(page, "chainstay_mm")).to_be_focused()
    page.keyboard.type("44O")
    page.keyboard.press("Tab")
    expect(page.locator('[id="chainstay_mm-fault"]')).to_contain_text("“44O” won’t do here")
    settled(page)
    page.get_by_role("button", name="Size it").click()
    expect(field(page, "chainstay_mm")).to_be_focused()
    page.keyboard.type("435")
    expect(field(page, "chainstay_mm")).to_have_value("435")


def test_a_cut_without_a_box_leads_to_the_box(page: Page, base_url: str) -> None:
    start(page, base_url, "fixed axle (vertical dropouts)")
    for path, text in (("rings", "42"), ("cogs", "17"), ("chainstay_mm", "432.016")):
        field(page, path).fill(text)
    page.keyboard.press("Enter")
    settled(page)
    page.goto(page.url.replace("/measure", "/cut"))
    page.get_by_role("link", name="To the box count").click()
    expect(field(page, "chain.box_links")).to_be_focused()


def test_a_hub_gears_pulley_is_told_by_caliper_and_clock(page: Page, base_url: str) -> None:
    """72 mm at five o'clock: 72 sin 30 forward, 72 cos 30 below."""
    start(page, base_url, "sprung arm")
    pulley = page.locator('[id="take_up.pivot_mm"]')
    pulley.fill("72 at 5:00")
    page.keyboard.press("Tab")
    expect(pulley).to_have_value("36, -62.4")


def test_a_slow_caliper_drives_no_stage(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/4/size")
    settled(page)
    page.evaluate(
        """async (keys) => { for (const key of keys) {
          document.body.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true }));
          await new Promise(done => setTimeout(done, 150));
        } }""",
        [*"93.24", "Enter"],
    )
    expect(page.locator("#status")).to_contain_text("Read 93.24 with no box selected")
    expect(page).to_have_url(f"{base_url}/jobs/4/size")


def test_a_red_count_is_sized_cut_and_booked_all_the_same_only(page: Page, base_url: str) -> None:
    for stage, name in (
        ("size", "Cut to 108 links all the same"),
        ("cut", "It is cut all the same"),
        ("book", "Book 108 links all the same"),
    ):
        page.goto(f"{base_url}/jobs/4/{stage}?links=108")
        expect(page.get_by_role("button", name=name)).to_be_visible()


def test_dropouts_that_fit_nothing_lead_into_the_search_at_one_press(page: Page, base_url: str) -> None:
    size_dropouts(page, base_url, "418")
    page.get_by_role("button", name="Find a ring and cog that fit").click()
    expect(page.locator("#combinations tr").nth(1)).to_be_visible()
    assert page.locator("#combinations tr").count() > 3


def test_an_angle_like_a_count_is_asked_about(page: Page, base_url: str) -> None:
    start(page, base_url, "eccentric")
    for path, text in (("rings", "42"), ("cogs", "17"), ("chainstay_mm", "432"), ("take_up.radius_mm", "8")):
        page.locator(f'[id="{path}"]').fill(text)
    page.keyboard.press("Enter")
    expect(field(page, "chain.box_links")).to_be_focused()
    page.get_by_text("More measurements").click()
    page.locator('[id="take_up.crank_deg"]').fill("98")
    page.keyboard.press("Tab")
    expect(page.get_by_text("Is 98 links · 49 pairs the box count?").first).to_be_visible()


def test_help_is_that_of_the_screen_in_sight(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/4/size")
    for key, title in (("4", "Cut"), ("5", "Join")):
        settled(page)
        page.keyboard.press(key)
        expect(page).to_have_url(f"{base_url}/jobs/4/{title.lower()}")
        settled(page)
        page.get_by_role("button", name="Help and keys").click()
        shown = page.get_by_role("dialog")
        expect(shown.locator("section:visible h2")).to_have_text([title])
        shown.get_by_role("button", name="Close").click()


def test_the_focus_never_falls_to_the_pages_body(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/12/route")
    settled(page)
    page.get_by_role("button", name="Swap drive and return run").focus()
    page.keyboard.press("Enter")
    expect(page.get_by_role("button", name="Swap drive and return run")).to_have_count(0)
    settled(page)
    assert page.evaluate("document.activeElement !== document.body")


def test_a_name_without_a_break_widens_no_page(page: Page, base_url: str) -> None:
    page.goto(base_url)
    page.get_by_label("A new bike").fill("W" * 80)
    page.keyboard.press("Enter")
    page.wait_for_url("**/measure")
    job = page.url
    for width in (1280, 390):
        page.set_viewport_size({"width": width, "height": 800})
        for url in (f"{base_url}/", f"{base_url}/bikes", job):
            page.goto(url)
            assert page.evaluate("document.documentElement.scrollWidth") <= width, url


PLACES = """() => [...document.querySelectorAll("#job [form=measures], #job button")]
  .filter(each => each.checkVisibility())
  .map(each => [each.id || each.innerText, Math.round(each.getBoundingClientRect().top)])"""


def test_nothing_moves_while_a_first_bike_is_typed(page: Page, base_url: str) -> None:
    """A fault, a count in pairs, Undo and what an error costs all have their room before they come."""
    start(page, base_url, "derailleur")
    settled(page)
    at_first = dict(page.evaluate(PLACES))
    for path, text in (
        ("rings", "3O"),
        ("rings", "30"),
        ("chainstay_mm", "4"),
        ("chain.box_links", "9999"),
        ("chain.box_links", "126"),
    ):
        field(page, path).fill(text)
        settled(page)
        page.keyboard.press("Tab")
        settled(page)
        now = dict(page.evaluate(PLACES))
        assert {
            name: (at_first[name], now[name]) for name in at_first if name in now and now[name] != at_first[name]
        } == {}, text
    expect(page.get_by_role("button", name="Undo")).to_be_visible()


def test_what_is_refused_keeps_its_drawing_with_the_trouble_marked(page: Page, base_url: str) -> None:
    start(page, base_url, "sprung arm")
    wrong = (("take_up.cage_mm", "44"), ("take_up.pivot_mm", "10, -20"))
    for path, text in (("rings", "44"), ("cogs", "19"), ("chainstay_mm", "450"), *wrong):
        page.locator(f'[id="{path}"]').fill(text)
    page.keyboard.press("Tab")
    settled(page)
    for path in ("take_up.cage_mm", "take_up.pivot_mm"):
        expect(page.locator(f'[id="{path}-fault"]')).to_contain_text("overlap")
    expect(page.locator("#side .touch")).to_have_count(2)


def test_a_tube_is_told_by_its_columns_and_a_wrong_one_takes_nothing_away(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/11/route")
    settled(page)
    links = page.locator("#count strong").inner_text()
    tube = page.get_by_role("group", name="Tube 1")
    if not tube.is_visible():
        page.get_by_text("Tubes", exact=True).click()
    for name, text in (("Part", "1"), ("Length", "420"), ("Bore", ""), ("Gap behind", "40"), ("Front derailleur", "")):
        tube.get_by_label(name).fill(text)
    page.get_by_role("button", name="Keep the tubes").click()
    settled(page)
    expect(page.locator("#tubes")).to_contain_text("won’t do here")
    expect(tube.get_by_label("Gap behind")).to_have_value("40")
    expect(page.locator("#count strong")).to_have_text(links)
    tube.get_by_label("Bore").fill("12")
    page.get_by_role("button", name="Keep the tubes").click()
    settled(page)
    expect(page.locator("#tubes")).not_to_contain_text("won’t do here")


def test_a_wrong_piece_takes_neither_the_count_nor_the_route_away(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/11/measure")
    settled(page)
    links = page.locator("#count strong").inner_text()
    pieces = field(page, "chain.pieces")
    pieces.fill("many inner")
    pieces.blur()
    settled(page)
    expect(page.locator('[id="chain.pieces-fault"]')).to_contain_text("“many inner” won’t do here")
    expect(page.locator("#count strong")).to_have_text(links)
    page.goto(f"{base_url}/jobs/11/cut")
    expect(page.get_by_text("Left out: pieces at hand.")).to_be_visible()


def test_enter_cuts_no_red_count_and_looks_for_what_fits_instead(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/4/size?links=102")
    settled(page)
    page.locator("#panel h2").first.focus()
    page.keyboard.press("Enter")
    settled(page)
    expect(page).to_have_url(f"{base_url}/jobs/4/size?links=102")
    size_dropouts(page, base_url, "425")
    page.keyboard.press("Enter")
    expect(page.locator("#combinations tr").nth(1)).to_be_visible()
    fits = page.locator("#combinations button").first
    taken = fits.inner_text()
    fits.click()
    settled(page)
    expect(page.locator("#readings")).to_contain_text(taken)
    expect(page.get_by_role("button", name="all the same")).to_have_count(0)


def test_a_count_of_the_rail_that_was_cut_to_is_kept_as_a_step_of_its_own(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/4/cut")
    settled(page)
    page.get_by_role("link", name="110 links · 55 pairs, safe").click()
    settled(page)
    page.get_by_role("button", name="It is cut").click()
    settled(page)
    expect(page).to_have_url(f"{base_url}/jobs/4/join")
    expect(page.locator("#count strong")).to_have_text("110")
    expect(page.get_by_role("status").first).to_have_text("Count chosen: 110 links")
    page.get_by_role("button", name="Undo").click()
    settled(page)
    expect(page.locator("#count strong")).to_have_text("112")
