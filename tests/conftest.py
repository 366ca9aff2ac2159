"""Chromium from the distribution, and a sample workshop served for the browser tests.

The data files of this process do without the wait for the disk at each write: on a busy machine it lasts seconds.
What a crash leaves is tested on servers of their own (tests/store/test_keeping.py), which do wait.
"""

import os
import secrets
import shutil
import socket
import threading
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
import uvicorn
from fastapi import FastAPI
from hypothesis import HealthCheck, settings

from lone_pike.demo.workshop import fill
from lone_pike.store import database as database_module
from lone_pike.store.database import Database
from lone_pike.web.app import create_app
from tests.chromium import CHROMIUM

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
os.environ.setdefault("LONE_PIKE_TEST_SEED", str(secrets.randbelow(10**6)))
database_module.PRAGMAS = (*database_module.PRAGMAS, "PRAGMA synchronous = OFF")
settings.register_profile("any machine", deadline=None, suppress_health_check=[HealthCheck.too_slow])
settings.load_profile("any machine")


def pytest_report_header() -> str:
    """The seed of the bikes nobody drew; set it to run the same ones again."""
    return f"LONE_PIKE_TEST_SEED={os.environ['LONE_PIKE_TEST_SEED']}"


LONGEST = (
    "test_campaign",
    "test_best_practice",
    "test_package",
    "test_every_link",
    "test_every_operation",
    "test_network",
)
"""What takes a quarter of a minute or more begins first, so that no process is left alone with it at the end."""


def pytest_collection_modifyitems(items: list[pytest.Item]) -> None:
    def place(item: pytest.Item) -> int:
        return next((i for i, name in enumerate(LONGEST) if name in item.nodeid), len(LONGEST))

    items.sort(key=place)


@pytest.fixture(scope="session")
def browser_type_launch_args(browser_type_launch_args: dict[str, Any]) -> dict[str, Any]:
    return browser_type_launch_args | CHROMIUM


@pytest.fixture(scope="session")
def browser_context_args(browser_context_args: dict[str, Any]) -> dict[str, Any]:
    return browser_context_args | {"viewport": {"width": 1280, "height": 800}}


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
