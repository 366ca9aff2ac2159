"""What is laid out and checked before a chain is opened (trade, sections 9 and 10)."""

from collections.abc import Callable, Collection
from dataclasses import dataclass

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.joiners import JOINERS, JoinerShape
from lone_pike.core.bike.take_up import Family
from lone_pike.core.wear.replacing import WearPart

CASSETTE_STEPS = ("lock_ring", "chain_whip", "spline", "grease", "lock_ring_torque")
"""The tools for changing a cassette, in the order of the work."""


@dataclass(frozen=True)
class Layout:
    """The facts about a job that decide what it needs."""

    bike: Bike | None
    replaced: Collection[str]
    has_motor: bool


Needed = Callable[[Layout], bool]


def _shape(layout: Layout) -> JoinerShape | None:
    return JOINERS[layout.bike.joiner].shape if layout.bike else None


def _changes_cogs(layout: Layout) -> bool:
    return WearPart.CASSETTE in layout.replaced


TOOLS: dict[str, Needed] = {
    "battery_out": lambda layout: layout.has_motor,
    "guards_off": lambda _: True,
    "glasses": lambda _: True,
    "chain_tool": lambda _: True,
    "link_pliers": lambda layout: _shape(layout) is JoinerShape.LINK,
    "clip_pliers": lambda layout: _shape(layout) is JoinerShape.CLIP,
    "new_joiner": lambda layout: bool(layout.bike and JOINERS[layout.bike.joiner].once),
    "hooks": lambda layout: layout.bike is None or layout.bike.take_up.family is Family.TURNS,
    "shock_pump": lambda layout: bool(layout.bike and layout.bike.suspension),
    **dict.fromkeys(CASSETTE_STEPS, _changes_cogs),
}
"""Each thing with the condition on which a job needs it, in the order in which they are laid out."""


def tools_for(layout: Layout) -> tuple[str, ...]:
    """The things that a job needs."""
    return tuple(name for name, needed in TOOLS.items() if needed(layout))
