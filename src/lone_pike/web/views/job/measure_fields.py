"""The layout of the fields of Measure, one table for every kind; the kind declares which fields it has."""

from dataclasses import dataclass

from lone_pike.core.bike.fields import FieldSpec
from lone_pike.core.messages import Message, links
from lone_pike.core.take_up.kinds import TakeUpKind
from lone_pike.formats.typed.measure_form import reading_at
from lone_pike.web.views.job.work import Work

SPANS = {
    **dict.fromkeys(
        ("cogs", "chainstay_mm", "search.ratio", "search.slack_mm", "take_up.taste", "take_up.pivot_mm"), 3
    ),
    "take_up.type": 5,
    "suspension.points": 4,
}
"""Columns of a field under the drawing, of twelve; any other has two."""

COGS_BESIDE_SPEEDS, USUAL_SPAN = 5, 2
SNUG_SPANS = {
    **dict.fromkeys(("rings", "take_up.min_mm", "take_up.max_mm", "take_up.radius_mm"), 3),
    **dict.fromkeys(("suspension.type", "suspension.travel_mm", "suspension.pivot_mm", "suspension.growth_mm"), 3),
    "take_up.type": 7,
}
COGS_BESIDE_SPEEDS_SNUG = 7
"""The same on a tablet, where the fields have little width, held upright or across."""

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
"""The fields of a rear suspension, by its kind."""


OTHER_KIND = (("take_up.type",),)
"""The field that changes the kind of the bike, for kinds whose fields leave it no room under the drawing."""


FEWEST_LIKE_BOX = 40
"""A crank is seldom so many degrees forward, and a box holds more links than this."""


@dataclass(frozen=True)
class Cell:
    """A field under the drawing: its columns of twelve, also in a snug window; whether its text is small; the list it
    offers."""

    path: str
    span: int
    snug_span: int
    is_small: bool
    list: str


def cells_of(kind: TakeUpKind, suspension: str, *, is_chosen: bool) -> tuple[Cell, ...]:
    """The fields under the drawing.

    Parameters: suspension, its kind; is_chosen, whether the kind of bike is settled.
    """
    sprung = OF_SUSPENSION.get(suspension, ()) if "suspension.type" in kind.first else ()
    changed = ("take_up.type",) if is_chosen and "chain.speeds" not in kind.first else ()
    paths = (*kind.first, *sprung, *changed, *kind.searched)
    return tuple(_cell(path, kind) for path in paths)


def _cell(path: str, kind: TakeUpKind) -> Cell:
    is_wide = path == "cogs" and "chain.speeds" in kind.first
    span = COGS_BESIDE_SPEEDS if is_wide else SPANS.get(path, USUAL_SPAN)
    snug_span = COGS_BESIDE_SPEEDS_SNUG if is_wide else SNUG_SPANS.get(path, span)
    return Cell(path, span, snug_span, path in SMALL, LISTS.get(path, "") if is_wide else "")


def folded(kind: TakeUpKind, *, is_led: bool, may_change: bool) -> tuple[tuple[str, ...], ...]:
    """The rows of fields that are folded away; for a long bike the axle's height is not among them."""
    rows = (*OTHER_KIND, *kind.more) if may_change else kind.more
    if not is_led:
        return rows
    return tuple(filter(None, (tuple(path for path in row if path != "axle_height_mm") for row in rows)))


def as_count(work: Work, spec: FieldSpec) -> Message | None:
    """A question whether a large whole angle is really the box's count, typed into the wrong field."""
    if spec.path != "take_up.crank_deg" or work.text("chain.box_links"):
        return None
    value = reading_at(work.document, spec.path).value
    if not isinstance(value, int | float) or value < FEWEST_LIKE_BOX or value % 1:
        return None
    return Message("is_it_the_box", count=links(int(value)))
