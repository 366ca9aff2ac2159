"""Every sizing school as one vote: its count, inside or outside the window, and why.

A school is a function from a sizing to its count and reason; the take-up says which schools apply to it.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from lone_pike.core.bike.base import ChangedPart, Run
from lone_pike.core.bike.clock import clock_of
from lone_pike.core.bike.faults import invalid
from lone_pike.core.bike.limits import INCH_MM, LINKS_PER_PAIR, PITCH_MM, limit
from lone_pike.core.bike.parts import OldChain
from lone_pike.core.bike.take_up import as_a
from lone_pike.core.chain.counting import joinable_at_or_above, joins_at, joins_nearest
from lone_pike.core.chain.path import trace
from lone_pike.core.count.at_rest import longest_clear, longest_in_tension, nearest_to_clock
from lone_pike.core.count.sizing import Sizing, size_at
from lone_pike.core.messages import Message, Quantity, Term, Unit, links, mm, number, teeth
from lone_pike.core.motion.poses import bare_stops, gears_of
from lone_pike.core.take_up.arm import ArmTakeUp
from lone_pike.core.take_up.cage import BIG
from lone_pike.core.take_up.protocol import Safety

LESS_THAN_A_PAIR = 0.05
"""If a change of teeth exceeds a step by no more than this share of one, the lower step is taken."""


@dataclass(frozen=True)
class Vote:
    """One school's count, links, with its rule and what the count does at both ends."""

    school: str
    links: int
    inside: bool
    rule: Message
    meaning: Message

    @property
    def why(self) -> Message:
        """The rule, and what it does at both ends."""
        return Message("rule_and_meaning", rule=self.rule, meaning=self.meaning)


@dataclass(frozen=True)
class SchoolCount:
    """A school's count before its safety is judged."""

    links: int
    rule: Message


School = Callable[[Sizing], SchoolCount | None]


def bare_wrap_and_pairs(pairs: int) -> School:
    """The wrap round big/big without the derailleur, rounded up to a joinable count, plus some pairs."""

    def school(sizing: Sizing) -> SchoolCount:
        wrap = joins_at(sizing.bike.chain, sizing.bare_wrap_links)
        added = pairs * LINKS_PER_PAIR
        values = {"bare": links(sizing.bare_wrap_links), "joins_at": links(wrap), "added": links(added)}
        if sizing.bike.derailleur.extended:
            more = links(LINKS_PER_PAIR)
            return SchoolCount(wrap + added + LINKS_PER_PAIR, Message("bare_wrap_and_extender", more=more, **values))
        return SchoolCount(wrap + added, Message("bare_wrap_and", **values))

    return school


def by_number_of_cogs(sizing: Sizing) -> SchoolCount:
    """The bare wrap plus one pair, or plus two pairs for many cogs: a house rule in one sentence."""
    wrap, many = joins_at(sizing.bike.chain, sizing.bare_wrap_links), sizing.bike.speeds >= limit("many_cogs")
    added = (2 if many else 1) * LINKS_PER_PAIR
    values = {"cogs": Quantity(sizing.bike.speeds, Unit.COGS), "added": links(added), "joins_at": links(wrap)}
    return SchoolCount(wrap + added, Message("by_number_of_cogs", **values))


def tight_and_quiet(sizing: Sizing) -> SchoolCount:
    """The shortest count that goes round big/big where the travel needs most, plus one pair."""
    shortest = joins_at(sizing.bike.chain, float(sizing.cage.sweep.stretched_links[:, BIG].max()))
    values = {"shortest": links(shortest), "added": links(LINKS_PER_PAIR)}
    return SchoolCount(shortest + LINKS_PER_PAIR, Message("tight_and_quiet", **values))


def overlap_floor(sizing: Sizing) -> SchoolCount:
    """The ends must overlap by a pair at the bare wrap: a floor, not a size."""
    count = joins_at(sizing.bike.chain, sizing.bare_wrap_links) + LINKS_PER_PAIR
    return SchoolCount(count, Message("overlap_floor", overlap=links(LINKS_PER_PAIR)))


def formula(sizing: Sizing) -> SchoolCount:
    """Twice the chainstay, a quarter of ring and cog, and one, in inches; an estimate for the desk."""
    bike = sizing.bike
    inches = 2 * bike.chainstay_length_mm / INCH_MM + bike.largest_ring / 4 + bike.largest_cog / 4 + 1
    count = joinable_at_or_above(inches * INCH_MM / PITCH_MM, LINKS_PER_PAIR)
    return SchoolCount(count, Message("formula", length=Quantity(inches, Unit.INCHES), up_to=links(count)))


