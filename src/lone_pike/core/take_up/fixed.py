"""Makes fixed centres from a bike's measures: the centre distances that slot, eccentric or vertical dropouts allow."""

import numpy as np

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import invalid
from lone_pike.core.bike.limits import limit
from lone_pike.core.bike.measures import Errors, error_of, least_mm
from lone_pike.core.bike.take_up import Moves, as_a
from lone_pike.core.bike.take_ups import Standing
from lone_pike.core.bike.teeth import Array
from lone_pike.core.messages import Message, Raw, mm
from lone_pike.core.motion.poses import Gears, Poses, all_gears
from lone_pike.core.take_up.crank import axle_from_shell_mm
from lone_pike.core.take_up.standing import FixedCentres
from lone_pike.core.take_up.wheels_apart import span_mm, spare_for_mm


def fixed_centres(bike: Bike, _poses: Poses, gears: Gears, errors: Errors | None = None) -> FixedCentres:
    """The bike's axle in its slot, its crank on its eccentric, or its fixed chainstay.

    Raises: InvalidInput if the frame is sprung or has idlers, or ring and cog overlap.
    """
    part = bike.take_up
    if bike.suspension:
        raise invalid("suspension", Raw(bike.suspension.type), Message("rigid_frame"), Message("standing_is_rigid"))
    if bike.idlers:
        raise invalid("idlers", Raw(len(bike.idlers)), Message("no_idlers"), Message("standing_has_no_idlers"))
    near, far, field = _ends_mm(bike, gears)
    least = least_mm(bike, "chainstay_mm")
    if float(near.min()) <= least:
        raise invalid(field, mm(float(near.min())), Message("more_than", low=mm(least)), Message("would_overlap"))
    moved = 0.0 if part.places_axle else np.asarray(error_of(errors, "chainstay_mm")).reshape(-1, 1, 1)
    moved = np.maximum(moved, least + 1 - near.min())
    return FixedCentres(bike, gears, near + moved, far + moved, all_gears(bike))


def _ends_mm(bike: Bike, gears: Gears) -> tuple[Array, Array, str]:
    """The least and the most centre distance in each gear, (V, G, 1), and the field that decides the least."""
    part, away = as_a(Standing, bike.take_up), axle_from_shell_mm(bike)
    every = np.ones(np.broadcast_shapes(gears.ring_teeth.shape, gears.cog_teeth.shape))
    near, far = part.centres_mm(away)
    field = part.near_field or ("chainstay_mm" if bike.axle_mm is None else "axle_mm")
    slack = slack_allows_mm(bike, gears, away) if part.moves is Moves.NOTHING else 0.0
    return near * every, (far + slack) * every, field


def slack_allows_mm(bike: Bike, gears: Gears, away_mm: float) -> Array:
    """How much farther apart the wheels could be before a chain with the most slack is taut, mm, (V, G, 1)."""
    most = bike.search.slack_mm[1] if bike.search else limit("most_slack")
    span = span_mm(gears.ring_teeth, gears.cog_teeth, away_mm)
    return np.asarray(spare_for_mm(most, span) / 2 * away_mm / span)
