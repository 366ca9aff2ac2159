"""Measures the engine, the pages and the command. Called by scripts/bench."""

import gzip
import http.client
import json
import multiprocessing
import random
import re
import socket
import statistics
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

import uvicorn
from plain_sizing import plain_answer
from rich.console import Console
from rich.table import Table
from starlette.requests import Request
from starlette.responses import HTMLResponse, Response

from lone_pike.core.bike.document import Bike
from lone_pike.core.chain.cutting import End
from lone_pike.core.chain.pieces import Loose, plan_pieces
from lone_pike.core.count.answer import answer
from lone_pike.demo.workshop import fill
from lone_pike.formats.files.bike_file import bike_from_document
from lone_pike.store.database import Database
from lone_pike.web.app import create_app

PORT = 8798
TURNS = 320
MANY_FILES = 1000
ON_SIZE = "Size after a change of one measure"

WIDE = {
    "lone_pike": 1,
    "name": "Otter",
    "rings": [32],
    "cogs": [10, 12, 14, 16, 18, 21, 24, 28, 33, 39, 45, 51],
    "chainstay_mm": 435,
    "take_up": {"type": "derailleur", "cage_mm": 92, "b_gap_mm": 6},
    "chain": {"box_links": 126, "box_includes_joiner": True, "joiner": "locking_link"},
}


SPRUNG = {key: value for key, value in WIDE.items() if key != "chainstay_mm"} | {
    "axle_mm": [-438, 8],
    "suspension": {"type": "pivot", "pivot_mm": [4, 60], "travel_mm": 160},
    "take_up": {"type": "derailleur", "cage_mm": 98, "b_gap_mm": 6},
}
SPRUNG_TRIPLE = SPRUNG | {"rings": [26, 36, 46], "cogs": [11, 13, 15, 17, 19, 21, 24, 28, 32, 36]}


def times_ms(work: Callable[[], object], runs: int) -> list[float]:
    """How long each run took, ms, after one to warm up."""
    work()
    taken = []
    for _ in range(runs):
        start = time.perf_counter()
        work()
        taken.append((time.perf_counter() - start) * 1000)
    return taken


def one_ms(work: Callable[[int], object], turn: int) -> float:
    """How long one turn took, ms."""
    start = time.perf_counter()
    work(turn)
    return (time.perf_counter() - start) * 1000


def p95(values: list[float]) -> float:
    return statistics.quantiles(values, n=20)[-1]


def engine(table: Table, name: str, bike: Bike, wanted: str, ratio: str) -> None:
    """The complete answer against the straightforward one, turn by turn."""

    def ours() -> None:
        answer.cache_clear()
        answered = answer(bike)
        assert answered.votes and answered.warnings is not None and answered.why

    assert plain_answer(bike)[0] == answer(bike).links
    pairs = [(times_ms(ours, 6), times_ms(lambda: plain_answer(bike), 1)) for _ in range(3)]
    mine = statistics.median(value for times, _ in pairs for value in times)
    plain = statistics.median(value for _, times in pairs for value in times)
    table.add_row(name, f"{mine:.1f} ms", wanted)
    table.add_row(f"{name}: straightforward / ours", f"{plain:.0f} ms / {mine:.1f} ms = {plain / mine:.0f}", ratio)


SIX_IDLERS = [
    {"run": run, "at_mm": at_mm, "teeth": 15, "chain": side}
    for run, at_mm, side in (
        ("drive", [-400, -10], "under"),
        ("drive", [-655, -70], "over"),
        ("drive", [-900, -60], "under"),
        ("return", [-420, -170], "over"),
        ("return", [-690, -185], "under"),
        ("return", [-950, -190], "over"),
    )
]
LONG = {
    "lone_pike": 1,
    "name": "Pintail",
    "rings": [34, 42, 50],
    "cogs": [11, 13, 15, 17, 20, 23, 26, 30, 34],
    "axle_mm": [-1480, -105],
    "take_up": {"type": "derailleur", "cage_mm": 95, "b_gap_mm": 6},
    "idlers": SIX_IDLERS,
    "boom": {"from_mm": -60, "to_mm": 60, "angle_deg": 6},
}


def long_bike(table: Table) -> None:
    """The complete answer of a long bike, each setting of its boom told."""
    bike = bike_from_document(LONG)

    def ours() -> None:
        answer.cache_clear()
        answered = answer(bike)
        assert answered.warnings is not None and answered.why and answered.boom

    spent = statistics.median(times_ms(ours, 15))
    table.add_row("3 × 9, 6 idlers, 120 mm of boom", f"{spent:.0f} ms", "120 ms or less")


def pieces(table: Table) -> None:
    """A loop of many pieces, each of its own wear."""
    lot = random.Random(1)
    ends, many = list(End), 40
    at_hand = [Loose(i, lot.randint(25, 35), lot.choice(ends), lot.random() * 0.8) for i in range(many)]
    spent = statistics.median(times_ms(lambda: plan_pieces(at_hand, 150, 1), 5))
    table.add_row(f"plan of pieces from {many}", f"{spent:.0f} ms", "200 ms or less")


def serve(data: str, port: int) -> None:
    """The sample workshop and a bare page that answers with what it was last given; runs in a process of its own."""
    database = Database(Path(data))
    fill(database)
    app = create_app(database)
    kept = {"html": ""}

    async def keep(request: Request) -> Response:
        kept["html"] = (await request.body()).decode()
        return Response()

    app.add_route("/bare", keep, methods=["POST"])
    app.add_api_route("/bare", lambda: HTMLResponse(kept["html"]), methods=["GET"])
    uvicorn.run(app, port=port, log_level="error")


