"""Measures off a photo: a projected bike gives its own measures back, and the doubt covers honest errors."""

import math

import numpy as np
import pytest

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.bike.photo import Mark, Photo, Point, Wheels, ring_across_mm, taken_from
from lone_pike.core.bike.teeth import pitch_radius_mm
from lone_pike.core.motion.poses import poses_of
from lone_pike.core.take_up.caged_loop import cage_measures, guide_centre_mm
from tests.bikes import told, wide_bike

WIDTH_PX, PX_PER_MM, CRANK_PX = 1600, 1.5, (1100.0, 520.0)
PIVOT_MM = (8.0, 52.0)


def projected(cog: int, ruler_mm: float = 300.0) -> dict[Mark, Point]:
    """Where the wide check bike's parts would lie in a photo, its cage straight down; axle level with the crank."""
    bike, poses = wide_bike(), poses_of(wide_bike(), np.zeros(1))
    centre = guide_centre_mm(poses, cage_measures(bike, poses), cog, bike.largest_cog)
    guide_x, guide_y = (float(np.squeeze(part)) for part in centre)
    places: dict[Mark, Point] = {
        "crank": (0.0, 0.0),
        "axle": (-432.0, 0.0),
        "guide": (guide_x, guide_y),
        "tension": (guide_x, guide_y - 92.0),
        "pivot": PIVOT_MM,
        "scale_from": (-300.0, -250.0),
        "scale_to": (-300.0 + ruler_mm, -250.0),
    }
    return {mark: (CRANK_PX[0] + x * PX_PER_MM, CRANK_PX[1] - y * PX_PER_MM) for mark, (x, y) in places.items()}


@pytest.mark.parametrize("cog", [46, 11])
def test_a_photographed_bike_gives_its_own_measures_back(cog: int) -> None:
    """The check bike of the handbook: 432, cage 92, gap 6, lean 12, pulleys of 11."""
    result = taken_from(Photo(WIDTH_PX, projected(cog), 300.0), Wheels(11, cog, 46))
    assert {read: taken.values[0] for read, taken in result.items() if read != "pivot_mm"} == pytest.approx(
        {"chainstay_mm": 432, "axle_height_mm": 0, "cage_mm": 92, "b_gap_mm": 6, "lean_deg": 12}, abs=1e-6
    )
    assert result["pivot_mm"].values == pytest.approx(PIVOT_MM)


def test_a_ring_is_a_scale_from_tip_to_tip() -> None:
    """A 42 ring: 12.7 / sin(pi / 42) across its rivets, and a tip of 2.3 mm at either end."""
    assert ring_across_mm(42) == pytest.approx(12.7 / math.sin(math.pi / 42) + 4.6)
    assert ring_across_mm(42) == pytest.approx(2 * float(pitch_radius_mm(42)) + 4.6)


def test_the_spread_holds_nearly_all_of_many_clumsy_photos() -> None:
    """Marks off by a normal error whose two deviations are the click, each way: 95 in 100 lie within the spread."""
    chance = np.random.default_rng(7)
    marks, photo = projected(46), Photo(WIDTH_PX, projected(46), 300.0)
    within = 0
    for _ in range(400):
        off = {mark: tuple(np.array(place) + chance.normal(0, photo.click_px / 2, 2)) for mark, place in marks.items()}
        taken = taken_from(Photo(WIDTH_PX, off, 300.0))["chainstay_mm"]
        within += abs(taken.values[0] - 432) < taken.spread
    assert within > 380


def test_the_lean_is_as_unsure_as_its_marks_and_the_cameras_tilt() -> None:
    """By hand: two marks, each a click of 1.6 px off, as far apart as pulley and axle; and 1 degree of tilt."""
    marks = projected(46)
    (axle_x, axle_y), (guide_x, guide_y) = marks["axle"], marks["guide"]
    apart_px = math.hypot(guide_x - axle_x, guide_y - axle_y)
    clicks_deg = math.degrees(1.6 * math.sqrt(2) / apart_px)
    spread = taken_from(Photo(WIDTH_PX, marks, 300.0))["lean_deg"].spread
    assert spread == pytest.approx(math.sqrt(clicks_deg**2 + 1), rel=1e-3)


def test_a_shorter_scale_makes_a_wider_doubt() -> None:
    spreads = [
        taken_from(Photo(WIDTH_PX, projected(46, ruler_mm), ruler_mm))["chainstay_mm"].spread
        for ruler_mm in (50.0, 150.0, 300.0)
    ]
    assert spreads[0] > spreads[1] > spreads[2] > 0


@pytest.mark.parametrize(
    ("moved", "said"),
    [({"axle": (1400.0, 520.0)}, "axle left of the crank"), ({"scale_to": (651.0, 895.0)}, "scale: read 1 px")],
)
def test_marks_that_cannot_be_are_refused_by_name(moved: dict[Mark, Point], said: str) -> None:
    with pytest.raises(InvalidInput) as caught:
        taken_from(Photo(WIDTH_PX, projected(46) | moved, 300.0))
    assert said in told(caught.value)


def test_what_is_not_marked_is_not_measured() -> None:
    marks = projected(46)
    del marks["guide"]
    assert set(taken_from(Photo(WIDTH_PX, marks, 300.0))) == {"chainstay_mm", "axle_height_mm", "pivot_mm"}
    del marks["scale_to"]
    assert taken_from(Photo(WIDTH_PX, marks, 300.0)) == {}
