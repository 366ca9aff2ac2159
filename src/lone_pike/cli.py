"""The `lone-pike` command. Each command imports what it needs when it runs, so that `size` starts fast."""

import argparse
import gc
import os
import sys
from collections.abc import Callable
from typing import Any

from lone_pike import __version__, commands
from lone_pike.filed import DONE, WRONG_FILE

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


class Verb(argparse.ArgumentParser):
    """The parser of one command. It learns its arguments when it is asked, so that no other command loads what they
    name."""

    def __init__(self, *words: Any, learn: Callable[["Verb"], None] | None = None, **options: Any) -> None:
        super().__init__(*words, **options)
        self._learn = learn

    def parse_known_args(self, args: Any = None, namespace: Any = None) -> Any:
        """Learns its arguments, once, and parses."""
        learn, self._learn = self._learn, None
        if learn:
            learn(self)
        return super().parse_known_args(args, namespace)


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser("lone-pike", description="The right chain, worked out at the stand.")
    parser.add_argument("--version", action="version", version=__version__)
    verbs = parser.add_subparsers(required=True, metavar="COMMAND", parser_class=Verb)
    for name, (about, learn, run) in VERBS.items():
        verbs.add_parser(name, help=about, learn=learn).set_defaults(run=run)
    return parser


def _size(verb: Verb) -> None:
    verb.add_argument("files", nargs="+", metavar="FILE", help="a bike file, or - for standard input")
    verb.add_argument("--json", action="store_true", help="the whole answer as JSON; of several files one a line")


def _wear(verb: Verb) -> None:
    verb.add_argument("files", nargs="+", metavar="FILE", help="a chain file, or - for standard input")
    verb.add_argument("--json", action="store_true", help="the whole forecast as JSON; of several files one a line")


def _fleet(verb: Verb) -> None:
    verb.add_argument("bikes", nargs="?", metavar="BIKES", help="the table, CSV; columns as the bike file's keys")
    verb.add_argument("--out", metavar="ANSWERS", help="where the answers go, CSV; what to order goes beside it")
    verb.add_argument("--columns", action="store_true", help="list the columns and what each holds")
    verb.add_argument("--sure", action="store_true", help="also from which chainstay to which each count holds")
    verb.add_argument("--workers", type=int, default=_cores(), help="processors to use; all by default")
    verb.add_argument("--scheduler", default="", help="address of a running cluster, such as tcp://10.0.0.2:8786")


def _schema(verb: Verb) -> None:
    verb.add_argument("of", nargs="?", choices=("bike", "chain"), default="bike", help="which file; the bike's")


def _practice(verb: Verb) -> None:
    from lone_pike.core.practice.exercises import EXERCISES
    from lone_pike.core.practice.families import FAMILIES

    verb.add_argument("--seed", type=_seed, default=1, help="the same seed gives the same question")
    verb.add_argument("--kind", choices=tuple(FAMILIES), help="kind of bike; by the seed where none is named")
    verb.add_argument("--exercise", choices=tuple(EXERCISES), help="exercise; by the seed where none is named")
    verb.add_argument("--json", action="store_true", help="all of it as JSON, with what is right")


def _serve(verb: Verb) -> None:
    verb.add_argument("--data", required=True, help="the workshop's data file; made if it is not there")
    verb.add_argument("--network", action="store_true", help="serve the shop's network: over TLS, by passcode")
    verb.add_argument("--host", help="address to listen on: loopback, or with --network any; all where left out")
    verb.add_argument("--cert", help="a certificate of your own, PEM; one is made where none is named")
    verb.add_argument("--key", help="its key, PEM")
    _listens(verb, "port to listen on")


def _passcode(verb: Verb) -> None:
    _has_data(verb)
    verb.add_argument("--role", choices=("bench", "counter"), default="bench", help="who comes in by it")
    verb.add_argument("--end", action="store_true", help="take it away; nobody comes in by it any more")


def _demo(verb: Verb) -> None:
    _listens(verb, "port to listen on")


def _copied(verb: Verb) -> None:
    verb.add_argument("file", metavar="BACKUP", help="the copy")
    _has_data(verb)


def _archived(verb: Verb) -> None:
    verb.add_argument("file", metavar="ARCHIVE", help="the archive, a zip file")
    _has_data(verb)


def _stand_in(verb: Verb) -> None:
    from lone_pike.devices.declared import DEVICES

    verb.add_argument("device", choices=tuple(DEVICES), help="which one")
    verb.add_argument("--links", type=int, default=57, help="links that the wheel counts, or that a label has")
    verb.add_argument("--grams", type=float, default=250.0, help="what lies on the scale")
    verb.add_argument("--drift", type=float, default=0.0, help="grams that the scale drifts on by at each reading")
    verb.add_argument("--pace", type=float, default=0.0, help="seconds between two lines")
    _listens(verb, "port of the workshop")
    verb.add_argument("--address", default="", help="a workshop on the shop's network, https://…")
    verb.add_argument("--token", default="", help="the device's token, made in Shop")
    verb.add_argument("--cert", help="the workshop's certificate, PEM")


def _has_data(verb: Verb) -> None:
    verb.add_argument("--data", required=True, help="the workshop's data file")


def _listens(verb: Verb, what: str) -> None:
    verb.add_argument("--port", type=_port, default=DEFAULT_PORT, help=what)


VERBS: dict[str, tuple[str, Callable[[Verb], None], Callable[[argparse.Namespace], int]]] = {
    "size": ("work out the count for bike files", _size, commands.size),
    "wear": ("tell the wear of chains by their files, and when each is due", _wear, commands.wear),
    "fleet": ("size a table of bikes, a row a bike", _fleet, commands.fleet),
    "schema": ("print the JSON Schema of the bike file, or of the chain file", _schema, commands.print_schema),
    "practice": ("make up a bike and a question about it, from a seed", _practice, commands.practice),
    "serve": ("serve a workshop", _serve, commands.serve),
    "passcode": ("set the passcode of the bench or of the counter", _passcode, commands.passcode),
    "demo": ("serve the sample workshop from a fresh copy", _demo, commands.demo),
    "backup": ("copy a data file whole", _copied, commands.backup),
    "restore": ("put a backup in a data file's place", _copied, commands.restore),
    "export": ("write a whole workshop as one archive of open formats", _archived, commands.export),
    "import": ("make a new data file of such an archive", _archived, commands.take_in),
    "check": ("look through a data file, and size every bike in it", _has_data, commands.check),
    "stand-in": ("play a device at a workshop that runs on this machine", _stand_in, commands.stand_in),
}
"""Each command: what it is for, its arguments, and what it does."""


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
