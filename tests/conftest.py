"""In which order tests run, with which seed, and in which browser."""

import os
import secrets
from typing import Any

import pytest

from tests.chromium import CHROMIUM

os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")
os.environ.setdefault("LONE_PIKE_TEST_SEED", str(secrets.randbelow(10**6)))


def pytest_configure(config: pytest.Config) -> None:
    """The process that only hands out tests loads nothing of the application: the others can begin sooner."""
    if hasattr(config, "workerinput") or not config.getoption("numprocesses", None):
        config.pluginmanager.import_plugin("tests.sample_workshop")


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
