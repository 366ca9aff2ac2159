"""A measure told wrong sizes like the bike that has that measure; every measure may be in doubt."""

import math
from typing import Any

import numpy as np
import pytest

from lone_pike.core.bike.measures import Errors, Measure, spreads_of, values_of
from lone_pike.core.count.answer import answer
from lone_pike.core.motion.poses import poses_as_given
from lone_pike.core.take_up.caged_loop import cage_measures
from lone_pike.formats.files.bike_file import bike_from_document
from tests.bikes import wide_document

TRAVELS = np.array([0.0, 35.0, 140.0])
CAGE = {"type": "derailleur", "cage_mm": 92.0, "b_gap_mm": 6.0, "lean_deg": 12.0}


def sprung(suspension: dict[str, Any], **changes: Any) -> dict[str, Any]:
    result = wide_document(axle_mm=[-440.0, 6.0], suspension=suspension, take_up=CAGE) | changes
    del result["chainstay_mm"]
    return result


PIVOT = sprung({"type": "pivot", "pivot_mm": [8.0, 52.0], "travel_mm": 140.0})
GROWTH = sprung({"type": "growth", "growth_mm": 12.0, "travel_mm": 140.0})


def with_error(document: dict[str, Any], measure: Measure, error: float) -> dict[str, Any]:
    """The same bike's document measured with that error, written out by hand."""
    take_up, suspension = dict(document["take_up"]), dict(document["suspension"])
    x_mm, y_mm = document["axle_mm"]
    if measure in take_up:
        take_up[measure] += error
    elif measure in suspension:
        suspension[measure] += error
    elif measure.startswith("pivot"):
        x_off, y_off = (error if f"pivot_{axis}_mm" == measure else 0.0 for axis in "xy")
        suspension["pivot_mm"] = [suspension["pivot_mm"][0] + x_off, suspension["pivot_mm"][1] + y_off]
    else:
        length = math.hypot(x_mm, y_mm) + error * (measure == "chainstay_mm")
        y_mm += error * (measure == "axle_height_mm")
        x_mm = -math.sqrt(length**2 - y_mm**2)
    return document | {"take_up": take_up, "suspension": suspension, "axle_mm": [x_mm, y_mm]}


def parts_of(document: dict[str, Any], travels_mm: np.ndarray, errors: Errors | None = None) -> dict[str, np.ndarray]:
    """Where the axle stands and what the cage measures, in every pose."""
    bike = bike_from_document(document)
    poses = poses_as_given(bike, travels_mm, errors)
    cage = cage_measures(bike, poses, errors)
    axle = {name: getattr(poses, name) for name in ("axle_x_mm", "axle_y_mm", "swing_rad")}
    everywhere = np.zeros_like(poses.axle_x_mm)
    return axle | {name: getattr(cage, name) + everywhere for name in ("cage_mm", "gap_mm", "lean_rad")}


@pytest.mark.parametrize("error", [-3.0, 4.0])
@pytest.mark.parametrize(
    ("document", "measure"), [(d, m) for d in (PIVOT, GROWTH) for m in values_of(bike_from_document(d))]
)
def test_a_bike_told_wrong_stands_as_the_bike_that_is_so(
    document: dict[str, Any], measure: Measure, error: float
) -> None:
    told_wrong = parts_of(document, TRAVELS, {measure: np.array([0.0, error])})
    travels = TRAVELS * (1 + error / 140) if measure == "travel_mm" else TRAVELS
    for bike, poses in ((document, slice(0, 3)), (with_error(document, measure, error), slice(3, 6))):
        own = parts_of(bike, TRAVELS if bike is document else travels)
        for name, values in told_wrong.items():
            assert values[poses] == pytest.approx(own[name], abs=1e-9), name


def test_every_measure_in_doubt_is_followed_and_one_of_them_matters_most() -> None:
    about = {"travel_mm": 6, "pivot_mm": 8, "lean_deg": 4, "axle_height_mm": 3}
    result = answer(bike_from_document(PIVOT | {"about": about}))
    in_doubt = {"travel_mm", "pivot_x_mm", "pivot_y_mm", "lean_deg", "axle_height_mm"}
    assert set(spreads_of(result.sizing.bike)) == in_doubt and in_doubt < set(result.valid_ranges)
    assert result.likelihood and result.likelihood.matters in in_doubt
    assert 0.5 < result.likelihood.stays < 1


def test_a_spread_of_what_the_bike_does_not_have_is_left_alone() -> None:
    rigid = bike_from_document(wide_document(about={"growth_mm": 5, "pivot_mm": 5}))
    assert answer(rigid).likelihood is None
