"""The `lone-pike` command. Each command imports what it needs when it runs, so that `size` starts fast."""

import argparse
import gc
import os
import sys
from typing import TYPE_CHECKING

from lone_pike import __version__, commands
from lone_pike.filed import DONE, WRONG_FILE

if TYPE_CHECKING:
    Verbs = argparse._SubParsersAction[argparse.ArgumentParser]

DEFAULT_PORT = 8765
START_FAST = {"OPENBLAS_NUM_THREADS": "1", "PYDANTIC_DISABLE_PLUGINS": "__all__"}
"""What the libraries need not do for one small sizing: no thread pool, no search for plugins."""


def main() -> None:
    """Entry point of the command."""
    gc.disable()  # one answer and gone: nothing is worth collecting
    for name, value in START_FAST.items():
        os.environ.setdefault(name, value)
    arguments = _parser().parse_args()
    from lone_pike.core.bike.faults import InvalidInput
    from lone_pike.core.refusals import Refusal

    try:
        code = arguments.run(arguments)
        sys.stdout.flush()
        sys.exit(code)
    except BrokenPipeError:  # whoever read the answer has read enough, as head does
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        sys.exit(DONE)
    except Refusal as error:
        from lone_pike.wording.render import render
        from lone_pike.wording.units import DisplayUnits

        print(render(error.message, DisplayUnits()), file=sys.stderr)
        sys.exit(WRONG_FILE)
    except InvalidInput as error:
        from lone_pike.wording.render import fault_line
        from lone_pike.wording.units import DisplayUnits

        print(*(fault_line(fault, DisplayUnits()) for fault in error.faults), sep="\n", file=sys.stderr)
        sys.exit(WRONG_FILE)


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser("lone-pike", description="The right chain, worked out at the stand.")
    parser.add_argument("--version", action="version", version=__version__)
    verbs = parser.add_subparsers(required=True, metavar="COMMAND")
    for add in (_answering, _practising, _serving, _keeping, _standing_in):
        add(verbs)
    return parser


def _answering(verbs: "Verbs") -> None:
    """What answers files."""
    sizing = verbs.add_parser("size", help="work out the count for bike files")
    sizing.add_argument("files", nargs="+", metavar="FILE", help="a bike file, or - for standard input")
    sizing.add_argument("--json", action="store_true", help="the whole answer as JSON; of several files one a line")
    sizing.set_defaults(run=commands.size)

    wearing = verbs.add_parser("wear", help="tell the wear of chains by their files, and when each is due")
    wearing.add_argument("files", nargs="+", metavar="FILE", help="a chain file, or - for standard input")
    wearing.add_argument("--json", action="store_true", help="the whole forecast as JSON; of several files one a line")
    wearing.set_defaults(run=commands.wear)

    fleeting = verbs.add_parser("fleet", help="size a table of bikes, a row a bike")
    fleeting.add_argument("bikes", nargs="?", metavar="BIKES", help="the table, CSV; columns as the bike file's keys")
    fleeting.add_argument("--out", metavar="ANSWERS", help="where the answers go, CSV; what to order goes beside it")
    fleeting.add_argument("--columns", action="store_true", help="list the columns and what each holds")
    fleeting.add_argument("--sure", action="store_true", help="also from which chainstay to which each count holds")
    fleeting.add_argument("--workers", type=int, default=_cores(), help="processors to use; all by default")
    fleeting.add_argument("--scheduler", default="", help="address of a running cluster, such as tcp://10.0.0.2:8786")
    fleeting.set_defaults(run=commands.fleet)

    describing = verbs.add_parser("schema", help="print the JSON Schema of the bike file, or of the chain file")
    describing.add_argument("of", nargs="?", choices=("bike", "chain"), default="bike", help="which file; the bike's")
    describing.set_defaults(run=commands.print_schema)