def cage_vertical(sizing: Sizing) -> SchoolCount | None:
    """The count at which the pulleys hang plumb on largest ring and smallest cog; None if an idler is in their way."""
    ring, cog = sizing.bike.largest_ring, sizing.bike.smallest_cog
    plumb = sizing.cage.plumb_links(ring, cog)
    if math.isnan(plumb):
        return None
    count = joins_nearest(sizing.bike.chain, plumb)
    return SchoolCount(count, Message("pulleys_plumb", gear=_gear(ring, cog), at=links(plumb)))


def slack_test(sizing: Sizing) -> SchoolCount | None:
    """Small/small, at rest: the longest count at which the return run just stays off the guide pulley."""
    longest = longest_clear(sizing.cage)
    if longest is None:
        return None
    count, air_mm = longest
    code = "longest_off_guide_finger" if air_mm >= limit("finger_air") else "longest_off_guide"
    return SchoolCount(count, Message(code, air=mm(air_mm)))


def least_tension(sizing: Sizing) -> SchoolCount:
    """Small/small, at rest: the first count, counted down from slack, at which the cage takes any tension."""
    return SchoolCount(longest_in_tension(sizing.cage), Message("longest_in_tension"))


def cage_clock(sizing: Sizing) -> SchoolCount | None:
    """Long bikes, big/big at rest: the cage points to half past four to five on the clock."""
    bike = sizing.bike
    if not bike.boom and all(idler.run is Run.DRIVE for idler in bike.idlers):
        return None
    nearest = nearest_to_clock(sizing.cage)
    return nearest and SchoolCount(nearest[0], Message("cage_points_to", clock=clock_of(nearest[1])))


def makers_sheet(sizing: Sizing) -> SchoolCount | None:
    """The maker's sheet: what it adds to the bare wrap, or its total, rounded up to a joinable count; it outranks the
    others.

    Raises: InvalidInput if no chain of that total goes round this bike.
    """
    sheet = sizing.bike.sheet_links
    if sheet is None:
        return None
    wrap = joins_at(sizing.bike.chain, sizing.bare_wrap_links)
    total = sheet >= limit("sheet_least_total")
    count = joinable_at_or_above(sheet if total else wrap + sheet, sizing.step_links)
    longest = sizing.take_up.counts_of_all()[-1] + int(limit("sheet_most_added"))
    if not wrap <= count <= longest:
        allowed = Message("sheet_that_closes", low=links(wrap), high=links(longest))
        raise invalid("sheet_links", links(sheet), allowed, Message("sheet_other_bike"))
    values = {"total": links(sheet)} if total else {"added": links(sheet), "joins_at": links(wrap)}
    code = "sheet_total" if total else "sheet_adds"
    if count == (sheet if total else wrap + sheet):
        return SchoolCount(count, Message(code, **values))
    return SchoolCount(count, Message(f"{code}_joins", count=links(count), **values))


def old_chain(sizing: Sizing) -> SchoolCount | None:
    """The count of the old chain, if it was right, plus what the change of cog or ring needs. Its rule also says
    whether the old chain itself is safe in these gears, or how many pairs it is too short or too long."""
    old = sizing.bike.old_chain
    if old is None:
        return None
    school = _by_old_chain(sizing, old)
    return SchoolCount(school.links, Message("old_and_gears", rule=school.rule, serves=_serves(sizing, old.links)))


def _serves(sizing: Sizing, old_links: int) -> Message:
    """Whether the old chain is safe in the bike's present gears."""
    least, most = (sizing.window.min, sizing.window.max) if sizing.window else (sizing.recommended_links,) * 2
    if old_links < least:
        return Message("old_short", by=links(least - old_links))
    return Message("old_long", by=links(old_links - most)) if old_links > most else Message("old_serves")


