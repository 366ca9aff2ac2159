"""The fields of Measure: their layout, how each is taken, and what an error in it costs."""

from dataclasses import dataclass

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.fields import FieldSpec, fields_of
from lone_pike.core.bike.limits import limit
from lone_pike.core.bike.measures import MEASURES
from lone_pike.core.count.answer import Answer
from lone_pike.core.doubt.sensitivity import ValidRange
from lone_pike.core.messages import Message, Quantity, Unit, links, mm
from lone_pike.core.take_up.kinds import TakeUpKind
from lone_pike.formats.typed.measure_form import reading_at
from lone_pike.web.job.work import Work

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
"""Column widths on tablets."""

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


def costs_of(answer: Answer) -> dict[str, Message]:
    """What an error in each measure would change, by form field."""
    by_nearest = sorted(answer.valid_ranges.values(), key=lambda one: -(one.nearest or float("inf")))
    costs = {MEASURES[one.measure].path: cost_message(one) for one in by_nearest}
    if "take_up.cage_mm" in costs:
        costs["take_up.class"] = costs["take_up.cage_mm"]
    miscounts = answer.sensitivity
    costs["rings"] = _tooth_message(answer.links, miscounts.ring_miscounted)
    costs["cogs"] = _tooth_message(answer.links, miscounts.cog_miscounted)
    return costs


def cost_message(valid: ValidRange) -> Message:
    """What an error in a measure costs right now.

    >>> ranges = [(3.1, 1.2), (1.2, 3.1), (None, 1.2), (1.2, None), (None, None)]
    >>> [cost_message(ValidRange("chainstay_mm", 432.0, *one)).code for one in ranges]
    ['error_more', 'error_less', 'error_more', 'error_less', 'count_stands']
    """
    less, more, unit = valid.less, valid.more, MEASURES[valid.measure].unit
    if less is None and more is None:
        return Message("count_stands")
    if more is not None and (less is None or more <= less):
        return Message("error_more", edge=Quantity(more, unit))
    return Message("error_less", edge=Quantity(less or 0.0, unit))


def _tooth_message(count: int, miscounted: tuple[int, int]) -> Message:
    """How the count would change with one tooth more or less."""
    others = sorted({other for other in miscounted if other != count})
    if not others:
        return Message("tooth_changes_nothing")
    if len(others) == 1:
        return Message("tooth_makes_one", count=Quantity(others[0], Unit.LINKS))
    low, high = (Quantity(other, Unit.LINKS) for other in others)
    return Message("tooth_makes_either", low=low, high=high)


HOWS = {path: spec.how for path, spec in fields_of(Bike).items()}
CLASSES = {name: mm(limit(f"{name}_cage")) for name in ("short", "medium", "long")}

FIELD_HINTS: dict[str, Message] = {
    "rings": Message("hint_rings"),
    "cogs": Message("hint_cogs"),
    "chain.speeds": Message("hint_speeds"),
    "chainstay_mm": Message("hint_chainstay", exact=Quantity(432, Unit.MM, 3), about=mm(432)),
    "take_up.class": Message("hint_class", **CLASSES),
    "take_up.b_gap_mm": Message("hint_gap", low=mm(limit("gap")), high=mm(limit("wide_gap"))),
    "take_up.pivot_mm": Message("hint_pulley", how=HOWS["take_up.pivot_mm"], away=mm(72)),
    "take_up.rest_deg": Message("hint_clock", how=HOWS["take_up.rest_deg"]),
    "take_up.crank_deg": Message("hint_clock", how=HOWS["take_up.crank_deg"]),
    "take_up.max_mm": Message("hint_slot_to", length=mm(24)),
    "suspension.type": Message("hint_suspension"),
    "suspension.pivot_mm": Message("hint_pivot", forward=mm(8), up=mm(52)),
    "chain.pieces": Message("hint_pieces", worn=Quantity(0.2, Unit.PERCENT)),
    "idlers": Message("hint_idlers", behind=mm(20), back=mm(-20), up=mm(106)),
}


def field_hint(spec: FieldSpec) -> Message:
    """How to take the measure of a field."""
    return FIELD_HINTS.get(spec.path, Message("hint_in_unit" if spec.unit is Unit.MM else "hint", how=spec.how))
