"""Ring, cog and count that land within the allowed slack, where nothing moves or a crank is set on its eccentric."""

from dataclasses import dataclass

import numpy as np

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.limits import PITCH_MM
from lone_pike.core.bike.take_up import as_a
from lone_pike.core.bike.take_ups import Search, Standing
from lone_pike.core.bike.teeth import Array, tips_radius_mm
from lone_pike.core.chain.counting import step_links
from lone_pike.core.take_up.slack import movement_mm
from lone_pike.core.take_up.standing import axle_from_shell_mm
from lone_pike.core.take_up.wheels_apart import links_round, span_mm

CENTRES = 41
WEARS_PERCENT = (0.25, 0.5, 0.75)


@dataclass(frozen=True)
class Combination:
    """A ring, a cog and a count that land within the slack asked for.

    slack_mm is the movement of the run at its middle; worn_slack_mm the same after WEARS_PERCENT; centre_mm the centre
    distance it stands at.
    """

    ring: int
    cog: int
    links: int
    offset_link: bool
    slack_mm: float
    ratio: float
    worn_slack_mm: tuple[float, ...]
    centre_mm: float


def combinations_of(bike: Bike) -> tuple[Combination, ...]:
    """All combinations of the ranges asked for whose slack lies in the range, nearest the wanted ratio first, then the
    one with its slack nearest to the range's middle; none where no search is asked for.

    Equation: spare chain e = (N - L) p, slack 2 sqrt(e s / 2), N the first joinable count not below L (model, section
    5); an eccentric is tried at 41 even places of its centre distance. Source: compared in the tests with a plain loop.
    """
    search = bike.search
    if search is None:
        return ()
    rings = np.arange(search.rings[0], search.rings[1] + 1, dtype=float)[:, None, None]
    cogs = np.arange(search.cogs[0], search.cogs[1] + 1, dtype=float)[None, :, None]
    centres = centres_tried_mm(bike)[None, None, :]
    apart = centres > tips_radius_mm(rings) + tips_radius_mm(cogs)
    with np.errstate(invalid="ignore"):
        lengths = links_round(rings, cogs, centres)
        spans = span_mm(rings, cogs, centres)
        step = step_links(search.offset_link)
        counts = np.ceil(lengths / step - 1e-9) * step
        slack = np.asarray(movement_mm((counts - lengths) * PITCH_MM, spans))
        least, most = search.slack_mm
        off = np.where(apart & (slack >= least) & (slack <= most), np.abs(slack - (least + most) / 2), np.inf)
    return _nearest_first(search, centres.ravel(), counts, slack, off, lengths, spans)


def centres_tried_mm(bike: Bike) -> Array:
    """The centre distances that are tried, mm: the one there is, or even places over an eccentric's reach."""
    near_mm, far_mm = as_a(Standing, bike.take_up).centres_mm(axle_from_shell_mm(bike))
    return np.unique(np.linspace(near_mm, far_mm, CENTRES))


def _nearest_first(
    search: Search, centres: Array, counts: Array, slack: Array, off: Array, lengths: Array, spans: Array
) -> tuple[Combination, ...]:
    """Of each ring and cog the best place; a count stands once."""
    best, found = off.argmin(axis=2), []
    for i, j in np.argwhere(np.isfinite(off.min(axis=2))):
        k = int(best[i, j])
        ring, cog, links = search.rings[0] + int(i), search.cogs[0] + int(j), int(counts[i, j, k])
        spare = (links * (1 + np.array(WEARS_PERCENT) / 100) - lengths[i, j, k]) * PITCH_MM
        worn = tuple(np.asarray(movement_mm(spare, spans[i, j, min(k, spans.shape[2] - 1)])).tolist())
        now, centre = float(slack[i, j, k]), float(centres[k])
        found.append(
            (float(off[i, j, k]), Combination(ring, cog, links, links % 2 == 1, now, ring / cog, worn, centre))
        )
    found.sort(key=lambda each: (round(abs(each[1].ratio - search.ratio), 6), each[0], each[1].ring))
    return tuple(combination for _, combination in found)