def _by_old_chain(sizing: Sizing, old: OldChain) -> SchoolCount:
    """The count by what has changed since."""
    if not old.was_right:
        return SchoolCount(old.links, Message("old_was_wrong"))
    grown = _grown(sizing, old)
    unknown = tuple(Term("changed_part", part) for part in old.changed if part not in grown)
    if unknown:
        return SchoolCount(old.links, Message("old_parts_changed", parts=unknown))
    if not grown:
        return SchoolCount(old.links, Message("old_may_be_copied"))
    asked = _asked_links(sizing, old)
    more = math.ceil(asked / sizing.step_links - LESS_THAN_A_PAIR) * sizing.step_links
    asked_message = Message("teeth_ask", grown=tuple(grown.values()), asked=links(asked))
    if not more:
        return SchoolCount(old.links, Message("old_may_stay", told=asked_message, old=links(old.links)))
    code = "old_and_more" if more > 0 else "old_and_less"
    return SchoolCount(
        old.links + more, Message(code, told=asked_message, change=links(abs(more)), old=links(old.links))
    )


def _grown(sizing: Sizing, old: OldChain) -> dict[ChangedPart, Message]:
    """The parts with a known change of teeth, and that change."""
    bike = sizing.bike
    changes = {
        ChangedPart.COGS: bike.largest_cog - (old.biggest_cog or bike.largest_cog),
        ChangedPart.RINGS: bike.largest_ring - (old.biggest_ring or bike.largest_ring),
    }
    return {
        part: Message("teeth_more" if change > 0 else "teeth_less", change=teeth(abs(change)), on=Term("wheel", part))
        for part, change in changes.items()
        if change
    }


def _asked_links(sizing: Sizing, old: OldChain) -> float:
    """The links needed for changed teeth: the change of the bare wrap at rest."""
    bike = sizing.bike
    before = (old.biggest_ring or bike.largest_ring, old.biggest_cog or bike.largest_cog)
    gears = gears_of([(bike.largest_ring, bike.largest_cog), before])
    now, then = np.asarray(trace(bare_stops(sizing.poses, gears)).links)[0].ravel().tolist()
    return float(now - then)


def sized_at_rest(sizing: Sizing) -> SchoolCount | None:
    """The count for this bike if only its suspension at rest were considered."""
    bike = sizing.bike
    if not bike.suspension:
        return None
    count = size_at(bike, 0.0).recommended_links
    missing = sizing.recommended_links - count
    if missing <= 0:
        return SchoolCount(count, Message("same_at_rest" if not missing else "more_at_rest"))
    too_short = sizing.travels_mm[sizing.cage.reserves_deg(count) < bike.limits.least_reserve_deg]
    values = {"missing": links(missing), "advised": links(sizing.recommended_links)}
    if not len(too_short):
        return SchoolCount(count, Message("short_at_rest_yet_safe", **values))
    return SchoolCount(count, Message("short_at_rest", first=mm(float(too_short.min())), **values))


def arm_at_half(sizing: Sizing) -> SchoolCount:
    """The count with a sprung arm half way through its forward movement, at rest."""
    half = as_a(ArmTakeUp, sizing.take_up).half_links()
    return SchoolCount(joins_nearest(sizing.bike.chain, half), Message("arm_at_half", at=links(half)))


SCHOOLS: dict[str, School] = {
    "arm_at_half": arm_at_half,
    "makers_sheet": makers_sheet,
    "bare_wrap_1_pair": bare_wrap_and_pairs(1),
    "bare_wrap_2_pairs": bare_wrap_and_pairs(2),
    "by_cogs": by_number_of_cogs,
    "tight_and_quiet": tight_and_quiet,
    "overlap_floor": overlap_floor,
    "formula": formula,
    "cage_vertical": cage_vertical,
    "slack_test": slack_test,
    "least_tension": least_tension,
    "cage_clock": cage_clock,
    "sized_at_rest": sized_at_rest,
    "old_chain": old_chain,
}


def votes_of(sizing: Sizing) -> tuple[Vote, ...]:
    """All schools that apply, judged at both ends of this bike. Source: trade, section 4."""
    says = [(name, say) for name in sizing.take_up.schools if (say := SCHOOLS[name](sizing))]
    step = sizing.step_links
    votes = [
        Vote(
            name,
            say.links,
            inside=sizing.safety(say.links) is Safety.SAFE and say.links % step == 0,
            rule=say.rule,
            meaning=sizing.take_up.meaning(say.links),
        )
        for name, say in says
    ]
    return tuple(votes)


def _gear(ring: int, cog: int) -> Message:
    return Message("gear", ring=number(ring), cog=number(cog))
