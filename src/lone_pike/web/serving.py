"""Starting the server on a data file, or on a fresh copy of the sample workshop."""

import asyncio
import asyncio.constants
import ipaddress
import signal
import socket
import sys
import tempfile
from collections import Counter
from contextlib import suppress
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from types import FrameType

import uvicorn
from fastapi import FastAPI
from uvicorn.protocols.http.h11_impl import H11Protocol

from lone_pike.core.bike.faults import InvalidInput, invalid
from lone_pike.core.messages import Message, Raw
from lone_pike.demo.workshop import fill
from lone_pike.store.backups import OLD
from lone_pike.store.database import Database
from lone_pike.web.app import create_app
from lone_pike.web.certificate import certificate_of, fingerprint_of, own_addresses, own_names
from lone_pike.web.dear import DearWork
from lone_pike.web.guard import LOOPBACK, Hosts
from lone_pike.web.network import Network
from lone_pike.wording.render import fault_line
from lone_pike.wording.units import DisplayUnits
from lone_pike.workshop.access import has_passcode
from lone_pike.workshop.backups import back_up_daily, backups_there
from lone_pike.workshop.clock import moment

HEAD_SECONDS, STOP_SECONDS = 20, 6
"""How long a request's head may take to arrive, and how long answers may take to finish when the server is stopped."""

MOST_CONNECTIONS = 200
"""How many connections are open at once. When there is one more, the oldest idle connection is closed."""

BEYOND = 50
"""How many more are accepted before new ones are refused outright."""


def serve_workshop(data: Path, host: str, port: int) -> None:
    """Serves a data file until it is stopped.

    Raises: InvalidInput if the address is not a loopback one, the port is taken, or the file cannot be used.
    """
    if not _is_loopback(host):
        raise invalid("host", Raw(host), Message("loopback"), Message("other_addresses"))
    database = Database(data)
    for line in backup_lines(database, moment()):
        print(line, file=sys.stderr, flush=True)
    _on_loopback(database, host, port, backs_up=True)


@dataclass(frozen=True)
class NetworkRequest:
    """How the workshop is reached from its network, with the given certificate or its own."""

    host: str
    port: int
    cert: Path | None = None
    key: Path | None = None


def serve_network(data: Path, request: NetworkRequest) -> None:
    """Serves a data file to the shop's network, over TLS, to those who are known.

    Raises: InvalidInput where no passcode is set, the certificate cannot be read, the port is taken, or the file
    cannot be used.
    """
    database, now = Database(data), moment()
    if not has_passcode(database):
        raise invalid("passcode", Raw(None), Message("a_passcode"), Message("set_passcode"))
    for line in backup_lines(database, now):
        print(line, file=sys.stderr, flush=True)
    own = (request.cert, request.key) if request.cert and request.key else certificate_of(data, now)
    ips = own_addresses() if _address(request.host).is_unspecified else (request.host,)
    network = Network(tuple(f"https://{_in_address(ip)}:{request.port}/" for ip in ips), fingerprint_of(own[0]))
    hosts = Hosts(LOOPBACK | frozenset(own_names()), any_address=True)
    print(f"Certificate: {network.fingerprint}", flush=True)
    serving = Serving(request.host, request.port, network.addresses[0], backs_up=True, certificate=own)
    _run(create_app(database, hosts, network), serving)


def _address(host: str) -> ipaddress.IPv4Address | ipaddress.IPv6Address:
    try:
        return ipaddress.ip_address(host)
    except ValueError:
        raise invalid("host", Raw(host), Message("an_address")) from None


def _in_address(ip: str) -> str:
    return f"[{ip}]" if ":" in ip else ip


def serve_demo(port: int) -> None:
    """Serves the sample workshop from a copy that is deleted afterwards."""
    with tempfile.TemporaryDirectory(prefix="lone-pike-demo-") as folder:
        database = Database(Path(folder) / "workshop.sqlite3")
        fill(database)
        _on_loopback(database, "127.0.0.1", port)


def backup_lines(database: Database, now: datetime) -> list[str]:
    """Makes the day's backup. Returns: a warning if it could not be made, with the age of the newest one."""
    lines = []
    try:
        back_up_daily(database, now)
    except InvalidInput as error:
        lines += [fault_line(fault, DisplayUnits()) for fault in error.faults]
    there = backups_there(database)
    if there and there[0].age(now) > OLD:
        lines.append(f"The newest backup is {there[0].age(now).days} days old.")
    return lines


