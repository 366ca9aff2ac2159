"""Every test of the pages works on a sample workshop of its own."""

import pytest
from fastapi import FastAPI

from lone_pike.store.database import Database


@pytest.fixture(autouse=True)
def fresh_workshop(application: FastAPI, database: Database) -> None:
    application.state.database = database
