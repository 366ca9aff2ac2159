"""The `lone-pike` command. Each command imports what it needs when it runs, so that `size` starts fast."""

import argparse
import gc
import json
import os
import sys
from collections.abc import Callable, Iterator
from contextlib import closing
from dataclasses import dataclass
from functools import partial
from pathlib import Path
from types import ModuleType
from typing import TYPE_CHECKING, Any

from lone_pike import __version__

if TYPE_CHECKING:
    from lone_pike.store.audit import Audit
    from lone_pike.workshop.checking import Check

DONE, WRONG_FILE = 0, 2
MANY_FILES = 64
"""From so many files on it is worth waking the other processors."""

DEFAULT_PORT = 8765
SECONDS_BETWEEN_LINES = 1.0
"""How often a long check says how far it is."""

START_FAST = {"OPENBLAS_NUM_THREADS": "1", "PYDANTIC_DISABLE_PLUGINS": "__all__"}
"""What the libraries need not do for one small sizing: no thread pool, no search for plugins."""


def main() -> None:
    """Entry point of the command."""
    gc.disable()  # one answer and gone: nothing is worth collecting
    for name, value in START_FAST.items():
        os.environ.setdefault(name, value)
    arguments = _parser().parse_args()
    from lone_pike.core.bike.faults import InvalidInput

    try:
        code = arguments.run(arguments)
        sys.stdout.flush()
        sys.exit(code)
    except BrokenPipeError:  # whoever read the answer has read enough, as head does
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        sys.exit(DONE)
    except InvalidInput as error:
        from lone_pike.wording.render import fault_line
        from lone_pike.wording.units import DisplayUnits

        print(*(fault_line(fault, DisplayUnits()) for fault in error.faults), sep="\n", file=sys.stderr)
        sys.exit(WRONG_FILE)


@dataclass(frozen=True)
class Sized:
    """What is printed of one file, and whether it was a right one."""

    code: int
    out: list[str]
    err: list[str]


def size(arguments: argparse.Namespace) -> int:
    """Work out the count for bike files, in words or as JSON, in the order they are named."""
    several = len(arguments.files) > 1
    work = partial(_size_file, as_json=arguments.json, several=several)
    code = DONE
    for sized in _in_order(work, arguments.files):
        print(*sized.out, sep="\n", end="\n" if sized.out else "")
        print(*sized.err, sep="\n", end="\n" if sized.err else "", file=sys.stderr)
        code = max(code, sized.code)
    return code


