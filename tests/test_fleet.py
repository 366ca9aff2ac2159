"""A fleet as a table: each row answered as its bike file is, in order, by one processor, several or a cluster."""

import csv
import json
from collections import Counter
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.count.answer import answer
from lone_pike.core.count.schools import SCHOOLS
from lone_pike.core.practice.making import made
from lone_pike.fleet import FleetRequest, column_lines, fleet
from lone_pike.formats.files.bike_file import bike_from_document, document_of
from lone_pike.formats.files.fleet_table import columns, document_of_row
from tests.bikes import told

KINDS = ("hardtail", "slot", "suspension", "high_pivot", "hub", "vertical")


def flat(document: dict[str, Any], above: str = "") -> Iterator[tuple[str, str]]:
    """The cells of a document; rows of figures and of parts as JSON."""
    for key, value in document.items():
        if isinstance(value, dict):
            yield from flat(value, f"{above}{key}.")
        elif isinstance(value, list) and not isinstance(value[0], int | float):
            yield above + key, json.dumps(value)
        else:
            yield above + key, " ".join(map(str, value)) if isinstance(value, list) else str(value)


def written(path: Path, rows: list[dict[str, str]]) -> Path:
    names = dict.fromkeys(name for row in rows for name in row)
    with path.open("w", newline="") as file:
        table = csv.DictWriter(file, list(names), restval="")
        table.writeheader()
        table.writerows(rows)
    return path


@pytest.fixture(scope="module")
def documents() -> list[dict[str, Any]]:
    return [document_of(made(seed, kind).bike) for seed in range(7) for kind in KINDS]


@pytest.fixture
def bikes(tmp_path: Path, documents: list[dict[str, Any]]) -> Path:
    """A table of 42 bikes: three chunks, the last one not full."""
    rows = [{"id": f"F{i}"} | dict(flat(one)) for i, one in enumerate(documents)]
    return written(tmp_path / "bikes.csv", rows)


def asked(bikes: Path, name: str = "answers.csv", workers: int = 2, scheduler: str = "") -> FleetRequest:
    return FleetRequest(bikes, bikes.with_name(name), workers, scheduler, chunk_rows=20)


def test_each_row_is_answered_as_its_file_is(bikes: Path, documents: list[dict[str, Any]]) -> None:
    request = asked(bikes)
    assert fleet(request) == 0 and not request.part.exists()
    with request.out.open() as file:
        answers = list(csv.DictReader(file))
    assert [one["id"] for one in answers] == [f"F{i}" for i in range(len(documents))]
    orders: Counter[tuple[str, str, str]] = Counter()
    for row, document in zip(answers, documents, strict=True):
        bike = bike_from_document(document)
        assert not row["faults"] and int(row["links"]) == answer(bike).links
        by_method = {vote.school: str(vote.links) for vote in answer(bike).votes}
        assert by_method == {name: row[f"{name}_links"] for name in SCHOOLS if row[f"{name}_links"]}
        orders[str(bike.speeds), str(bike.joiner), row["links"]] += 1
    with request.order.open() as file:
        ordered = {(one["speeds"], one["joiner"], one["links"]): int(one["bikes"]) for one in csv.DictReader(file)}
    assert ordered == orders


def test_a_run_that_was_stopped_goes_on_and_ends_with_the_same_bytes(bikes: Path) -> None:
    """Killed in the middle of a line: the half line is dropped, and the rows before it are not answered again."""
    whole, stopped = asked(bikes, "whole.csv"), asked(bikes, "stopped.csv", workers=1)
    fleet(whole)
    fleet(stopped)
    said = whole.out.read_bytes()
    at = said.index(b"\n21,") + 30
    stopped.out.unlink()
    stopped.part.write_bytes(b"row" + said[3:at])
    stopped.mark.write_text(_mark_of(stopped))
    fleet(stopped)
    assert stopped.out.read_bytes() == said
    assert stopped.order.read_bytes() == whole.order.read_bytes()


def _mark_of(request: FleetRequest) -> str:
    from lone_pike.fleet import _mark

    return json.dumps(_mark(request))


def test_another_table_begins_anew(bikes: Path) -> None:
    request = asked(bikes, workers=1)
    request.part.write_text("row,id\n1,of another table\n")
    request.mark.write_text(json.dumps({"bytes": 3}))
    fleet(request)
    assert b"another table" not in request.out.read_bytes()


@pytest.mark.filterwarnings("ignore")
def test_a_cluster_of_two_finds_the_same_bytes(bikes: Path) -> None:
    from distributed import LocalCluster

    here, there = asked(bikes, "here.csv"), "there.csv"
    fleet(here)
    with LocalCluster(n_workers=2, threads_per_worker=1, host="127.0.0.1", dashboard_address=None) as cluster:
        request = asked(bikes, there, scheduler=cluster.scheduler_address)
        fleet(request)
    assert request.out.read_bytes() == here.out.read_bytes()


def test_a_row_with_a_fault_names_field_and_what_is_allowed_and_the_rest_is_answered(
    bikes: Path, documents: list[dict[str, Any]]
) -> None:
    good = dict(flat(documents[0]))
    rows = [good, good | {"chainstay_mm": "abc"}, good | {"rings": "5000"}, {"name": "only\na name"}, good]
    request = asked(written(bikes, rows), workers=1)
    with request.bikes.open("a") as file:
        file.write("a" + "," * 40 + "one more\n")
    fleet(request)
    with request.out.open() as file:
        first, word, ring, bare, last, long = csv.DictReader(file)
    assert first["links"] == last["links"] and first["links"]
    assert "chainstay_mm" in word["faults"] and "abc" in word["faults"] and not word["links"]
    assert "rings" in ring["faults"] and "5000" in ring["faults"]
    assert bare["name"] == "only a name" and "rings" in bare["faults"]
    assert "one more" in long["faults"] and "as many cells" in long["faults"]


@pytest.mark.parametrize("header", ["rings,gears", "rings,rings", "", "take_up"])
def test_a_column_that_is_none_is_named(tmp_path: Path, header: str) -> None:
    bikes = tmp_path / "bikes.csv"
    bikes.write_text(f"{header}\n1,2\n")
    with pytest.raises(InvalidInput) as error:
        fleet(asked(bikes, workers=1))
    assert error.value.faults[0].field == "columns"


def test_a_line_that_no_reader_takes_is_named_and_what_was_done_before_stays(bikes: Path) -> None:
    rows = bikes.read_text().splitlines(keepends=True)
    bikes.write_text("".join([*rows[:35], "F" * 200_000 + "\n", *rows[35:]]))
    with pytest.raises(InvalidInput) as error:
        fleet(asked(bikes, workers=1))
    assert "line 36" in told(error.value)


def test_every_key_of_the_file_is_a_column_and_reads_back(documents: list[dict[str, Any]]) -> None:
    names = {line.split("\t")[0] for line in column_lines()}
    for document in documents:
        cells = dict(flat(document))
        assert set(cells) <= names | {"lone_pike"}
        assert document_of_row(cells) == document
    assert all(spec.how for spec in columns().values())
