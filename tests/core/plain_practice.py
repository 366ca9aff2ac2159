"""The second, plain way for the bikes of Practice: which counts are safe, and of a sprung arm which one is right."""

from typing import Any

from tests.core import plain_model
from tests.core.plain_fixed import arm_count, shell_centres_mm, slot_centres
from tests.core.plain_model import P, loop

MOST_SLACK_MM, PLACES = 15.0, 3


def counts_of(bike: dict[str, Any]) -> list[int]:
    """The safe counts of a bike's document, axle_mm told; of a bike with a sprung arm the one count that is right."""
    kind, whole = bike["take_up"]["type"], bike | {"chain": {"offset_link": False} | bike["chain"]}
    if kind == "slot":
        return sorted(set.intersection(*(set(slot_centres(whole | {"cogs": [cog]})) for cog in bike["cogs"])))
    if kind in ("none", "eccentric"):
        return _by_slack(bike)
    if kind == "arm":
        return [arm_count(whole)]
    part = {"guide_teeth": 11, "tension_teeth": 11, "lean_deg": 12.0} | bike["take_up"]
    return list(plain_model.size(whole | {"take_up": part}, fewer_gears=True).safe)


def _by_slack(bike: dict[str, Any]) -> list[int]:
    """Counts that are taut at some place of the crank; where it stands still, that hang by no more than they may."""
    places = shell_centres_mm(bike, PLACES)
    loops = [loop([(0.0, 0.0, bike["rings"][0], 1), (-away, 0.0, bike["cogs"][0], 1)]) for away in places]
    lengths, spans = zip(*((one.links, one.spans[0]) for one in loops if one), strict=True)
    hangs = MOST_SLACK_MM**2 / (2 * spans[0]) / P if bike["take_up"]["type"] == "none" else 0.0
    return [count for count in range(0, 400, 2) if min(lengths) <= count <= max(lengths) + hangs]
