"""The `lone-pike` command. Each command imports what it needs when it runs, so that `size` starts fast."""

import argparse
import gc
import json
import os
import sys
from pathlib import Path
from typing import TYPE_CHECKING

from lone_pike import __version__

if TYPE_CHECKING:
    from lone_pike.core.judging.answer import Answer

DONE, WRONG_FILE = 0, 2
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

    try:
        sys.exit(arguments.run(arguments))
    except InvalidInput as refused:
        for fault in refused.faults:
            print(fault.line, file=sys.stderr)
        sys.exit(WRONG_FILE)


def size(arguments: argparse.Namespace) -> int:
    """Work out the count for a bike file, in words or as JSON."""
    from lone_pike.core.judging.answer import answer
    from lone_pike.formats.bike_file import read_bike

    found = answer(read_bike(_bytes_of(arguments.file)))
    print(json.dumps(found.as_json(), ensure_ascii=False, indent=1) if arguments.json else _in_words(found))
    return DONE


def print_schema(_: argparse.Namespace) -> int:
    """Print the JSON Schema of the bike file."""
    from lone_pike.formats.bike_file import schema

    print(json.dumps(schema(), ensure_ascii=False, indent=1))
    return DONE


def serve(arguments: argparse.Namespace) -> int:
    """Serve a workshop."""
    from lone_pike.web.serving import serve_workshop

    gc.enable()
    serve_workshop(Path(arguments.data), arguments.host, arguments.port)
    return DONE


def demo(arguments: argparse.Namespace) -> int:
    """Serve the sample workshop from a fresh copy; nothing of the user's is touched."""
    from lone_pike.web.serving import serve_demo

    gc.enable()
    serve_demo(arguments.port)
    return DONE


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser("lone-pike", description="The right chain, worked out at the stand.")
    parser.add_argument("--version", action="version", version=__version__)
    commands = parser.add_subparsers(required=True, metavar="COMMAND")

    sizing = commands.add_parser("size", help="work out the count for a bike file")
    sizing.add_argument("file", help="a bike file, or - for standard input")
    sizing.add_argument("--json", action="store_true", help="the whole answer as JSON")
    sizing.set_defaults(run=size)

    commands.add_parser("schema", help="print the JSON Schema of the bike file").set_defaults(run=print_schema)

    serving = commands.add_parser("serve", help="serve a workshop")
    serving.add_argument("--data", required=True, help="the workshop's data file; made if it is not there")
    serving.add_argument("--host", default="127.0.0.1", help="address to listen on; loopback only in this version")
    serving.add_argument("--port", type=_port, default=DEFAULT_PORT, help="port to listen on")
    serving.set_defaults(run=serve)

    demonstration = commands.add_parser("demo", help="serve the sample workshop from a fresh copy")
    demonstration.add_argument("--port", type=_port, default=DEFAULT_PORT, help="port to listen on")
    demonstration.set_defaults(run=demo)
    return parser


def _port(text: str) -> int:
    if not text.isdecimal() or not 1 <= int(text) <= 65535:
        raise argparse.ArgumentTypeError(f"read {text}; allowed: 1 to 65535.")
    return int(text)


def _bytes_of(file: str) -> bytes:
    from lone_pike.core.bike.faults import invalid, shown

    try:
        return sys.stdin.buffer.read() if file == "-" else Path(file).read_bytes()
    except OSError as error:
        raise invalid("file", shown(file), f"a readable file ({error.strerror})") from None


def _in_words(found: "Answer") -> str:
    from lone_pike.core.chain.counting import links_and_pairs

    cut = found.cut
    rivet = []
    if cut and cut.push_from_start is not None:
        rivet = [f"Push rivet {cut.push_from_start} from the start, {cut.push_from_end} from the far end."]
    warnings = [f"! {warning.text}" for warning in found.warnings]
    return "\n".join([links_and_pairs(found.links), *found.why, *rivet, *warnings])
