"""What can be seen of a gear with the chain on, in many poses at once (model, section 8)."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from lone_pike.core.bike.limits import PITCH_MM
from lone_pike.core.bike.teeth import Array
from lone_pike.core.take_up.sweep import Sweep, settle

SHORT_DEG_A_LINK = 20.0
"""How clearly a chain that is one link too short differs from one that just goes round, as degrees of the cage."""


@dataclass(frozen=True)
class Sights:
    """One gear with the chain at a count in each of P poses, (P,); nan if the take-up cannot show it. hand_deg is the
    cage, or the crank on its eccentric, from straight down, forward positive. forward_deg is how far the cage can still
    move forward; negative if the chain is too short. air_mm is the return run's clearance at the guide pulley;
    hangs_mm, how much chain is left that no cage takes up, negative if it takes up all. slack_mm is the movement of the
    run at its middle, negative if the chain is too short to go on; axle_mm, the distance of the axle from the crank."""

    hand_deg: Array
    forward_deg: Array
    air_mm: Array
    hangs_mm: Array
    slack_mm: Array
    axle_mm: Array


def sights(poses: int, **shown: Array) -> Sights:
    """The sights of a take-up, with nan for all others."""
    nothing = np.full(poses, np.nan)
    return Sights(**{name: np.broadcast_to(shown.get(name, nothing), (poses,)) for name in SIGHTS})


SIGHTS = ("hand_deg", "forward_deg", "air_mm", "hangs_mm", "slack_mm", "axle_mm")


def cage_sights(sweep: Sweep, stretch: float, seen: Sequence[tuple[int, float]]) -> tuple[Sights, ...]:
    """What can be seen of a cage: it is at its stop if the chain hangs, and straight if the chain is too short.

    Parameters: stretch, how much longer than new the chain is; seen, each gear's place in the sweep with a count.
    """
    counts = sorted({count for _, count in seen})
    new_links = np.array(counts) * stretch
    settled = settle(sweep, new_links)
    straight, slackest = sweep.stretched_rad, sweep.slackest_rad
    hand = np.where(settled.short, straight, np.where(settled.loose, slackest, settled.cage_rad))
    lacking = np.minimum(new_links - sweep.stretched_links, 0.0)
    hanging_mm = sweep.loop.turned(slackest).clearance_mm
    shown = {
        "hand_deg": np.degrees(hand),
        "forward_deg": np.degrees(straight - hand) + lacking * SHORT_DEG_A_LINK,
        "air_mm": np.where(settled.loose, hanging_mm, np.where(settled.short, np.inf, settled.clearance_mm)),
        "hangs_mm": (new_links - sweep.slackest_links) * PITCH_MM,
    }
    return tuple(
        sights(len(hand), **{name: values[:, gear, counts.index(count)] for name, values in shown.items()})
        for gear, count in seen
    )


def least_between(at_mm: Array, values: Array) -> float:
    """The least value of a smooth quantity along the travel, from its values at some travels in rising order.

    Equation: the vertex of the parabola through the least value and its two neighbours. Parameters: two arrays (P,).
    Returns: a value that is never more than the least given one. Range: neighbours so close that the curve bends only
    one way between them.

    >>> import numpy as np
    >>> at = np.array([0.0, 20.0, 40.0, 60.0])
    >>> round(least_between(at, (at - 33.0) ** 2 / 100 + 3.76), 6)
    3.76
    """
    k = int(values.argmin())
    least = float(values[k])
    if not 0 < k < len(values) - 1:
        return least
    (before, here, after), (above, here_value, below) = at_mm[k - 1 : k + 2], values[k - 1 : k + 2]
    rise, fall = (above - here_value) / (before - here), (below - here_value) / (after - here)
    bend = (fall - rise) / (after - before)
    if not bend > 0:
        return least
    slope = rise - bend * (before - here)
    return float(min(least, here_value - slope**2 / (4 * bend)))
