"""The sample workshop, filled once a process and served to the browser.

The data files of this process do without the wait for the disk at each write: on a busy machine it lasts seconds.
What a crash leaves is tested on servers of their own (tests/store/test_keeping.py), which do wait.
"""

import shutil
import socket
import threading
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
import uvicorn
from fastapi import FastAPI
from hypothesis import HealthCheck, settings

from lone_pike.demo.workshop import fill
from lone_pike.store import database as database_module
from lone_pike.store.database import Database
from lone_pike.web.app import create_app

database_module.PRAGMAS = (*database_module.PRAGMAS, "PRAGMA synchronous = OFF")
settings.register_profile("any machine", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("any machine")


@pytest.fixture(scope="session")
def application(tmp_path_factory: pytest.TempPathFactory) -> FastAPI:
    """The application; each test of the pages gives it a fresh data file."""
    return create_app(Database(tmp_path_factory.mktemp("served") / "empty.sqlite3"))


@pytest.fixture(scope="session")
def base_url(application: FastAPI) -> Iterator[str]:
    """Address of the application, served in this process."""
    listening = socket.create_server(("127.0.0.1", 0))
    server = uvicorn.Server(uvicorn.Config(application, log_level="error"))
    application.state.under_way = server.server_state.tasks
    thread = threading.Thread(target=server.run, kwargs={"sockets": [listening]}, daemon=True)
    thread.start()
    while not server.started:
        time.sleep(0.01)
    yield f"http://127.0.0.1:{listening.getsockname()[1]}"
    server.should_exit = True
    thread.join()
    listening.close()


@pytest.fixture(scope="session")
def filled_file(tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The sample workshop's file, filled once."""
    path = tmp_path_factory.mktemp("filled") / "workshop.sqlite3"
    filled = Database(path)
    fill(filled)
    filled.close()
    return path


@pytest.fixture
def database(tmp_path: Path, filled_file: Path) -> Iterator[Database]:
    """A fresh sample workshop."""
    path = tmp_path / "workshop.sqlite3"
    shutil.copy(filled_file, path)
    result = Database(path)
    yield result
    result.close()
