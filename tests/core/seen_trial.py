"""Bikes whose true measures are not those that were told, proved in two gears: what is learned of them.

Run as a module it tells the figures of many: `python -m tests.core.seen_trial 300`.
"""

import random
import sys
from dataclasses import dataclass
from math import hypot, isfinite
from typing import Any

import numpy as np

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.bike.limits import limit
from lone_pike.core.count.sizing import Sizing, size_bike
from lone_pike.core.motion.poses import all_gears
from lone_pike.core.seen.learning import Learned, learned_of
from lone_pike.core.seen.predicting import FIGURES, SPREADS, sights_of
from lone_pike.formats.files.bike_file import bike_from_document
from tests.core.random_bikes import random_bike, random_fixed

FAMILIES = ("rigid", "pivot", "idler", "long", "arm", "none", "eccentric")
STANDING = ("none", "eccentric")
BY_TAPE = {"chainstay_mm": 12.0, "cage_mm": 8.0, "b_gap_mm": 4.0, "lean_deg": 8.0}
"""How far off a bike is that was measured with a tape, its cage taken from a class."""

OF_FAMILY = {"arm": ("chainstay_mm", "cage_mm"), "none": ("chainstay_mm",), "eccentric": ("chainstay_mm",)}
LEAST = {"clearance_mm": -20.0, "slack_mm": 0.0, "axle_mm": 150.0}


@dataclass(frozen=True)
class Trial:
    """One bike: whether its count as told is right for the true one, and whether the learned count is; how many
    deviations each true measure is off the learned one."""

    is_right: bool
    put_right: bool
    learned: Learned
    off: tuple[float, ...]


def trial(family: str, seed: int, spreads: dict[str, float]) -> Trial | None:
    """One bike of a family; None where it cannot be sized."""
    lot = random.Random(f"seen {family} {seed}")
    document = random_fixed(seed, family) if family in ("arm", *STANDING) else random_bike(seed, family)
    document.pop("search", None)
    about = {key: spreads[key] for key in OF_FAMILY.get(family, spreads)}
    errors = {key: lot.gauss(0, spread / 2) for key, spread in about.items()}
    try:
        told, true = bike_from_document(document | {"about": about}), bike_from_document(_moved(document, errors))
        count, truth = size_bike(told).recommended_links, size_bike(true)
        rows = [row for gear in all_gears(told)[:2] for row in _seen(true, gear, count, lot)]
        learned = learned_of(told.model_copy(update={"seen": rows_of(document, rows)}))
    except InvalidInput:
        return None
    if learned is None:
        return None
    off = tuple(abs(errors[one.key] - one.now + one.was) / (one.now_spread / 2) for one in learned.measures)
    return Trial(_suits(truth, count), _suits(truth, learned.links), learned, off)


def rows_of(document: dict[str, Any], rows: list[dict[str, Any]]) -> Any:
    return bike_from_document(document | {"seen": rows}).seen


def _suits(truth: Sizing, count: int) -> bool:
    return count in (truth.in_reach.safe_counts or [truth.recommended_links])


def _seen(true: Bike, gear: tuple[int, int], count: int, lot: random.Random) -> list[dict[str, Any]]:
    """All that the bike shows in one gear, each figure off as it is read."""
    rows = []
    (sights,) = sights_of(true, [(*gear, count, 0.0)])
    for what, sight in FIGURES.items():
        value = float(getattr(sights, sight)[0])
        goes_on = isfinite(value) and (what != "slack_mm" or value >= 0)
        if what in true.take_up.shows and goes_on:
            read = value + lot.gauss(0, limit(SPREADS[what]))
            row = {"links": count, "ring": gear[0], "cog": gear[1]}
            rows.append(row | {what: _clock(read) if what == "clock" else max(read, LEAST[what])})
    return rows


def _clock(hand_deg: float) -> str:
    minutes = round((6 - hand_deg / 30) * 60) % 720
    return f"{minutes // 60 or 12}:{minutes % 60:02d}"


def _moved(document: dict[str, Any], errors: dict[str, float]) -> dict[str, Any]:
    """The true bike: each measure off by its error."""
    moved = document | {"take_up": dict(document["take_up"])}
    for key, error in errors.items():
        if key == "chainstay_mm" and "axle_mm" in document:
            x, y = document["axle_mm"]
            longer = 1 + error / hypot(x, y)
            moved["axle_mm"] = [x * longer, y * longer]
        elif key == "chainstay_mm":
            moved[key] = document[key] + error
        else:
            moved["take_up"][key] = max(moved["take_up"][key] + error, 1.0 if key == "b_gap_mm" else -30.0)
    return moved


def campaign(family: str, many: int, spreads: dict[str, float]) -> dict[str, float]:
    """Of so many bikes: how many wrong counts are put right and how many right ones spoiled, as shares, and how often
    the true measures lie within one and two deviations of the learned ones."""
    trials = (trial(family, seed, spreads) for seed in range(4 * many))
    found = [one for one in trials if one is not None][:many]
    wrong = [one.put_right for one in found if not one.is_right]
    right = [one.put_right for one in found if one.is_right]
    off = np.array([sigmas for one in found for sigmas in one.off])
    return {
        "bikes": len(found),
        "wrong": len(wrong),
        "righted": float(np.mean(wrong)) if wrong else 1.0,
        "spoiled": 1 - float(np.mean(right)),
        "misfits": sum(bool(one.learned.misfits) for one in found),
        "within_1": float((off < 1).mean()),
        "within_2": float((off < 2).mean()),
    }


if __name__ == "__main__":
    for name in sys.argv[2:] or FAMILIES:
        sys.stdout.write(f"{name} {campaign(name, int(sys.argv[1]), BY_TAPE)}\n")
        sys.stdout.flush()
