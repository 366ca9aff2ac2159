"""Bikes of the handbook's check tables, for every test."""

from functools import cache
from typing import Any

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.count.answer import Answer, answer
from lone_pike.core.messages import Message
from lone_pike.demo.workshop import sample
from lone_pike.formats.files.bike_file import bike_from_document
from lone_pike.wording.render import fault_line, render
from lone_pike.wording.units import DisplayUnits

UNITS = DisplayUnits()
CROSSED = "Godwit"
"""The sample trike that comes with its runs crossed, and is sized once they are mended."""

SAMPLES = {row["document"]["name"]: row["document"] for row in sample()["bikes"]}
SOUND = {name: told for name, told in SAMPLES.items() if name != CROSSED}


@cache
def sample_answer(name: str) -> Answer:
    """The answer for a sound bike of the sample workshop, computed when it is first asked for."""
    return answer(bike_from_document(SOUND[name]))


WIDE_COGS = [11, 13, 15, 17, 20, 23, 26, 30, 34, 40, 46]
ROAD_COGS = [11, 13, 15, 17, 20, 23, 26, 30]
TRIPLE_COGS = [11, 13, 15, 18, 21, 24, 28, 32, 36]


def document(rings: list[int], cogs: list[int], chainstay_mm: float, cage_mm: float, gap_mm: float) -> dict[str, Any]:
    """A measured derailleur bike's document; pulleys and lean are the defaults of the tables."""
    return {
        "lone_pike": 1,
        "name": "Otter",
        "rings": rings,
        "cogs": cogs,
        "chainstay_mm": chainstay_mm,
        "take_up": {"type": "derailleur", "cage_mm": cage_mm, "b_gap_mm": gap_mm},
    }


def bike(rings: list[int], cogs: list[int], chainstay_mm: float, cage_mm: float, gap_mm: float) -> Bike:
    return bike_from_document(document(rings, cogs, chainstay_mm, cage_mm, gap_mm))


def wide_document(**changes: Any) -> dict[str, Any]:
    return document([30], WIDE_COGS, 432, 92, 6) | changes


def wide_bike(**changes: Any) -> Bike:
    return bike_from_document(wide_document(**changes))


def road_bike() -> Bike:
    return bike([33, 46], ROAD_COGS, 418, 56, 5)


def triple_bike() -> Bike:
    return bike([24, 34, 44], TRIPLE_COGS, 445, 92, 5)


def said(message: Message) -> str:
    """A message in links and mm."""
    return render(message, UNITS)


def told(error: InvalidInput) -> str:
    """All faults of an error, a line each."""
    return "\n".join(fault_line(fault, UNITS) for fault in error.faults)