def _practising(verbs: "Verbs") -> None:
    """What asks."""
    from lone_pike.practised import EXERCISES, FAMILIES

    practising = verbs.add_parser("practice", help="make up a bike and a question about it, from a seed")
    practising.add_argument("--seed", type=_seed, default=1, help="the same seed gives the same question")
    practising.add_argument("--kind", choices=tuple(FAMILIES), help="kind of bike; by the seed where none is named")
    practising.add_argument("--exercise", choices=tuple(EXERCISES), help="exercise; by the seed where none is named")
    practising.add_argument("--json", action="store_true", help="all of it as JSON, with what is right")
    practising.set_defaults(run=commands.practice)


def _serving(verbs: "Verbs") -> None:
    """What serves, and says who comes in."""
    serving = verbs.add_parser("serve", help="serve a workshop")
    serving.add_argument("--data", required=True, help="the workshop's data file; made if it is not there")
    serving.add_argument("--network", action="store_true", help="serve the shop's network: over TLS, by passcode")
    serving.add_argument("--host", help="address to listen on: loopback, or with --network any; all where left out")
    serving.add_argument("--cert", help="a certificate of your own, PEM; one is made where none is named")
    serving.add_argument("--key", help="its key, PEM")
    serving.add_argument("--port", type=_port, default=DEFAULT_PORT, help="port to listen on")
    serving.set_defaults(run=commands.serve)

    coming_in = verbs.add_parser("passcode", help="set the passcode of the bench or of the counter")
    coming_in.add_argument("--data", required=True, help="the workshop's data file")
    coming_in.add_argument("--role", choices=("bench", "counter"), default="bench", help="who comes in by it")
    coming_in.add_argument("--end", action="store_true", help="take it away; nobody comes in by it any more")
    coming_in.set_defaults(run=commands.passcode)

    demonstration = verbs.add_parser("demo", help="serve the sample workshop from a fresh copy")
    demonstration.add_argument("--port", type=_port, default=DEFAULT_PORT, help="port to listen on")
    demonstration.set_defaults(run=commands.demo)


def _keeping(verbs: "Verbs") -> None:
    """What keeps a data file, and looks through it."""
    for command, what in (
        (commands.backup, "copy a data file whole"),
        (commands.restore, "put a backup in a data file's place"),
    ):
        keeping = verbs.add_parser(command.__name__, help=what)
        keeping.add_argument("file", metavar="BACKUP", help="the copy")
        keeping.add_argument("--data", required=True, help="the workshop's data file")
        keeping.set_defaults(run=command)

    for command, word, what in (
        (commands.export, "export", "write a whole workshop as one archive of open formats"),
        (commands.take_in, "import", "make a new data file of such an archive"),
    ):
        moving = verbs.add_parser(word, help=what)
        moving.add_argument("file", metavar="ARCHIVE", help="the archive, a zip file")
        moving.add_argument("--data", required=True, help="the workshop's data file")
        moving.set_defaults(run=command)

    checking = verbs.add_parser("check", help="look through a data file, and size every bike in it")
    checking.add_argument("--data", required=True, help="the workshop's data file")
    checking.set_defaults(run=commands.check)


def _standing_in(verbs: "Verbs") -> None:
    """What plays a device."""
    from lone_pike.devices.declared import DEVICES

    playing = verbs.add_parser("stand-in", help="play a device at a workshop that runs on this machine")
    playing.add_argument("device", choices=tuple(DEVICES), help="which one")
    playing.add_argument("--links", type=int, default=57, help="links that the wheel counts, or that a label has")
    playing.add_argument("--grams", type=float, default=250.0, help="what lies on the scale")
    playing.add_argument("--drift", type=float, default=0.0, help="grams that the scale drifts on by at each reading")
    playing.add_argument("--pace", type=float, default=0.0, help="seconds between two lines")
    playing.add_argument("--port", type=_port, default=DEFAULT_PORT, help="port of the workshop")
    playing.add_argument("--address", default="", help="a workshop on the shop's network, https://…")
    playing.add_argument("--token", default="", help="the device's token, made in Shop")
    playing.add_argument("--cert", help="the workshop's certificate, PEM")
    playing.set_defaults(run=commands.stand_in)


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
