"""The wheel and the source package, each built, installed apart from this checkout, and used."""

import json
import os
import shutil
import subprocess
import sys
import tarfile
import urllib.request
import venv
from pathlib import Path

import pytest

from tests.bikes import wide_document
from tests.served import served

ROOT = Path(__file__).parent.parent
APART = {name: value for name, value in os.environ.items() if not name.startswith("PYTHON")}
"""The environment without what points Python back to this checkout."""

BUILD = "import sys, setuptools.build_meta as build; print(getattr(build, 'build_' + sys.argv[1])(sys.argv[2]))"


def built(what: str, source: Path, into: Path) -> Path:
    """A package of the kind that is named, built without a network."""
    done = subprocess.run(
        [sys.executable, "-c", BUILD, what, str(into)], cwd=source, capture_output=True, text=True, check=True
    )
    return into / done.stdout.splitlines()[-1]


@pytest.fixture(scope="module", params=["wheel", "sdist"])
def command(request: pytest.FixtureRequest, tmp_path_factory: pytest.TempPathFactory) -> Path:
    """The installed command. The environment borrows the libraries of this one, and has Lone Pike from the package."""
    folder = tmp_path_factory.mktemp(request.param)
    source = folder / "source"
    shutil.copytree(ROOT / "src", source / "src", ignore=shutil.ignore_patterns("*.egg-info", "__pycache__"))
    for name in ("pyproject.toml", "README.md"):
        shutil.copy(ROOT / name, source)
    if request.param == "sdist":
        with tarfile.open(built("sdist", source, folder)) as packed:
            packed.extractall(folder / "unpacked", filter="data")
        (source,) = (folder / "unpacked").iterdir()
    wheel = built("wheel", source, folder)
    venv.create(folder / "clean", with_pip=False)
    (site,) = (folder / "clean").glob("lib/python*/site-packages")
    libraries = Path(pytest.__file__).parent.parent
    (site / "libraries.pth").write_text(f"{libraries}\n")
    pip = [sys.executable, "-m", "pip", "--python", str(folder / "clean"), "install", "--quiet"]
    subprocess.run(
        [*pip, "--no-index", "--no-deps", "--force-reinstall", "--ignore-installed", str(wheel)],
        check=True,
        capture_output=True,
        cwd=folder,
    )
    return folder / "clean" / "bin" / "lone-pike"


def test_the_package_sizes_a_bike(command: Path, tmp_path: Path) -> None:
    done = subprocess.run(
        [command, "size", "-", "--json"],
        input=json.dumps(wide_document()).encode(),
        capture_output=True,
        cwd=tmp_path,
        env=APART,
    )
    assert (done.returncode, json.loads(done.stdout)["links"]) == (0, 112)
    where = "import lone_pike; print(lone_pike.__file__)"
    python = command.with_name("python")
    found = subprocess.run(
        [python, "-c", where], capture_output=True, check=True, cwd=tmp_path, env=APART
    ).stdout.decode()
    assert found.startswith(str(command.parent.parent))


@pytest.mark.parametrize("arguments", [["demo"], ["serve", "--data", "a.sqlite3"]], ids=["demo", "serve"])
def test_the_package_serves_every_page_and_picture(command: Path, tmp_path: Path, arguments: list[str]) -> None:
    with served([command, *arguments], tmp_path, APART) as (_, address):
        for path in ("", "bikes", "bin", "shop", "static/app.css", "static/app.js"):
            with urllib.request.urlopen(address + path) as answer:
                assert answer.status == 200 and answer.read()


def test_what_reads_only_the_beginning_of_an_answer_is_not_an_error(command: Path, tmp_path: Path) -> None:
    (tmp_path / "otter.json").write_text(json.dumps(wide_document()))
    reading, writing = os.pipe()
    with subprocess.Popen(
        [command, "size", "--json", *["otter.json"] * 40],
        stdout=writing,
        stderr=subprocess.PIPE,
        cwd=tmp_path,
        env=APART,
    ) as process:
        os.close(writing)
        assert os.read(reading, 1) == b"{"
        os.close(reading)
        assert process.stderr and process.stderr.read() == b""
