"""Every kind of drivetrain, declared as a whole: solver, typical bike, fields, the first step of the walk, and checks.

What a kind declares about its own measures is with its document (`core/bike/take_ups.py`), and its words are in
`wording/kinds.py`. All other code uses this table.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Any

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.measures import Errors
from lone_pike.core.bike.take_up import TakeUpDocument
from lone_pike.core.bike.take_ups import Eccentric, NoTakeUp, Slot
from lone_pike.core.bike.turning import Arm, Derailleur
from lone_pike.core.motion.poses import Gears, Poses
from lone_pike.core.take_up.arm import arm_of, derailleur_of
from lone_pike.core.take_up.fixed import fixed_centres
from lone_pike.core.take_up.protocol import TakeUp

Solver = Callable[[Bike, Poses, Gears, Errors | None], TakeUp]
Fields = tuple[str, ...]

SINGLE = {"rings": [42], "cogs": [16], "chainstay_mm": 434.9}
WIDE = {"rings": [32], "cogs": [11, 13, 15, 17, 20, 23, 26, 30, 34, 40, 46], "chainstay_mm": 435}

RINGS: tuple[str, Fields] = ("rings", ("rings",))
COGS: tuple[str, Fields] = ("cogs", ("cogs",))
CHAINSTAY: tuple[str, Fields] = ("chainstay", ("chainstay_mm", "axle_mm"))
CAGE: tuple[str, Fields] = ("cage", ("take_up.cage_mm", "take_up.class"))
SEARCH_FIELDS = ("search.rings", "search.cogs", "search.ratio", "search.slack_mm")
FIXED_CHECKS = ("joiner_again", "tightest", "slack", "stands", "nuts", "wheel", "brakes", "again", "torque", "ride")
LONG_CHECKS = ("into_tubes", "no_twist", "boom_ends")
CAGE_CHECKS = (
    *("clear_of_guide", "joiner_again", "second_largest", "largest", "through_travel", "guide_gap"),
    *(*LONG_CHECKS, "pressures", "torque", "ride"),
)
ARM_CHECKS = ("clear_of_guide", "joiner_again", "half_way", *LONG_CHECKS, "pressures", "torque", "ride")
FIXED_MORE: tuple[Fields, ...] = (
    ("chain.width", "chain.teeth_width"),
    ("take_up.ring_runout_mm", "take_up.wheel_turn_mm"),
    ("axle_height_mm", "house_rule"),
    ("chain.box_ends", "name"),
)


@dataclass(frozen=True)
class TakeUpKind:
    """One kind of drivetrain. part is its document; solve makes its take-up in poses and gears; typical is a typical
    bike's document, without what every bike has. drawn names the parts of the drawing that are drawn firmly once one of
    their fields is measured. first are the fields under the drawing; searched, those of a search; more, the rows of
    fields that are folded away. walk is the code of the first step of the walk; checks, the steps of proving, in safe
    order."""

    part: type[TakeUpDocument]
    solve: Solver
    typical: Mapping[str, Any]
    drawn: tuple[tuple[str, Fields], ...]
    first: Fields
    more: tuple[Fields, ...]
    walk: str
    has_tab: bool = False
    searched: Fields = ()
    checks: Fields = ()


KINDS: dict[str, TakeUpKind] = {
    "derailleur": TakeUpKind(
        part=Derailleur,
        solve=derailleur_of,
        typical=WIDE | {"take_up": {"type": "derailleur", "class": "long", "b_gap_mm": 6}},
        drawn=(RINGS, COGS, CHAINSTAY, CAGE, ("gap", ("take_up.b_gap_mm",))),
        first=(
            *("rings", "cogs", "chain.speeds", "chainstay_mm"),
            *("take_up.cage_mm", "take_up.class", "take_up.b_gap_mm", "suspension.type"),
        ),
        more=(
            ("take_up.guide_teeth", "take_up.tension_teeth", "take_up.lean_deg"),
            ("take_up.rest_deg",),
            ("take_up.max_cog", "take_up.capacity"),
            ("sheet_links", "house_rule"),
            ("take_up.extended",),
            ("axle_height_mm",),
            ("chain.box_ends", "name"),
        ),
        walk="walk_setup_cage",
        checks=CAGE_CHECKS,
        has_tab=True,
    ),
    "slot": TakeUpKind(
        part=Slot,
        solve=fixed_centres,
        typical=SINGLE | {"chainstay_mm": None, "take_up": {"type": "slot", "min_mm": 405, "max_mm": 425}},
        drawn=(RINGS, COGS, ("slot", ("take_up.min_mm", "take_up.max_mm"))),
        first=("rings", "cogs", "take_up.min_mm", "take_up.max_mm", "take_up.taste"),
        more=FIXED_MORE,
        walk="walk_setup_fixed",
        checks=FIXED_CHECKS,
    ),
    "eccentric": TakeUpKind(
        part=Eccentric,
        solve=fixed_centres,
        typical=SINGLE | {"take_up": {"type": "eccentric", "radius_mm": 8}},
        drawn=(RINGS, COGS, CHAINSTAY, ("eccentric", ("take_up.radius_mm",))),
        first=("rings", "cogs", "chainstay_mm", "take_up.radius_mm", "take_up.taste"),
        more=(("take_up.crank_deg",), *FIXED_MORE),
        walk="walk_setup_fixed",
        searched=SEARCH_FIELDS,
        checks=FIXED_CHECKS,
    ),
    "none": TakeUpKind(
        part=NoTakeUp,
        solve=fixed_centres,
        typical=SINGLE | {"take_up": {"type": "none"}},
        drawn=(RINGS, COGS, CHAINSTAY),
        first=("rings", "cogs", "chainstay_mm"),
        more=FIXED_MORE,
        walk="walk_setup_fixed",
        searched=SEARCH_FIELDS,
        checks=FIXED_CHECKS,
    ),
    "arm": TakeUpKind(
        part=Arm,
        solve=arm_of,
        typical=SINGLE | {"take_up": {"type": "arm", "cage_mm": 56, "pivot_mm": [14, -68]}},
        drawn=(RINGS, COGS, CHAINSTAY, CAGE, ("pivot", ("take_up.pivot_mm",))),
        first=(
            *("rings", "cogs", "chainstay_mm", "take_up.cage_mm", "take_up.class"),
            *("take_up.pivot_mm", "take_up.guide_teeth", "take_up.tension_teeth"),
        ),
        more=(
            ("take_up.rest_deg", "sheet_links"),
            ("axle_height_mm", "house_rule"),
            ("chain.box_ends", "name"),
        ),
        walk="walk_setup_arm",
        checks=ARM_CHECKS,
    ),
}
"""All kinds, in the order in which they are offered; the first is assumed until somebody chooses another."""

USUAL_KIND = next(iter(KINDS))


def kind_of(bike: Bike) -> TakeUpKind:
    """A bike's kind."""
    return KINDS[bike.take_up.type]


def kind_named(key: str) -> TakeUpKind:
    """A kind by its key; the usual one for an unknown key."""
    return KINDS.get(key, KINDS[USUAL_KIND])


def take_up_of(bike: Bike, poses: Poses, gears: Gears, errors: Errors | None = None) -> TakeUp:
    """The bike's take-up in poses and gears. Raises: InvalidInput where its parts overlap."""
    return kind_of(bike).solve(bike, poses, gears, errors)
