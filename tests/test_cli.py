"""The command: its contract of the model, section 7."""

import json
import os
import subprocess
import sys
from pathlib import Path
from typing import Any

import pytest

from lone_pike.core.count.answer import answer
from lone_pike.formats.files.bike_file import bike_from_document
from lone_pike.wording.answers import answer_lines
from lone_pike.wording.units import DisplayUnits
from tests.bikes import wide_document

COMMAND = [sys.executable, "-c", "from lone_pike.cli import main; main()"]


def run(*arguments: str, given: bytes = b"") -> subprocess.CompletedProcess[bytes]:
    return subprocess.run([*COMMAND, *arguments], input=given, capture_output=True, check=False)


def test_size_answers_the_check_bike_as_json(tmp_path: Path) -> None:
    file = tmp_path / "otter.json"
    file.write_text(json.dumps(wide_document(chain={"speeds": 11, "box_links": 118, "joiner": "locking_link"})))
    done = run("size", str(file), "--json")
    result: dict[str, Any] = json.loads(done.stdout)
    assert (done.returncode, done.stderr) == (0, b"")
    assert (result["links"], result["pairs"], result["window"]) == (112, 56, {"min": 110, "max": 114})
    assert round(result["bare_wrap"]["rest"], 3) == 106.222
    assert set(result["votes"][0]) == {"school", "links", "inside", "why", "code", "meaning", "values"}
    assert result["votes"][0]["values"]["joins_at_links"] == 108
    assert [sorted(one) for one in result["why"]] == [["code", "text", "values"]] * 3
    gear = {"ring", "cog", "cage_deg", "clock", "reserve_deg", "spare_links", "clearance_mm", "state"}
    gear |= {"rest_clock", "rest_deg"}
    assert len(result["gears"]) == 11 and set(result["gears"][0]) == gear
    assert result["confidence"]["chainstay_min_mm"] < 432 < result["confidence"]["chainstay_max_mm"]
    assert result["cut"]["push_from_start"] + result["cut"]["push_from_end"] == 118
    assert result["cut"]["pieces"] == [{"piece": 0, "start": 0, "keep_links": 111}]
    assert result["cut"]["joiners"] == [{"kind": "locking_link", "links": 1}]


def test_several_files_answer_a_line_each_in_order(tmp_path: Path) -> None:
    """A slot of the model's section 5 among them: 42/15 stands at 412.308 mm with 94, 425.117 with 96."""
    slot = {"lone_pike": 1, "name": "Teal", "rings": [42], "cogs": [15]}
    slot["take_up"] = {"type": "slot", "min_mm": 408, "max_mm": 428}
    documents = [wide_document(), {"lone_pike": 2}, slot]
    for i, document in enumerate(documents):
        (tmp_path / f"{i}.json").write_text(json.dumps(document))
    files = [str(tmp_path / f"{i}.json") for i in range(3)]
    done = run("size", *files, "--json")
    lines = [json.loads(line) for line in done.stdout.splitlines()]
    assert (done.returncode, [line["file"] for line in lines]) == (2, files)
    assert lines[0]["links"] == 112
    assert {"field", "read", "allowed", "cure"} <= set(lines[1]["faults"][0])
    assert [(fit["links"], round(fit["centre_mm"], 3)) for fit in lines[2]["fits"]] == [(94, 412.308), (96, 425.117)]
    two = run("size", files[0], files[2])
    assert [line for line in two.stdout.decode().splitlines() if line.endswith(".json:")] == [
        f"{files[0]}:",
        f"{files[2]}:",
    ]
    spread = run("size", *files * 30, "--json")
    assert spread.stdout.splitlines() == done.stdout.splitlines() * 30, "many files are shared out, in order"


WRONG: list[tuple[dict[str, Any], str]] = [
    ({"boom": {"from_mm": 40, "to_mm": -20}}, "boom.to_mm: “-20 mm” won’t do here: more than 40 mm"),
    ({"suspension": {"type": "coil"}}, "suspension.type: “coil” won’t do here: pivot, table or growth."),
    ({"take_up": {"type": "spring"}}, "take_up.type: “spring” won’t do here: derailleur, arm, slot, eccentric or"),
    ({"rings": [0]}, "rings.0: “0 teeth” won’t do here: 1 to 3 rings of 16 to 70 teeth."),
    (
        {"cogs": [*range(11, 25)]},
        "cogs: “11, 12, 13, 14, 15, 16, 17, 18, 19, 20, 21, 22, 23, 24” won’t do here: a list",
    ),
    ({"wheels": 2}, "wheels: “2” won’t do here: no such key here."),
    ({"chainstay_mm": "431,5"}, "chainstay_mm: “431,5” won’t do here: 150 to 2500 mm."),
]


