"""How the fields of Measure are laid out, in one table for every kind; which fields a kind has, it says itself."""

from dataclasses import dataclass

from lone_pike.core.take_up.kinds import TakeUpKind

SPANS = {
    **dict.fromkeys(("cogs", "chainstay_mm", "search.ratio", "search.slack_mm", "take_up.type", "take_up.taste"), 3),
    "suspension.points": 4,
}
"""Columns of a field under the drawing, of twelve; any other has two."""

COGS_BESIDE_SPEEDS, USUAL_SPAN = 5, 2
SMALL = frozenset(
    {
        *("cogs", "take_up.pivot_mm", "suspension.pivot_mm"),
        *("search.rings", "search.cogs", "search.ratio", "search.slack_mm"),
    }
)
"""Fields whose text is long, so that it is set smaller."""

LISTS = {"cogs": "spacings"}
"""Fields that offer a list of common values."""

OF_SUSPENSION = {
    "pivot": ("suspension.travel_mm", "suspension.pivot_mm"),
    "growth": ("suspension.travel_mm", "suspension.growth_mm"),
    "table": ("suspension.points",),
}
"""What is measured of a rear suspension, by its kind."""


@dataclass(frozen=True)
class Cell:
    """A field under the drawing: its columns of twelve, whether its text is small, the list it offers."""

    path: str
    span: int
    is_small: bool
    list: str


def cells_of(kind: TakeUpKind, suspension: str, *, is_chosen: bool) -> tuple[Cell, ...]:
    """The fields under the drawing.

    Parameters: suspension, the kind of it that is measured; is_chosen, whether it is settled which bike it is.
    """
    sprung = OF_SUSPENSION.get(suspension, ()) if "suspension.type" in kind.first else ()
    changed = ("take_up.type",) if is_chosen and "chain.speeds" not in kind.first else ()
    paths = (*kind.first, *sprung, *changed, *kind.searched)
    return tuple(_cell(path, kind) for path in paths)


def _cell(path: str, kind: TakeUpKind) -> Cell:
    is_wide = path == "cogs" and "chain.speeds" in kind.first
    span = COGS_BESIDE_SPEEDS if is_wide else SPANS.get(path, USUAL_SPAN)
    return Cell(path, span, path in SMALL, LISTS.get(path, "") if is_wide else "")
