"""The tool at the rivet: how far it goes is what the joiner asks for; and pieces of the bin are drawn link by link."""

import re

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
    ("links", "ends", "left_out"),
    [
        (1, ("inner", "inner"), 0),
        (8, ("outer", "inner"), 0),
        (36, ("inner", "outer"), 0),
        (50, ("inner", "outer"), 14),
        (125, ("outer", "outer"), 89),
    ],
)
def test_a_piece_is_drawn_with_both_its_ends(links: int, ends: tuple[str, str], left_out: int) -> None:
    drawn = piece(links, End(ends[0]))
    paths = (("inner", drawn.shapes.inner), ("outer", drawn.shapes.outer))
    plates = sorted((int(left), kind) for kind, path in paths for left in re.findall(r"M(\d+)", path))
    assert len(plates) == links - left_out
    assert (drawn.gap_x is None) == (not left_out)
    assert (drawn.first_end, drawn.last_end) == (plates[0][1], plates[-1][1]) == ends


def test_a_ruler_reads_past_its_mark_by_sixteenths() -> None:
    """Two sixteenths past twelve inches: the last rivet lies an eighth of an inch behind the mark, 3.2 mm."""
    at_mark, past = (ruler_picture(WearReading(way=Way.PAST, pitches=24, sixteenths=n)) for n in (0.0, 2.0))
    assert at_mark and past and at_mark.rivets[-1] == at_mark.mark_x
    behind = past.rivets[-1] - past.mark_x
    sixteenths = [one.x for one in past.ticks if one.x > past.mark_x]
    assert behind > 0 and behind == pytest.approx(sixteenths[1] - past.mark_x, abs=0.2)