def test_wrong_files_end_with_2_and_one_line_a_fault(tmp_path: Path) -> None:
    files = [tmp_path / f"{i}.json" for i in range(len(WRONG))]
    for file, (change, _) in zip(files, WRONG, strict=True):
        file.write_text(json.dumps(wide_document(**change)))
    done = run("size", *map(str, files))
    assert (done.returncode, done.stdout) == (2, b"")
    for said, file, (_, line) in zip(done.stderr.decode().splitlines(), files, WRONG, strict=True):
        assert said.startswith(f"{file}: {line}")
    alone = run("size", "-", given=files[0].read_bytes())
    assert alone.returncode == 2 and alone.stderr.decode().startswith(WRONG[0][1])


def test_a_file_that_is_not_there_is_one_line() -> None:
    done = run("size", "/nowhere/bike.json")
    assert (done.returncode, done.stderr.count(b"\n")) == (2, 1)


def test_schema_describes_every_key_of_the_file() -> None:
    schema = json.loads(run("schema").stdout)
    assert set(wide_document()) <= set(schema["properties"])
    assert schema["additionalProperties"] is False


def test_serve_refuses_an_address_that_others_can_reach(tmp_path: Path) -> None:
    done = run("serve", "--data", str(tmp_path / "a.sqlite3"), "--host", "0.0.0.0")
    assert done.returncode == 2
    assert b"loopback" in done.stderr


def test_whoever_reads_only_the_beginning_of_an_answer_gets_no_error(tmp_path: Path) -> None:
    (tmp_path / "otter.json").write_text(json.dumps(wide_document()))
    reading, writing = os.pipe()
    arguments = [*COMMAND, "size", "--json", *["otter.json"] * 40]
    with subprocess.Popen(arguments, stdout=writing, stderr=subprocess.PIPE, cwd=tmp_path) as process:
        os.close(writing)
        assert os.read(reading, 1) == b"{"
        os.close(reading)
        assert process.stderr and process.stderr.read() == b""


def test_an_unsafe_count_is_marked_in_the_first_line_and_a_fault_is_said_once() -> None:
    """42/17 at 418 mm: 94 links are too short, 96 too long."""
    bike = {
        "lone_pike": 1,
        "name": "Smew",
        "rings": [42],
        "cogs": [17],
        "chainstay_mm": 418,
        "take_up": {"type": "none"},
    }
    lines = answer_lines(answer(bike_from_document(bike)), DisplayUnits())
    assert lines[0] == "96 links · 48 pairs, not safe"
    assert sum("No count fits" in line for line in lines) == 1 and not any("Right for" in line for line in lines)


def test_wear_tells_a_chain_in_words_and_as_json_and_has_its_schema(tmp_path: Path) -> None:
    """1426.8 mm over 112 links: 1426.8 / 1422.4 - 1 = 0.31 %."""
    file = tmp_path / "chain.json"
    reading = {"date": "2026-05-01", "km": 1400, "way": "whole", "mm": 1426.8}
    chain = {"lone_pike_chain": 1, "name": "Knot", "speeds": 11, "links": 112, "km_now": 1500, "readings": [reading]}
    file.write_text(json.dumps(chain))
    told = run("wear", str(file))
    assert told.returncode == 0 and b"worn, plus or minus" in told.stdout and b"its limit is 0.50%" in told.stdout
    answer = json.loads(run("wear", "--json", str(file)).stdout)
    assert set(answer) == {"wear_percent", "limit_percent", "due_km", "state", "replace", "warnings"}
    assert answer["wear_percent"]["now"] == pytest.approx(0.31, abs=0.05)
    file.write_text(json.dumps(chain | {"km_now": -1}))
    wrong = run("wear", str(file), str(file))
    assert wrong.returncode == 2 and b"km_now" in wrong.stderr
    assert "readings" in json.loads(run("schema", "chain").stdout)["properties"]
