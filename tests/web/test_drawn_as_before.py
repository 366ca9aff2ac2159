"""Regression: every drawing of the sample workshop is as it was when it was last looked at.

To keep what is drawn now: `LONE_PIKE_DRAW_ANEW=1 scripts/test tests/web/test_drawn_as_before.py`, after a look at it.
"""

import json
import os
import re
from collections.abc import Iterator
from pathlib import Path
from zlib import crc32

import pytest
from fastapi.testclient import TestClient

from lone_pike.core.practice.exercises import EXERCISES
from tests.web.test_pages import PAGES

KEPT = Path(__file__).parent / "drawn_as_before.json"
STAGES = ("measure", "size", "cut", "join", "prove", "route")
DRAWN = {f"/jobs/{job}/{stage}" for job in range(4, 13) for stage in STAGES}
DRAWN |= {page for page in PAGES if page.startswith("/jobs/")}
DRAWN |= {f"/practice/v2/{name}/{kind}/7" for name, one in EXERCISES.items() for kind in one.kinds}
DRAWN |= {f"/jobs/{job}/picture/{picture}.svg" for job in (4, 6, 7) for picture in ("dials", "rail", "side")}
PICTURE = re.compile(r'<svg(?! class="(?:icon|mark)| viewBox="[^"]*" class="help).*?</svg>', re.DOTALL)
GEOMETRY = re.compile(r'\s(?:d|points|x|y|x1|y1|x2|y2|cx|cy|r|rx|width|height|viewBox|transform)="([^"]*)"')
NUMBER = re.compile(r"-?\d+(?:\.\d+)?")
CLASSES = re.compile(r'\s(?:class|aria-current|aria-hidden)="([^"]*)"')
OTHER_MACHINE = 5e-4
"""What the sum of a drawing's numbers may differ by for each of them: on another machine some round to the other
side."""

WALKED, MOST_STEPS = (4, 11), 20
Drawing = list[float]


def drawings(html: str) -> list[Drawing]:
    """Of each drawing: how many numbers, their sum, their sum weighted by place, and what its classes are known by."""
    found = []
    for svg in PICTURE.findall(html):
        numbers = [float(one) for values in GEOMETRY.findall(svg) for one in NUMBER.findall(values)]
        weighted = sum(one * (i * 7919 % 97) / 97 for i, one in enumerate(numbers))
        classes = crc32("|".join(CLASSES.findall(svg)).encode())
        found.append([len(numbers), round(sum(numbers), 1), round(weighted, 1), classes])
    return found


def walked(client: TestClient, job: int) -> Iterator[tuple[str, str]]:
    """The page at each step of the walk, with its place."""
    for i in range(MOST_STEPS):
        html = client.get(f"/jobs/{job}/join").text
        yield f"/jobs/{job}/join, step {i}", html
        if "Done, next" not in html:
            return
        *_, done = re.findall(r'name="observed.threaded"\s+value="([^"]*)"', html)
        client.post(f"/jobs/{job}/measure", data={"observed.threaded": done})


def test_every_drawing_is_as_it_was(client: TestClient) -> None:
    now = {path: drawings(client.get(path).text) for path in sorted(DRAWN)}
    now |= {path: drawings(html) for job in WALKED for path, html in walked(client, job)}
    if os.environ.get("LONE_PIKE_DRAW_ANEW"):
        rows = [f"{json.dumps(path)}: {json.dumps(found)}" for path, found in now.items()]
        KEPT.write_text("{\n" + ",\n".join(rows) + "\n}\n")
    before = json.loads(KEPT.read_text())
    for path, found in now.items():
        was = [pytest.approx(one[:3], abs=0.3 + OTHER_MACHINE * one[0]) for one in before[path]]
        assert [one[:3] for one in found] == was, f"{path} is drawn otherwise; the first of its drawings that differ"
        assert [one[3] for one in found] == [one[3] for one in before[path]], f"{path}: other classes in a drawing"
