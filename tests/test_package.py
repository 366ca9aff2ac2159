"""The wheel and the source package, each built, installed apart from this checkout, and used."""

import json
import os
import shutil
import subprocess
import sys
import tarfile
import urllib.request
import venv
import zipfile
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


@pytest.fixture
def source(tmp_path: Path) -> Path:
    """What packages are built of, apart from this checkout."""
    folder = tmp_path / "source"
    shutil.copytree(ROOT / "src", folder / "src", ignore=shutil.ignore_patterns("*.egg-info", "__pycache__"))
    for name in ("pyproject.toml", "README.md"):
        shutil.copy(ROOT / name, folder)
    return folder


def contents(wheel: Path) -> dict[str, int]:
    """The files of a wheel with their checksums."""
    with zipfile.ZipFile(wheel) as packed:
        return {one.filename: one.CRC for one in packed.infolist() if not one.filename.endswith("RECORD")}


def test_the_source_package_builds_the_same_wheel(source: Path, tmp_path: Path) -> None:
    with tarfile.open(built("sdist", source, tmp_path)) as packed:
        packed.extractall(tmp_path / "unpacked", filter="data")
    (unpacked,) = (tmp_path / "unpacked").iterdir()
    wheels = [tmp_path / "of_source", tmp_path / "of_sdist"]
    for folder in wheels:
        folder.mkdir()
    whole, again = (contents(built("wheel", *pair)) for pair in zip((source, unpacked), wheels, strict=True))
    assert whole == again and len(whole) > 300


def installed(source: Path, folder: Path) -> Path:
    """The command, installed from a wheel.

    Its environment borrows the libraries of this one, and has Lone Pike from the package alone.
    """
    wheel = built("wheel", source, folder)
    venv.create(folder / "clean", with_pip=False)
    (site,) = (folder / "clean").glob("lib/python*/site-packages")
    (site / "libraries.pth").write_text(f"{Path(pytest.__file__).parent.parent}\n")
    install = [sys.executable, "-m", "uv", "pip", "install", "--python", str(folder / "clean" / "bin" / "python")]
    options = ["--offline", "--no-config", "--no-deps", "--reinstall", str(wheel)]
    subprocess.run([*install, *options], check=True, capture_output=True, cwd=folder)
    return folder / "clean" / "bin" / "lone-pike"


def test_the_package_sizes_and_serves_every_page_and_picture(source: Path, tmp_path: Path) -> None:
    command = installed(source, tmp_path)
    document = json.dumps(wide_document()).encode()
    size = [str(command), "size", "-", "--json"]
    done = subprocess.run(size, input=document, capture_output=True, cwd=tmp_path, env=APART, check=True)
    assert json.loads(done.stdout)["links"] == 112
    where = [str(command.with_name("python")), "-c", "import lone_pike; print(lone_pike.__file__)"]
    found = subprocess.run(where, capture_output=True, check=True, cwd=tmp_path, env=APART)
    assert found.stdout.decode().startswith(str(command.parent.parent))
    for arguments in (["demo"], ["serve", "--data", "a.sqlite3"]):
        with served([command, *arguments], tmp_path, APART) as (_, address):
            for path in ("", "bikes", "bin", "shop", "static/app.css", "static/app.js"):
                with urllib.request.urlopen(address + path) as answer:
                    assert answer.status == 200 and answer.read()
