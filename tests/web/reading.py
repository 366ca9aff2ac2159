"""What a reader of a page finds by role and label."""

from html.parser import HTMLParser

from playwright.sync_api import Locator, Page

from lone_pike.wording.terms import LABELS


class Texts(HTMLParser):
    """What stands on a page and what its parts are called, read without a browser."""

    def __init__(self, html: str) -> None:
        super().__init__()
        self.text, self.names = "", list[str]()
        self.feed(html[html.index("<main") :])

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:  # noqa: ARG002 - the parser gives it
        self.names += [value for name, value in attrs if name == "aria-label" and value]

    def handle_data(self, data: str) -> None:
        self.text += data


def settled(page: Page) -> None:
    """Waits until no answer is under way and presses count again: the page itself says so."""
    page.locator("html[data-settled]").wait_for(state="attached")


def count(page: Page) -> Locator:
    """The count under test."""
    return page.get_by_role("group", name="Count").locator("strong")


def count_says(page: Page) -> Locator:
    """What stands beside the count."""
    return page.get_by_role("group", name="Count").locator("em")


def readings(page: Page) -> Locator:
    """The readings beside the drawing."""
    return page.get_by_role("group", name="Readings").locator("strong")


def field(page: Page, path: str) -> Locator:
    """A field of the Measure form, by its label."""
    letters = {"chainstay_mm": "A ", "take_up.cage_mm": "B ", "take_up.b_gap_mm": "C ", "suspension.pivot_mm": "D "}
    return page.get_by_label(letters.get(path, "") + LABELS[path], exact=True)


def drawing(page: Page) -> str:
    """The chain of the side view, as it is drawn."""
    drawn = page.get_by_role("img", name="Side view").locator(".plate-outer").first.get_attribute("d")
    assert drawn
    return drawn


def fault(page: Page, path: str) -> Locator:
    """What is said to be wrong at a field."""
    return page.locator(f"[id='{path}-fault']")
