"""Measures that contradict each other are refused, each named as what it is."""

from typing import Any

import pytest

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.count.answer import answer
from lone_pike.formats.files.bike_file import bike_from_document
from tests.bikes import said, told, wide_document

LONG = {
    "rings": [46],
    "cogs": [11, 13, 15, 18, 21, 24, 28, 32, 36],
    "axle_mm": [-1390, -150],
}
DRIVE = {"run": "drive", "at_mm": [-700, -40], "teeth": 15, "chain": "under"}
RETURN = {"run": "return", "at_mm": [-720, -105], "teeth": 15, "chain": "over"}


def placed(**changes: Any) -> dict[str, Any]:
    """The wide bike with its axle told as a place."""
    return {key: value for key, value in wide_document(**changes).items() if key != "chainstay_mm"}


def long(*idlers: dict[str, Any]) -> dict[str, Any]:
    return placed(**LONG, idlers=list(idlers))


def table(*points: list[float]) -> dict[str, Any]:
    return wide_document(suspension={"type": "table", "points": list(points)})


REFUSED = {
    "axle ahead": (placed(axle_mm=[430, 6]), "axle_mm", "behind the crank centre"),
    "axle above": (placed(axle_mm=[-100, 420]), "axle_mm", "less far up or down than back"),
    "height": (wide_document(axle_height_mm=400), "axle_height_mm", "-305 to 305 mm"),
    "table and axle": (table([0, 429.9], [100, 440]), "suspension.points.0", "432.0 mm, within 2 mm"),
    "a row that jumps": (table([0, 432], [1, 437]), "suspension.points.1", "near that of the row before"),
    "rows that run away": (table(*([t, 432 + 3.9 * t] for t in range(9))), "suspension.points.2", "No axle jumps"),
    "growth": (
        wide_document(suspension={"type": "growth", "growth_mm": 61, "travel_mm": 30}),
        "suspension.growth_mm",
        "-60 to 60 mm",
    ),
    "steep arm": (
        placed(axle_mm=[-432, 0], suspension={"type": "pivot", "pivot_mm": [-380, 150], "travel_mm": 20}),
        "suspension.pivot_mm",
        "can rise 20 mm",
    ),
    "sheet below the wrap": (wide_document(sheet_links=102), "sheet_links", "108 to"),
    "sheet beyond reach": (wide_document(sheet_links=300), "sheet_links", "No chain of that count"),
    "idler in the ring": (long(DRIVE | {"at_mm": [-80, 82]}, RETURN), "idlers.0.at_mm", "centre of the ring"),
    "idler in the cog": (long(DRIVE, RETURN | {"at_mm": [-1360, -100]}), "idlers.1.at_mm", "centre of the cog"),
    "idlers on each other": (long(DRIVE, DRIVE | {"at_mm": [-710, -60]}), "idlers.1.at_mm", "centre of the idler"),
    "idler in the pulley": (long(DRIVE, RETURN | {"at_mm": [-1340, -250]}), "idlers.1.at_mm", "pulley"),
    "idlers out of order": (long(DRIVE, DRIVE | {"at_mm": [-400, 0]}), "idlers.1.at_mm", "from the front to the back"),
    "crossed runs": (
        long(DRIVE | {"at_mm": [-700, -200]}, RETURN | {"at_mm": [-720, 40]}),
        "idlers",
        "figure of eight",
    ),
    "longer than any chain": (
        wide_document(chainstay_mm=2500, idlers=[RETURN | {"at_mm": [1200, -2000], "chain": "under"}]),
        "idlers",
        "a chain of up to 600 links",
    ),
    "idler behind the axle": (
        long(DRIVE, RETURN | {"at_mm": [-1700, -300], "chain": "under"}),
        "idlers.1.at_mm",
        "-1390 mm or more forward",
    ),
    "idler never reached": (
        long(DRIVE, RETURN | {"at_mm": [-900, -20], "chain": "under"}),
        "idlers.1.chain",
        "does not reach the return idler",
    ),
}


@pytest.mark.parametrize(("document", "field", "words"), REFUSED.values(), ids=REFUSED)
def test_a_contradiction_is_refused_by_its_field(document: dict[str, Any], field: str, words: str) -> None:
    with pytest.raises(InvalidInput) as caught:
        answer(bike_from_document(document))
    assert [fault.field for fault in caught.value.faults] == [field]
    assert words in told(caught.value)


def test_a_sheet_count_that_cannot_be_joined_becomes_the_next_that_can_and_says_so() -> None:
    """Trade, section 1: a closed chain of ordinary links has an even count."""
    total = answer(bike_from_document(wide_document(sheet_links=113)))
    assert total.links == 114
    assert "113 links in all, rounds up to 114" in said(total.why[0]) + said(total.votes[0].rule)
    added = answer(bike_from_document(wide_document(sheet_links=3)))
    assert (added.links, "108 links, rounds up to 112" in said(added.votes[0].rule)) == (112, True)


def test_an_empty_cage_goes_no_farther_back_than_where_it_rests() -> None:
    """Model, section 2, on its own bike: at 20 degrees 119.018 links in big/big, so 120 hang with a stop there."""
    stopped = answer(bike_from_document(wide_document(take_up=wide_document()["take_up"] | {"rest_deg": 20})))
    big = {count: stopped.gears_at(count)[0] for count in (118, 120)}
    assert (big[118].state, big[120].state) == ("safe", "loose")
    free = answer(bike_from_document(wide_document()))
    assert free.gears_at(120)[0].state == "safe"
    assert stopped.links == free.links or stopped.window is None


def test_of_very_many_faults_the_first_are_told_and_the_rest_counted() -> None:
    with pytest.raises(InvalidInput) as caught:
        bike_from_document(wide_document(**{f"key{i}": i for i in range(2000)}))
    assert len(caught.value.faults) == 41
    assert "1960 more places" in told(caught.value)
