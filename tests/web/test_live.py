"""Several at one job: what one keeps the other sees, what is being typed stays, and who is there."""

import re
from collections.abc import Iterator

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.web.reading import field, settled


@pytest.fixture
def tablets(browser: Browser) -> Iterator[tuple[Page, Page]]:
    """Two tablets that hear each other."""
    contexts = [browser.new_context(viewport={"width": 1280, "height": 800}) for _ in range(2)]
    yield contexts[0].new_page(), contexts[1].new_page()
    for context in contexts:
        context.close()


def test_what_one_keeps_the_other_sees_and_what_is_typed_there_stays(tablets: tuple[Page, Page], base_url: str) -> None:
    page, other = tablets
    for each in (page, other):
        each.goto(f"{base_url}/jobs/4/measure")
    expect(page.get_by_text(re.compile("^Also here: "))).to_be_visible()
    settled(other)
    field(other, "take_up.cage_mm").fill("8")
    settled(page)
    field(page, "chainstay_mm").fill("433.3")
    page.keyboard.press("Tab")
    expect(field(other, "take_up.cage_mm")).to_have_value("8")
    field(other, "take_up.cage_mm").fill("92")
    other.keyboard.press("Tab")
    expect(field(other, "chainstay_mm")).to_have_value("433.3")
    expect(field(page, "take_up.cage_mm")).to_have_value("92")