@dataclass(frozen=True)
class Serving:
    """Where a server listens, the address it prints, whether it makes backups, and its certificate and key."""

    host: str
    port: int
    address: str
    backs_up: bool = False
    certificate: tuple[Path, Path] | None = None


def _on_loopback(database: Database, host: str, port: int, *, backs_up: bool = False) -> None:
    """Serves to this machine alone."""
    app = create_app(database, Hosts(LOOPBACK | {_in_address(host)}))
    _run(app, Serving(host, port, f"http://{host}:{port}/", backs_up=backs_up))


def _run(app: FastAPI, serving: Serving) -> None:
    _check_port(serving.host, serving.port)
    _make_room()
    print(f"Lone Pike: {serving.address}  (stop with Ctrl-C)", flush=True)
    # The server raises the signal again when it has stopped. The program then ends in order, so that the data file is
    # closed and a demo's folder removed.
    signal.signal(signal.SIGTERM, lambda *_: sys.exit(0))
    app.state.backs_up = serving.backs_up
    cert, key = serving.certificate or (None, None)
    config = uvicorn.Config(
        app,
        host=serving.host,
        port=serving.port,
        log_level="warning",
        server_header=False,
        http=PatientProtocol,
        limit_concurrency=MOST_CONNECTIONS + BEYOND,
        timeout_graceful_shutdown=STOP_SECONDS,
        ssl_certfile=cert,
        ssl_keyfile=key,
    )
    WorkshopServer(config, app.state.dear).run()


def _make_room() -> None:
    """Allows many clients to stall in the middle of a TLS handshake, but not for long: they take up files, and are not
    counted as connections yet."""
    asyncio.constants.SSL_HANDSHAKE_TIMEOUT = HEAD_SECONDS  # the server offers no other way
    with suppress(ImportError, OSError, ValueError):  # where there is no such limit, or it may not be raised
        import resource

        most = resource.getrlimit(resource.RLIMIT_NOFILE)[1]
        resource.setrlimit(resource.RLIMIT_NOFILE, (most, most))


def _check_port(host: str, port: int) -> None:
    """Checks that a port is free. Raises: InvalidInput if it is taken."""
    with socket.socket(socket.AF_INET6 if ":" in host else socket.AF_INET) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError as error:
            allowed = Message("free_port", problem=str(error.strerror))
            raise invalid("port", Raw(port), allowed, Message("try_another_port")) from None


class WorkshopServer(uvicorn.Server):
    """A server that refuses dear work that has not begun when it is told to stop."""

    def __init__(self, config: uvicorn.Config, dear: DearWork) -> None:
        super().__init__(config)
        self.dear = dear

    def handle_exit(self, sig: int, frame: FrameType | None) -> None:
        """Handles the signal to stop."""
        self.dear.stop()
        super().handle_exit(sig, frame)


class PatientProtocol(H11Protocol):
    """The HTTP protocol with a time limit for the head of a request."""

    def connection_made(self, transport: asyncio.Transport) -> None:  # type: ignore[override]
        """A client has connected. It may take its time, but not for ever, and not at the cost of others."""
        super().connection_made(transport)
        self._asked_at = self.loop.time()
        self.loop.call_later(HEAD_SECONDS, self._look)
        if len(self.connections) > MOST_CONNECTIONS:
            self._make_room()

    @property
    def is_coming_in(self) -> bool:
        """Whether no complete request is here: nothing is being answered, or the body is still arriving."""
        return not self._is_answering or self.cycle.more_body

    def _make_room(self) -> None:
        """Closes the oldest waiting connection of the client that has the most of them."""
        slow = [one for one in self.connections if isinstance(one, PatientProtocol) and one.is_coming_in]
        counts = Counter(one.client and one.client[0] for one in slow)
        if slow:
            most = max(counts.values())
            of_most = [one for one in slow if counts[one.client and one.client[0]] == most]
            min(of_most, key=lambda one: one._asked_at).transport.close()

    def data_received(self, data: bytes) -> None:
        """Data has arrived; if the head is not complete, the time for it runs on."""
        before = self.cycle
        super().data_received(data)
        if self.cycle is not before:
            self._asked_at = self.loop.time()

    def on_response_complete(self) -> None:
        """An answer is complete, however long it took; the time for the next head begins now."""
        self._asked_at = self.loop.time()
        super().on_response_complete()

    @property
    def _is_answering(self) -> bool:
        return self.cycle is not None and not self.cycle.response_complete

    def _look(self) -> None:
        """Closes the connection if no request has arrived for long, and none is being answered."""
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
