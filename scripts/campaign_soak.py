"""A soak: many requests of many kinds, after which the server holds no more than after the first of them."""

import http.client
import random
from pathlib import Path

from campaign_service import post, serving_process
from campaign_tried import Tried

PATHS = (
    "/", "/bikes", "/bikes?find=otter", "/bin", "/shop", "/jobs/4/measure", "/jobs/6/size", "/jobs/11/cut",
    "/jobs/4/join", "/jobs/4/book", "/jobs/12/route", "/jobs/4/picture/side.svg", "/jobs/8/photo", "/nowhere",
    "/static/app.css",
)  # fmt: skip
SETTLES_AFTER = 2000
MOST_GROWTH = 1.1


def soak(seed: int, count: int) -> Tried:
    """Requests of every kind: memory, open files and threads are level after the first two thousand."""
    tried, lot = Tried("soak"), random.Random(seed)
    with serving_process() as (process, port):
        line = http.client.HTTPConnection("127.0.0.1", port, timeout=60)
        settled = _held(process.pid or 0)
        for i in range(count):
            if i == min(SETTLES_AFTER, count // 2):
                settled = _held(process.pid or 0)
            if lot.random() < 0.2:
                status = post(line, "/jobs/4/measure", saw="0", chainstay_mm=str(round(lot.uniform(420, 450), 1)))
            else:
                line.request("GET", path := lot.choice(PATHS))
                answered = line.getresponse()
                answered.read()
                status = answered.status if path != "/nowhere" else 200
            tried.hold(status in (200, 303), f"seed {seed}, request {i}: {status}")
        line.close()
        held = _held(process.pid or 0)
    levels = list(zip(("MB", "files", "threads"), settled, held, strict=True))
    for name, before, after in levels:
        tried.hold(after <= before * MOST_GROWTH + 2, f"{before} {name} early on, {after} after all")
    tried.told = ", ".join(f"{name} {before:.0f} to {after:.0f}" for name, before, after in levels)
    return tried


def _held(pid: int) -> tuple[float, int, int]:
    """Memory in MB, open files, threads of a process."""
    status = Path(f"/proc/{pid}/status").read_text()
    kilobytes = next(line for line in status.splitlines() if line.startswith("VmRSS")).split()[1]
    files, threads = (len(list(Path(f"/proc/{pid}/{kind}").iterdir())) for kind in ("fd", "task"))
    return int(kilobytes) / 1000, files, threads
