"""One more of each set, tried on a copy of the package: only the files that are named here are touched."""

import json
import os
import re
import shutil
import subprocess
import sys
from pathlib import Path

import pytest
from playwright.sync_api import FilePayload, Page, expect

import lone_pike
from tests.served import served

ASK = """
from pathlib import Path
from fastapi.testclient import TestClient
from lone_pike.store.database import Database
from lone_pike.web.app import create_app

database = Database(Path(FILE))
client = TestClient(create_app(database), base_url="http://127.0.0.1", follow_redirects=False)

def job(document):
    import json
    started = client.post("/jobs", files={"file": ("bike.json", json.dumps(document))})
    assert started.status_code == 303, started.text
    return started.headers["location"]

def page(address):
    answer = client.get(address)
    assert answer.status_code == 200, (address, answer.text)
    return answer.text

def press(address, **form):
    saw = page(address).split('name="saw" value="')[1].split('"')[0]
    answer = client.post(address, data={"saw": saw, **form})
    assert answer.status_code == 303, (address, answer.text)
"""
FIXED = {
    "lone_pike": 1,
    "name": "Teal",
    "rings": [42],
    "cogs": [15],
    "chain": {"box_links": 115},
}


class Copy:
    """A copy of the package, and how many of its files were changed."""

    def __init__(self, root: Path) -> None:
        self.root, self.changed = root / "lone_pike", set[str]()
        shutil.copytree(Path(lone_pike.__file__).parent, self.root, ignore=shutil.ignore_patterns("*.pyc.*"))

    def change(self, name: str, old: str, new: str) -> None:
        path = self.root / name
        path.parent.mkdir(exist_ok=True)
        text = path.read_text() if path.exists() else ""
        assert old in text, (name, old)
        path.write_text(text.replace(old, new, 1) if old else new)
        self.changed.add(name)

    def ask(self, script: str) -> None:
        environment = os.environ | {"PYTHONPATH": str(self.root.parent), "PYTHONWARNINGS": "ignore"}
        code = ASK.replace("FILE", repr(str(self.root.parent / "data.sqlite3"))) + script
        told = subprocess.run(
            [sys.executable, "-c", code],
            env=environment,
            cwd=self.root.parent,
            capture_output=True,
            text=True,
            check=False,
        )
        assert told.returncode == 0, told.stderr[-3000:]


@pytest.fixture
def copied(tmp_path: Path) -> Copy:
    return Copy(tmp_path)


def test_a_kind_is_added_in_three_files(copied: Copy) -> None:
    """Chain tugs on open ends: a stop, and how far they draw the axle back. 42/15 at 412.308 mm: 94 (model, 5)."""
    parts, kinds = "core/bike/take_ups.py", "core/take_up/kinds.py"
    copied.change(
        parts,
        "class NoTakeUp(Standing):",
        '''class Tug(Standing):
    """Chain tugs: the axle is drawn back from a stop."""

    places_axle: ClassVar[bool] = True
    moves: ClassVar[Moves] = Moves.AXLE
    near_field: ClassVar[str] = "take_up.stop_mm"

    type: Literal["tug"] = measured(Kind.CHOICE, "Chain tension set by", "What takes up the slack.")
    stop_mm: float = measured(Kind.LENGTH, "Stop", "Crank to axle, the tugs let go.", letter="E", ge=150, le=2500)
    drawn_mm: float = measured(Kind.LENGTH, "Tug", "How far they draw the axle back.", letter="F", ge=1, le=60)

    @property
    def chainstay_mm(self) -> float:
        return self.stop_mm + self.drawn_mm / 2

    def centres_mm(self, away_mm: float) -> tuple[float, float]:
        return self.stop_mm, self.stop_mm + self.drawn_mm


class NoTakeUp(Standing):''',
    )
    copied.change(parts, "Slot | Eccentric | NoTakeUp,", "Slot | Eccentric | NoTakeUp | Tug,")
    copied.change(kinds, "import Eccentric, NoTakeUp, Slot\n", "import Eccentric, NoTakeUp, Slot, Tug\n")
    copied.change(
        kinds,
        '    "arm": TakeUpKind(',
        """    "tug": TakeUpKind(
        part=Tug,
        solve=fixed_centres,
        typical=SINGLE | {"chainstay_mm": None, "take_up": {"type": "tug", "stop_mm": 405, "drawn_mm": 20}},
        drawn=(RINGS, COGS, ("slot", ("take_up.stop_mm", "take_up.drawn_mm"))),
        first=("rings", "cogs", "take_up.stop_mm", "take_up.drawn_mm"),
        more=FIXED_MORE,
        walk="walk_setup_fixed",
        checks=FIXED_CHECKS,
    ),
    "arm": TakeUpKind(""",
    )
    copied.change(
        "wording/kinds.py",
        "KIND_WORDS = {",
        'KIND_WORDS = {\n    "tug": KindWords("chain tugs", "chain tugs, grass track"),',
    )
    copied.ask(
        f"""
at = job({FIXED} | {{"take_up": {{"type": "tug", "stop_mm": 408, "drawn_mm": 9}}}})
assert "Stop" in page(at + "/measure") and "chain tugs" in page(at + "/measure")
size = page(at + "/size")
assert "94" in size and "axle is in its slot" in size, size
for stage in ("cut", "join"):
    page(at + "/" + stage)
press(at + "/book")
assert "94" in page("/bikes/1") and "Teal" in page("/bikes?find=grass+track")
"""
    )
    assert len(copied.changed) == 3


