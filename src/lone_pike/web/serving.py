"""Starting the server on a data file, or on a fresh copy of the sample workshop."""

import ipaddress
import socket
import tempfile
from pathlib import Path

import uvicorn

from lone_pike.core.bike.faults import invalid
from lone_pike.core.messages import Message, Raw
from lone_pike.demo.workshop import fill
from lone_pike.store.database import Database
from lone_pike.web.app import create_app


def serve_workshop(data: Path, host: str, port: int) -> None:
    """Serves a data file until it is stopped.

    Raises: InvalidInput where the address is not a loopback one, the port is taken, or the file cannot be used.
    """
    if not _is_loopback(host):
        raise invalid("host", Raw(host), Message("loopback"), Message("other_addresses"))
    _run(Database(data), host, port)


def serve_demo(port: int) -> None:
    """Serves the sample workshop from a copy that is gone afterwards."""
    with tempfile.TemporaryDirectory(prefix="lone-pike-demo-") as folder:
        database = Database(Path(folder) / "workshop.sqlite3")
        fill(database)
        _run(database, "127.0.0.1", port)


def _run(database: Database, host: str, port: int) -> None:
    with socket.socket(socket.AF_INET6 if ":" in host else socket.AF_INET) as probe:
        probe.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            probe.bind((host, port))
        except OSError as error:
            allowed = Message("free_port", problem=str(error.strerror))
            raise invalid("port", Raw(port), allowed, Message("try_another_port")) from None
    print(f"Lone Pike: http://{host}:{port}/  (stop with Ctrl-C)", flush=True)
    uvicorn.run(create_app(database), host=host, port=port, log_level="warning", server_header=False)


def _is_loopback(host: str) -> bool:
    try:
        return host == "localhost" or ipaddress.ip_address(host).is_loopback
    except ValueError:
        return False