def changes_on(ask: Callable[..., bytes]) -> dict[str, Callable[[int], bytes]]:
    """What is changed on the sample workshop, by what it is called, each another one at every turn."""
    return {
        ON_SIZE: lambda _: ask("GET", "/jobs/4/size"),
        "one measure while typing": lambda i: ask("POST", "/jobs/4/typed", f"saw=4&chainstay_mm={430 + i / 10}"),
        "gear change on Size": lambda i: ask("GET", f"/jobs/4/size?ring=30&cog={(11, 13, 15, 17)[i % 4]}"),
        "travel change on Size": lambda i: ask("GET", f"/jobs/6/size?travel={10 * (i % 15)}"),
        "an idler dragged": lambda i: ask(
            "POST", "/jobs/11/route/drag", f"saw=15&idler=1&x={-700 + i % 50}&y={-40 - i % 7}"
        ),
        "count change on Size": lambda i: ask("GET", f"/jobs/4/size?links={108 + 2 * (i % 6)}"),
    }


def pages(table: Table) -> None:
    """Changes on a served workshop against a bare page of the same size, in turn on one connection."""
    with tempfile.TemporaryDirectory() as folder:
        server = multiprocessing.Process(target=serve, args=(f"{folder}/bench.sqlite3", PORT), daemon=True)
        server.start()
        wait_for(PORT)
        line = http.client.HTTPConnection("127.0.0.1", PORT)
        swap = {"Accept-Encoding": "gzip", "HX-Request": "true", "HX-Request-Type": "partial"}
        typed = swap | {"Content-Type": "application/x-www-form-urlencoded"}

        def ask(method: str, path: str, body: str | None = None) -> bytes:
            line.request(method, path, body, typed if body else swap)
            return line.getresponse().read()

        def before(name: str, turn: int) -> None:
            """What happens unmeasured before a turn: another measure, kept."""
            if name == ON_SIZE:
                ask("POST", "/jobs/4/measure", f"saw=4&chainstay_mm={420 + turn / 10}&then=size")

        line.request("POST", "/bare", gzip.decompress(ask("GET", "/jobs/4/size")), {"Content-Type": "text/html"})
        line.getresponse().read()
        for name, change in changes_on(ask).items():
            mine, plain = [], []
            for i in range(TURNS):
                before(name, i)
                turns = [(mine, change), (plain, lambda _: ask("GET", "/bare"))]
                for taken, work in turns if i % 2 else reversed(turns):
                    taken.append(one_ms(work, i))
            mine, plain = mine[20:], plain[20:]
            table.add_row(
                f"{name}: p95", f"{p95(mine):.1f} ms", "60 ms or less" if "idler" in name else "40 ms or less"
            )
            if "idler" not in name:
                table.add_row(f"{name}: p95 / bare page", f"{p95(mine) / p95(plain):.1f}", "4 or less")
        first_load(table, line)
        server.terminate()
        server.join()


def wait_for(port: int) -> None:
    """Until something listens there."""
    while True:
        with socket.socket() as probe:
            if probe.connect_ex(("127.0.0.1", port)) == 0:
                return
        time.sleep(0.05)


def first_load(table: Table, line: http.client.HTTPConnection) -> None:
    """Compressed bytes and requests of a job's first load: the page and what it names."""

    def get(path: str) -> bytes:
        line.request("GET", path, headers={"Accept-Encoding": "gzip"})
        return line.getresponse().read()

    page = get("/jobs/4/size")
    html = gzip.decompress(page).decode()
    named = set(re.findall(r'(?:href|src)="(/static/[^"]+)"', html))
    styles = gzip.decompress(get("/static/app.css")).decode()
    named |= set(re.findall(r"url\(\"?(/static/[^)\"]+)", styles))
    sizes = [len(page)] + [len(get(path)) for path in named]
    table.add_row("first load of a job", f"{sum(sizes) / 1000:.0f} kB", "150 kB or less")
    table.add_row("requests of the first load", str(len(sizes)), "12 or fewer")


def command(table: Table) -> None:
    """The command as a whole process: one file, and many unlike ones in one call."""
    run = str(Path(sys.executable).with_name("lone-pike"))
    with tempfile.TemporaryDirectory() as folder:
        files = [Path(folder) / f"{i}.json" for i in range(MANY_FILES)]
        for i, file in enumerate(files):
            file.write_text(json.dumps(WIDE | {"chainstay_mm": 415 + i / 25}))
        alone = times_ms(lambda: subprocess.run([run, "size", files[0], "--json"], capture_output=True, check=True), 7)
        many = [run, "size", *map(str, files), "--json"]
        together = times_ms(lambda: subprocess.run(many, capture_output=True, check=True), 1)
    table.add_row("lone-pike size, whole process", f"{statistics.median(alone) / 1000:.2f} s", "0.6 s or less")
    each_ms = max(together) / MANY_FILES
    table.add_row("lone-pike size, each of 1000 files in one call", f"{each_ms:.1f} ms", "10 ms or less")


def main() -> None:
    """Prints the table."""
    table = Table("what", "measured (medians unless said)", "wanted")
    engine(table, "complete answer, 1 × 12", bike_from_document(WIDE), "15 ms or less", "10 or more")
    engine(table, "1 × 12 with 160 mm pivot", bike_from_document(SPRUNG), "30 ms or less", "20 or more")
    engine(table, "3 × 10 with 160 mm pivot", bike_from_document(SPRUNG_TRIPLE), "60 ms or less", "20 or more")
    long_bike(table)
    pieces(table)
    pages(table)
    command(table)
    Console(width=110).print(table)


if __name__ == "__main__":
    main()
