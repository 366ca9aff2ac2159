"""What turns: a cage's loop along its sweep, and a ring that stands where its pose says."""

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.count.answer import answer
from lone_pike.core.count.sizing import size_bike, size_in
from lone_pike.core.motion.poses import all_gears, gears_of, poses_of
from lone_pike.core.take_up.caged_loop import cage_measures, guide_centre_mm
from lone_pike.formats.files.bike_file import bike_from_document
from tests.bikes import told, wide_bike, wide_document
from tests.core.random_bikes import FIXED, random_bike, random_fixed

LONG: dict[str, Any] = {
    "idlers": [
        {"run": "drive", "at_mm": [-700, -40], "teeth": 15, "chain": "under"},
        {"run": "return", "at_mm": [-720, -105], "teeth": 15, "chain": "over"},
    ],
    "rings": [46],
    "cogs": [11, 13, 15, 18, 21, 24, 28, 32, 36],
    "axle_mm": [-1390, -150],
}


@pytest.mark.parametrize(
    ("boom_mm", "bare", "window", "links"),
    [(-25, 258.825, (264, 272), 266), (0, 262.706, (268, 276), 270), (25, 266.591, (272, 280), 274)],
)
def test_a_pose_may_move_the_ring(boom_mm: float, bare: float, window: tuple[int, int], links: int) -> None:
    """The long bike of the model, section 3, at its three settings of the boom."""
    document = wide_document(**LONG)
    del document["chainstay_mm"]
    bike, at_rest = bike_from_document(document), np.zeros(1)
    poses = replace(poses_of(bike, at_rest), ring_x_mm=boom_mm)
    sizing = size_in(bike, at_rest, poses, gears_of(all_gears(bike)))
    assert sizing.bare_wrap_links == pytest.approx(bare, abs=5e-4)
    assert sizing.window and (sizing.window.min, sizing.window.max) == window
    assert sizing.recommended_links == links


@settings(max_examples=20)
@given(st.floats(0.0, 1.4), st.sampled_from([0, 4, 8]))
def test_the_loops_growth_is_its_derivative_in_every_gear(cage_rad: float, gear: int) -> None:
    """Against a central difference of the traced loop, with an idler before the tension pulley and without."""
    document = wide_document(**LONG)
    del document["chainstay_mm"]
    for bike in (wide_bike(), bike_from_document(document)):
        loop = answer(bike).sizing.cage.sweep.loop
        angles, step = np.full((1, len(bike.cogs), 1), cage_rad), 1e-5
        difference = (
            (np.asarray(loop.turned(angles + step).path.links) - np.asarray(loop.turned(angles - step).path.links))
            / step
            / 2
        )
        turned = loop.turned(angles)
        assert turned.links[0, gear, 0] == pytest.approx(np.asarray(turned.path.links)[0, gear, 0], abs=1e-9)
        grown = turned.links_per_rad
        assert grown[0, gear, 0] == pytest.approx(difference[0, gear, 0], abs=2e-4)


def test_margins_put_the_short_end_first() -> None:
    """The handbook's figures: at 110 a reserve of 35.3 and 54.1 mm of air, at 112 38.0 mm; wanted are 45 degrees."""
    cage = answer(wide_bike()).sizing.take_up
    margins = cage.margins([110, 112])
    assert margins.at_short[0, 0] == pytest.approx(35.3 - 25, abs=0.05)
    assert margins.at_long[0] == pytest.approx([54.1, 38.0], abs=0.05)
    assert (margins.wanted, margins.recommended) == (20, 112)


@pytest.mark.parametrize("axle_mm", [[-884.9, -61], [-950, -61], [-1000, -61]])
def test_an_idler_that_the_cage_swings_through_is_named(axle_mm: list[float]) -> None:
    document = random_bike(16854, "long") | {"axle_mm": axle_mm, "chain": {"offset_link": True}}
    with pytest.raises(InvalidInput) as caught:
        answer(bike_from_document(document))
    assert "idlers.2.at_mm" in told(caught.value) and "overlap" in told(caught.value)


