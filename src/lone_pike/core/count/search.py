"""Rings, cogs and counts within the allowed slack, for bikes where nothing moves or a crank is set on its eccentric."""

from dataclasses import dataclass

import numpy as np

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.limits import PITCH_MM
from lone_pike.core.bike.take_up import as_a
from lone_pike.core.bike.take_ups import Search, Standing
from lone_pike.core.bike.teeth import Array, tips_radius_mm
from lone_pike.core.chain.counting import step_links
from lone_pike.core.take_up.crank import axle_from_shell_mm
from lone_pike.core.take_up.wheels_apart import links_round, movement_mm, span_mm

CENTRES = 41
WEARS_PERCENT = (0.25, 0.5, 0.75)


@dataclass(frozen=True)
class Combination:
    """A ring, a cog and a count within the allowed slack. slack_mm is the movement of the run at its middle;
    worn_slack_mm, the same after WEARS_PERCENT; centre_mm, the centre distance."""

    ring: int
    cog: int
    links: int
    offset_link: bool
    slack_mm: float
    ratio: float
    worn_slack_mm: tuple[float, ...]
    centre_mm: float


def combinations_of(bike: Bike) -> tuple[Combination, ...]:
    """All combinations with a slack in the allowed range, nearest to the wanted ratio first, then with the slack
    nearest to the middle of the range; empty if no search was asked for.

    Equation: spare chain e = (N (1 + w) - L) p, slack 2 sqrt(e s / 2), every joinable N that lands, of a chain as worn
    as it is (model, section 5); an eccentric is tried at 41 even places of its centre distance. Source: compared in the
    tests with a plain loop.
    """
    search = bike.search
    if search is None:
        return ()
    rings = np.arange(search.rings[0], search.rings[1] + 1, dtype=float)[:, None, None, None]
    cogs = np.arange(search.cogs[0], search.cogs[1] + 1, dtype=float)[None, :, None, None]
    centres = centres_tried_mm(bike)[None, None, :, None]
    apart = centres > tips_radius_mm(rings) + tips_radius_mm(cogs)
    step, stretch, (least, most) = step_links(search.offset_link), bike.chain.stretch, search.slack_mm
    with np.errstate(invalid="ignore"):
        lengths, spans = links_round(rings, cogs, centres), span_mm(rings, cogs, centres)
        more = np.arange(_most_counts(float(np.nanmin(spans)), most, step)) * step
        counts: Array = np.ceil(lengths / stretch / step - 1e-9) * step + more
        slack = np.asarray(movement_mm((counts * stretch - lengths) * PITCH_MM, spans))
        off = np.where(apart & (slack >= least) & (slack <= most), np.abs(slack - (least + most) / 2), np.inf)
    landed = _Landed(search, centres.ravel(), counts, slack, off, lengths, spans)
    return landed.nearest_first()


def _most_counts(least_span_mm: float, most_slack_mm: float, step: int) -> int:
    """How many joinable counts can fit one centre distance: from the spare chain at the most slack, e = m m / 2 s."""
    most_spare_mm = most_slack_mm**2 / (2 * max(least_span_mm, PITCH_MM))
    return int(most_spare_mm / (step * PITCH_MM)) + 2


def centres_tried_mm(bike: Bike) -> Array:
    """The centre distances to try, mm: the only one, or even places over an eccentric's reach."""
    near_mm, far_mm = as_a(Standing, bike.take_up).centres_mm(axle_from_shell_mm(bike))
    return np.unique(np.linspace(near_mm, far_mm, CENTRES))


@dataclass(frozen=True)
class _Landed:
    """Everything that was tried, (rings, cogs, centres, counts): off is the distance of a slack from the middle of the
    range, inf if it is outside the range."""

    search: Search
    centres: Array
    counts: Array
    slack: Array
    off: Array
    lengths: Array
    spans: Array

    def nearest_first(self) -> tuple[Combination, ...]:
        """The best place for each ring, cog and count."""
        best: dict[tuple[int, int, int], tuple[int, ...]] = {}
        for place in map(tuple, np.argwhere(np.isfinite(self.off))):
            key = (int(place[0]), int(place[1]), int(self.counts[place]))
            if key not in best or self.off[place] < self.off[best[key]]:
                best[key] = place
        found = [(float(self.off[place]), self._combination(place)) for place in best.values()]
        found.sort(key=lambda each: (round(abs(each[1].ratio - self.search.ratio), 6), each[0], each[1].ring))
        return tuple(combination for _, combination in found)

    def _combination(self, place: tuple[int, ...]) -> Combination:
        i, j, k, _ = place
        ring, cog, links = self.search.rings[0] + int(i), self.search.cogs[0] + int(j), int(self.counts[place])
        spare = (links * (1 + np.array(WEARS_PERCENT) / 100) - self.lengths[i, j, k, 0]) * PITCH_MM
        worn = tuple(np.asarray(movement_mm(spare, self.spans[i, j, k, 0])).tolist())
        now, centre = float(self.slack[place]), float(self.centres[k])
        return Combination(ring, cog, links, links % 2 == 1, now, ring / cog, worn, centre)
