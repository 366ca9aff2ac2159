"""The table of numbers in docs/model.md and the page docs/limits.md, made from the sources; --check only compares."""

import sys
from pathlib import Path

from lone_pike.core.bike.limits import LIMITS
from lone_pike.wording.not_known import NOT_KNOWN

MODEL, NOT_KNOWN_PAGE = Path("docs/model.md"), Path("docs/limits.md")
START, END = "<!-- numbers -->\n", "<!-- end of numbers -->"


def table() -> str:
    """One row a limit."""
    rows = ["| name | value | unit | why | a shop may change it |", "| --- | --- | --- | --- | --- |"]
    for name, one in LIMITS.items():
        rows.append(f"| {name} | {one.value:g} | {one.unit} | {one.why} | {'yes' if one.shop_may_change else ''} |")
    return "\n".join(rows) + "\n"


def model_page() -> str:
    """The model with its table as it now is."""
    before, rest = MODEL.read_text().split(START)
    after = rest.split(END)[1]
    return before + START + table() + END + after


def not_known_page() -> str:
    """What the count does not know."""
    return "# What the count does not know\n\n" + "\n".join(f"- **{what}.** {why}" for what, why in NOT_KNOWN) + "\n"


def main() -> None:
    """Rewrites the pages, or fails where one is not current."""
    for path, current in ((MODEL, model_page()), (NOT_KNOWN_PAGE, not_known_page())):
        if "--check" in sys.argv and (not path.exists() or current != path.read_text()):
            sys.exit(f"check: {path} is not current; run scripts/docs and commit the result")
        path.write_text(current)


if __name__ == "__main__":
    main()
