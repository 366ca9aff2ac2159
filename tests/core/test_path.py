"""The taut loop against the model's check values, and what must hold for any loop."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from lone_pike.core.bike.base import Run
from lone_pike.core.bike.teeth import pitch_radius_mm
from lone_pike.core.chain.path import CLOCKWISE, COUNTER_CLOCKWISE, ChainPath, Stop, last_touched, trace
from lone_pike.core.chain.stops import COG, RING, idler_id


def bare(ring: int, cog: int, centres_mm: float) -> ChainPath:
    return trace([Stop(RING, 0.0, 0.0, ring, CLOCKWISE), Stop(COG, -centres_mm, 0.0, cog, CLOCKWISE)])


@pytest.mark.parametrize(
    ("ring", "cog", "centres_mm", "links"),
    [(32, 50, 438, 110.2145), (46, 11, 412, 94.3407), (44, 17, 415, 96.4202), (38, 38, 500, 116.7402)],
)
def test_bare_wraps_of_the_model_section_1(ring: int, cog: int, centres_mm: float, links: float) -> None:
    assert float(bare(ring, cog, centres_mm).links) == pytest.approx(links, abs=5e-5)


def test_equal_wheels_wrap_half_their_teeth_each_and_two_straight_runs() -> None:
    assert float(bare(38, 38, 508).links) == pytest.approx(38 + 2 * 508 / 12.7)


@given(st.integers(11, 60), st.integers(9, 52), st.floats(300, 2000), st.floats(-math.pi, math.pi))
def test_a_loop_is_as_long_turned_and_run_backwards(ring: int, cog: int, centres_mm: float, turn_rad: float) -> None:
    x_mm, y_mm = centres_mm * math.cos(turn_rad), centres_mm * math.sin(turn_rad)
    turned = trace([Stop(RING, 0.0, 0.0, ring, CLOCKWISE), Stop(COG, x_mm, y_mm, cog, CLOCKWISE)])
    backwards = trace([Stop(COG, x_mm, y_mm, cog, COUNTER_CLOCKWISE), Stop(RING, 0.0, 0.0, ring, COUNTER_CLOCKWISE)])
    assert float(turned.links) == pytest.approx(float(bare(ring, cog, centres_mm).links))
    assert float(backwards.links) == pytest.approx(float(turned.links))


@given(st.integers(11, 60), st.integers(9, 52), st.floats(300, 600))
def test_runs_touch_both_wheels(ring: int, cog: int, centres_mm: float) -> None:
    path = bare(ring, cog, centres_mm)
    for i, stop in enumerate(path.stops):
        left = (-math.sin(path.headings_rad[i]), math.cos(path.headings_rad[i]))
        start = [c + stop.signed_radius_mm * n for c, n in zip((stop.x_mm, stop.y_mm), left, strict=True)]
        heading = (math.cos(path.headings_rad[i]), math.sin(path.headings_rad[i]))
        end = [s + path.spans_mm[i] * h for s, h in zip(start, heading, strict=True)]
        there = path.stops[(i + 1) % 2]
        assert math.hypot(end[0] - there.x_mm, end[1] - there.y_mm) == pytest.approx(pitch_radius_mm(there.teeth))


def test_overlapping_wheels_have_no_path() -> None:
    assert math.isnan(float(bare(60, 11, 50).links))


def test_the_stop_before_is_the_last_one_touched_wherever_others_are_passed() -> None:
    """Two idlers on a run, each low enough to press on it or too high to: all four ways at once, told by hand."""
    low_first, low_second = np.array([1, 1, 0, 0]), np.array([1, 0, 1, 0])
    ring, end = Stop(RING, 0.0, 0.0, 30, CLOCKWISE), Stop(COG, -400.0, 0.0, 30, CLOCKWISE)
    first = Stop(idler_id(Run.RETURN, 1), -130.0, np.where(low_first, -80.0, 0.0), 12, CLOCKWISE, idler=True)
    second = Stop(idler_id(Run.RETURN, 2), -270.0, np.where(low_second, -80.0, 0.0), 12, CLOCKWISE, idler=True)
    path = trace([ring, first, second, end])
    before, span_mm = last_touched(path.stops[:3], path.spans_mm[:3], path.touched[:3])
    assert np.broadcast_to(before.x_mm, 4).tolist() == [-270.0, -130.0, -270.0, 0.0]
    low = [
        Stop(idler_id(Run.RETURN, 1), -130.0, -80.0, 12, CLOCKWISE),
        Stop(idler_id(Run.RETURN, 2), -270.0, -80.0, 12, CLOCKWISE),
    ]
    ways = np.stack([low_first, low_second], axis=1)
    pressing = [[one for one, is_low in zip(low, way, strict=True) if is_low] for way in ways]
    alone = [trace([ring, *idlers, end]) for idlers in pressing]
    assert span_mm == pytest.approx([one.spans_mm[-2] for one in alone])
    assert path.links == pytest.approx([one.links for one in alone])
