"""A whole fleet, sized: a table in, a table out, in chunks that all processors share and that are kept as they come.

What is done stands in a file beside the answers until all is done, so a run that was stopped goes on where it stood.
"""

import csv
import json
import os
import sys
from collections import deque
from collections.abc import Iterable, Iterator, Mapping
from concurrent.futures import Executor, Future, ProcessPoolExecutor
from contextlib import contextmanager
from dataclasses import dataclass, field
from hashlib import sha256
from itertools import islice
from pathlib import Path
from time import monotonic
from typing import Any, TextIO

from lone_pike.core.bike.faults import invalid
from lone_pike.core.messages import Message, Raw
from lone_pike.formats.files.fleet_table import (
    BEYOND,
    ORDERED,
    OWN,
    answer_columns,
    answer_row,
    check_header,
    columns,
    orders,
)

CHUNK_ROWS, CHUNKS_AHEAD = 200, 4
"""Rows that one processor takes at once; how many chunks a processor has waiting, so that memory stays bounded."""

READ_AGAIN_BYTES = 1_000_000
"""So much of the table's beginning is compared before a run goes on."""

STOPPED = 130
SECONDS_BETWEEN_LINES = 1.0
Row = Mapping[str, str]


@dataclass(frozen=True)
class FleetRequest:
    """What is asked: the table of bikes, where the answers go, how many processors, a cluster's address, how sure, and
    how many rows a processor takes at once."""

    bikes: Path
    out: Path
    workers: int
    scheduler: str = ""
    sure: bool = False
    chunk_rows: int = CHUNK_ROWS

    @property
    def part(self) -> Path:
        """Where the answers stand until all is done."""
        return self.out.with_name(f"{self.out.name}.part")

    @property
    def mark(self) -> Path:
        """What the table is known by that these answers are of."""
        return self.out.with_name(f"{self.out.name}.mark")

    @property
    def order(self) -> Path:
        """What to order for the whole fleet."""
        return self.out.with_name(f"{self.out.stem}.order.csv")


@dataclass
class Progress:
    """How far a run is, said now and then on a terminal."""

    total_bytes: int
    rows: int
    rows_before: int
    read_bytes: int = 0
    begun: float = field(default_factory=monotonic)
    said_at: float = 0.0

    def say(self, rows: int) -> None:
        """Counts rows, and says how many are done and what is left of the time."""
        self.rows += rows
        now = monotonic()
        if not sys.stderr.isatty() or now - self.said_at < SECONDS_BETWEEN_LINES:
            return
        self.said_at = now
        share = max(self.read_bytes / max(self.total_bytes, 1), 1e-9)
        seconds_a_row = (now - self.begun) / max(self.rows - self.rows_before, 1)
        left_s = seconds_a_row * self.rows * (1 - share) / share
        print(f"\r{self.rows} bikes, {share:.0%}, about {left_s:.0f} s left ", end="", file=sys.stderr, flush=True)


def fleet(request: FleetRequest) -> int:
    """Sizes a table of bikes. Returns: 0 when all rows are answered. Raises: InvalidInput of a table that is none."""
    header = _header(request.bikes)
    check_header(header)
    done = _begin(request)
    progress = Progress(request.bikes.stat().st_size, done, done)
    rows = islice(_rows(request.bikes, progress), done, None)
    numbered = enumerate(rows, start=done + 1)
    with _executor(request) as executor, request.part.open("a", encoding="utf-8", newline="") as out:
        writer = csv.writer(out, lineterminator="\n")
        for answers in _in_order(executor, _chunks(numbered, request.chunk_rows), request):
            writer.writerows(answers)
            out.flush()
            progress.say(len(answers))
    _finish(request)
    if sys.stderr.isatty():
        print(file=sys.stderr)
    print(f"{request.out}: {progress.rows} bikes; {request.order}: what to order")
    return 0


def column_lines() -> list[str]:
    """Each column that a row may have, and what it holds."""
    described = {OWN: "Your own name for the bike; it comes back beside the answer."}
    described |= {name: spec.how for name, spec in columns().items()}
    return [f"{name}\t{what}" for name, what in described.items()]


def answer_chunk(numbered: tuple[tuple[int, Row], ...], sure: bool) -> list[tuple[str, ...]]:
    """The answers to some rows; what one processor does."""
    from lone_pike.wording.render import fault_line
    from lone_pike.wording.units import DisplayUnits

    units = DisplayUnits()
    return [answer_row(number, row, lambda fault: fault_line(fault, units), sure=sure) for number, row in numbered]


