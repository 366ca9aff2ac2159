"""What the mechanic must know about an answer: conflicts, ratings, gears to stay out of, a box too short."""

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from lone_pike.core.bike.base import JoinerKind
from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.limits import limit
from lone_pike.core.bike.measures import Measure
from lone_pike.core.bike.suspensions import TableSuspension
from lone_pike.core.bike.take_ups import Caged, Slot
from lone_pike.core.count.sizing import Sizing
from lone_pike.core.doubt.sensitivity import ValidRange
from lone_pike.core.messages import Message, Quantity, Term, Unit, deg, links, mm, number, teeth
from lone_pike.core.motion.suspension import axle_path
from lone_pike.core.take_up.protocol import Capacity, Gear, Ground


@dataclass(frozen=True)
class Notice:
    """Something the mechanic must know about this answer: what kind of thing, and its sentence."""

    code: str
    message: Message


def answer_notices(
    sizing: Sizing, gears: tuple[Gear, ...], capacity: Capacity, missing: int, count: int, decided_by: str
) -> tuple[Notice, ...]:
    """All that is known with the count itself."""
    bike = sizing.bike
    notices = []
    if list(bike.cogs) != sorted(bike.cogs):
        in_order = tuple(number(cog) for cog in sorted(bike.cogs))
        notices.append(Notice("cogs_sorted", Message("cogs_sorted", cogs=in_order)))
    if isinstance(bike.take_up, Slot) and bike.take_up.max_mm < bike.take_up.min_mm:
        ends = {"near": mm(bike.take_up.near_mm), "far": mm(bike.take_up.far_mm)}
        notices.append(Notice("slot_swapped", Message("slot_swapped", **ends)))
    if bike.joiner is JoinerKind.QUICK_LINK and bike.speeds > limit("quick_link_cogs"):
        cogs = Quantity(bike.speeds, Unit.COGS)
        notices.append(Notice("joiner_speeds", Message("joiner_speeds", cogs=cogs)))
    if decided_by != "window" and sizing.ground(count) is not Ground.SAFE:
        notices.append(Notice("conflict", _conflict(sizing, count, decided_by)))
    notices += _rating_notices(capacity)
    if isinstance(bike.suspension, TableSuspension):
        notices += _turn_notices(bike, bike.suspension)
    notices += [Notice(f"route_{trouble.code}", trouble.message) for trouble in sizing.troubles]
    if sizing.window is None:
        notices.append(Notice("window_empty", sizing.take_up.none_safe(gears)))
    if missing:
        notices.append(Notice("box_short", Message("box_short", missing=links(missing))))
    return tuple(notices)


def _conflict(sizing: Sizing, count: int, decided_by: str) -> Message:
    return Message(
        "conflict_with_sheet" if decided_by == "makers_sheet" else "conflict_with_rule",
        count=links(count),
        meaning=sizing.take_up.meaning(count),
        advised=links(sizing.recommended_links),
    )


def _turn_notices(bike: Bike, table: TableSuspension) -> list[Notice]:
    """That a table leaves open how the derailleur's part turns, or tells it the other way round than the chainstay."""
    if not table.tells_turn:
        worth = {"links": links(limit("linkage_links")), "travel": mm(limit("linkage_travel"))}
        return [Notice("turn_not_told", Message("turn_not_told", **worth))]
    (*_, first_deg), (*_, last_deg) = table.points[0], table.points[-1]
    told_deg, end = last_deg - first_deg, axle_path(bike, np.array([0.0, table.travel_mm]))
    own_deg = float(np.diff(np.degrees(np.arctan2(end.y_mm, end.x_mm)) % 360).item())
    if told_deg * own_deg < 0 and abs(told_deg) > limit("linkage_turn"):
        return [Notice("turns_against", Message("turns_against", told=deg(told_deg), chainstay=deg(own_deg)))]
    return []


def _rating_notices(capacity: Capacity) -> list[Notice]:
    notices = []
    if capacity.rated is not None and capacity.needed > capacity.rated:
        values = {"rated": teeth(capacity.rated), "needed": teeth(capacity.needed)}
        notices.append(Notice("capacity", Message("rated_capacity", **values)))
    rated_cog = capacity.rated_largest_cog
    if rated_cog is not None and capacity.largest_cog > rated_cog:
        values = {"rated": teeth(rated_cog), "fitted": teeth(capacity.largest_cog)}
        notices.append(Notice("largest_cog", Message("rated_largest_cog", **values)))
    return notices


def capacity_meaning(needed: Capacity, *, serves: bool) -> Message | None:
    """What it means when papers and bike disagree; None where they do not. serves: whether some count serves all."""
    over = bool(_rating_notices(needed))
    if over:
        return Message("over_rating_but_serves" if serves else "over_rating")
    return Message("within_rating_but_not_served") if not serves and needed.rated is not None else None


def sensitivity_notices(bike: Bike, valid_ranges: Mapping[Measure, ValidRange]) -> tuple[Notice, ...]:
    """A class in place of a caliper, and an edge that is near."""
    notices = []
    if isinstance(bike.take_up, Caged) and bike.take_up.cage_class and bike.take_up.cage_mm is None:
        text = Message(
            "cage_class",
            cage=Term("cage_class", bike.take_up.cage_class),
            length=mm(bike.take_up.cage_length_mm),
            either_way=mm(limit("cage_class_doubt")),
        )
        notices.append(Notice("cage_class", text))
    chainstay = valid_ranges.get("chainstay_mm")
    edge = chainstay.nearest if chainstay else None
    if edge is not None and edge < limit("near_edge"):
        notices.append(Notice("near_edge", Message("near_edge", edge=mm(edge))))
    return tuple(notices)
