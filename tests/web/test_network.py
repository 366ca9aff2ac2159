"""The shop's network as two tablets see it: over TLS, signed in, at one job, and away from the network."""

import re
import subprocess
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from playwright.sync_api import Browser, BrowserContext, BrowserType, Page, expect

from lone_pike.demo.workshop import fill
from lone_pike.store.database import Database
from lone_pike.workshop.access import set_passcode
from tests.test_cli import COMMAND
from tests.web.reading import field, settled

PASSCODE, NOW = "heron and reed", "2026-05-01T08:00:00+00:00"
KEPT = """caches.open('pages').then(pages => pages.keys())
    .then(kept => kept.map(({url}) => url.slice(location.origin.length)))"""


@pytest.fixture(scope="module")
def workshop(tmp_path_factory: pytest.TempPathFactory) -> Iterator[str]:
    """The address of a sample workshop that is served to all addresses, asked for under one that is not its first."""
    data = tmp_path_factory.mktemp("network") / "workshop.sqlite3"
    database = Database(data)
    fill(database)
    set_passcode(database, "bench", PASSCODE, NOW)
    database.close()
    command = [*COMMAND, "serve", "--data", str(data), "--network", "--port", str(free_port())]
    with subprocess.Popen(command, stdout=subprocess.PIPE, stdin=subprocess.DEVNULL, text=True) as server:
        try:
            assert server.stdout
            said = [server.stdout.readline(), server.stdout.readline()]
            port = re.findall(r":(\d+)/", said[1])[0]
            yield f"https://127.0.0.2:{port}"
        finally:
            server.terminate()


def free_port() -> int:
    import socket

    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


@pytest.fixture(scope="module")
def trusting(browser_type: BrowserType, browser_type_launch_args: dict[str, Any]) -> Iterator[Browser]:
    """A browser on which the workshop's certificate is trusted, as on a tablet that compared its fingerprint."""
    arguments = [*browser_type_launch_args["args"], "--ignore-certificate-errors"]
    browser = browser_type.launch(**browser_type_launch_args | {"args": arguments})
    yield browser
    browser.close()


def signed_in(browser: Browser, workshop: str, name: str) -> tuple[BrowserContext, Page]:
    context = browser.new_context(viewport={"width": 1280, "height": 800}, ignore_https_errors=True)
    page = context.new_page()
    for _ in range(100):
        try:
            page.goto(f"{workshop}/jobs/4/measure")
            break
        except Exception:
            time.sleep(0.2)
    page.get_by_label("Passcode").fill(PASSCODE)
    page.get_by_label("What this tablet is called").fill(name)
    page.keyboard.press("Enter")
    page.wait_for_url(f"{workshop}/jobs/4/measure")
    return context, page


def keeps(tablet: Page, *pages: str) -> None:
    """Waits until a tablet keeps these pages; a browser waits by itself only for what is no promise."""
    ends = time.monotonic() + 30
    while not set(pages) <= set(kept := tablet.evaluate(KEPT)):
        assert time.monotonic() < ends, kept
        time.sleep(0.05)


def test_two_tablets_at_one_job_one_goes_away_counts_on_and_comes_back(trusting: Browser, workshop: str) -> None:
    (here, stand), (away, tablet) = (signed_in(trusting, workshop, name) for name in ("stand 1", "stand 2"))
    expect(tablet.get_by_text("Also here: stand 1")).to_be_visible()
    settled(stand)
    field(stand, "chainstay_mm").fill("433.3")
    stand.keyboard.press("Tab")
    expect(field(tablet, "chainstay_mm")).to_have_value("433.3")

    tablet.goto(f"{workshop}/jobs/4/cut")
    tablet.wait_for_selector("html[data-kept]", state="attached")
    keeps(tablet, "/", "/jobs/4/tally?at=111", "/out-of-reach")
    elsewhere = stand.locator("[data-counted-says]")
    expect(elsewhere).to_have_text("")
    tablet.goto(f"{workshop}/jobs/4/tally?at=10")
    expect(elsewhere).to_have_text("Being counted elsewhere: 10")
    tablet.goto(f"{workshop}/jobs/4/cut")
    field(stand, "chainstay_mm").fill("446")
    stand.keyboard.press("Tab")
    expect(tablet.get_by_role("group", name="Push rivet")).to_have_text("113")
    keeps(tablet, "/jobs/4/tally?at=113")
    assert "/jobs/4/tally?at=111" not in tablet.evaluate(KEPT)
    away.set_offline(True)
    tablet.goto(f"{workshop}/jobs/4/tally?ring=32")
    for reached in ("10", "20"):
        tablet.get_by_role("link", name="10 on").click()
        expect(tablet.get_by_label("Counted")).to_have_text(reached)
    for not_kept in ("/jobs/4/tally?links=110", "/bikes"):
        tablet.goto(workshop + not_kept)
        expect(tablet.get_by_text("this page is not kept on this tablet")).to_be_visible()
    tablet.goto(f"{workshop}/jobs/4/size")
    expect(tablet.get_by_role("banner").get_by_text("The workshop does not answer")).to_be_visible()
    away.set_offline(False)
    expect(tablet.get_by_role("banner").get_by_text("The workshop does not answer")).to_be_hidden(timeout=20_000)

    tablet.goto(f"{workshop}/about")
    tablet.get_by_role("button", name="Sign out").click()
    tablet.wait_for_url("**/sign-in")
    assert tablet.evaluate("caches.has('pages')") is False
    away.set_offline(True)
    with pytest.raises(Exception, match="ERR_"):
        tablet.goto(f"{workshop}/jobs/4/size")
    here.close()
    away.close()


def test_it_can_be_put_among_a_tablets_own_programs(trusting: Browser, workshop: str) -> None:
    context = trusting.new_context(ignore_https_errors=True)
    page = context.new_page()
    page.goto(f"{workshop}/sign-in")
    manifest = page.request.get(f"{workshop}/manifest.webmanifest").json()
    assert manifest["start_url"] == "/" and manifest["display"] == "standalone"
    for icon in manifest["icons"]:
        assert page.request.get(f"{workshop}{icon['src']}").ok
    context.close()


def test_without_a_passcode_it_is_not_served_to_a_network(tmp_path: Path) -> None:
    command = [*COMMAND, "serve", "--data", str(tmp_path / "w.sqlite3"), "--network", "--port", str(free_port())]
    found = subprocess.run(command, capture_output=True, text=True, stdin=subprocess.DEVNULL, timeout=60)
    assert found.returncode == 2 and "lone-pike passcode" in found.stderr