def _chunks(numbered: Iterator[tuple[int, Row]], rows: int) -> Iterator[tuple[tuple[int, Row], ...]]:
    return iter(lambda: tuple(islice(numbered, rows)), ())


def _header(bikes: Path) -> list[str]:
    try:
        with bikes.open(encoding="utf-8-sig", newline="") as lines:
            return next(csv.reader(lines), [])
    except (OSError, UnicodeDecodeError, csv.Error) as error:
        problem = str(getattr(error, "strerror", None) or error)
        raise invalid("file", Raw(str(bikes)), Message("readable_file", problem=problem)) from None


def _rows(bikes: Path, progress: Progress) -> Iterator[Row]:
    """The rows, one after the other; the progress learns how much was read."""
    with bikes.open("rb") as data:
        table = csv.DictReader(_counted(data, progress), restval="", restkey=BEYOND)
        try:
            for row in table:
                yield row | {BEYOND: ",".join(row[BEYOND])} if BEYOND in row else row
        except csv.Error as error:
            problem = f"line {table.line_num + 1}: {error}"
            raise invalid("file", Raw(str(bikes)), Message("readable_file", problem=problem)) from None


def _counted(data: Iterable[bytes], progress: Progress) -> Iterator[str]:
    for number, line in enumerate(data):
        progress.read_bytes += len(line)
        yield line.decode("utf-8-sig" if not number else "utf-8", errors="replace")


@contextmanager
def _executor(request: FleetRequest) -> Iterator[Executor]:
    """What shares the chunks: this machine's processors, or a cluster that runs already."""
    if not request.scheduler:
        with ProcessPoolExecutor(request.workers) as pool:
            yield pool
        return
    try:
        from distributed import Client
    except ModuleNotFoundError:
        raise invalid("scheduler", Raw(request.scheduler), Message("cluster_extra")) from None
    with Client(request.scheduler, set_as_default=False) as client:
        yield client.get_executor()


def _in_order(executor: Executor, chunks: Iterable[Any], request: FleetRequest) -> Iterator[list[tuple[str, ...]]]:
    """The answers, chunk by chunk as they stand in the table; only so many chunks are under way at once."""
    waiting: deque[Future[list[tuple[str, ...]]]] = deque()
    for chunk in chunks:
        waiting.append(executor.submit(answer_chunk, chunk, request.sure))
        if len(waiting) > CHUNKS_AHEAD * request.workers:
            yield waiting.popleft().result()
    while waiting:
        yield waiting.popleft().result()


def _begin(request: FleetRequest) -> int:
    """Begins the file of answers, or takes up what is there of the same table. Returns: how many rows are answered."""
    said = json.dumps(_mark(request))
    header = ",".join(answer_columns(sure=request.sure))
    if request.part.exists() and request.mark.exists() and request.mark.read_text() == said:
        lines, whole_bytes = 0, 0
        with request.part.open("rb") as kept:
            for line in kept:
                if line.endswith(b"\n"):
                    lines, whole_bytes = lines + 1, whole_bytes + len(line)
        os.truncate(request.part, whole_bytes)
        if lines:
            return lines - 1
    request.part.write_text(f"{header}\n", encoding="utf-8")
    request.mark.write_text(said)
    return 0


def _mark(request: FleetRequest) -> dict[str, Any]:
    """What a table is known by, its size and its beginning; and what is answered of it."""
    with request.bikes.open("rb") as data:
        begins = sha256(data.read(READ_AGAIN_BYTES)).hexdigest()
    return {"bytes": request.bikes.stat().st_size, "begins": begins, "columns": answer_columns(sure=request.sure)}


def _finish(request: FleetRequest) -> None:
    """Adds up what to order, and gives the answers their name."""
    with request.part.open(encoding="utf-8", newline="") as answers:
        ordered = orders(csv.DictReader(answers))
    with request.order.open("w", encoding="utf-8", newline="") as out:
        _write(out, ordered)
    request.mark.unlink(missing_ok=True)
    request.part.replace(request.out)


def _write(out: TextIO, ordered: list[tuple[str, str, str, int]]) -> None:
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(ORDERED)
    writer.writerows(ordered)
