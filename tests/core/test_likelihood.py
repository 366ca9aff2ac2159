"""How likely a count stays, against the normal distribution between the edges where it changes."""

from statistics import NormalDist

import numpy as np
import pytest

from lone_pike.core.count.answer import answer
from lone_pike.core.doubt.likelihood import evenly
from tests.bikes import wide_bike


@pytest.mark.parametrize("spread_mm", [2, 4, 8])
def test_one_measure_in_doubt_stays_as_often_as_it_lies_between_its_edges(spread_mm: float) -> None:
    result = answer(wide_bike(about={"chainstay_mm": spread_mm}))
    hold = result.valid_ranges["chainstay_mm"]
    assert hold.less is not None and hold.more is not None and result.likelihood
    error = NormalDist(0, spread_mm / 2)
    assert result.likelihood.stays == pytest.approx(error.cdf(hold.more) - error.cdf(-hold.less), abs=0.015)
    assert sum(result.likelihood.shares.values()) == pytest.approx(1)


def test_a_chainstay_far_in_doubt_spreads_over_three_pairs_either_way() -> None:
    """A pair for each 12.7 mm or so of chainstay: with a deviation of 15 mm, three either way come up."""
    result = answer(wide_bike(about={"chainstay_mm": 30}))
    assert result.likelihood and set(result.likelihood.shares) == set(range(106, 119, 2))


def test_the_measure_that_matters_most_is_the_one_in_real_doubt() -> None:
    result = answer(wide_bike(about={"chainstay_mm": 10, "cage_mm": 0.2, "b_gap_mm": 0.2}))
    assert result.likelihood and result.likelihood.matters == "chainstay_mm"
    assert result.likelihood.with_it > result.likelihood.stays


def test_exact_measures_carry_no_likelihood_and_a_class_always_does() -> None:
    assert answer(wide_bike()).likelihood is None
    by_class = answer(wide_bike(take_up={"type": "derailleur", "class": "long"}))
    assert by_class.likelihood and 0 < by_class.likelihood.stays <= 1


def test_measures_hardly_in_doubt_leave_the_one_that_is_as_it_was() -> None:
    """The tails count: with five measures in doubt the edge two deviations off is still seen."""
    tiny = {"cage_mm": 0.02, "b_gap_mm": 0.02, "lean_deg": 0.02, "axle_height_mm": 0.02}
    alone, among = (answer(wide_bike(about={"chainstay_mm": 4.0} | others)).likelihood for others in ({}, tiny))
    assert alone and among and alone.stays < 0.99
    assert among.stays == pytest.approx(alone.stays, abs=0.01)
    assert among.matters == "chainstay_mm"


@pytest.mark.parametrize("dimensions", [2, 5, 9])
def test_even_points_fill_every_corner_of_every_two_measures_alike(dimensions: int) -> None:
    """600 points in 9 parts of a square: 67 each; points drawn by lot would stray by 7.7, and three times that."""
    points = evenly(600, dimensions)
    for one in range(dimensions):
        for other in range(one):
            filled = np.histogram2d(points[:, one], points[:, other], bins=3, range=[[0, 1], [0, 1]])[0]
            assert np.abs(filled - 600 / 9).max() < 16
