"""Stand-ins: lines as a counter wheel and a scale would send them, with bounces and drift."""

from collections.abc import Iterator
from random import Random

LINK_MS = 180


def counter_lines(links: int, seed: int = 1) -> Iterator[str]:
    """A wheel that is zeroed and turned by some links; about every tenth contact bounces."""
    lot, clock = Random(seed), 1000
    yield "Z"
    for _ in range(links):
        clock += LINK_MS + lot.randint(-60, 60)
        yield f"T {clock}"
        if lot.random() < 0.1:
            yield f"T {clock + lot.randint(3, 20)}"


def scale_lines(grams: float, readings: int = 8, drift_g: float = 0.0, seed: int = 1) -> Iterator[str]:
    """A scale that settles on a weight, or keeps drifting by a given amount for each reading."""
    lot = Random(seed)
    for i in range(readings):
        steady = "S" if i > 1 and not drift_g else "U"
        settling = 4.0 / (i + 1) ** 3 if i < 2 else 0.0
        yield f"G {grams - settling + drift_g * i + lot.choice((-0.05, 0.0, 0.05)):.2f} {steady}"
