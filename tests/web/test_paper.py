"""On paper: each stage, the shop and the day's list on one page, on A4 and on Letter."""

import re

import pytest
from playwright.sync_api import Page, expect

CSS_PX_MM = 25.4 / 96
JOBS = ("/jobs/4/", "/jobs/6/", "/jobs/8/", "/jobs/9/", "/jobs/10/")


@pytest.mark.parametrize("paper", ["A4", "Letter"])
def test_one_page_each(page: Page, base_url: str, paper: str) -> None:
    stages = [job + stage for job in JOBS for stage in ("measure", "size", "cut", "book")]
    stages = stages[1::4] if paper == "Letter" else stages[::4]
    for path in (*stages, "/jobs/4/join", "/jobs/11/cut", "/jobs/4/receive", "/jobs/6/prove", "/shop", "/"):
        page.goto(base_url + path)
        page.wait_for_load_state("networkidle")
        assert len(re.findall(rb"/Type\s*/Page\b", page.pdf(format=paper))) == 1, path


def test_a_page_is_headed_by_bike_day_count_box_and_rivet_and_the_strip_lies_pitch_for_pitch(
    page: Page, base_url: str
) -> None:
    page.goto(f"{base_url}/bikes/1")
    page.get_by_text("Owner and story").click()
    page.get_by_label("What the owner calls it").fill("Ferry bike")
    page.get_by_role("button", name="Save").click()
    page.emulate_media(media="print")
    for stage in ("measure", "size", "cut", "book"):
        page.goto(f"{base_url}/jobs/4/{stage}")
        head = page.locator("#paper").inner_text()
        for told in ("Ferry bike", "Otter", "112 links · 56 pairs", "117 links · 58½ pairs", "111, the", "6th from"):
            assert told in head, (stage, told)
        assert re.search(r"\d{4}-\d\d-\d\d", head)
    page.goto(f"{base_url}/jobs/4/cut")
    first, tenth = (page.locator(f".joint:text-is('{joint}')").bounding_box() for joint in (11, 19))
    assert first and tenth
    middles = [box["x"] + box["width"] / 2 for box in (first, tenth)]
    assert (middles[1] - middles[0]) * CSS_PX_MM == pytest.approx(8 * 12.7, abs=0.05)


def test_each_caution_stands_at_its_step(page: Page, base_url: str) -> None:
    """Trade, section 15; in the open, where the hand acts, before the step is taken."""
    told = {
        "/jobs/6/measure": ["Release the cage slowly", "only through its valve"],
        "/jobs/4/cut": ["Rivets fly: wear eye protection"],
        "/jobs/4/book": ["breaks under load", "Keep hands out of the moving chain", "qualified workshop"],
    }
    for path, cautions in told.items():
        page.goto(base_url + path)
        for caution in cautions:
            expect(page.get_by_text(caution)).to_be_in_viewport()
    page.goto(f"{base_url}/jobs/4/measure")
    for other in ("only through its valve", "battery"):
        expect(page.get_by_text(other)).to_have_count(0)
    page.goto(base_url)
    page.get_by_label("A new bike").fill("Teal, an e-bike")
    page.keyboard.press("Enter")
    expect(page.get_by_text("Take the e-bike battery out first")).to_be_in_viewport()


def test_every_saved_picture_is_drawn(page: Page, base_url: str) -> None:
    """Well-formed, and not empty once the browser has made an image of it."""
    page.goto(base_url)
    width = """async (url) => {
        const answer = await fetch(url), picture = new Image();
        if (!answer.ok) return null;
        picture.src = url;
        return picture.decode().then(() => picture.naturalWidth, () => 0);
    }"""
    widths = {
        f"{job}/{name}": page.evaluate(width, f"/jobs/{job}/picture/{name}.svg")
        for job in (2, 4, 6, 9, 10)
        for name in ("side", "strip", "rail", "dials")
    }
    assert [name for name, wide in widths.items() if wide == 0] == []
    assert sum(bool(wide) for wide in widths.values()) > 12


def test_printed_the_route_has_its_chain_and_no_word_lies_over_a_number(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/11/route")
    page.emulate_media(media="print")
    expect(page.locator("#route-drawing .run path").first).to_be_visible()
    expect(page.locator("#route-on-paper")).to_contain_text("drive under 15 -700 -40")
    expect(page.locator("#tubes")).to_be_hidden()
    page.goto(f"{base_url}/jobs/11/cut")
    covered = page.evaluate(
        """() => [...document.querySelectorAll("#strip-bed .end-word")].flatMap(word =>
          [...document.querySelectorAll("#strip-bed .joint")].filter(number => {
            const a = word.getBoundingClientRect(), b = number.getBoundingClientRect();
            return a.left < b.right && b.left < a.right && a.top + 2 < b.bottom && b.top + 2 < a.bottom;
          }).map(number => number.textContent))"""
    )
    page.emulate_media(media="screen")
    assert covered == []
