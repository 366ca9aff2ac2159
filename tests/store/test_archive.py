"""Everything out and in again: the same archive byte for byte, and nothing secret in it."""

import csv
import io
import json
from contextlib import closing
from pathlib import Path
from zipfile import ZipFile

import pytest

from lone_pike import say
from lone_pike.core.bike.faults import InvalidInput
from lone_pike.formats.files.bike_file import read_bike
from lone_pike.store.archive import FIRST_SCHEMA, export, take_in
from lone_pike.store.audit import audit
from lone_pike.store.bikes import bikes_like
from lone_pike.store.database import Database
from lone_pike.workshop.access import make_token, set_passcode
from lone_pike.workshop.jobs import start_new

NOW = "2026-05-01T08:00:00+00:00"


@pytest.fixture
def archive(database: Database, tmp_path: Path) -> Path:
    """A sample workshop with a passcode and a token, and its archive."""
    set_passcode(database, "bench", "heron and reed", NOW)
    make_token(database, "till", "program", NOW)
    path = tmp_path / "all.zip"
    assert export(database.path, path) > 100
    return path


def test_out_in_and_out_again_are_the_same_bytes(archive: Path, tmp_path: Path) -> None:
    take_in(archive, tmp_path / "new.sqlite3")
    export(tmp_path / "new.sqlite3", tmp_path / "again.zip")
    assert (tmp_path / "again.zip").read_bytes() == archive.read_bytes()


def test_what_comes_in_works_on(archive: Path, database: Database, tmp_path: Path) -> None:
    """Its chain adds up, its bikes are found, a job is begun in it, and its pictures are there."""
    take_in(archive, tmp_path / "new.sqlite3")
    with closing(Database(tmp_path / "new.sqlite3")) as new:
        assert audit(new).is_sound and audit(new) == audit(database)
        assert [one.name for one in bikes_like(new, "otter", 1, 5)] == ["Otter"]
        start_new(new, NOW, name="Newcomer")
        assert [one.name for one in bikes_like(new, "newcomer", 1, 5)] == ["Newcomer"]
        images = [row[0] for row in new.connection.execute("SELECT image FROM photo ORDER BY id")]
    assert images == [row[0] for row in database.connection.execute("SELECT image FROM photo ORDER BY id")] and images


def test_an_archive_of_a_schema_before_is_brought_to_the_newest(archive: Path, tmp_path: Path) -> None:
    older = as_of_schema(FIRST_SCHEMA, archive, tmp_path)
    take_in(older, tmp_path / "new.sqlite3")
    with closing(Database(tmp_path / "new.sqlite3")) as new:
        assert new.schema_number > FIRST_SCHEMA
        new.connection.execute("SELECT bench FROM token")
    assert [one.name for one in tmp_path.glob("new.*")] == ["new.sqlite3"]
    for schema in (FIRST_SCHEMA - 1, 999, "13"):
        with pytest.raises(InvalidInput) as refused:
            take_in(with_about(archive, tmp_path / "other.zip", schema=schema), tmp_path / "none.sqlite3")
        assert "another version" in say(refused.value.faults[0])


def as_of_schema(schema: int, archive: Path, tmp_path: Path) -> Path:
    """The archive as an earlier version would have written it: without the tables and columns that came since."""
    with closing(Database(tmp_path / "old.sqlite3", schema)) as old:
        names = [row["name"] for row in old.connection.execute("SELECT name FROM sqlite_schema WHERE type = 'table'")]
        columns = {
            name: {row["name"] for row in old.connection.execute(f"SELECT name FROM pragma_table_info('{name}')")}
            for name in names
        }
    with ZipFile(archive) as whole, ZipFile(tmp_path / "fewer.zip", "w") as out:
        for file in whole.namelist():
            content, table = whole.read(file), Path(file).stem
            if file.startswith("tables/"):
                there = columns.get(table, set()) | {"rowid"}
                rows = [{k: v for k, v in json.loads(line).items() if k in there} for line in content.splitlines()]
                content = "".join(f"{json.dumps(row)}\n" for row in rows).encode()
            if not file.startswith("tables/") or table in columns:
                out.writestr(file, content)
    return with_about(tmp_path / "fewer.zip", tmp_path / "older.zip", schema=schema)


def with_about(archive: Path, path: Path, **changed: object) -> Path:
    """An archive that says something else of itself."""
    with ZipFile(archive) as whole, ZipFile(path, "w") as out:
        for name in whole.namelist():
            content = whole.read(name)
            out.writestr(name, json.dumps(json.loads(content) | changed) if name == "about.json" else content)
    return path


def test_nothing_secret_leaves(archive: Path, database: Database) -> None:
    secrets = [
        row[0] for row in database.connection.execute("SELECT digest FROM passcode UNION SELECT digest FROM token")
    ]
    secrets += [row[0] for row in database.connection.execute("SELECT secret FROM signing_key")]
    with ZipFile(archive) as whole:
        text = b"".join(whole.read(name) for name in whole.namelist())
    assert len(secrets) == 3 and not any(one.encode() in text for one in secrets)


def test_other_programs_read_it(archive: Path, database: Database) -> None:
    there = database.connection.execute("SELECT count(*) FROM chain WHERE state <> 'undone'").fetchone()[0]
    with ZipFile(archive) as whole:
        bike = json.loads(whole.read("bikes/1.json"))
        pieces = list(csv.DictReader(io.StringIO(whole.read("bin.csv").decode())))
        chains = list(csv.DictReader(io.StringIO(whole.read("chains.csv").decode())))
    assert read_bike(bike).name == "Otter" and all(int(one["links"]) > 0 for one in pieces) and len(chains) == there > 3


@pytest.mark.parametrize("wrong", ["no zip", "version", "row", "orphan", "missing"])
def test_what_is_no_archive_is_refused_and_leaves_nothing(archive: Path, tmp_path: Path, wrong: str) -> None:
    with ZipFile(archive) as whole:
        files = {name: whole.read(name) for name in whole.namelist()}
    if wrong == "version":
        files["about.json"] = b'{"lone_pike_archive": 1, "schema": 3}'
    elif wrong == "row":
        files["tables/bike.jsonl"] = b'{"id": 1}\n'
    elif wrong == "orphan":
        files["tables/bike.jsonl"] = b""
    elif wrong == "missing":
        del files["tables/bike.jsonl"]
    bad, target = tmp_path / "bad.zip", tmp_path / "new.sqlite3"
    with ZipFile(bad, "w") as whole:
        for name, content in files.items():
            whole.writestr(name, content)
    if wrong == "no zip":
        bad.write_bytes(b"PK nothing")
    with pytest.raises(InvalidInput) as error:
        take_in(bad, target)
    assert error.value.faults[0].field == "archive"
    assert not target.exists() and not list(tmp_path.glob("new*"))


def test_nothing_is_written_over(archive: Path, database: Database) -> None:
    before = database.path.read_bytes()
    with pytest.raises(InvalidInput):
        take_in(archive, database.path)
    with pytest.raises(InvalidInput):
        export(database.path, archive)
    assert database.path.read_bytes() == before
