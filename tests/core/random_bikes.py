"""Bikes nobody drew: made at random from a seed, of every kind that is sized, within what a workshop may meet."""

import os
import random
from math import pi, sin
from typing import Any

KINDS = ("rigid", "pivot", "growth", "table", "idler", "long")
ODD = ("few", "late", "shared", "far")
"""Bikes at the seams: few cogs on a short chainstay, an idler that is reached late in the travel, two idlers on one
axle, an idler 8 to 300 mm off the chain."""

SEED = int(os.environ.get("LONE_PIKE_TEST_SEED", "0"))
"""Another one on every run, and the same for all of its workers; the run's heading tells it."""


def seeds(many: int) -> list[int]:
    """So many seeds of this run."""
    return random.Random(SEED).sample(range(10**6), many)


def random_bike(seed: int, kind: str) -> dict[str, Any]:
    """A derailleur bike's document, the same for the same seed; every measure is given."""
    lot = random.Random(f"{kind} {seed}")
    largest = lot.randint(21, 52)
    cogs = sorted({lot.randint(9, 14), largest, *(lot.randint(12, largest) for _ in range(lot.randint(4, 10)))})
    while len(cogs) < 5:
        cogs = sorted({*cogs, lot.randint(9, 60)})
    rings = sorted(lot.sample(range(22, 54), lot.choice([1, 1, 2, 3])))
    bike: dict[str, Any] = {
        "lone_pike": 1,
        "name": f"{kind} {seed}",
        "rings": rings,
        "cogs": cogs,
        "axle_mm": [-round(lot.uniform(395, 480), 1), round(lot.uniform(-30, 40), 1)],
        "take_up": {
            "type": "derailleur",
            "cage_mm": round(lot.uniform(54, 110), 1),
            "guide_teeth": lot.choice([10, 11, 11, 12, 13]),
            "tension_teeth": lot.choice([10, 11, 11, 12, 13, 14]),
            "b_gap_mm": round(lot.uniform(2, 12), 1),
            "lean_deg": round(lot.uniform(0, 30), 1),
        },
    }
    part = bike["take_up"]
    apart = sum(6.35 / sin(pi / teeth) + 2.3 for teeth in (part["guide_teeth"], part["tension_teeth"]))
    part["cage_mm"] = max(part["cage_mm"], round(apart + 0.1, 1))
    x, y = bike["axle_mm"]
    if lot.random() < 0.2:
        bike["chain"] = {"offset_link": True}
    if kind in ("pivot", "growth", "idler"):
        travel = lot.randint(60, 200)
        pivot = {"type": "pivot", "pivot_mm": [lot.randint(-40, 40), lot.randint(20, 150)], "travel_mm": travel}
        growth = {"type": "growth", "growth_mm": round(lot.uniform(-5, 25), 1), "travel_mm": travel}
        bike["suspension"] = growth if kind == "growth" else pivot
    if kind == "table":
        away, slope = (x * x + y * y) ** 0.5, lot.uniform(-0.05, 0.2)
        rise = [0, 40, 80, 120, lot.randint(140, 180)]
        turn = lot.uniform(-0.15, 0.05)
        turns = [[turn * t] for t in rise] if lot.random() < 0.5 else [[]] * len(rise)
        rows = [[t, away + slope * t, *turn] for t, turn in zip(rise, turns, strict=True)]
        bike["suspension"] = {"type": "table", "points": rows}
    if kind == "idler":
        at = [lot.randint(-70, 20), max(rings) * 3 + lot.randint(20, 70)]
        bike["idlers"] = [{"run": "drive", "at_mm": at, "teeth": lot.randint(12, 18), "chain": "over"}]
    if kind == "long":
        bike["axle_mm"] = [-lot.randint(1100, 1500), -lot.randint(0, 200)]
        at = [-lot.randint(500, 800), -lot.randint(20, 60)]
        bike["idlers"] = [
            {"run": "drive", "at_mm": at, "teeth": 15, "chain": lot.choice(["over", "under"])},
            {"run": "return", "at_mm": [at[0] - 20, at[1] - 65], "teeth": 15, "chain": lot.choice(["over", "under"])},
        ]
        if lot.random() < 0.6:
            behind = [at[0] - lot.randint(120, 300), at[1] - lot.randint(60, 140)]
            bike["idlers"].append(
                {"run": "return", "at_mm": behind, "teeth": 15, "chain": lot.choice(["over", "under"])}
            )
    return bike


