"""Backup, restore and check, as commands; a stop by signal leaves one file, or none."""

import os
import signal
import sqlite3
import tempfile
import threading
import urllib.request
from pathlib import Path

import pytest

from lone_pike.demo.workshop import fill
from lone_pike.store.bikes import add_bike, bikes_like
from lone_pike.store.database import Database
from tests.served import served
from tests.test_cli import COMMAND, run


@pytest.fixture
def workshop(tmp_path: Path) -> Path:
    """A data file with the sample workshop, closed."""
    path = tmp_path / "workshop.sqlite3"
    database = Database(path)
    fill(database)
    database.close()
    return path


def names_in(path: Path) -> list[str]:
    database = Database(path)
    names = [bike.name for bike in bikes_like(database, "", 1, 100)]
    database.close()
    return names


def test_what_was_backed_up_comes_back_and_what_stood_there_is_kept(workshop: Path) -> None:
    copy, before = workshop.with_name("copy.sqlite3"), names_in(workshop)
    assert run("backup", str(copy), "--data", str(workshop)).returncode == 0
    assert copy.stat().st_mode & 0o777 == 0o600
    again = run("backup", str(copy), "--data", str(workshop))
    assert (again.returncode, b"overwrites nothing" in again.stderr) == (2, True)
    with sqlite3.connect(workshop) as connection:
        connection.execute("UPDATE bike SET name = 'Changed' WHERE id = 1")
    connection.close()
    done = run("restore", str(copy), "--data", str(workshop))
    assert done.returncode == 0
    kept = Path(done.stdout.decode().splitlines()[1].split(":")[0])
    assert names_in(workshop) == before
    assert "Changed" in names_in(kept)


def test_a_damaged_or_foreign_backup_is_refused_and_the_data_file_untouched(workshop: Path, tmp_path: Path) -> None:
    was, foreign = workshop.read_bytes(), tmp_path / "foreign"
    foreign.write_bytes(b"not a database at all, but long enough to have a header" * 9)
    for backup in (foreign, tmp_path / "missing"):
        done = run("restore", str(backup), "--data", str(workshop))
        assert done.returncode == 2 and done.stderr
    assert workshop.read_bytes() == was


def test_check_sizes_every_bike_and_names_what_is_damaged(workshop: Path) -> None:
    done = run("check", "--data", str(workshop))
    assert (done.returncode, b" 0 broken" in done.stdout) == (0, True)
    with sqlite3.connect(workshop) as connection:
        connection.execute("UPDATE booking SET job_id = 9999 WHERE id = (SELECT min(id) FROM booking)")
    connection.close()
    torn = run("check", "--data", str(workshop))
    assert (torn.returncode, b"damaged: booking" in torn.stderr) == (2, True)


@pytest.mark.parametrize("kind", ["serve", "demo"])
def test_a_stop_by_signal_leaves_one_file_that_holds_all_and_no_folder_of_a_demo(tmp_path: Path, kind: str) -> None:
    data = tmp_path / "workshop.sqlite3"
    arguments = [kind, *(["--data", str(data)] if kind == "serve" else [])]
    with served([*COMMAND, *arguments], tmp_path, env=os.environ | {"TMPDIR": str(tmp_path)}) as (process, address):
        if kind == "serve":
            form = urllib.request.Request(f"{address}jobs", data=b"name=Eider", method="POST")
            urllib.request.urlopen(form, timeout=5).close()
        process.send_signal(signal.SIGTERM)
        process.communicate(timeout=20)
    assert process.returncode == 0
    left = sorted(path.name for path in tmp_path.iterdir())
    assert left == (["workshop.sqlite3"] if kind == "serve" else []), tempfile.gettempdir()
    assert kind == "demo" or names_in(data) == ["Eider"]


def test_a_workshop_is_closed_after_the_write_that_is_under_way(tmp_path: Path) -> None:
    data = tmp_path / "workshop.sqlite3"
    database = Database(data)
    closing = threading.Thread(target=database.close)
    with database.atomic() as connection:
        closing.start()
        closing.join(0.2)
        assert closing.is_alive()
        add_bike(connection, {"name": "Eider"})
    closing.join()
    assert names_in(data) == ["Eider"]
