"""Backup, restore and check, as commands; a stop by signal leaves one file, or none."""

import os
import shutil
import signal
import sqlite3
import subprocess
import tempfile
import threading
import urllib.request
from contextlib import closing
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.store.bikes import add_bike, bikes_like
from lone_pike.store.database import Database, copy_whole
from lone_pike.web.serving import backup_lines
from lone_pike.workshop.backups import back_up_daily, backups_there
from lone_pike.workshop.settings import settle
from tests.served import PATIENCE_S, served
from tests.test_cli import COMMAND, run


@pytest.fixture
def workshop(tmp_path: Path, filled_file: Path) -> Path:
    """A data file with the sample workshop, closed."""
    return Path(shutil.copy(filled_file, tmp_path / "workshop.sqlite3"))


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


@pytest.mark.parametrize("kind", ["empty file", "empty database", "foreign database", "cut short"])
def test_a_backup_that_holds_no_workshop_never_takes_its_place(workshop: Path, tmp_path: Path, kind: str) -> None:
    was, backup = workshop.read_bytes(), tmp_path / "backup.sqlite3"
    if kind == "cut short":
        backup.write_bytes(was[: len(was) // 2])
    elif kind == "empty file":
        backup.touch()
    else:
        with sqlite3.connect(backup) as connection:
            connection.execute("CREATE TABLE gulls (id INTEGER)" if kind == "foreign database" else "VACUUM")
        connection.close()
    done = run("restore", str(backup), "--data", str(workshop))
    assert done.returncode == 2 and len(done.stderr.splitlines()) == 1
    assert workshop.read_bytes() == was and not list(tmp_path.glob("*before-restore*"))


def test_a_workshop_that_is_served_is_not_restored_over(workshop: Path, tmp_path: Path) -> None:
    copy = tmp_path / "copy.sqlite3"
    assert run("backup", str(copy), "--data", str(workshop)).returncode == 0
    with served([*COMMAND, "serve", "--data", str(workshop)], tmp_path) as (_, address):
        urllib.request.urlopen(address, timeout=PATIENCE_S).close()
        done = run("restore", str(copy), "--data", str(workshop))
        assert done.returncode == 2 and b"stop the server first" in done.stderr
        form = urllib.request.Request(f"{address}jobs", data=b"name=Eider", method="POST")
        urllib.request.urlopen(form, timeout=PATIENCE_S).close()
    assert "Eider" in names_in(workshop)


def test_a_backup_onto_a_full_disk_leaves_one_line_and_no_half_file(workshop: Path) -> None:
    copy = workshop.with_name("copy.sqlite3")
    most = workshop.stat().st_size // 2
    small_disk = ["bash", "-c", f"ulimit -f {most // 1024}; trap '' XFSZ; exec \"$@\"", "bash"]
    command = [*small_disk, *COMMAND, "backup", str(copy), "--data", str(workshop)]
    done = subprocess.run(command, capture_output=True, text=True, check=False)
    assert done.returncode == 2 and len(done.stderr.splitlines()) == 1, done.stderr
    assert [path.name for path in workshop.parent.iterdir()] == [workshop.name]


def test_a_backup_that_is_killed_never_has_a_good_name(workshop: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    class Killed(BaseException):
        pass

    def kill(*_: object, **__: object) -> None:
        raise Killed

    monkeypatch.setattr("lone_pike.store.database.check_ours", kill)
    with pytest.raises(Killed), closing(sqlite3.connect(workshop)) as connection:
        copy_whole(connection, workshop.with_name("copy.sqlite3"))
    assert not workshop.with_name("copy.sqlite3").exists()


def test_a_workshop_backs_itself_up_once_a_day_where_its_shop_says(workshop: Path, tmp_path: Path) -> None:
    folder, morning = tmp_path / "elsewhere", datetime(2026, 5, 1, 8, tzinfo=UTC)
    folder.mkdir()
    with closing(Database(workshop)) as database:
        for wrong in ("elsewhere", str(tmp_path / "nowhere")):
            with pytest.raises(InvalidInput):
                settle(database, None, {"backup_folder": wrong}, "2026-05-01T08:00:00+00:00")
        settle(database, None, {"backup_folder": str(folder)}, "2026-05-01T08:00:00+00:00")
        for hours in (0, 5, 23, 25, 30):
            back_up_daily(database, morning + timedelta(hours=hours))
        there = backups_there(database)
    assert [one.age(morning + timedelta(hours=30)) // timedelta(hours=1) for one in there] == [5, 30]
    assert names_in(there[-1].path) == names_in(workshop)
    (folder / f"{workshop.name}.auto-19990101T000000Z.part").touch()
    assert len(list(folder.iterdir())) == 3
    with closing(Database(workshop)) as database:
        assert backups_there(database) == there, "what is not whole is no backup"


def test_a_server_says_so_when_its_newest_backup_is_old(workshop: Path) -> None:
    now = datetime(2026, 5, 20, 8, tzinfo=UTC)
    with closing(Database(workshop)) as database:
        assert not backup_lines(database, now - timedelta(days=9))
        workshop.with_name(f"{workshop.name}.auto-20260520T080000Z.part").mkdir()  # what stands in the copy's way
        lines = backup_lines(database, now)
    assert lines[0].startswith("backup: ") and lines[1:] == ["The newest backup is 9 days old."]


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
            urllib.request.urlopen(form, timeout=PATIENCE_S).close()
        process.send_signal(signal.SIGTERM)
        process.communicate(timeout=PATIENCE_S)
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


def test_a_workshop_that_is_read_can_be_closed(filled_file: Path, tmp_path: Path) -> None:
    """A plain connection that is closed in the middle of a statement crashes the process."""
    data = Path(shutil.copy(filled_file, tmp_path))

    def read(database: Database, begun: threading.Barrier) -> None:
        connection = database.connection
        begun.wait()
        with pytest.raises(sqlite3.ProgrammingError, match="closed"):
            while True:
                connection.execute("SELECT * FROM revision ORDER BY made_at").fetchall()

    for _ in range(10):
        database, begun = Database(data), threading.Barrier(4)
        readers = [threading.Thread(target=read, args=(database, begun)) for _ in range(3)]
        for reader in readers:
            reader.start()
        begun.wait()
        database.close()
        for reader in readers:
            reader.join()
    with closing(Database(data)) as again:
        assert again.connection.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