def odd_bike(seed: int, kind: str) -> dict[str, Any]:
    """A derailleur bike at one of the seams, the same for the same seed."""
    lot = random.Random(f"{kind} {seed}")
    if kind == "few":
        near = round(lot.uniform(150, 420), 1)
        cogs = sorted(lot.sample(range(11, 26), lot.randint(1, 4)))
        return random_bike(seed, "rigid") | {"rings": [lot.randint(24, 44)], "cogs": cogs, "axle_mm": [-near, 0.0]}
    if kind == "late":
        bike = random_bike(seed, "pivot") | {"rings": [lot.randint(26, 32)]}
        x, y = lot.randint(-10, 15), lot.randint(90, 120)
        bike["suspension"] = {"type": "pivot", "pivot_mm": [x, y], "travel_mm": lot.randint(110, 190)}
        bike["idlers"] = [
            {"run": "drive", "at_mm": [x + 3, y + lot.randint(8, 20)], "teeth": lot.randint(14, 18), "chain": "over"},
            {"run": "return", "at_mm": [-lot.randint(85, 130), -lot.randint(30, 70)], "teeth": 12, "chain": "under"},
        ]
        return bike
    if kind == "shared":
        bike = random_bike(seed, "long")
        at = [-lot.randint(500, 800), -lot.randint(40, 90)]
        rows = (("drive", lot.choice(["over", "under"])), ("return", lot.choice(["over", "under"])))
        return bike | {"idlers": [{"run": run, "at_mm": at, "teeth": 15, "chain": side} for run, side in rows]}
    bike = random_bike(seed, lot.choice(["rigid", "long"]))
    off = lot.choice([-1, 1]) * lot.uniform(8, 300)
    at = [round(bike["axle_mm"][0] * lot.uniform(0.3, 0.7), 1), round(bike["axle_mm"][1] / 2 + off, 1)]
    idler = {"run": lot.choice(["drive", "return"]), "at_mm": at, "teeth": lot.randint(11, 18)}
    return bike | {"idlers": [idler | {"chain": lot.choice(["over", "under"])}]}


def random_slot(seed: int) -> dict[str, Any]:
    """A bike with a slotted dropout."""
    lot = random.Random(f"slot {seed}")
    near = lot.randint(330, 430)
    return {
        "lone_pike": 1,
        "name": f"slot {seed}",
        "rings": [lot.randint(25, 52)],
        "cogs": [lot.randint(9, 22)],
        "axle_height_mm": round(lot.uniform(-20, 20), 1),
        "take_up": {"type": "slot", "min_mm": near, "max_mm": near + lot.randint(12, 40)},
        "chain": {"offset_link": lot.random() < 0.5, "speeds": 1},
    }


FIXED = ("gears", "eccentric", "none", "arm")


def random_fixed(seed: int, kind: str) -> dict[str, Any]:
    """A bike without a derailleur: several gears on one slot, an eccentric, vertical dropouts, a sprung arm."""
    lot = random.Random(f"{kind} {seed}")
    near = lot.randint(340, 430)
    bike: dict[str, Any] = {
        "lone_pike": 1,
        "name": f"{kind} {seed}",
        "rings": [lot.randint(25, 52)],
        "cogs": [lot.randint(11, 22)],
        "chain": {"offset_link": lot.random() < 0.5, "box_links": lot.randint(60, 130)},
    }
    if lot.random() < 0.5:
        bike["chain"]["wear_percent"] = round(lot.uniform(0.1, 0.9), 2)
    if kind == "gears":
        cog = bike["cogs"][0]
        bike["cogs"] = [cog, cog + lot.randint(1, 4)]
        bike["rings"] = lot.choice([bike["rings"], [bike["rings"][0], bike["rings"][0] + lot.randint(1, 4)]])
        far = near + lot.randint(1, 60)
        bike["take_up"] = {"type": "slot", "min_mm": near, "max_mm": far, "ring_runout_mm": lot.choice([0.0, 0.5])}
        return bike
    bike["chainstay_mm"] = round(lot.uniform(380, 470), 2)
    bike["axle_height_mm"] = round(lot.uniform(-30, 30), 1)
    if kind == "eccentric":
        bike["take_up"] = {"type": "eccentric", "radius_mm": round(lot.uniform(1, 12), 1)}
        if lot.random() < 0.5:
            bike["take_up"]["crank_deg"] = float(lot.randint(-180, 180))
    if kind == "none":
        bike["take_up"] = {"type": "none"}
    if kind in ("none", "eccentric") and lot.random() < 0.7:
        ring, cog = lot.randint(20, 60), lot.randint(9, 30)
        ranges = {"rings": [ring, ring + lot.randint(0, 9)], "cogs": [cog, cog + lot.randint(0, 9)]}
        bike["search"] = {**ranges, "ratio": 2.5, "slack_mm": [0, lot.randint(1, 60)], "offset_link": True}
    if kind == "arm":
        down = -round(lot.uniform(32, 70) + 2.05 * bike["cogs"][0], 1)
        pivot = [lot.randint(-20, 30), down]
        bike["take_up"] = {"type": "arm", "cage_mm": round(lot.uniform(50, 110), 1), "pivot_mm": pivot}
    return bike
