"""Rules of the house that no linter knows. Called by scripts/check."""

import re
import subprocess
import sys
from collections import defaultdict
from pathlib import Path

LONGEST_MODULE, LONGEST_TEMPLATE_LINE, MOST_PICTURES = 320, 160, 19
MOST_LINES, MOST_MODULES = 36_000, 330
FORBIDDEN = {
    r"\sstyle=|<script>|hx-on": (".html", ".svg"),
    r"-[\"'] *~": (".html", ".svg"),
    r"https?://(?!www\.w3\.org|127\.0\.0\.1|localhost|\{)[a-z]": (
        ".lock",
        ".npmrc",
        ".toml",
        ".in",
        "package-lock.json",
    ),
}


CITATION = re.compile(r"\b(model|trade)(?:'s)?,?\s+sections?\s+(\d+(?:(?:,| and)\s+\d+)*)")


def main() -> None:
    """Prints every fault, and fails if there is one."""
    tracked = subprocess.run(["git", "ls-files"], capture_output=True, text=True, check=True).stdout.split("\n")
    files = [Path(name) for name in tracked if name and Path(name).is_file()]
    faults = [fault for file in files for fault in of_file(file)]
    pictures = [file for file in files if file.parts[:2] == ("docs", "screenshots")]
    readme = Path("README.md").read_text()
    faults += [f"{file} is not linked from the README" for file in pictures if str(file) not in readme]
    faults += citations_of_nothing(files)
    faults += classes_of_one_name(files)
    if len(pictures) > MOST_PICTURES:
        faults.append(f"{len(pictures)} pictures in docs/screenshots, at most {MOST_PICTURES}")
    lines, modules = size_of_house(files)
    print(f"src: {lines} lines of Python in {modules} modules; at most {MOST_LINES} and {MOST_MODULES}")
    print("\n".join(faults))
    sys.exit(bool(faults))


def size_of_house(files: list[Path]) -> tuple[int, int]:
    """The lines of Python in src, and its modules."""
    modules = [file for file in files if file.suffix == ".py" and file.parts[0] == "src"]
    return sum(file.read_text().count("\n") for file in modules), len(modules)


def of_file(file: Path) -> list[str]:
    """What is wrong in one file."""
    if (
        file.suffix not in {".py", ".html", ".svg", ".css", ".js", ".sql", ".toml", ".lock", ".in", ".npmrc"}
        and file.name != "package-lock.json"
    ):
        return []
    text = file.read_text()
    faults = []
    if file.suffix == ".py" and text.count("\n") > LONGEST_MODULE:
        faults.append(f"{file} is {text.count(chr(10))} lines: does it hold more than one thing?")
    if file.suffix in {".html", ".svg"} and file.parts[0] == "src" and "static" not in file.parts:
        too_long = (i for i, line in enumerate(text.split("\n"), start=1) if len(line) > LONGEST_TEMPLATE_LINE)
        faults += [f"{file}:{i}: more than {LONGEST_TEMPLATE_LINE} characters" for i in too_long]
    for pattern, kinds in FORBIDDEN.items():
        if file.suffix in kinds or file.name in kinds:
            faults += [f"{file}: {match[0]!r} must not stand here" for match in re.finditer(pattern, text)]
    return faults


def citations_of_nothing(files: list[Path]) -> list[str]:
    """Where a docstring or comment cites a section of docs/model.md or docs/trade.md that is not there."""
    sections = {
        name: set(re.findall(r"^## (\w+)\.", Path(f"docs/{name}.md").read_text(), re.MULTILINE))
        for name in ("model", "trade")
    }
    return [
        f"{file}: {name}, section {number}: docs/{name}.md has none"
        for file in files
        if file.suffix in {".py", ".sql", ".html", ".js", ".css"}
        for name, numbers in CITATION.findall(file.read_text())
        for number in re.findall(r"\d+", numbers)
        if number not in sections[name]
    ]


def classes_of_one_name(files: list[Path]) -> list[str]:
    """Classes of the package that share a name, so that a reader has to look up which one is meant."""
    places: dict[str, list[str]] = defaultdict(list)
    for file in files:
        if file.suffix == ".py" and file.parts[0] == "src":
            for name in re.findall(r"^class (\w+)", file.read_text(), re.MULTILINE):
                places[name].append(str(file))
    return [f"{name} is a class in {' and in '.join(found)}" for name, found in places.items() if len(found) > 1]


if __name__ == "__main__":
    main()
