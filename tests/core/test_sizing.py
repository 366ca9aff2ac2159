"""Cage, window and recommendation against the tables of the model, sections 2 and 3, and their properties."""

from itertools import pairwise

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lone_pike.core.bike.document import Bike
from lone_pike.core.count.answer import answer
from lone_pike.core.count.sizing import size_bike
from tests.bikes import ROAD_COGS, WIDE_COGS, bike, road_bike, said, triple_bike, wide_bike


@pytest.mark.parametrize(("cage_deg", "links"), [(90, 107.948), (60, 111.838), (20, 119.018), (107.6, 106.729)])
def test_length_over_the_cage_angle(cage_deg: float, links: float) -> None:
    path = size_bike(wide_bike()).cage.path(30, 46, np.radians(cage_deg))
    assert float(np.squeeze(path.links)) == pytest.approx(links, abs=5e-4)


def test_the_cage_of_the_check_bike_at_big_big() -> None:
    big = answer(wide_bike()).sizing.take_up.gears(110)[0]
    assert [big.cage_deg, big.reserve_deg, big.spare_links] == [
        pytest.approx(value, abs=within) for value, within in ((72.3, 0.05), (35.3, 0.05), (3.27, 0.005))
    ]


@pytest.mark.parametrize(("links", "cage_deg", "clearance_mm"), [(110, -35.0, 54.1), (112, -49.6, 38.0)])
def test_the_cage_of_the_check_bike_at_the_small_cog(links: int, cage_deg: float, clearance_mm: float) -> None:
    small = answer(wide_bike()).sizing.take_up.gears(links)[-1]
    assert small.cage_deg == pytest.approx(cage_deg, abs=0.05)
    assert small.clearance_mm == pytest.approx(clearance_mm, abs=0.05)


@pytest.mark.parametrize(
    ("measured", "bare", "votes", "window", "links"),
    [
        (wide_bike(), 106.222, (110, 112), (110, 114), 112),
        (road_bike(), 104.024, (108, 110), (106, 108), 106),
        (triple_bike(), 110.125, (114, 116), (112, 112), 112),
    ],
)
def test_windows_of_the_model_section_3(
    measured: Bike, bare: float, votes: tuple[int, int], window: tuple[int, int], links: int
) -> None:
    result = answer(measured)
    assert result.bare_wrap.rest == pytest.approx(bare, abs=5e-4)
    assert tuple(vote.links for vote in result.votes[:2]) == votes
    assert result.window and (result.window.min, result.window.max) == window
    assert result.links == links


def test_an_empty_window_goes_long_and_names_the_gears_to_stay_out_of() -> None:
    """A short cage on a very wide range: by the model it must go for big/big, never the other way round."""
    result = answer(bike([30, 46], WIDE_COGS, 432, 56, 6))
    reserve = result.gears[0].reserve_deg
    shorter = result.sizing.take_up.gears(result.links - 2)[0]
    assert result.window is None
    assert reserve is not None and reserve >= 25
    assert shorter.reserve_deg is None or shorter.reserve_deg < 25
    text = next(said(warning.message) for warning in result.warnings if warning.kind == "window_empty")
    out = [f"{gear.ring}/{gear.cog}" for gear in result.gears if gear.state in ("touching", "loose")]
    assert out and text.endswith(f"Do not use {', '.join(out)}.")


measured_bikes = st.builds(
    bike,
    rings=st.sampled_from([[30], [32], [34, 50], [24, 34, 44]]),
    cogs=st.sampled_from([ROAD_COGS, WIDE_COGS, [12, 14, 16, 18, 21, 24, 28]]),
    chainstay_mm=st.floats(400, 460),
    cage_mm=st.floats(50, 110),
    gap_mm=st.floats(3, 12),
)


