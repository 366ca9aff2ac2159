"""Every test of the pages works on a sample workshop of its own."""

import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient

from lone_pike.store.database import Database


@pytest.fixture(autouse=True)
def fresh_workshop(application: FastAPI, database: Database) -> None:
    application.state.database = database


@pytest.fixture
def client(application: FastAPI) -> TestClient:
    """Asks the application without a browser; what breaks is answered, what redirects is not followed."""
    return TestClient(application, base_url="http://127.0.0.1", raise_server_exceptions=False, follow_redirects=False)
