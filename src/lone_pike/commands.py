"""What each command of `lone-pike` does. Each imports what it needs when it runs, so that `size` starts fast."""

import argparse
import gc
import json
import sys
from contextlib import closing
from pathlib import Path
from types import ModuleType
from typing import TYPE_CHECKING

from lone_pike.filed import DONE, WRONG_FILE, answer_files, forecast_of, sized

if TYPE_CHECKING:
    from lone_pike.store.audit import Audit
    from lone_pike.store.database import Database
    from lone_pike.workshop.access import Role
    from lone_pike.workshop.checking import Check

SECONDS_BETWEEN_LINES = 1.0
"""How often a long check says how far it is."""


def size(arguments: argparse.Namespace) -> int:
    """Work out the count for bike files, in words or as JSON, in the order they are named."""
    return answer_files(sized, arguments.files, as_json=arguments.json)


def wear(arguments: argparse.Namespace) -> int:
    """Tell the wear of chains by their files, and when each is due."""
    return answer_files(forecast_of, arguments.files, as_json=arguments.json)


def practice(arguments: argparse.Namespace) -> int:
    """Print a question of a seed: what is asked, the bike's file, and what is right."""
    from lone_pike.filed import lines_of, question_of

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
    """Serve a workshop: to this machine alone, or to the shop's network."""
    serving, data = _serving(), Path(arguments.data)
    if not arguments.network:
        serving.serve_workshop(data, arguments.host or "127.0.0.1", arguments.port)
        return DONE
    _first_passcode(data)
    cert, key = (Path(one) if one else None for one in (arguments.cert, arguments.key))
    serving.serve_network(data, serving.NetworkRequest(arguments.host or "0.0.0.0", arguments.port, cert, key))
    return DONE


def _first_passcode(data: Path) -> None:
    """Asks for the bench's passcode where none is set yet and somebody sits at the terminal."""
    from lone_pike.store.database import Database
    from lone_pike.workshop.access import BENCH, has_passcode

    with closing(Database(data)) as database:
        if sys.stdin.isatty() and not has_passcode(database):
            print("The workshop needs a passcode before others can come in.")
            _ask_passcode(database, BENCH)


def passcode(arguments: argparse.Namespace) -> int:
    """Set a role's passcode, or take it away; its sessions end."""
    from lone_pike.store.database import Database
    from lone_pike.workshop.access import let_passcode_go
    from lone_pike.workshop.clock import now

    with closing(Database(Path(arguments.data))) as database:
        if arguments.end:
            let_passcode_go(database, arguments.role, now())
        else:
            _ask_passcode(database, arguments.role)
    print(f"{arguments.role}: {'nobody comes in by a passcode' if arguments.end else 'the passcode is set'}")
    return DONE


def _ask_passcode(database: "Database", role: "Role") -> None:
    """Sets a passcode that is typed unseen, or comes in by a pipe."""
    from getpass import getpass

    from lone_pike.workshop.access import set_passcode
    from lone_pike.workshop.clock import now

    typed = getpass(f"Passcode for the {role}: ") if sys.stdin.isatty() else sys.stdin.readline().rstrip("\n")
    set_passcode(database, role, typed, now())


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


def export(arguments: argparse.Namespace) -> int:
    """Write a whole workshop as one archive of open formats."""
    from lone_pike.store.archive import export

    count = export(Path(arguments.data), Path(arguments.file))
    print(f"{arguments.file}: {count} rows, and the pictures, of {arguments.data}")
    return DONE


def take_in(arguments: argparse.Namespace) -> int:
    """Make a new data file of an archive."""
    from lone_pike.store.archive import take_in

    count = take_in(Path(arguments.file), Path(arguments.data))
    print(f"{arguments.data}: {count} rows of {arguments.file}; set a passcode before it is served to a network")
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
    from lone_pike.wording.refusals import sum_lines, trouble_lines

    print(*sum_lines(found), sep="\n")
    for line in trouble_lines(found):
        print(line, file=sys.stderr)
    return found.is_sound


def _counted(check: "Check") -> dict[str, int]:
    """How many bikes can be sized, lack measures, or break the sizing; the broken ones are named, the rest counted."""
    from time import monotonic

    from lone_pike.workshop.checking import Outcome

    counts = dict.fromkeys(map(str, Outcome), 0)
    said_at = monotonic()
    for done, one in enumerate(check.checked, start=1):
        counts[one.outcome] += 1
        if one.error:
            print(f"broken: {one.name}: {one.error}", file=sys.stderr)
        if monotonic() - said_at > SECONDS_BETWEEN_LINES:
            print(f"{done} of {check.total} bikes", file=sys.stderr, flush=True)
            said_at = monotonic()
    return counts


def stand_in(arguments: argparse.Namespace) -> int:
    """Play a counter wheel, a scale or a scanner: the lines it would say, to a workshop.

    One on the shop's network takes them with a token alone; its certificate is the one that is named.
    """
    import ssl
    from time import sleep
    from urllib.request import Request, urlopen

    from lone_pike.devices.declared import DEVICES, StandInRequest

    device = DEVICES[arguments.device]
    for line in device.stand_in(StandInRequest(arguments.links, arguments.grams, arguments.drift)):
        if not device.posts_lines:
            print(line)
            continue
        base = arguments.address.rstrip("/") or f"http://127.0.0.1:{arguments.port}"
        headers = {"Content-Type": "text/plain"}
        if arguments.token:
            headers["Authorization"] = f"Bearer {arguments.token}"
        known = ssl.create_default_context(cafile=arguments.cert) if base.startswith("https:") else None
        try:
            with urlopen(Request(f"{base}/devices/{arguments.device}", line.encode(), headers), context=known):
                sleep(arguments.pace)
        except OSError as error:
            print(f"address: {base} does not take the line ({error})", file=sys.stderr)
            return WRONG_FILE
    return DONE
