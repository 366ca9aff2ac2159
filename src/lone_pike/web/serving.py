"""Starting the server on a data file, or on a fresh copy of the sample workshop."""

import asyncio
import ipaddress
import signal
import socket
import sys
import tempfile
from collections import Counter
from datetime import UTC, datetime
from pathlib import Path
from types import FrameType

import uvicorn
from uvicorn.protocols.http.h11_impl import H11Protocol

from lone_pike.core.bike.faults import InvalidInput, invalid
from lone_pike.core.messages import Message, Raw
from lone_pike.demo.workshop import fill
from lone_pike.store.backups import OLD
from lone_pike.store.database import Database
from lone_pike.web.app import create_app
from lone_pike.web.dear import DearWork
from lone_pike.web.guard import LOOPBACK
from lone_pike.wording.render import fault_line
from lone_pike.wording.units import DisplayUnits
from lone_pike.workshop.backups import back_up_daily, backups_there

HEAD_SECONDS, STOP_SECONDS = 20, 6
"""How long a request's head may take; how long answers may take to end when the server is told to stop."""

MOST_CONNECTIONS = 200
"""So many clients are heard at once; one more, and the slowest of those that only take up room has to go."""

BEYOND = 50
"""Connections above that before new ones are turned away unheard."""


def serve_workshop(data: Path, host: str, port: int) -> None:
    """Serves a data file until it is stopped.

    Raises: InvalidInput where the address is not a loopback one, the port is taken, or the file cannot be used.
    """
    if not _is_loopback(host):
        raise invalid("host", Raw(host), Message("loopback"), Message("other_addresses"))
    database = Database(data)
    for line in backup_lines(database, datetime.now(UTC)):
        print(line, file=sys.stderr, flush=True)
    _run(database, host, port, backs_up=True)


def serve_demo(port: int) -> None:
    """Serves the sample workshop from a copy that is gone afterwards."""
    with tempfile.TemporaryDirectory(prefix="lone-pike-demo-") as folder:
        database = Database(Path(folder) / "workshop.sqlite3")
        fill(database)
        _run(database, "127.0.0.1", port)


def backup_lines(database: Database, now: datetime) -> list[str]:
    """Makes the day's backup. Returns: what is worth saying, that it could not be made and how old the newest is."""
    lines = []
    try:
        back_up_daily(database, now)
    except InvalidInput as error:
        lines += [fault_line(fault, DisplayUnits()) for fault in error.faults]
    there = backups_there(database)
    if there and there[0].age(now) > OLD:
        lines.append(f"The newest backup is {there[0].age(now).days} days old.")
    return lines


def _run(database: Database, host: str, port: int, *, backs_up: bool = False) -> None:
    with socket.socket(socket.AF_INET6 if ":" in host else socket.AF_INET) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError as error:
            allowed = Message("free_port", problem=str(error.strerror))
            raise invalid("port", Raw(port), allowed, Message("try_another_port")) from None
    print(f"Lone Pike: http://{host}:{port}/  (stop with Ctrl-C)", flush=True)
    # The server hands a signal on when it has stopped: leaving by it, the data file and a demo's folder are closed.
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    app = create_app(database, LOOPBACK | {f"[{host}]" if ":" in host else host})
    app.state.backs_up = backs_up
    config = uvicorn.Config(
        app,
        host=host,
        port=port,
        log_level="warning",
        server_header=False,
        http=PatientProtocol,
        limit_concurrency=MOST_CONNECTIONS + BEYOND,
        timeout_graceful_shutdown=STOP_SECONDS,
    )
    WorkshopServer(config, app.state.dear).run()


class WorkshopServer(uvicorn.Server):
    """A server that, told to stop, turns dear work away that has not begun."""

    def __init__(self, config: uvicorn.Config, dear: DearWork) -> None:
        super().__init__(config)
        self.dear = dear

    def handle_exit(self, sig: int, frame: FrameType | None) -> None:
        """A signal to stop has come."""
        self.dear.stop()
        super().handle_exit(sig, frame)


class PatientProtocol(H11Protocol):
    """HTTP that waits only so long for the head of a request."""

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        """A client has come: it may take its time, but not for ever, and not the room of others."""
        super().connection_made(transport)
        self._asked_at = self.loop.time()
        self.loop.call_later(HEAD_SECONDS, self._look)
        if len(self.connections) > MOST_CONNECTIONS:
            self._make_room()

    @property
    def is_coming_in(self) -> bool:
        """Whether its request is not here whole: nothing is being answered, or the body is still on its way."""
        return not self._is_answering or self.cycle.more_body

    def _make_room(self) -> None:
        """Lets the oldest go of the client that has most connections with nothing to answer."""
        slow = [one for one in self.connections if isinstance(one, PatientProtocol) and one.is_coming_in]
        counts = Counter(one.client and one.client[0] for one in slow)
        if slow:
            most = max(counts.values())
            of_most = [one for one in slow if counts[one.client and one.client[0]] == most]
            min(of_most, key=lambda one: one._asked_at).transport.close()

    def data_received(self, data: bytes) -> None:
        """Something came in; a head that is not whole by then is still waited for."""
        before = self.cycle
        super().data_received(data)
        if self.cycle is not before:
            self._asked_at = self.loop.time()

    def on_response_complete(self) -> None:
        """An answer has gone out, however long it took: the next head has all its time from here."""
        self._asked_at = self.loop.time()
        super().on_response_complete()

    @property
    def _is_answering(self) -> bool:
        return self.cycle is not None and not self.cycle.response_complete

    def _look(self) -> None:
        """Closes the connection where no request has come for long, and none is being answered."""
        if self.transport.is_closing():
            return
        left = HEAD_SECONDS if self._is_answering else self._asked_at + HEAD_SECONDS - self.loop.time()
        if left <= 0:
            self.transport.close()
        else:
            self.loop.call_later(left, self._look)


def _is_loopback(host: str) -> bool:
    try:
        return host == "localhost" or ipaddress.ip_address(host).is_loopback
    except ValueError:
        return False
