"""The `lone-pike` command. Each command imports what it needs when it runs, so that `size` starts fast."""

import argparse
import gc
import json
import os
import sys
from contextlib import closing
from pathlib import Path
from types import ModuleType
from typing import TYPE_CHECKING

from lone_pike import __version__
from lone_pike.filed import DONE, WRONG_FILE, answer_files, forecast_of, sized

if TYPE_CHECKING:
    from lone_pike.store.audit import Audit
    from lone_pike.workshop.checking import Check

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


def size(arguments: argparse.Namespace) -> int:
    """Work out the count for bike files, in words or as JSON, in the order they are named."""
    return answer_files(sized, arguments.files, as_json=arguments.json)


def wear(arguments: argparse.Namespace) -> int:
    """Tell the wear of chains by their files, and when each is due."""
    return answer_files(forecast_of, arguments.files, as_json=arguments.json)


def practice(arguments: argparse.Namespace) -> int:
    """Print a question of a seed: what is asked, the bike's file, and what is right."""
    from lone_pike.practised import lines_of, question_of

    found = question_of(arguments.seed, arguments.kind, arguments.exercise)
    print(json.dumps(found, ensure_ascii=False, indent=1) if arguments.json else "\n".join(lines_of(found)))
    return DONE


def fleet(arguments: argparse.Namespace) -> int:
    """Size a table of bikes, a row a bike, into a table of answers; or list the columns that it may have."""
    from lone_pike.fleet import STOPPED, FleetRequest, column_lines
    from lone_pike.fleet import fleet as run

    if arguments.columns or not arguments.bikes or not arguments.out:
        print(*column_lines(), sep="\n")
        return DONE if arguments.columns else WRONG_FILE
    request = FleetRequest(
        Path(arguments.bikes), Path(arguments.out), arguments.workers, arguments.scheduler, arguments.sure
    )
    try:
        return run(request)
    except KeyboardInterrupt:
        print(f"\nstopped; {request.part} holds what is done: the same command goes on from there", file=sys.stderr)
        return STOPPED


def print_schema(arguments: argparse.Namespace) -> int:
    """Print the JSON Schema of the bike file, or of the chain file."""
    from lone_pike.formats.files.bike_file import schema
    from lone_pike.formats.files.chain_file import chain_schema

    asked = chain_schema if arguments.of == "chain" else schema
    print(json.dumps(asked(), ensure_ascii=False, indent=1))
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
    from lone_pike.practised import EXERCISES, FAMILIES

    parser = argparse.ArgumentParser("lone-pike", description="The right chain, worked out at the stand.")
    parser.add_argument("--version", action="version", version=__version__)
    commands = parser.add_subparsers(required=True, metavar="COMMAND")

    sizing = commands.add_parser("size", help="work out the count for bike files")
    sizing.add_argument("files", nargs="+", metavar="FILE", help="a bike file, or - for standard input")
    sizing.add_argument("--json", action="store_true", help="the whole answer as JSON; of several files one a line")
    sizing.set_defaults(run=size)

    wearing = commands.add_parser("wear", help="tell the wear of chains by their files, and when each is due")
    wearing.add_argument("files", nargs="+", metavar="FILE", help="a chain file, or - for standard input")
    wearing.add_argument("--json", action="store_true", help="the whole forecast as JSON; of several files one a line")
    wearing.set_defaults(run=wear)

    practising = commands.add_parser("practice", help="make up a bike and a question about it, from a seed")
    practising.add_argument("--seed", type=_seed, default=1, help="the same seed gives the same question")
    practising.add_argument("--kind", choices=tuple(FAMILIES), help="kind of bike; by the seed where none is named")
    practising.add_argument("--exercise", choices=tuple(EXERCISES), help="exercise; by the seed where none is named")
    practising.add_argument("--json", action="store_true", help="all of it as JSON, with what is right")
    practising.set_defaults(run=practice)

    fleeting = commands.add_parser("fleet", help="size a table of bikes, a row a bike")
    fleeting.add_argument("bikes", nargs="?", metavar="BIKES", help="the table, CSV; columns as the bike file's keys")
    fleeting.add_argument("--out", metavar="ANSWERS", help="where the answers go, CSV; what to order goes beside it")
    fleeting.add_argument("--columns", action="store_true", help="list the columns and what each holds")
    fleeting.add_argument("--sure", action="store_true", help="also from which chainstay to which each count holds")
    fleeting.add_argument("--workers", type=int, default=_cores(), help="processors to use; all by default")
    fleeting.add_argument("--scheduler", default="", help="address of a running cluster, such as tcp://10.0.0.2:8786")
    fleeting.set_defaults(run=fleet)

    describing = commands.add_parser("schema", help="print the JSON Schema of the bike file, or of the chain file")
    describing.add_argument("of", nargs="?", choices=("bike", "chain"), default="bike", help="which file; the bike's")
    describing.set_defaults(run=print_schema)

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


def _cores() -> int:
    """Processors that this process may use."""
    return len(os.sched_getaffinity(0)) if hasattr(os, "sched_getaffinity") else os.cpu_count() or 1


def _seed(text: str) -> int:
    if not text.isdecimal() or len(text) > len("1000000000"):
        from lone_pike.wording.render import not_taken

        raise argparse.ArgumentTypeError(not_taken(text, "0 to 1000000000"))
    return int(text)


def _port(text: str) -> int:
    if not text.isdecimal() or not 1 <= int(text) <= 65535:
        from lone_pike.wording.render import not_taken

        raise argparse.ArgumentTypeError(not_taken(text, "1 to 65535"))
    return int(text)
