"""The tool at the rivet: how far it goes is what the joiner asks for; and pieces of the bin are drawn link by link."""

import pytest

from lone_pike.core.bike.document import Bike
from lone_pike.core.chain.cutting import End, plan_cut
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
