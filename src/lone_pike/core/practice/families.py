"""The bikes that shops see, in one table: each family, how often it is made, its ranges and pairings, and the reasons.

A family draws a bike's document with a random generator, plausible by construction. Lengths are mm.
"""

from collections.abc import Callable
from dataclasses import dataclass
from random import Random
from typing import Any

from lone_pike.core.bike.document import Bike
from lone_pike.core.messages import Message
from lone_pike.core.practice.telling import caged_measures, eccentric_measures, slot_measures, stands_measures

Document = dict[str, Any]
Draw = Callable[[Random], Document]

WIDE_PAIRS = (
    ((30,), (11, 13, 15, 17, 20, 23, 26, 30, 34, 40, 46), 92),
    ((32,), (10, 12, 14, 16, 18, 21, 24, 28, 33, 39, 45, 51), 95),
    ((32,), (11, 13, 15, 17, 19, 21, 24, 28, 32, 37, 42), 88),
    ((34,), (11, 13, 15, 17, 19, 22, 25, 28, 32, 38, 44, 50), 95),
    ((36,), (11, 13, 15, 18, 21, 24, 28, 32, 37, 42), 86),
    ((38,), (11, 13, 15, 17, 20, 23, 26, 30, 36), 78),
)
ROAD_PAIRS = (
    ((34, 50), (11, 12, 13, 14, 15, 17, 19, 21, 23, 25, 28), 57),
    ((34, 50), (11, 12, 13, 14, 15, 17, 19, 21, 24, 27, 30), 58),
    ((36, 52), (11, 12, 13, 14, 15, 17, 19, 21, 23, 25, 28), 57),
    ((33, 46), (11, 13, 15, 17, 20, 23, 26, 30, 34), 74),
    ((34, 50), (11, 12, 13, 14, 15, 16, 17, 19, 21, 24, 27, 30), 60),
)
TOURING_PAIRS = (
    ((24, 34, 44), (11, 13, 15, 17, 20, 23, 26, 30, 34), 92),
    ((26, 36, 48), (11, 13, 15, 18, 21, 24, 28, 32), 90),
    ((22, 32, 44), (11, 13, 15, 18, 21, 24, 28, 32), 92),
    ((28, 38, 48), (11, 13, 15, 17, 20, 23, 26, 30), 90),
)
SINGLE_PAIRS = ((38, 16), (40, 17), (42, 16), (44, 18), (44, 16), (46, 18), (39, 15), (36, 16))
SMALL_PAIRS = ((25, 9), (28, 10), (30, 11), (36, 13), (44, 16))
PIVOTS_MM = (((-5, 18), (30, 62)), ((-5, 18), (30, 62)), ((-85, -55), (10, 20)), ((0, 16), (-26, -12)))
"""Where a rear end turns, forward of the crank and above it: high, where the run grows to the end (half of them);
behind the crank in line with the stay, where it is longest on the way; below the crank, where it shrinks."""

SHARES_IN = 100


@dataclass(frozen=True)
class BikeFamily:
    """One family: how many of a hundred bikes belong to it, the reasons for its ranges, how one is drawn, and how its
    measures are described."""

    share: int
    why: str
    draw: Draw
    measures: Callable[[Bike], Message] = caged_measures


def _about(lot: Random, middle: float, spread: float) -> float:
    return round(lot.uniform(middle - spread, middle + spread), 1)


def _caged(lot: Random, pairs: tuple[Any, ...], stays: tuple[float, float], gap: tuple[float, float]) -> Document:
    rings, cogs, cage = lot.choice(pairs)
    return {
        "rings": list(rings),
        "cogs": list(cogs),
        "chainstay_mm": round(lot.uniform(*stays), 1),
        "axle_height_mm": round(lot.uniform(40, 75) if len(rings) > 1 else lot.uniform(0, 45), 1),
        "take_up": {"type": "derailleur", "cage_mm": _about(lot, cage, 2), "b_gap_mm": round(lot.uniform(*gap), 1)},
        "chain": {"speeds": len(cogs), "joiner": "quick_link" if len(cogs) <= 9 else "locking_link"},
    }


def _hardtail(lot: Random) -> Document:
    return _caged(lot, WIDE_PAIRS, (422, 452), (5, 8))


def _road(lot: Random) -> Document:
    return _caged(lot, ROAD_PAIRS, (405, 428), (4, 6))


def _touring(lot: Random) -> Document:
    return _caged(lot, TOURING_PAIRS, (430, 465), (4, 6))


def _suspension(lot: Random) -> Document:
    bike = _caged(lot, WIDE_PAIRS[:5], (428, 446), (5, 8))
    axle = [-bike.pop("chainstay_mm"), round(lot.uniform(-4, 14), 1)]
    bike.pop("axle_height_mm")
    (forward, up), travel_mm = lot.choice(PIVOTS_MM), lot.randint(10, 17) * 10
    pivot_mm = [lot.randint(*forward), lot.randint(*up)]
    return bike | {"axle_mm": axle, "suspension": {"type": "pivot", "pivot_mm": pivot_mm, "travel_mm": travel_mm}}


