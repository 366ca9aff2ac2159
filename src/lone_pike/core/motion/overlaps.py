"""Parts that would overlap as measured: wheels, pulleys, idlers."""

from collections.abc import Iterator
from math import dist, hypot

import numpy as np

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import Fault
from lone_pike.core.bike.measures import least_mm
from lone_pike.core.bike.take_up import Family
from lone_pike.core.bike.teeth import tip_radius_mm
from lone_pike.core.chain.stops import StopRole
from lone_pike.core.messages import Message, Raw, Term, mm, number
from lone_pike.core.motion.suspension import AxlePath, axle_path

JUDGED_BY: dict[str, frozenset[str]] = {
    "chainstay_mm": frozenset({"rings", "cogs"}),
    "take_up.cage_mm": frozenset({"take_up.class", "take_up.guide_teeth", "take_up.tension_teeth"}),
    "take_up.pivot_mm": frozenset({"cogs", "take_up.guide_teeth"}),
}
"""For each field at which an overlap without idlers is reported, the other fields on which it depends."""


def overlaps(bike: Bike, axle: AxlePath) -> Iterator[Fault]:
    """Every part that overlaps another along the axle's path, and idlers that are not in order from front to back."""
    yield from _wheels(bike, axle)
    if bike.take_up.family is Family.TURNS:
        yield from _pulleys(bike)
    yield from _idlers(bike, axle)


def overlaps_at_rest(bike: Bike) -> list[Fault]:
    """The overlaps with the bike at rest."""
    return [*overlaps(bike, axle_path(bike, np.zeros(1)))]


def _wheels(bike: Bike, axle: AxlePath) -> Iterator[Fault]:
    """Checks ring and cog, at rest and along the travel."""
    least = least_mm(bike, "chainstay_mm")
    nearest = int(axle.chainstay_mm.argmin())
    nearest_mm, travel_mm = float(axle.chainstay_mm[nearest]), float(axle.travel_mm[nearest])
    if bike.chainstay_length_mm <= least:
        field = "chainstay_mm" if bike.axle_mm is None else "axle_mm"
        wheels = {"ring": number(bike.largest_ring), "cog": number(bike.largest_cog)}
        allowed = Message("more_than_with_wheels", low=mm(least), **wheels)
        yield Fault(field, mm(bike.chainstay_length_mm), allowed, Message("ring_and_cog_overlap"))
    elif nearest_mm <= least:
        where = Message("chainstay_at_travel", chainstay=mm(nearest_mm), travel=mm(travel_mm))
        yield Fault("suspension", where, Message("more_than_all_the_way", low=mm(least)), Message("would_overlap"))


def _pulleys(bike: Bike) -> Iterator[Fault]:
    """Checks the two pulleys of a cage, and the upper one with the cog if its place was measured."""
    part = bike.caged
    least = least_mm(bike, "cage_mm")
    if part.cage_length_mm <= least:
        allowed = Message("more_than_with_pulleys", low=mm(least))
        yield Fault("take_up.cage_mm", mm(part.cage_length_mm), allowed, Message("pulleys_overlap"))
    least = tip_radius_mm(bike.largest_cog) + tip_radius_mm(part.guide_teeth)
    if part.guide_at_mm and hypot(*part.guide_at_mm) <= least:
        allowed = Message("pivot_away_from_axle", low=mm(least))
        yield Fault("take_up.pivot_mm", Raw(list(part.guide_at_mm)), allowed, Message("arm_on_cog"))


def _idlers(bike: Bike, axle: AxlePath) -> Iterator[Fault]:
    """Checks for idlers whose teeth would hit ring, cog or an idler of their run, and for idlers that are not in order
    from front to back."""
    named = [*bike.idlers]
    for i, idler in enumerate(named):
        x_mm, y_mm = idler.at_mm
        place, read = f"idlers.{i}.at_mm", Raw(list(idler.at_mm))
        others: list[tuple[StopRole, int, float]] = [
            (StopRole.RING, bike.largest_ring, float(np.hypot(x_mm, y_mm))),
            (StopRole.COG, bike.largest_cog, float(np.hypot(axle.x_mm - x_mm, axle.y_mm - y_mm).min())),
            *((StopRole.IDLER, one.teeth, dist(one.at_mm, idler.at_mm)) for one in named[:i] if one.run is idler.run),
        ]
        for wheel, teeth, away_mm in others:
            least = tip_radius_mm(teeth) + tip_radius_mm(idler.teeth)
            if away_mm <= least:
                allowed = Message("idler_away_from", low=mm(least), wheel=Term("stop", wheel))
                yield Fault(place, read, allowed, Message("idler_overlaps", wheel=Term("stop", wheel)))
        rearmost = float(axle.x_mm.max())
        if x_mm <= rearmost:
            yield Fault(place, read, Message("idler_before_axle", least=mm(rearmost)), Message("idlers_between"))
        ahead = [one.at_mm[0] for one in named[:i] if one.run is idler.run]
        if ahead and x_mm > ahead[-1]:
            yield Fault(place, read, Message("idler_behind", most=mm(ahead[-1])), Message("idlers_front_to_back"))
