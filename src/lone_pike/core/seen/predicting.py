"""How far observations are from what many bikes with different measures would show (model, section 8)."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from lone_pike.core.bike.clock import within_half_turn_deg
from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.limits import limit
from lone_pike.core.bike.measures import Errors
from lone_pike.core.bike.seen import Seen, SeenState
from lone_pike.core.bike.teeth import Array
from lone_pike.core.doubt.normal import normal_share
from lone_pike.core.motion.poses import all_gears, gears_of, poses_as_given
from lone_pike.core.take_up.kinds import take_up_of
from lone_pike.core.take_up.sights import Sights

SPREADS = {"clock": "clock_read", "clearance_mm": "clearance_read", "slack_mm": "slack_read", "axle_mm": "axle_read"}
FIGURES = {"clock": "hand_deg", "clearance_mm": "air_mm", "slack_mm": "slack_mm", "axle_mm": "axle_mm"}
"""For each figure that can be seen, the limit with its reading accuracy, and the sight that predicts it."""

LEAST_CHANCE, MOST_OFF = 1e-12, 1e6
DEVIATIONS_OF_A_SPREAD = 2


@dataclass(frozen=True)
class Sighting:
    """One observation, compared with what each of V bikes shows. sigmas (V,) are the standard deviations by which they
    are off; logs (V,), the logarithms of how well they match, 0 at best."""

    seen: Seen
    sigmas: Array
    logs: Array


def sighted(bike: Bike, seen: Sequence[Seen], errors: Errors | None = None) -> tuple[Sighting, ...]:
    """Each observation, compared with the bike with each of V sets of errors in its measures.

    Parameters: errors, (V,) for each measure in doubt; none is the bike as measured. Returns: the comparisons in the
    order of seen; what the take-up cannot show matches every bike equally.
    """
    shown = sights_of(bike, tuple((one.ring, one.cog, one.links, one.travel_mm) for one in seen), errors)
    return tuple(_sighting(one, sights) for one, sights in zip(seen, shown, strict=True))


Place = tuple[int, int, float, float]
"""Where something is seen: ring, cog, links and travel, mm."""


def sights_of(bike: Bike, places: Sequence[Place], errors: Errors | None = None) -> tuple[Sights, ...]:
    """What the bike with each set of errors shows at each of some places."""
    by_travel: dict[float, list[int]] = {}
    for i, (*_, travel_mm) in enumerate(places):
        by_travel.setdefault(travel_mm, []).append(i)
    found: dict[int, Sights] = {}
    for travel_mm, indices in by_travel.items():
        # The largest cog is included, because the guide pulley follows it.
        ends = all_gears(bike)
        pairs = list(dict.fromkeys([ends[0], *(places[i][:2] for i in indices)]))
        poses = poses_as_given(bike, np.array([travel_mm]), errors)
        take_up = take_up_of(bike, poses, gears_of(pairs), errors)
        shown = take_up.sights([(pairs.index(places[i][:2]), places[i][2]) for i in indices])
        found |= dict(zip(indices, shown, strict=True))
    return tuple(found[i] for i in range(len(places)))


def deviation_of(seen: Seen) -> float:
    """The reading accuracy of a figure, one standard deviation in its unit; a spread of its own counts as two of
    them."""
    own = seen.spread / DEVIATIONS_OF_A_SPREAD if seen.spread else None
    return own or limit(SPREADS[seen.what])


def _sighting(seen: Seen, sights: Sights) -> Sighting:
    if seen.state is not None:
        return _state_sighting(seen, seen.state, sights)
    predicted = getattr(sights, FIGURES[seen.what])
    figure = seen.hand_deg if seen.clock else getattr(seen, seen.what)
    off = predicted - figure
    if seen.clock:
        off = within_half_turn_deg(off)
    sigmas = np.minimum(np.nan_to_num(np.abs(off) / deviation_of(seen), nan=0.0), MOST_OFF)
    return Sighting(seen, sigmas, -0.5 * np.square(sigmas))


def _state_sighting(seen: Seen, state: SeenState, sights: Sights) -> Sighting:
    """Compares a state: by how many blurs each bike is on the wrong side of the state's edge."""
    beyond = Edges(sights, (seen.spread or 0.0) / DEVIATIONS_OF_A_SPREAD).beyond
    if state is SeenState.FREE:
        chance = np.prod([normal_share(-edge) for edge in beyond.values()], axis=0)
        sigmas = np.maximum(np.max(list(beyond.values()), axis=0), 0.0)
    else:
        chance, sigmas = normal_share(beyond[state]), np.maximum(-beyond[state], 0.0)
    return Sighting(seen, sigmas, np.log(np.maximum(chance, LEAST_CHANCE)))


@dataclass(frozen=True)
class Edges:
    """How far each bike is beyond each state's edge, in blurs; positive means in that state."""

    sights: Sights
    blur: float

    @cached_property
    def beyond(self) -> Mapping[SeenState, Array]:
        """The edges of the states: straight with no movement left, touching with no clearance, hanging with chain left
        over."""
        in_deg, in_mm = self.blur or limit("edge_deg"), self.blur or limit("edge_mm")
        return {
            SeenState.STRAIGHT: -self.sights.forward_deg / in_deg,
            SeenState.TOUCHING: np.maximum(-self.sights.air_mm, self.sights.hangs_mm) / in_mm,
            SeenState.HANGS: self.sights.hangs_mm / in_mm,
        }
