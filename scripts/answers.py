"""Records some hundreds of answers of the sample workshop, or compares two records byte for byte.

    scripts/answers record FOLDER    fills a workshop (or takes the one that lies in FOLDER) and asks it everything
    scripts/answers compare A B      prints each answer that differs

A redesign that leaves the behaviour as it was is recorded before it and after each commit, on the same day.
"""

import difflib
import json
import re
import shutil
import subprocess
import sys
from collections import Counter
from collections.abc import Iterator
from html.parser import HTMLParser
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

from fastapi.testclient import TestClient

from lone_pike.demo.workshop import fill, sample
from lone_pike.store.database import Database
from lone_pike.web.app import create_app

SEEDS = ("/", "/bikes", "/chains", "/chains/due", "/chains/costs", "/bin", "/practice", "/shop", "/about", "/nothing")
PARTIAL = {"HX-Request": "true", "HX-Request-Type": "partial"}
MOST_ALIKE, MOST_ASKED = 5, 900
ASIDE = re.compile(r"^/(static|shop/export|shop/backup)|/strip\.pdf|/card\.pdf|\.pdf$")
MOMENTS = re.compile(r"\d{4}-\d\d-\d\dT\d\d:\d\d:\d\d(\+00:00|Z)?|\d{8}T\d{6}Z?")
ODD = {"wrong": "zzz", "huge": "99999999", "empty": ""}
Answers = dict[str, str]


class Page(HTMLParser):
    """The addresses and the forms of a page."""

    def __init__(self) -> None:
        super().__init__()
        self.links: list[str] = []
        self.forms: list[tuple[str, str, dict[str, str]]] = []
        self._select = ""

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        """Keeps what can be asked."""
        named = {name: value or "" for name, value in attrs}
        self.links += [named[name] for name in ("href", "src", "hx-get") if named.get(name, "").startswith("/")]
        if tag == "form":
            self.forms.append((named.get("method", "get").lower(), named.get("action", ""), {}))
        if tag == "button" and named.get("formaction"):
            self.forms.append(("post", named["formaction"], dict(self.forms[-1][2]) if self.forms else {}))
        if not self.forms:
            return
        fields = self.forms[-1][2]
        if tag == "select":
            self._select = named.get("name", "")
            fields.setdefault(self._select, "")
        elif tag == "option" and "selected" in named:
            fields[self._select] = named.get("value", "")
        elif tag in ("input", "textarea", "button") and named.get("name"):
            ticked = named.get("type") not in ("checkbox", "radio", "file") or "checked" in named
            if ticked and (tag != "button" or named["name"] not in fields):
                fields[named["name"]] = named.get("value", "")


def read(body: str) -> Page:
    """A page, parsed."""
    page = Page()
    page.feed(body)
    return page


def shape(address: str) -> str:
    """What addresses have in common that differ in numbers and values only."""
    parts = urlsplit(address)
    return re.sub(r"\d+", "N", parts.path) + "?" + "&".join(sorted(re.findall(r"(\w+)=", parts.query)))


