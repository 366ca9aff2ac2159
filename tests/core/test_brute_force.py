"""The loop against brute force: rollers seated on every tooth, and a taut hull round them."""

import numpy as np
import pytest

from lone_pike.core.bike.teeth import pitch_radius_mm
from lone_pike.core.chain.path import CLOCKWISE, Stop, trace
from lone_pike.core.chain.stops import COG, RING

PHASES = 24


def rollers(x_mm: float, teeth: int, phase: float) -> np.ndarray:
    """Centres of rollers in every gullet of a wheel."""
    angles = (np.arange(teeth) + phase) * 2 * np.pi / teeth
    return float(pitch_radius_mm(teeth)) * np.stack([np.cos(angles), np.sin(angles)], axis=1) + (x_mm, 0.0)


def hull_length(points: np.ndarray) -> float:
    """Length of the taut band round points (gift wrapping by turning, Andrew's chain)."""

    def half(ordered: list[np.ndarray]) -> list[np.ndarray]:
        chain: list[np.ndarray] = []
        for point in ordered:
            while len(chain) > 1:
                (ax, ay), (bx, by) = chain[-1] - chain[-2], point - chain[-2]
                if ax * by - ay * bx > 0:
                    break
                chain.pop()
            chain.append(point)
        return chain[:-1]

    ordered = sorted(points, key=lambda point: (point[0], point[1]))
    band = np.array(half(ordered) + half(ordered[::-1]))
    return float(np.hypot(*(band - np.roll(band, 1, axis=0)).T).sum())


@pytest.mark.parametrize(("ring", "cog", "centres_mm"), [(32, 50, 438), (46, 11, 412), (44, 17, 415), (30, 9, 250)])
def test_the_mean_over_tooth_phases_is_the_traced_loop(ring: int, cog: int, centres_mm: float) -> None:
    """Model, section 1: the mean agrees within 0.0002 links, the ripple stays under 0.01."""
    traced = float(trace([Stop(RING, 0.0, 0.0, ring, CLOCKWISE), Stop(COG, -centres_mm, 0.0, cog, CLOCKWISE)]).links)
    result = np.array(
        [
            hull_length(np.concatenate([rollers(0.0, ring, i / PHASES), rollers(-centres_mm, cog, j / PHASES)])) / 12.7
            for i in range(PHASES)
            for j in range(PHASES)
        ]
    )
    assert result.mean() == pytest.approx(traced, abs=2e-4)
    assert np.abs(result - traced).max() < 0.01