def _high_pivot(lot: Random) -> Document:
    bike = _caged(lot, WIDE_PAIRS[:4], (432, 444), (5, 8))
    axle = [-bike.pop("chainstay_mm"), round(lot.uniform(2, 14), 1)]
    bike.pop("axle_height_mm")
    pivot = [lot.randint(-16, -4), lot.randint(84, 100)]
    idler = {"run": "drive", "at_mm": [pivot[0] - lot.randint(6, 14), pivot[1] + lot.randint(10, 18)], "teeth": 16}
    return bike | {
        "axle_mm": axle,
        "suspension": {"type": "pivot", "pivot_mm": pivot, "travel_mm": lot.randint(13, 18) * 10},
        "idlers": [idler | {"chain": "over"}],
    }


def _slot(lot: Random) -> Document:
    is_small = lot.random() < 0.35
    ring, cog = lot.choice(SMALL_PAIRS if is_small else SINGLE_PAIRS)
    near = lot.randint(330, 365) if is_small else lot.randint(385, 415)
    joiner = lot.choice(["clip_link", "quick_link"])
    return {
        "rings": [ring],
        "cogs": [cog],
        "take_up": {"type": "slot", "min_mm": near, "max_mm": near + lot.randint(18, 30)},
        "chain": {"speeds": 1, "joiner": joiner},
    }


def _flip_flop(lot: Random) -> Document:
    ring, cog = lot.choice(SINGLE_PAIRS)
    near = lot.randint(390, 410)
    return {
        "rings": [ring],
        "cogs": [cog, cog + lot.choice([1, 2])],
        "take_up": {"type": "slot", "min_mm": near, "max_mm": near + lot.randint(24, 32)},
        "chain": {"speeds": 2, "joiner": "quick_link"},
    }


def _vertical(lot: Random) -> Document:
    ring, cog = lot.choice(SINGLE_PAIRS)
    return {
        "rings": [ring],
        "cogs": [cog],
        "chainstay_mm": round(lot.uniform(415, 445), 1),
        "take_up": {"type": "none"},
        "chain": {"speeds": 1, "joiner": "quick_link"},
    }


def _eccentric(lot: Random) -> Document:
    ring, cog = lot.choice(SINGLE_PAIRS)
    return {
        "rings": [ring],
        "cogs": [cog],
        "chainstay_mm": round(lot.uniform(420, 450), 1),
        "take_up": {"type": "eccentric", "radius_mm": lot.choice([7, 8, 9, 10])},
        "chain": {"speeds": 1, "joiner": "quick_link"},
    }


def _hub(lot: Random) -> Document:
    ring, cog = lot.choice([(42, 18), (44, 20), (46, 20), (38, 18), (44, 19)])
    return {
        "rings": [ring],
        "cogs": [cog],
        "chainstay_mm": round(lot.uniform(440, 460), 1),
        "take_up": {
            "type": "arm",
            "cage_mm": _about(lot, 60, 2),
            "pivot_mm": [lot.randint(8, 16), -lot.randint(68, 76)],
            "rest_deg": -lot.randint(48, 60),
        },
        "chain": {"speeds": 1, "joiner": "quick_link"},
    }


def _long(lot: Random) -> Document:
    x = -lot.randint(1300, 1440)
    y = -lot.randint(100, 180)
    middle = [x // 2 - lot.randint(-20, 20), -lot.randint(30, 50)]
    cogs = [11, 13, 15, 18, 21, 24, 28, 32, 36]
    return {
        "rings": [lot.choice([42, 44, 46])],
        "cogs": cogs,
        "axle_mm": [x, y],
        "take_up": {"type": "derailleur", "cage_mm": _about(lot, 92, 2), "b_gap_mm": 6},
        "idlers": [
            {"run": "drive", "at_mm": middle, "teeth": 15, "chain": "under"},
            {
                "run": "return",
                "at_mm": [middle[0] - 20, middle[1] - lot.randint(95, 105)],
                "teeth": 15,
                "chain": "over",
            },
        ],
        "chain": {"speeds": 9, "joiner": "quick_link"},
    }


FAMILIES: dict[str, BikeFamily] = {
    "hardtail": BikeFamily(
        18, "One ring and a wide cassette; the cage is as long as that cassette asks for.", _hardtail
    ),
    "road": BikeFamily(14, "Two rings, close cogs, a short cage; short stays, the axle above the crank.", _road),
    "touring": BikeFamily(10, "Three rings and a wide cassette ask for the longest cage there is.", _touring),
    "suspension": BikeFamily(14, "One pivot: high, in line behind the crank, or below it.", _suspension),
    "high_pivot": BikeFamily(8, "The pivot stands high, so the chain goes over an idler beside it.", _high_pivot),
    "slot": BikeFamily(12, "Single speed and small wheels: the axle slides in a slot.", _slot, slot_measures),
    "flip_flop": BikeFamily(6, "Two cogs on one count: the slot takes up their difference.", _flip_flop, slot_measures),
    "vertical": BikeFamily(
        6, "Nothing moves: only a lucky pair of ring and cog fits a stay.", _vertical, stands_measures
    ),
    "eccentric": BikeFamily(4, "The crank turns in an eccentric shell.", _eccentric, eccentric_measures),
    "hub": BikeFamily(4, "A hub gear with a sprung arm below the cog.", _hub),
    "long": BikeFamily(4, "The chain runs over idlers to a crank far in front.", _long),
}
"""All families; their shares are of a hundred."""