def test_a_joiner_is_added_in_two_files_and_booked_without_a_migration(copied: Copy) -> None:
    joiners = "core/bike/joiners.py"
    copied.change(
        joiners, '    CLIP_LINK = "clip_link"\n', '    CLIP_LINK = "clip_link"\n    SCREW_LINK = "screw_link"\n'
    )
    copied.change(
        joiners,
        "    JoinerKind.CLIP_LINK:",
        "    JoinerKind.SCREW_LINK: Joiner(1, True, JoinerShape.LINK, most_cogs=1),\n    JoinerKind.CLIP_LINK:",
    )
    copied.change(
        "wording/joiners.py",
        "JOINER_WORDS = {",
        'JOINER_WORDS = {\n    "screw_link": JoinerWords("screw link", "Screw it shut.", "Screwed home."),',
    )
    copied.ask(
        f"""
bike = {FIXED} | {{"take_up": {{"type": "slot", "min_mm": 405, "max_mm": 420}}}}
at = job({{**bike, "chain": {{"box_links": 115, "joiner": "screw_link"}}}})
assert "Push rivet" in page(at + "/cut") and "screw link" in page(at + "/measure")
press(at + "/join")
assert "Screw it shut." in page(at + "/join") or "joined" in page(at + "/join")
press(at + "/book")
assert "screw link" in page("/bikes/1")
"""
    )
    assert len(copied.changed) == 2


def test_a_stage_is_added_by_two_rows_and_its_folder_and_is_driven(copied: Copy, page: Page) -> None:
    """Between Prove and Book: what led to Book leads to it, with its key, help and place; nothing else is touched."""
    copied.change(
        "core/stages.py",
        '        Stage("book", "Book"',
        '        Stage("polish", "Polish"),\n        Stage("book", "Book"',
    )
    copied.change(
        "web/job/polish/view.py",
        "",
        '''"""Polish."""

from dataclasses import dataclass

from lone_pike.web.job.frame import Frame, StageRequest
from lone_pike.web.job.work import Work


@dataclass(frozen=True)
class PolishView:
    frame: Frame


def stage_view(work: Work, asked: StageRequest) -> PolishView:
    return PolishView(Frame(work, "polish", asked.announcements))
''',
    )
    copied.change("web/job/stages.py", '    "book": book', '    "polish": polish.stage_view,\n    "book": book')
    first = "from lone_pike.web.job.prove import view as prove\n"
    copied.change("web/job/stages.py", first, f"from lone_pike.web.job.polish import view as polish\n{first}")
    parts = {
        "_bench.html": "<p>Wipe it.</p>\n",
        "_panel.html": "",
        "_help.html": '{{ help.screen("polish", "Polish", "Wipe it.", {}, help.chain) -}}\n',
    }
    for name, content in {"__init__.py": "", **parts}.items():
        (copied.root / "web/job/polish" / name).write_text(content)
    assert len(copied.changed) == 3
    data = copied.root.parent / "data.sqlite3"
    command = [sys.executable, "-c", "from lone_pike.cli import main; main()", "serve", "--data", str(data)]
    with served(command, copied.root.parent, os.environ | {"PYTHONPATH": str(copied.root.parent)}) as (_, address):
        worker = page.request.get(f"{address}sw.js").text()
        assert "prove|polish|book" in worker
        bike = json.dumps(FIXED | {"take_up": {"type": "slot", "min_mm": 405, "max_mm": 420}}).encode()
        file: FilePayload = {"name": "bike.json", "mimeType": "application/json", "buffer": bike}
        job = page.request.post(f"{address}jobs", multipart={"file": file}).url.rsplit("/", 1)[0]
        page.goto(f"{job}/prove")
        page.keyboard.press("j")
        expect(page).to_have_url(re.compile("/polish"))
        expect(page.get_by_role("navigation", name="Stages").locator("[aria-current=step]")).to_have_text(
            re.compile("7.*Polish", re.S)
        )
        expect(page.locator("html")).to_have_attribute("data-settled", "")  # a press before that is not taken
        page.keyboard.press("?")
        expect(page.get_by_role("dialog")).to_contain_text("1 – 8")
        expect(page.get_by_role("dialog").get_by_role("heading", name="Polish")).to_be_visible()
        page.keyboard.press("Escape")
        page.keyboard.press("8")
        expect(page).to_have_url(re.compile("/book"))
