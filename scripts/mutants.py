"""Changes one small thing in the package at a time, and says which changes no test notices. Called by scripts/mutants.

Each mutant is made in a copy of the repository: a comparison, a sign or a condition, anywhere below the pages. The
tests without a browser run against it until the first one fails.
"""

import argparse
import ast
import os
import random
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

ROOMS = ("core", "formats", "store", "workshop", "wording")
TESTS = (
    *("tests/core", "tests/formats", "tests/store", "tests/workshop", "tests/wording", "tests/api"),
    *("tests/test_fleet.py", "tests/test_cli.py", "tests/test_sample_workshop.py", "src", "README.md"),
)
PAIRS: tuple[tuple[ast.AST, ast.AST], ...] = (
    *((ast.Lt(), ast.LtE()), (ast.Gt(), ast.GtE()), (ast.Eq(), ast.NotEq()), (ast.Is(), ast.IsNot())),
    *((ast.In(), ast.NotIn()), (ast.Add(), ast.Sub()), (ast.Mult(), ast.Div()), (ast.And(), ast.Or())),
)
OTHERS = {type(one): other for pair in PAIRS for one, other in (pair, pair[::-1])}
SECONDS = 600


def places(tree: ast.AST) -> list[ast.AST]:
    """What can be changed in a module: operators and conditions."""
    found = [node for node in ast.walk(tree) if isinstance(node, ast.Compare | ast.BinOp | ast.BoolOp | ast.IfExp)]
    return [node for node in found if not (isinstance(node, ast.BinOp) and type(node.op) not in OTHERS)]


def changed(node: ast.AST) -> str:
    """Changes a place. Returns: what it says now."""
    if isinstance(node, ast.Compare):
        node.ops[0] = OTHERS[type(node.ops[0])]  # type: ignore[assignment]
    elif isinstance(node, ast.BinOp | ast.BoolOp):
        node.op = OTHERS[type(node.op)]  # type: ignore[assignment]
    elif isinstance(node, ast.IfExp):
        node.body, node.orelse = node.orelse, node.body
    return ast.unparse(node)


def survives(copy: Path) -> bool:
    """Whether no test notices."""
    command = [sys.executable, "-m", "pytest", "-q", "-x", "-n", "2", *TESTS, "-p", "no:randomly"]
    environment = os.environ | {"PYTHONPATH": str(copy / "src"), "PYTHONDONTWRITEBYTECODE": "1"}
    try:
        done = subprocess.run(command, cwd=copy, env=environment, capture_output=True, check=False, timeout=SECONDS)
    except subprocess.TimeoutExpired:
        return False
    return done.returncode == 0


def main() -> None:
    """Draws mutants, and prints each with its end."""
    parser = argparse.ArgumentParser()
    parser.add_argument("--count", type=int, default=150)
    parser.add_argument("--seed", type=int, default=random.SystemRandom().randrange(10**6))
    asked = parser.parse_args()
    lot, lived = random.Random(asked.seed), 0
    sources = [path for room in ROOMS for path in Path("src/lone_pike", room).rglob("*.py")]
    with tempfile.TemporaryDirectory() as folder:
        copy = Path(folder) / "copy"
        shutil.copytree(".", copy, ignore=shutil.ignore_patterns(".git", ".venv", "node_modules", "__pycache__"))
        for i in range(asked.count):
            source = lot.choices(sources, weights=[path.stat().st_size for path in sources])[0]
            text = source.read_text()
            tree = ast.parse(text)
            node = lot.choice(places(tree) or [tree])
            was, line = ast.unparse(node), getattr(node, "lineno", 0)
            now = changed(node)
            if now == was or not line:
                continue
            (copy / source).write_text(ast.unparse(tree))
            lives = survives(copy)
            (copy / source).write_text(text)
            lived += lives
            print(f"{i + 1}: {'LIVES' if lives else 'dies'} {source}:{line}: {was[:60]} -> {now[:60]}", flush=True)
    print(f"seed {asked.seed}: {lived} of {asked.count} lived")


if __name__ == "__main__":
    main()
