"""What the mechanic must know about an answer: conflicts, ratings, gears to stay out of, a box too short."""

from collections.abc import Mapping

import numpy as np

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.joiners import JoinerKind
from lone_pike.core.bike.limits import limit
from lone_pike.core.bike.measures import Measure
from lone_pike.core.chain.plan import short_message
from lone_pike.core.count.sizing import Sizing
from lone_pike.core.doubt.sensitivity import ValidRange
from lone_pike.core.messages import Message, Notice, NoticeKind, Quantity, Unit, deg, links, mm, number, teeth
from lone_pike.core.motion.suspension import axle_path
from lone_pike.core.take_up.protocol import Capacity, Gear, Safety


def answer_notices(
    sizing: Sizing, gears: tuple[Gear, ...], capacity: Capacity, missing: int, count: int, decided_by: str
) -> tuple[Notice, ...]:
    """All notices that need only the count."""
    bike = sizing.bike
    notices: list[Notice] = []
    if list(bike.cogs) != sorted(bike.cogs):
        in_order = tuple(number(cog) for cog in sorted(bike.cogs))
        notices.append(Notice(NoticeKind.COGS_SORTED, Message("cogs_sorted", cogs=in_order)))
    notices += bike.take_up.notices
    if bike.joiner is JoinerKind.QUICK_LINK and bike.speeds > limit("quick_link_cogs"):
        cogs = Quantity(bike.speeds, Unit.COGS)
        notices.append(Notice(NoticeKind.JOINER_SPEEDS, Message("joiner_speeds", cogs=cogs)))
    if decided_by != "window" and sizing.safety(count) is not Safety.SAFE:
        notices.append(Notice(NoticeKind.CONFLICT, _conflict(sizing, count, decided_by)))
    notices += _rating_notices(capacity)
    notices += _turn_notices(bike)
    notices += [Notice(trouble.kind, trouble.message) for trouble in sizing.troubles]
    if sizing.window is None:
        notices.append(Notice(NoticeKind.WINDOW_EMPTY, sizing.take_up.none_safe(gears)))
    if missing:
        notices.append(Notice(NoticeKind.BOX_SHORT, short_message(sizing.bike, missing)))
    return tuple(notices)


def _conflict(sizing: Sizing, count: int, decided_by: str) -> Message:
    return Message(
        "conflict_with_sheet" if decided_by == "makers_sheet" else "conflict_with_rule",
        count=links(count),
        meaning=sizing.take_up.meaning(count),
        advised=links(sizing.recommended_links),
    )


def _turn_notices(bike: Bike) -> list[Notice]:
    """The notice that it is not known how the part with the derailleur turns, or that it turns against the
    chainstay."""
    suspension = bike.suspension
    if suspension is None:
        return []
    if suspension.leaves_turn_open:
        worth = {"links": links(limit("linkage_links")), "travel": mm(limit("linkage_travel"))}
        return [Notice(NoticeKind.TURN_NOT_TOLD, Message("turn_not_told", **worth))]
    given_deg = suspension.given_turn_deg
    if given_deg is None:
        return []
    end = axle_path(bike, np.array([0.0, suspension.travel_mm]))
    own_deg = float(np.diff(np.degrees(np.arctan2(end.y_mm, end.x_mm)) % 360).item())
    if given_deg * own_deg < 0 and abs(given_deg) > limit("linkage_turn"):
        return [Notice(NoticeKind.TURNS_AGAINST, Message("turns_against", told=deg(given_deg), chainstay=deg(own_deg)))]
    return []


def _rating_notices(capacity: Capacity) -> list[Notice]:
    notices = []
    if capacity.rated is not None and capacity.needed > capacity.rated:
        values = {"rated": teeth(capacity.rated), "needed": teeth(capacity.needed)}
        notices.append(Notice(NoticeKind.CAPACITY, Message("rated_capacity", **values)))
    rated_cog = capacity.rated_largest_cog
    if rated_cog is not None and capacity.largest_cog > rated_cog:
        values = {"rated": teeth(rated_cog), "fitted": teeth(capacity.largest_cog)}
        notices.append(Notice(NoticeKind.LARGEST_COG, Message("rated_largest_cog", **values)))
    return notices


def capacity_meaning(needed: Capacity, *, serves: bool) -> Message | None:
    """What it means if papers and bike disagree; None if they agree. serves says whether some count is safe in all
    gears."""
    over = bool(_rating_notices(needed))
    if over:
        return Message("over_rating_but_serves" if serves else "over_rating")
    return Message("within_rating_but_not_served") if not serves and needed.rated is not None else None


def sensitivity_notices(bike: Bike, valid_ranges: Mapping[Measure, ValidRange]) -> tuple[Notice, ...]:
    """Notices about a class in place of a measured length, and about a limit that is near."""
    notices = [*bike.take_up.spread_notices]
    chainstay = valid_ranges.get("chainstay_mm")
    edge = chainstay.nearest if chainstay else None
    if edge is not None and edge < limit("near_edge"):
        message = Message("near_edge", edge=mm(edge)) if round(edge, 1) else Message("on_edge")
        notices.append(Notice(NoticeKind.NEAR_EDGE, message))
    return tuple(notices)
