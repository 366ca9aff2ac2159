"""A workshop that is served by the command, as a process of its own."""

import socket
import subprocess
import time
import urllib.request
from collections.abc import Iterator, Mapping, Sequence
from contextlib import contextmanager
from pathlib import Path

PATIENCE_S = 60
"""How long an answer, a start or a stop is waited for, however busy the machine is."""


@contextmanager
def served(
    command: Sequence[str | Path], folder: Path, env: Mapping[str, str] | None = None
) -> Iterator[tuple[subprocess.Popen[str], str]]:
    """The process and its address, once it answers; it is stopped afterwards where it still runs."""
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        port = str(probe.getsockname()[1])
    address = f"http://127.0.0.1:{port}/"
    process = subprocess.Popen(
        [*command, "--port", port], stdout=subprocess.PIPE, stderr=subprocess.PIPE, text=True, cwd=folder, env=env
    )
    with process:
        until = time.monotonic() + PATIENCE_S
        while time.monotonic() < until and process.poll() is None:
            try:
                urllib.request.urlopen(f"{address}healthz", timeout=2).close()
                break
            except OSError:
                time.sleep(0.1)
        try:
            yield process, address
        finally:
            process.terminate()