class Recorder:
    """Asks a workshop; each form is sent to a fresh copy of it."""

    def __init__(self, filled: Path, work: Path) -> None:
        self.filled, self.work, self.answers = filled, work, Answers()
        self.app = create_app(Database(work / "empty.sqlite3"))
        self.client = TestClient(
            self.app, base_url="http://127.0.0.1", raise_server_exceptions=False, follow_redirects=False
        )
        self.fresh()

    def fresh(self) -> None:
        """Puts a fresh copy of the filled file in place of the current one."""
        path = self.work / "now.sqlite3"
        getattr(self, "database", None) and self.database.close()
        for one in self.work.glob("now.sqlite3*"):
            one.unlink()
        shutil.copy(self.filled, path)
        self.database = Database(path)
        self.app.state.database = self.database

    def ask(self, key: str, method: str, address: str, **sent: Any) -> str:
        """Asks, and keeps the answer under the key."""
        got = self.client.request(method, address, **sent)
        kind = got.headers.get("content-type", "")
        body = got.text if "text" in kind or "json" in kind or "xml" in kind else f"{len(got.content)} bytes"
        heads = [f"{name}: {got.headers.get(name, '')}" for name in ("location", "content-type", "job-revision")]
        answer = "\n".join([str(got.status_code), *heads, "", body])
        self.answers[key] = MOMENTS.sub("MOMENT", answer.replace(str(self.work), "FOLDER"))
        return got.text if "html" in kind else ""

    def crawl(self) -> Iterator[tuple[str, str, dict[str, str]]]:
        """Every page by its links, whole and in part. Yields: the forms that they show."""
        waiting, asked, alike = list(SEEDS), set(SEEDS), Counter[str]()
        while waiting and len(asked) < MOST_ASKED:
            address = waiting.pop(0)
            body = self.ask(f"GET {address}", "GET", address)
            self.ask(f"PART {address}", "GET", address, headers=PARTIAL)
            page = read(body)
            yield from page.forms
            for link in dict.fromkeys(page.links):
                link = link.partition("#")[0]
                if link in asked or ASIDE.search(link) or alike[shape(link)] >= MOST_ALIKE:
                    continue
                alike[shape(link)] += 1
                asked.add(link)
                waiting.append(link)

    def send(self, forms: list[tuple[str, str, dict[str, str]]]) -> None:
        """Each form as it stands, and with something odd in each of its boxes."""
        alike = Counter[str]()
        for method, action, fields in forms:
            key = shape(action) + " ".join(sorted(fields))
            alike[key] += 1
            if method != "post" or alike[key] > 2 or ASIDE.search(action):
                continue
            for name, odd in {"": "", **ODD}.items():
                sent = {k: (odd if name and k not in ("saw", "unit", "whole") else v) for k, v in fields.items()}
                self.fresh()
                tag = f"POST {action} {name} {sorted(fields.items())}"
                self.ask(tag, "POST", action, data=sent)
                to = re.search(r"^location: (/\S*)", self.answers[tag], re.MULTILINE)
                if to:
                    self.ask(f"{tag} THEN", "GET", to[1])
        self.fresh()

    def api(self) -> None:
        """The ways for programs that need no token, with every sample bike."""
        for row in sample()["bikes"]:
            for way in ("size", "cut"):
                self.ask(f"API {way} {row['document']['name']}", "POST", f"/api/v1/{way}", json=row["document"])
        for way in ("size", "cut", "wear"):
            self.ask(f"API {way} nothing", "POST", f"/api/v1/{way}", json={"lone_pike": 2, "rings": [3]})
        for address in ("/api/v1/openapi.json", "/api/v1/schema", "/api/v1/schema/chain", "/api/v1/jobs"):
            self.ask(f"API {address}", "GET", address)

    def commands(self) -> None:
        """The command with sample files."""
        pike = Path(sys.executable).parent / "lone-pike"
        for row in sample()["bikes"]:
            file = self.work / f"{row['document']['name'].replace(' ', '-')}.json"
            file.write_text(json.dumps(row["document"]))
        files = sorted(str(one.name) for one in self.work.glob("*.json"))
        calls = [["size", *files], ["size", "--json", *files], ["--help"], ["size", "--help"], ["fleet", "--help"]]
        calls += [["size", one] for one in files[:5]]
        for call in calls:
            done = subprocess.run([pike, *call], capture_output=True, text=True, cwd=self.work)
            self.answers[f"RUN {' '.join(call)}"] = f"{done.returncode}\n{done.stdout}\n{done.stderr}"


def record(folder: Path) -> None:
    """Records everything into a folder; the filled file stays in it."""
    folder.mkdir(parents=True, exist_ok=True)
    filled = folder / "filled.sqlite3"
    if not filled.exists():
        database = Database(filled)
        fill(database)
        database.close()
    work = folder / "work"
    shutil.rmtree(work, ignore_errors=True)
    work.mkdir()
    recorder = Recorder(filled, work)
    forms = list(recorder.crawl())
    recorder.send(forms)
    recorder.api()
    recorder.commands()
    (folder / "answers.json").write_text(json.dumps(recorder.answers, indent=0))
    print(f"{len(recorder.answers)} answers, {Counter(one[:3] for one in recorder.answers.values())}")


def compare(before: Path, after: Path) -> None:
    """Prints what differs, and fails if anything does."""
    one, other = (json.loads((folder / "answers.json").read_text()) for folder in (before, after))
    differing = [key for key in one if one[key] != other.get(key)]
    for key in differing[:40]:
        print("=" * 8, key[:200])
        lines = difflib.unified_diff(*(re.split(r"\n|(?=<)", x.get(key, "")) for x in (one, other)), lineterm="", n=1)
        print("\n".join(line[:240] for line in list(lines)[:24]))
    new = [key for key in other if key not in one]
    print(f"{len(one)} answers, {len(differing)} differ, {len(new)} new: {new[:5]}")
    sys.exit(bool(differing))


if __name__ == "__main__":
    if sys.argv[1] == "record":
        record(Path(sys.argv[2]))
    else:
        compare(Path(sys.argv[2]), Path(sys.argv[3]))
