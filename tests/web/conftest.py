"""Every test of the pages works on a sample workshop of its own, in a window that the tests of a run share."""

import time
from collections.abc import Callable, Iterator

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient
from playwright.sync_api import Browser, BrowserContext, Page, expect

from lone_pike.store.database import Database

expect.set_options(timeout=15_000)
WINDOW = {"width": 1280, "height": 800}
NewContext = Callable[..., BrowserContext]
"""Opens a window of a test's own, which is closed after it."""


@pytest.fixture(autouse=True)
def fresh_workshop(application: FastAPI, database: Database) -> Iterator[None]:
    """The workshop of one test. It is closed only when no request of the test is under way any more."""
    application.state.database = database
    yield
    while getattr(application.state, "under_way", ()):
        time.sleep(0.01)


@pytest.fixture
def client(application: FastAPI) -> TestClient:
    """Asks the application without a browser; what breaks is answered, what redirects is not followed."""
    return TestClient(application, base_url="http://127.0.0.1", raise_server_exceptions=False, follow_redirects=False)


@pytest.fixture(scope="session")
def shared_context(browser: Browser) -> Iterator[BrowserContext]:
    """One window for a run: a new one costs four times as much of the processor as the page in it.

    Its pages do not hear what others keep, as on a tablet whose stream is cut: so they can be as stale as a test wants.
    What is heard is tested in windows of their own (test_live.py, test_network.py).
    """
    context = browser.new_context(viewport=WINDOW)  # type: ignore[arg-type]
    context.add_init_script("window.EventSource = class { addEventListener() {} close() {} };")
    context.new_page()
    yield context
    context.close()


@pytest.fixture
def page(shared_context: BrowserContext) -> Iterator[Page]:
    """A page as good as new: nothing typed, kept, intercepted or emulated is left of the test before."""
    page = shared_context.pages[0]
    page.set_viewport_size(WINDOW)  # type: ignore[arg-type]
    page.emulate_media(media="null", color_scheme="null", reduced_motion="null", forced_colors="null")
    yield page
    for other in shared_context.pages[1:]:
        other.close()  # a page of a job listens to it until it is closed
    page.unroute_all(behavior="ignoreErrors")
    shared_context.set_offline(False)
    page.wait_for_load_state()
    if page.url.startswith("http"):
        page.evaluate("localStorage.clear()")
    page.goto("about:blank")
    shared_context.clear_cookies()


@pytest.fixture
def first_page(browser: Browser) -> Iterator[Page]:
    """A page in a window of its own, which has loaded nothing yet."""
    context = browser.new_context(viewport=WINDOW)  # type: ignore[arg-type]
    yield context.new_page()
    context.close()
