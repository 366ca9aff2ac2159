"""The table of numbers in docs/model.md, made from core/bike/limits.py; with --check it only compares."""

import sys
from pathlib import Path

from lone_pike.core.bike.limits import LIMITS

PAGE = Path("docs/model.md")
START, END = "<!-- numbers -->\n", "<!-- end of numbers -->"


def table() -> str:
    """One row a limit."""
    rows = ["| name | value | unit | why | a shop may change it |", "| --- | --- | --- | --- | --- |"]
    for name, one in LIMITS.items():
        rows.append(f"| {name} | {one.value:g} | {one.unit} | {one.why} | {'yes' if one.shop_may_change else ''} |")
    return "\n".join(rows) + "\n"


def main() -> None:
    """Rewrites the page, or fails where it is not current."""
    text = PAGE.read_text()
    before, rest = text.split(START)
    after = rest.split(END)[1]
    current = before + START + table() + END + after
    if "--check" in sys.argv and current != text:
        sys.exit("check: run scripts/docs and commit the result")
    PAGE.write_text(current)


if __name__ == "__main__":
    main()