def _in_order(work: Callable[[str], Sized], files: list[str]) -> Iterator[Sized]:
    """The files' answers; many files share all processors."""
    if len(files) < MANY_FILES or "-" in files:
        yield from map(work, files)
        return
    from multiprocessing import Pool

    with Pool() as pool:
        yield from pool.imap(work, files, chunksize=MANY_FILES // 4)


def _size_file(file: str, *, as_json: bool, several: bool) -> Sized:
    from lone_pike.core.bike.faults import InvalidInput
    from lone_pike.core.count.answer import answer
    from lone_pike.formats.files.answer_json import answer_json, fault_json
    from lone_pike.formats.files.bike_file import read_bike
    from lone_pike.wording.answers import answer_lines
    from lone_pike.wording.render import fault_line, fault_words, render
    from lone_pike.wording.units import DisplayUnits

    units = DisplayUnits()
    try:
        answered = answer(read_bike(_bytes_of(file)))
    except InvalidInput as error:
        if as_json and several:
            faults = [fault_json(fault, fault_words(fault, units)) for fault in error.faults]
            return Sized(WRONG_FILE, [_compact({"file": file, "faults": faults})], [])
        lines = [fault_line(fault, units) for fault in error.faults]
        return Sized(WRONG_FILE, [], [f"{file}: {line}" if several else line for line in lines])
    if not as_json:
        return Sized(DONE, [*([f"{file}:"] if several else []), *answer_lines(answered, units)], [])
    whole = answer_json(answered, lambda message: render(message, units))
    if several:
        return Sized(DONE, [_compact({"file": file} | whole)], [])
    return Sized(DONE, [json.dumps(whole, ensure_ascii=False, indent=1)], [])


def _compact(document: dict[str, Any]) -> str:
    return json.dumps(document, ensure_ascii=False, separators=(",", ":"))


def print_schema(_: argparse.Namespace) -> int:
    """Print the JSON Schema of the bike file."""
    from lone_pike.formats.files.bike_file import schema

    print(json.dumps(schema(), ensure_ascii=False, indent=1))
    return DONE


def serve(arguments: argparse.Namespace) -> int:
    """Serve a workshop."""
    _serving().serve_workshop(Path(arguments.data), arguments.host, arguments.port)
    return DONE


def demo(arguments: argparse.Namespace) -> int:
    """Serve the sample workshop from a fresh copy; nothing of the user's is touched."""
    _serving().serve_demo(arguments.port)
    return DONE


def _serving() -> ModuleType:
    """What serves pages. It needs more packages than the sizing does."""
    try:
        from lone_pike.web import serving
    except ModuleNotFoundError as error:
        print(f"lone-pike: the pages need {error.name}; install lone-pike[web]", file=sys.stderr)
        sys.exit(WRONG_FILE)
    gc.enable()
    return serving


def backup(arguments: argparse.Namespace) -> int:
    """Copy a workshop's data file whole, also while it is served."""
    from lone_pike.store.keeping import back_up

    back_up(Path(arguments.data), Path(arguments.file))
    print(f"{arguments.file}: holds all of {arguments.data}")
    return DONE


def restore(arguments: argparse.Namespace) -> int:
    """Put a backup in a data file's place; what stood there is kept beside it."""
    from lone_pike.store.keeping import restore

    kept = restore(Path(arguments.file), Path(arguments.data))
    print(f"{arguments.data}: restored from {arguments.file}")
    if kept:
        print(f"{kept}: what stood there before")
    return DONE


def check(arguments: argparse.Namespace) -> int:
    """Look through a data file: whole, its chain adds up, and every bike in it can still be sized, or why not."""
    from lone_pike.store.audit import audit
    from lone_pike.store.database import Database
    from lone_pike.store.keeping import check_there, problems_of
    from lone_pike.workshop.checking import size_again

    check_there(Path(arguments.data))
    with closing(Database(Path(arguments.data))) as database:
        problems = problems_of(database)
        print(*(f"damaged: {problem}" for problem in problems), sep="\n", end="\n" if problems else "", file=sys.stderr)
        is_sound = _print_audit(audit(database))
        counts = _counted(size_again(database))
    print(
        "{}: {sized} bikes sized, {unfinished} not measured to the end, {broken} broken".format(
            arguments.data, **counts
        )
    )
    return WRONG_FILE if problems or counts["broken"] or not is_sound else DONE


def _print_audit(found: "Audit") -> bool:
    """The ledger of chain, added up, and what does not add up. Returns: whether all of it does."""
    from lone_pike.wording.audit import sum_lines, trouble_lines

    print(*sum_lines(found), sep="\n")
    for line in trouble_lines(found):
        print(line, file=sys.stderr)
    return found.is_sound


def _counted(check: "Check") -> dict[str, int]:
    """How many bikes can be sized, lack measures, or break the sizing; the broken ones are named, the rest counted."""
    from time import monotonic

    from lone_pike.workshop.checking import Outcome

    counts = dict.fromkeys(map(str, Outcome), 0)
    told = monotonic()
    for done, one in enumerate(check.checked, start=1):
        counts[one.outcome] += 1
        if one.error:
            print(f"broken: {one.name}: {one.error}", file=sys.stderr)
        if monotonic() - told > SECONDS_BETWEEN_LINES:
            print(f"{done} of {check.total} bikes", file=sys.stderr, flush=True)
            told = monotonic()
    return counts


def stand_in(arguments: argparse.Namespace) -> int:
    """Play a counter wheel, a scale or a scanner: the lines it would say, to a workshop on this machine."""
    from time import sleep
    from urllib.request import Request, urlopen

    from lone_pike.devices.declared import DEVICES, StandInRequest

    device = DEVICES[arguments.device]
    for line in device.stand_in(StandInRequest(arguments.links, arguments.grams, arguments.drift)):
        if not device.posts_lines:
            print(line)
            continue
        address = f"http://127.0.0.1:{arguments.port}/devices/{arguments.device}"
        with urlopen(Request(address, line.encode(), {"Content-Type": "text/plain"})):
            sleep(arguments.pace)
    return DONE


def _parser() -> argparse.ArgumentParser:
    from lone_pike.devices.declared import DEVICES

    parser = argparse.ArgumentParser("lone-pike", description="The right chain, worked out at the stand.")
    parser.add_argument("--version", action="version", version=__version__)
    commands = parser.add_subparsers(required=True, metavar="COMMAND")

    sizing = commands.add_parser("size", help="work out the count for bike files")
    sizing.add_argument("files", nargs="+", metavar="FILE", help="a bike file, or - for standard input")
    sizing.add_argument("--json", action="store_true", help="the whole answer as JSON; of several files one a line")
    sizing.set_defaults(run=size)

    commands.add_parser("schema", help="print the JSON Schema of the bike file").set_defaults(run=print_schema)

    serving = commands.add_parser("serve", help="serve a workshop")
    serving.add_argument("--data", required=True, help="the workshop's data file; made if it is not there")
    serving.add_argument("--host", default="127.0.0.1", help="address to listen on; loopback only in this version")
    serving.add_argument("--port", type=_port, default=DEFAULT_PORT, help="port to listen on")
    serving.set_defaults(run=serve)

    for command, what in ((backup, "copy a data file whole"), (restore, "put a backup in a data file's place")):
        keeping = commands.add_parser(command.__name__, help=what)
        keeping.add_argument("file", metavar="BACKUP", help="the copy")
        keeping.add_argument("--data", required=True, help="the workshop's data file")
        keeping.set_defaults(run=command)

    checking = commands.add_parser("check", help="look through a data file, and size every bike in it")
    checking.add_argument("--data", required=True, help="the workshop's data file")
    checking.set_defaults(run=check)

    playing = commands.add_parser("stand-in", help="play a device at a workshop that runs on this machine")
    playing.add_argument("device", choices=tuple(DEVICES), help="which one")
    playing.add_argument("--links", type=int, default=57, help="links that the wheel counts, or that a label has")
    playing.add_argument("--grams", type=float, default=250.0, help="what lies on the scale")
    playing.add_argument("--drift", type=float, default=0.0, help="grams that the scale drifts on by at each reading")
    playing.add_argument("--pace", type=float, default=0.0, help="seconds between two lines")
    playing.add_argument("--port", type=_port, default=DEFAULT_PORT, help="port of the workshop")
    playing.set_defaults(run=stand_in)

    demonstration = commands.add_parser("demo", help="serve the sample workshop from a fresh copy")
    demonstration.add_argument("--port", type=_port, default=DEFAULT_PORT, help="port to listen on")
    demonstration.set_defaults(run=demo)
    return parser


def _port(text: str) -> int:
    if not text.isdecimal() or not 1 <= int(text) <= 65535:
        from lone_pike.wording.render import not_taken

        raise argparse.ArgumentTypeError(not_taken(text, "1 to 65535"))
    return int(text)


def _bytes_of(file: str) -> bytes:
    from lone_pike.core.bike.faults import invalid
    from lone_pike.core.messages import Message, Raw

    try:
        return sys.stdin.buffer.read() if file == "-" else Path(file).read_bytes()
    except OSError as error:
        raise invalid("file", Raw(file), Message("readable_file", problem=str(error.strerror))) from None
