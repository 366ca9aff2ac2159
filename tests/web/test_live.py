"""Several at one job: what one keeps the other sees, what is being typed stays, and who is there."""

import asyncio
import re
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from time import monotonic, sleep

import pytest
from fastapi import FastAPI
from playwright.sync_api import Browser, Page, expect

from lone_pike.store.database import Database
from lone_pike.web.live import Live
from lone_pike.workshop.access import session_of, set_passcode, sign_in
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


def test_what_is_typed_while_an_answer_comes_in_is_not_taken_back(page: Page, base_url: str) -> None:
    page.goto(f"{base_url}/jobs/4/measure")
    settled(page)
    typed_meanwhile = """document.addEventListener("htmx:before:swap", () => {
        document.getElementById("cogs").value = "11-46 x 11";
    }, { once: true })"""
    page.evaluate(typed_meanwhile)
    field(page, "chain.speeds").select_option("12")
    settled(page)
    expect(field(page, "cogs")).to_have_value("11-46 x 11")
    assert page.evaluate("JSON.parse(localStorage.getItem('draft jobs/4'))") == {"cogs": "11-46 x 11"}


def tablets_listen(live: Live, *jobs: list[int]) -> None:
    """Waits until the tablets that listen are these, each with its jobs: a stream's end is noticed a moment later."""
    ends = monotonic() + 15
    while (now := sorted(sorted(one.known) for one in live.listeners)) != list(jobs):
        assert monotonic() < ends, now
        sleep(0.01)


def test_a_tablet_listens_once_for_all_its_pages_and_goes_on_when_the_one_that_listens_is_closed(
    tablets: tuple[Page, Page], base_url: str, application: FastAPI
) -> None:
    live: Live = application.state.live
    first, elsewhere = tablets
    second = first.context.new_page()
    for page, job in ((first, 4), (second, 5), (elsewhere, 5)):
        page.goto(f"{base_url}/jobs/{job}/measure")
        settled(page)
    expect(second.get_by_text(re.compile("^Also here: "))).to_be_visible()
    expect(first.get_by_text(re.compile("^Also here: "))).to_have_count(0)
    tablets_listen(live, [4, 5], [5])
    first.close()
    field(elsewhere, "chainstay_mm").fill("431.7")
    elsewhere.keyboard.press("Tab")
    expect(field(second, "chainstay_mm")).to_have_value("431.7")
    tablets_listen(live, [5], [5])


def test_a_tablet_that_was_signed_out_is_told_nothing_more(database: Database) -> None:
    begun, later = "2026-05-01T08:00:00+00:00", "2026-05-01T09:00:00+00:00"
    set_passcode(database, "bench", "heron and reed", begun)
    session = session_of(database, sign_in(database, "heron and reed", "stand 1", begun), later)

    async def told() -> list[str | None]:
        live = Live()
        events = []
        async for event in live.stream(database, [4], session):
            events.append(event.event)
            if len(events) == 2:
                set_passcode(database, "bench", "otter and ash", later)
        return events

    with ThreadPoolExecutor(1) as beside_the_browsers_loop:
        assert beside_the_browsers_loop.submit(asyncio.run, told()).result() == ["revision", "here", "over"]