@settings(max_examples=60)
@given(measured_bikes)
def test_window_edges_are_edges_and_longer_never_lowers_reserve(measured: Bike) -> None:
    sizing = size_bike(measured)
    counts = sizing.in_reach.counts
    reserve, clearance = ([of(count) for count in counts] for of in (sizing.cage.reserve_deg, sizing.cage.air_mm))
    assert all(later >= earlier for earlier, later in pairwise(reserve))
    window = sizing.window
    if window is None:
        assert not any(r >= 25 and c >= 0 for r, c in zip(reserve, clearance, strict=True))
        return
    for links in (window.min, window.max):
        i = counts.index(links)
        assert reserve[i] >= 25 and clearance[i] >= 0
    for links, ends in ((window.min - 2, reserve), (window.max + 2, clearance)):
        i = counts.index(links)
        assert ends[i] < (25 if ends is reserve else 0)
    nearest = min((abs(r - 45), n) for n, r, c in zip(counts, reserve, clearance, strict=True) if r >= 25 and c >= 0)
    assert sizing.recommended_links == nearest[1]


@settings(max_examples=40)
@given(measured_bikes)
def test_the_cage_settles_where_the_loop_has_the_count(measured: Bike) -> None:
    sizing = size_bike(measured)
    counts = sizing.in_reach.counts
    rest_rad = sizing.cage.settled(counts).cage_rad
    lengths = np.asarray(sizing.cage.sweep.loop.turned(rest_rad).path.links)
    expected = np.broadcast_to(np.array(counts, dtype=float), lengths.shape)
    settled = np.isfinite(rest_rad)
    assert settled.any()
    assert lengths[settled] == pytest.approx(expected[settled], abs=5e-4)


@settings(max_examples=20)
@given(measured_bikes)
def test_confidence_edges_change_the_count(measured: Bike) -> None:
    """Just within the interval the same count is recommended, just beyond it another one."""
    result = answer(measured)
    hold = result.valid_ranges["chainstay_mm"]
    for edge_mm, sign in ((hold.least, -1), (hold.most, 1)):
        if edge_mm is None:
            continue
        inside, outside = edge_mm - sign * 0.2, edge_mm + sign * 0.2
        assert size_bike(measured.model_copy(update={"chainstay_mm": inside})).recommended_links == result.links
        assert size_bike(measured.model_copy(update={"chainstay_mm": outside})).recommended_links != result.links


def test_votes_never_change_the_window_and_say_inside_truly() -> None:
    with_old = answer(wide_bike(old_chain={"links": 118, "was_right": True}))
    assert with_old.window == answer(wide_bike()).window
    vote = next(vote for vote in with_old.votes if vote.school == "old_chain")
    assert (vote.links, vote.inside) == (118, False)


def test_formula_and_plumb_cage() -> None:
    """By hand: 2 x 432 / 25.4 + 30 / 4 + 46 / 4 + 1 = 54.02 inches, so 55 pairs; and L(0) in 30/11."""
    votes = {vote.school: vote.links for vote in answer(wide_bike()).votes}
    plumb = float(np.squeeze(size_bike(wide_bike()).cage.path(30, 11, 0.0).links))
    assert votes["formula"] == 110
    assert abs(votes["cage_vertical"] - plumb) <= 1


def test_capacity_needed_and_rated() -> None:
    rated = wide_bike(take_up={"type": "derailleur", "cage_mm": 92, "b_gap_mm": 6, "capacity": 33, "max_cog": 42})
    result = answer(rated)
    assert (result.capacity.needed, result.capacity.rated) == (35, 33)
    assert {"capacity", "largest_cog"} <= {warning.kind for warning in result.warnings}


@pytest.mark.parametrize(
    ("limits", "window"),
    [
        ({"least_reserve_deg": 35}, (110, 114)),
        ({"least_reserve_deg": 36}, (112, 114)),
        ({"least_clearance_mm": 38.5}, (110, 110)),
    ],
)
def test_a_shops_own_limits_move_the_windows_edges(limits: dict[str, float], window: tuple[int, int]) -> None:
    """The handbook's figures: at 110 a reserve of 35.3 and 54.1 mm of air, at 112 38.0 mm."""
    result = size_bike(wide_bike(limits=limits)).window
    assert result and (result.min, result.max) == window
