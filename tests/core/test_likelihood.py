"""How likely a count stays, against the normal distribution between the edges where it changes."""

from statistics import NormalDist

import pytest

from lone_pike.core.answer import answer
from tests.bikes import wide_bike


@pytest.mark.parametrize("spread_mm", [2, 4, 8])
def test_one_measure_in_doubt_stays_as_often_as_it_lies_between_its_edges(spread_mm: float) -> None:
    found = answer(wide_bike(about={"chainstay_mm": spread_mm}))
    hold = found.holds["chainstay_mm"]
    assert hold.less is not None and hold.more is not None and found.likelihood
    error = NormalDist(0, spread_mm / 2)
    assert found.likelihood.stays == pytest.approx(error.cdf(hold.more) - error.cdf(-hold.less), abs=0.015)
    assert sum(found.likelihood.shares.values()) == pytest.approx(1)


def test_the_measure_that_matters_most_is_the_one_in_real_doubt() -> None:
    found = answer(wide_bike(about={"chainstay_mm": 10, "cage_mm": 0.2, "b_gap_mm": 0.2}))
    assert found.likelihood and found.likelihood.matters == "chainstay_mm"
    assert found.likelihood.with_it > found.likelihood.stays


def test_exact_measures_carry_no_likelihood_and_a_class_always_does() -> None:
    assert answer(wide_bike()).likelihood is None
    by_class = answer(wide_bike(take_up={"type": "derailleur", "class": "long"}))
    assert by_class.likelihood and 0 < by_class.likelihood.stays <= 1