@pytest.mark.parametrize("wear_percent", [0, 3, 5])
@pytest.mark.parametrize("kind", ["rigid", "pivot", "arm", "none", "eccentric"])
def test_every_safe_count_of_a_worn_chain_is_in_reach_and_so_are_two_that_are_not(kind: str, wear_percent: int) -> None:
    """Of all counts that a bike may have; five percent of wear are five links and more."""
    for seed in range(12):
        document = random_fixed(seed, kind) if kind in FIXED else random_bike(seed, kind)
        chain = {"wear_percent": wear_percent, "offset_link": document.get("chain", {}).get("offset_link", False)}
        sizing = size_bike(bike_from_document({**document, "chain": chain}))
        counts = range(60, 180, sizing.step_links)
        assert sizing.in_reach.safe_counts == sizing.take_up.margins(counts).safe_counts, document
        kept = [sizing.in_reach.kept(count) for count in sizing.in_reach.counts]
        assert kept[0][0] < 0 and kept[-1][1] < 0, document
        assert answer(sizing.bike).warnings is not None


def test_pulleys_that_cannot_be_plumb_for_an_idler_have_no_say() -> None:
    """The rear idler stands where the tension pulley would hang."""
    document = random_bike(943005, "long") | {"axle_mm": [-840, 19]}
    votes = {vote.school for vote in answer(bike_from_document(document)).votes}
    assert "cage_vertical" not in votes and "formula" in votes


def test_an_arms_pulley_turns_with_the_swing_arm() -> None:
    """A quarter turn counter-clockwise takes what is ahead to above, and what is above to behind."""
    bike = wide_bike()
    poses = poses_of(bike, np.zeros(1))
    cage = replace(cage_measures(bike, poses), pivot_mm=(10.0, -60.0))
    turned = replace(poses, swing_rad=np.full((1, 1, 1), np.pi / 2))
    x_mm, y_mm = guide_centre_mm(turned, cage, 17, 46)
    assert (np.ravel(x_mm - poses.axle_x_mm), np.ravel(y_mm - poses.axle_y_mm)) == (
        pytest.approx([60.0]),
        pytest.approx([10.0]),
    )


@settings(max_examples=6)
@given(st.floats(52, 75), st.floats(-12, 12), st.sampled_from([None, -70.0, -45.0]))
def test_an_arm_rests_where_its_loop_is_longest_and_its_cages_edges_are_edges(
    cage_mm: float, forward_mm: float, rest_deg: float | None
) -> None:
    """The slackest angle by trying every hundredth of a degree; the edges by sizing the bike again beside them."""
    take_up = {"type": "arm", "cage_mm": round(cage_mm, 1), "pivot_mm": [round(forward_mm, 1), -74.0]}
    take_up |= {} if rest_deg is None else {"rest_deg": rest_deg}
    document = {"lone_pike": 1, "name": "Knot", "rings": [40], "cogs": [16], "chainstay_mm": 446.0, "take_up": take_up}
    found = answer(bike_from_document(document))
    cage = found.sizing.cage
    slackest = cage.sweep.slackest_rad.item()
    if rest_deg is None:
        near = np.radians(np.arange(np.degrees(slackest) - 2, np.degrees(slackest) + 2, 0.01)).reshape(1, 1, -1)
        assert np.asarray(cage.sweep.loop.turned(near).links).max() <= cage.sweep.slackest_links.item() + 1e-6
    ranged = found.valid_ranges["cage_mm"]
    for edge_mm, way in ((ranged.least, -1), (ranged.most, 1)):
        if edge_mm is None or edge_mm < 50.6:  # nearer than that, the pulleys of such a cage overlap
            continue
        for beside_mm, same in ((-0.3 * way, True), (0.3 * way, False)):
            moved = document | {"take_up": take_up | {"cage_mm": edge_mm + beside_mm}}
            assert (answer(bike_from_document(moved)).recommended_links == found.recommended_links) is same
