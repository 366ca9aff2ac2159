"""The view state: gear, count under test, travel and the like. It is kept in the address, never in the data file."""

from collections.abc import Iterable
from dataclasses import dataclass, replace
from functools import cached_property
from operator import itemgetter
from urllib.parse import quote

from starlette.datastructures import QueryParams

from lone_pike.core.bike.document import Bike
from lone_pike.core.messages import LengthUnit
from lone_pike.core.motion.poses import all_gears
from lone_pike.formats.typed.parsing import whole_number

NUMBERS = ("ring", "cog", "links", "travel", "piece", "rivet")
TEXTS = ("clamped", "near", "counted", "step", "tick")
WHAT_IF = {
    "if_rings": "rings",
    "if_cogs": "cogs",
    "if_chainstay": "chainstay_mm",
    "if_cage": "take_up.cage_mm",
}
"""The measures of another bike that the address may hold, each with its field."""

LONGEST_ASKED, LONGEST_NEAR, LONGEST_STEP = 80, 12, 24
COUNTED = ("end", "mark")
"""Where rivets may be counted from, besides the start: the other end, or the mark made at the wrap."""


@dataclass(frozen=True)
class ViewState:
    """Gear, count and travel, mm, as the address has them; None for what it does not name.

    Without a travel the dials show the worst of all travels, and the side view the bike at rest. what_if holds measures
    of another bike to compare with, as they were typed; unit is the unit of lengths among them. clamped is the typed
    place where the axle is clamped. near is the part of a long bike that fills the picture; piece, in a loop of
    several, the one whose cut is shown; rivet, a rivet to try; counted, where rivets are counted from; step, the open
    step of proving; tick, the typed turns of the crank between two ticks.
    """

    ring: int | None = None
    cog: int | None = None
    links: int | None = None
    travel: int | None = None
    what_if: tuple[tuple[str, str], ...] = ()
    unit: LengthUnit = LengthUnit.MM
    clamped: str = ""
    near: str = ""
    piece: int | None = None
    rivet: int | None = None
    counted: str = ""
    step: str = ""
    tick: str = ""

    def looking(self, near: str) -> "ViewState":
        """This state with a part of the bike filling the picture, or the whole bike if that part filled it before."""
        return replace(self, near="" if near == self.near else near)

    def counting(self, whence: str) -> "ViewState":
        """This state with rivets counted from somewhere else."""
        return replace(self, counted=whence)

    def proving(self, step: str) -> "ViewState":
        """This state with another step of proving open, or the next one; gear and travel are then those of the step."""
        return replace(self, step=step, ring=None, cog=None, travel=None)

    def url(self, path: str, **changes: int | None) -> str:
        """The path with this state, after some changes."""
        numbers = {name: getattr(self, name) for name in NUMBERS} | changes
        query = [f"{name}={number}" for name, number in numbers.items() if number is not None] + self._texts
        return f"{path}?{'&'.join(query)}" if query else path

    @cached_property
    def _texts(self) -> list[str]:
        """The entries of the address that are not numbers."""
        texts = [(name, getattr(self, name)) for name in TEXTS]
        unit = self.unit if self.what_if and self.unit is not LengthUnit.MM else ""
        asked = [*self.what_if, *filter(itemgetter(1), [*texts, ("if_unit", str(unit))])]
        return [f"{name}={quote(text)}" for name, text in asked]

    def urls(self, path: str, names: tuple[str, ...], rows: Iterable[tuple[int, ...]]) -> tuple[str, ...]:
        """Addresses that differ only in the values of some names, such as one for each count on the rail."""
        rest = self.url(path, **dict.fromkeys(names)).replace("%", "%%")
        pattern = with_query(rest, "=%d&".join(names), "%d")
        return tuple([pattern % row for row in rows])


def with_query(address: str, name: str, value: object) -> str:
    """An address with one more entry.

    >>> with_query("/jobs/1/tally", "at", 10), with_query("/jobs/1/tally?ring=30", "at", 10)
    ('/jobs/1/tally?at=10', '/jobs/1/tally?ring=30&at=10')
    """
    return f"{address}{'&' if '?' in address else '?'}{name}={value}"


def view_state_of(query: QueryParams) -> ViewState:
    """The state in an address; values that are not sensible numbers are ignored."""

    def whole(name: str) -> int | None:
        return whole_number(query.get(name, ""), 3)

    asked = tuple((name, query[name][:LONGEST_ASKED]) for name in WHAT_IF if query.get(name, "").strip())
    unit = LengthUnit.INCH if query.get("if_unit") == LengthUnit.INCH else LengthUnit.MM
    clamped = query.get("clamped", "").strip()[:LONGEST_ASKED]
    near = query.get("near", "").strip()[:LONGEST_NEAR]
    counted = query.get("counted", "") if query.get("counted") in COUNTED else ""
    gear_and_count = (whole("ring"), whole("cog"), whole("links"), whole("travel"))
    step = query.get("step", "").strip()[:LONGEST_STEP]
    tick = query.get("tick", "").strip()[:LONGEST_NEAR]
    return ViewState(*gear_and_count, asked, unit, clamped, near, whole("piece"), whole("rivet"), counted, step, tick)


def gear_in(state: ViewState, bike: Bike) -> tuple[int, int]:
    """The gear shown: the one in the address if the bike has it, else one with its ring or its cog, else big/big."""
    gears = all_gears(bike)
    return max(gears, key=lambda gear: (gear[0] == state.ring) + (gear[1] == state.cog))


def neighbour(sizes: tuple[int, ...], size: int, step: int) -> int:
    """The next size up or down; the same at the end.

    >>> neighbour((30, 11, 13), 13, 1), neighbour((30, 11, 13), 30, 1)
    (30, 30)
    """
    in_order = sorted(sizes)
    return in_order[min(max(in_order.index(size) + step, 0), len(in_order) - 1)]
