"""The tool at the rivet: how far it goes is what the joiner asks for; and pieces of the bin are drawn link by link."""

import pytest

from lone_pike.core.bike.document import Bike
from lone_pike.core.chain.cutting import End, plan_cut
from lone_pike.core.wear.gauging import Way, WearReading
from lone_pike.drawing.charts.ruler import ruler_picture
from lone_pike.drawing.charts.strip import piece
from lone_pike.drawing.charts.tool import MIDDLE_MM, OUTER_MM, PLATE_MM, tool_view
from lone_pike.formats.files.bike_file import bike_from_document

BIKE = {
    "lone_pike": 1,
    "name": "Otter",
    "rings": [38],
    "cogs": [11, 13, 15, 18, 21, 24, 28, 32],
    "chainstay_mm": 440,
    "take_up": {"type": "derailleur", "cage_mm": 74},
}


def bike(joiner: str) -> Bike:
    return bike_from_document({**BIKE, "chain": {"box_links": 116, "joiner": joiner, "box_includes_joiner": False}})


@pytest.mark.parametrize(("joiner", "goes"), [("quick_link", "out"), ("joining_pin", "out"), ("rivet", "held")])
def test_a_rivet_that_is_driven_back_stays_in_the_far_plate_and_no_other_does(joiner: str, goes: str) -> None:
    """Trade, section 9: fully out for a quick link or a pin; the far plate holds the one that is driven back."""
    view = tool_view(plan_cut(bike(joiner), 110) or pytest.fail("no cut"))
    assert view and view.goes == goes
    far_plate_mm = MIDDLE_MM - OUTER_MM - PLATE_MM / 2
    end_mm = float(view.pushed.y) + float(view.pushed.height)
    inner_end_mm = MIDDLE_MM + OUTER_MM - PLATE_MM / 2
    assert end_mm < inner_end_mm, "the near plate is free"
    assert (end_mm > far_plate_mm + PLATE_MM) == (goes == "held")
    assert float(view.driver.y) == pytest.approx(end_mm, abs=0.11), "the driving pin follows the rivet"


@pytest.mark.parametrize(
    ("links", "ends", "more"), [(1, ("inner", "inner"), 0), (8, ("outer", "inner"), 0), (50, ("inner", "outer"), 14)]
)
def test_a_piece_has_its_ends_and_tells_what_is_not_drawn(links: int, ends: tuple[str, str], more: int) -> None:
    drawn = piece(links, End(ends[0]))
    assert (drawn.first_end, drawn.last_end, drawn.more) == (*ends, more)
    assert drawn.shapes.inner.count("Z") + drawn.shapes.outer.count("Z") == links - more


def test_a_ruler_reads_past_its_mark_by_sixteenths() -> None:
    """Two sixteenths past twelve inches: the last rivet lies an eighth of an inch behind the mark, 3.2 mm."""
    at_mark, past = (ruler_picture(WearReading(way=Way.PAST, pitches=24, sixteenths=n)) for n in (0.0, 2.0))
    assert at_mark and past and at_mark.rivets[-1] == at_mark.mark_x
    behind = past.rivets[-1] - past.mark_x
    sixteenths = [one.x for one in past.ticks if one.x > past.mark_x]
    assert behind > 0 and behind == pytest.approx(sixteenths[1] - past.mark_x, abs=0.2)
