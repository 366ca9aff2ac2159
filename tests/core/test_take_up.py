"""The take-up's two families behind one protocol: a cage that turns, and a slot whose axle stands."""

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.judging.answer import answer
from lone_pike.core.judging.sizing import size_in
from lone_pike.core.motion.poses import all_gears, gears_of, poses_of
from lone_pike.core.take_up.protocol import Ground
from lone_pike.formats.bike_file import bike_from_document
from tests.bikes import said, told, wide_bike, wide_document


def slotted(ring: int = 42, cog: int = 15, slot: tuple[float, float] = (405, 430), **changes: Any) -> Bike:
    take_up = {"type": "slot", "min_mm": slot[0], "max_mm": slot[1]}
    bike = {"lone_pike": 1, "name": "Teal", "rings": [ring], "cogs": [cog], "take_up": take_up}
    return bike_from_document(bike | changes)


def test_the_slot_of_the_model_section_5() -> None:
    """42/15: N 94 at 412.308 mm, 95 at 418.713, 96 at 425.117; the middle of 405 to 430 is nearest to 95."""
    result = answer(slotted(chain={"offset_link": True}))
    centres = {fit.links: fit.centre_mm for fit in result.fits}
    assert [centres[count] for count in (94, 95, 96)] == pytest.approx([412.308, 418.713, 425.117], abs=5e-4)
    assert (result.links, result.window.min, result.window.max) == (95, 93, 96)
    assert [fit.links for fit in answer(slotted()).fits] == [94, 96]
    assert [vote.school for vote in result.votes] == ["formula"]
    assert "from the front end" in said(result.why[0])


@settings(deadline=None, max_examples=30)
@given(st.integers(30, 52), st.integers(11, 22), st.floats(370, 440), st.floats(12, 60))
def test_in_a_slot_the_window_is_the_slot(ring: int, cog: int, front_mm: float, length_mm: float) -> None:
    """Each count's loop, traced at the axle's place, holds that count; a longer chain stands farther back."""
    bike = slotted(ring, cog, (front_mm, front_mm + length_mm), chain={"offset_link": True})
    take_up = answer(bike).sizing.take_up
    counts = list(take_up.counts_in_reach())
    centres = take_up.centres_mm(counts)[0]
    near = np.isfinite(centres)
    assert (np.diff(centres[near]) > 0).all()
    lengths = np.asarray(take_up.loop(centres[near][None, None, :]).links).ravel()
    assert lengths == pytest.approx(np.array(counts)[near], abs=1e-6)
    for fit in answer(bike).fits:
        assert front_mm <= fit.centre_mm <= front_mm + length_mm
        assert fit.centre_mm + fit.room_mm == pytest.approx(front_mm + length_mm)
        worn = fit.links * (1 + fit.wear_room_percent / 100)
        end = float(np.squeeze(take_up.loop(np.full((1, 1, 1), front_mm + length_mm)).links))
        assert worn == pytest.approx(end), "worn by its room, the chain reaches the slot's end"
    for count in counts:
        fits = count in {fit.links for fit in answer(bike).fits}
        assert (answer(bike).ground(count) is Ground.SAFE) == fits


@pytest.mark.parametrize(
    ("changes", "line"),
    [
        ({"rings": [42, 44]}, "rings: read 42, 44; allowed: 1 ring of 16 to 70 teeth."),
        ({"cogs": [11, 13, 15, 17, 19]}, "cogs: read 11, 13, 15, 17, 19; allowed: 1 cog of 9 to 60 teeth."),
        (
            {"take_up": {"type": "slot", "min_mm": 430, "max_mm": 405}},
            "take_up.max_mm: read 405 mm; allowed: more than",
        ),
        (
            {"take_up": {"type": "slot", "min_mm": 160, "max_mm": 170}, "rings": [70], "cogs": [60]},
            "chainstay_mm: read",
        ),
        ({"suspension": {"type": "growth", "growth_mm": 5, "travel_mm": 60}, "chainstay_mm": 420}, "suspension: read"),
        ({"chain": {"speeds": 8, "joiner": "clip_link"}}, "chain.joiner: read"),
    ],
)
def test_what_no_slot_can_be_is_refused_in_words(changes: dict[str, Any], line: str) -> None:
    with pytest.raises(InvalidInput) as caught:
        answer(slotted(**changes))
    assert told(caught.value).startswith(line)


LONG = {
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


@settings(deadline=None, max_examples=20)
@given(st.floats(0.0, 1.4), st.sampled_from([0, 4, 8]))
def test_the_loops_growth_is_its_derivative_in_every_gear(cage_rad: float, gear: int) -> None:
    """Against a central difference of the traced loop, with an idler before the tension pulley and without."""
    document = wide_document(**LONG)
    del document["chainstay_mm"]
    for bike in (wide_bike(), bike_from_document(document)):
        loop = answer(bike).sizing.cage.sweep.loop
        angles, step = np.full((1, len(bike.cogs), 1), cage_rad), 1e-5
        difference = (
            (np.asarray(loop.path(angles + step).links) - np.asarray(loop.path(angles - step).links)) / step / 2
        )
        grown = loop.links_per_rad(loop.path(angles), angles)
        assert grown[0, gear, 0] == pytest.approx(difference[0, gear, 0], abs=2e-4)


def test_margins_put_the_short_end_first() -> None:
    """The handbook's figures: at 110 a reserve of 35.3 and 54.1 mm of air, at 112 38.0 mm; wanted are 45 degrees."""
    cage = answer(wide_bike()).sizing.take_up
    margins = cage.margins([110, 112])
    assert margins.at_short[0, 0] == pytest.approx(35.3 - 25, abs=0.05)
    assert margins.at_long[0] == pytest.approx([54.1, 38.0], abs=0.05)
    assert (margins.wanted, margins.recommended) == (20, 112)
