"""One picture of each main view, from the sample workshop. Called by scripts/screenshots."""

import argparse
import re
import subprocess
import sys
from pathlib import Path

from playwright.sync_api import Page, sync_playwright

sys.path.insert(0, str(Path(__file__).parent.parent))

from tests.chromium import CHROMIUM

VIEWS = {
    "stand": "/",
    "receive": "/jobs/7/receive",
    "measure": "/jobs/4/measure",
    "size": "/jobs/4/size",
    "size-suspension": "/jobs/6/size?travel=100",
    "route": "/jobs/12/route?idler=1",
    "size-long": "/jobs/11/size",
    "join": "/jobs/4/join",
    "photo": "/jobs/8/photo",
    "cut": "/jobs/4/cut",
    "count-along": "/jobs/4/tally?at=40",
    "prove": "/jobs/6/prove",
    "book": "/jobs/4/book",
    "bike": "/bikes/1",
    "chain": "/chains/2",
    "due": "/chains/due",
    "bin": "/bin",
    "shop": "/shop",
    "practice": "/practice/v2/judge/hardtail/7",
}
STEPS_DONE = 3
"""So far the chain is laid in the picture of Join."""

PORT = "8799"


def main() -> None:
    """Starts the sample workshop, takes the pictures, stops it."""
    parser = argparse.ArgumentParser()
    parser.add_argument("names", nargs="*", default=list(VIEWS), help="views to take")
    parser.add_argument("--into", type=Path, default=Path("docs/screenshots"))
    parser.add_argument("--size", default="1280x800")
    parser.add_argument("--dark", action="store_true")
    options = parser.parse_args()
    options.into.mkdir(parents=True, exist_ok=True)
    server = subprocess.Popen([".venv/bin/lone-pike", "demo", "--port", PORT], stdout=subprocess.PIPE, text=True)
    try:
        assert server.stdout
        address = re.search(r"http://\S+?(?=/ )", server.stdout.readline())
        if not address:
            sys.exit("the sample workshop did not start")
        with sync_playwright() as playwright:
            width, height = map(int, options.size.split("x"))
            page = playwright.chromium.launch(**CHROMIUM).new_page(
                viewport={"width": width, "height": height}, color_scheme="dark" if options.dark else "light"
            )
            for name in options.names:
                take(
                    page, address[0] + VIEWS.get(name, name), options.into / f"{name.strip('/').replace('/', '-')}.png"
                )
    finally:
        server.terminate()
        server.wait()


def take(page: Page, url: str, file: Path) -> None:
    """One picture, when fonts and drawing are there."""
    page.goto(url)
    if url.endswith("/join"):
        for _ in range(STEPS_DONE):
            page.get_by_role("button", name="Done, next").click()
            page.wait_for_timeout(700)
    page.evaluate("document.fonts.ready")
    page.screenshot(path=file)
    print(file)


if __name__ == "__main__":
    main()
