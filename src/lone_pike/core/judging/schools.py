"""Every sizing school as one vote: its count, inside or outside the window, and one sentence why.

A school is a function from a sizing to its count and reason; SCHOOLS lists them in the order shown.
"""

import math
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from lone_pike.core.bike.document import LEAST_TOTAL_LINKS, OldChain
from lone_pike.core.bike.limits import INCH_MM, LINKS_PER_PAIR, PITCH_MM, limit
from lone_pike.core.chain.counting import joinable_at_or_above, joinable_nearest, pairs_words
from lone_pike.core.chain.path import trace
from lone_pike.core.judging.sizing import Sizing, size_at
from lone_pike.core.judging.window import BIG, SMALL, Ends
from lone_pike.core.motion.poses import bare_stops, gears_of


@dataclass(frozen=True)
class Vote:
    """One school's count, in links: the rule it follows, and that with what it does at both ends, why."""

    school: str
    links: int
    inside: bool
    why: str
    rule: str


@dataclass(frozen=True)
class Say:
    """A school's count before it is judged; no count where the school cannot be used here."""

    links: int
    why: str


School = Callable[[Sizing], Say | None]


def bare_wrap_and_pairs(pairs: int) -> School:
    """The wrap round big/big without the derailleur, up to a joinable count, and so many pairs."""

    def school(sizing: Sizing) -> Say:
        wrap = joinable_at_or_above(sizing.bare_wrap_links, sizing.step_links)
        bare = f"Bare wrap {sizing.bare_wrap_links:.1f} links, joins at {wrap} links"
        why = f"{bare}, plus {pairs_words(pairs * LINKS_PER_PAIR)}"
        if sizing.bike.take_up.extended:
            return Say(wrap + (pairs + 1) * LINKS_PER_PAIR, f"{why}, and 1 more for the extender or oversize cage")
        return Say(wrap + pairs * LINKS_PER_PAIR, why)

    return school


def overlap_floor(sizing: Sizing) -> Say:
    """The ends must overlap by a pair at the bare wrap: a floor, not a size."""
    links = joinable_at_or_above(sizing.bare_wrap_links + LINKS_PER_PAIR, sizing.step_links)
    return Say(links, "A floor, not a size: the ends overlap by at least a pair at the bare wrap")


def formula(sizing: Sizing) -> Say:
    """Inches: twice the chainstay, a quarter of ring and cog, and one; a desk estimate."""
    bike = sizing.bike
    inches = 2 * bike.chainstay_length_mm / INCH_MM + bike.biggest_ring / 4 + bike.biggest_cog / 4 + 1
    links = joinable_at_or_above(inches * INCH_MM / PITCH_MM, LINKS_PER_PAIR)
    return Say(links, f"The desk formula gives {inches:.1f} inches, up to {pairs_words(links)}; it knows no cage")


def cage_vertical(sizing: Sizing) -> Say:
    """Biggest ring and smallest cog: pulleys plumb, one above the other."""
    bike = sizing.bike
    plumb = sizing.plumb_links(bike.biggest_ring, bike.smallest_cog)
    links = joinable_nearest(plumb, sizing.step_links)
    return Say(links, f"The pulleys hang plumb in {bike.biggest_ring}/{bike.smallest_cog} at {plumb:.1f} links")


def slack_test(sizing: Sizing) -> Say | None:
    """Small/small: the longest count at which the return run just stays off the guide pulley."""
    air_mm = sizing.ends.clearance_mm[0]
    off = [i for i, air in enumerate(air_mm) if air >= sizing.bike.limits.least_clearance_mm]
    if not off:
        return None
    links, air = sizing.ends.counts[off[-1]], air_mm[off[-1]]
    finger = "a finger fits" if air >= limit("finger_air") else "not a finger"
    return Say(links, f"The longest that stays off the guide pulley in small/small, {air:.0f} mm of air, {finger}")


def makers_sheet(sizing: Sizing) -> Say | None:
    """What the maker's sheet adds to the bare wrap, or its total; it outranks the other schools."""
    links = sizing.bike.sheet_links
    if links is None:
        return None
    if links >= LEAST_TOTAL_LINKS:
        return Say(links, f"The maker's sheet says {links} links in all")
    wrap = joinable_at_or_above(sizing.bare_wrap_links, sizing.step_links)
    return Say(wrap + links, f"The maker's sheet adds {links} links to the bare wrap, which joins at {wrap} links")


def old_chain(sizing: Sizing) -> Say | None:
    """The count that came off, if it was right; with a new cog or ring, what their change asks for on top."""
    old = sizing.bike.old_chain
    if old is None:
        return None
    if not old.was_right:
        return Say(old.links, "The old chain was not right, so its count is no guide")
    grown, asked = _change_of_teeth(sizing, old)
    unknown = [part for part in old.changed if part not in grown]
    if unknown:
        return Say(old.links, f"Not to be copied: changed since are {', '.join(unknown)}, by how much is not said")
    if not grown:
        return Say(old.links, "The old chain ran well and no part changed, so it may be copied rivet for rivet")
    more = math.ceil(asked / sizing.step_links - 0.05) * sizing.step_links
    told = f"{' and '.join(grown.values())} {'ask' if len(grown) > 1 else 'asks'} for {asked:+.1f} links"
    if not more:
        return Say(old.links, f"{told}, less than a pair, so {old.links} links may stay")
    size = f"{pairs_words(abs(more))} {'more' if more > 0 else 'less'}"
    return Say(old.links + more, f"{told}, so {size} than the {old.links} links that ran well")


def _change_of_teeth(sizing: Sizing, old: OldChain) -> tuple[dict[str, str], float]:
    """Which parts are known to have changed, in words, and the links that asks for: the bare wrap's change at rest."""
    bike, grown = sizing.bike, {}
    before = {"cogs": old.biggest_cog or bike.biggest_cog, "rings": old.biggest_ring or bike.biggest_ring}
    now = {"cogs": bike.biggest_cog, "rings": bike.biggest_ring}
    for part, name in (("cogs", "the largest cog"), ("rings", "the ring")):
        teeth = now[part] - before[part]
        if teeth:
            grown[part] = (
                f"{abs(teeth)} {'tooth' if abs(teeth) == 1 else 'teeth'} {'more' if teeth > 0 else 'less'} on {name}"
            )
    gears = gears_of([(now["rings"], now["cogs"]), (before["rings"], before["cogs"])])
    wraps = np.asarray(trace(bare_stops(sizing.poses, gears)).links)[0, :, 0]
    return grown, float(wraps[0] - wraps[1])


def sized_at_rest(sizing: Sizing) -> Say | None:
    """What this very bike would get if its suspension were left standing at rest."""
    bike = sizing.bike
    if not bike.suspension:
        return None
    links = size_at(bike, 0.0).recommended_links
    missing = sizing.recommended_links - links
    if missing <= 0:
        return Say(links, f"Sized at rest it comes to {'the same' if not missing else 'more'}: the wrap grows little")
    settled = sizing.settled_for([links])
    reserve = np.where(settled.short, -np.inf, settled.reserve_rad)[:, BIG, 0]
    too_short = sizing.travels_mm[reserve < np.radians(bike.limits.least_reserve_deg)]
    where = f"from {too_short[0]:.0f} mm of travel it is too short" if len(too_short) else "it is still safe"
    return Say(links, f"Sized at rest it would be {missing} links short of {sizing.recommended_links} links; {where}")


def least_tension(sizing: Sizing) -> Say | None:
    """Small/small: the first count, counted down from slack, at which the cage takes any tension."""
    loose = np.any(sizing.settled.loose[:, SMALL, :], axis=0).tolist()
    tight = [links for links, is_loose in zip(sizing.ends.counts, loose, strict=True) if not is_loose]
    return Say(tight[-1], "The longest at which the cage still takes some tension in small/small") if tight else None


SCHOOLS: dict[str, School] = {
    "makers_sheet": makers_sheet,
    "bare_wrap_1_pair": bare_wrap_and_pairs(1),
    "bare_wrap_2_pairs": bare_wrap_and_pairs(2),
    "overlap_floor": overlap_floor,
    "formula": formula,
    "cage_vertical": cage_vertical,
    "slack_test": slack_test,
    "least_tension": least_tension,
    "sized_at_rest": sized_at_rest,
    "old_chain": old_chain,
}


def votes_of(sizing: Sizing) -> tuple[Vote, ...]:
    """All schools that apply, judged at both ends of this bike. Source: trade, section 4."""
    said = [(name, say) for name, school in SCHOOLS.items() if (say := school(sizing))]
    ends = sizing.ends_for([say.links for _, say in said])
    return tuple(
        Vote(
            name,
            say.links,
            inside=bool(ends.safe[0, i]) and say.links % sizing.step_links == 0,
            why=f"{say.why}; {verdict(ends, i)}.",
            rule=f"{say.why}.",
        )
        for i, (name, say) in enumerate(said)
    )


def verdict_at(sizing: Sizing, links: int) -> str:
    """What a count does at both ends of this bike, in half a sentence."""
    return verdict(sizing.ends_for([links]), 0)


def verdict(ends: Ends, i: int) -> str:
    """What the count at an index does at both ends, in half a sentence."""
    reserve_deg, clearance_mm = float(ends.reserve_deg[0, i]), float(ends.clearance_mm[0, i])
    wanted_deg, wanted_mm = ends.limits.least_reserve_deg, ends.limits.least_clearance_mm
    if reserve_deg == -np.inf:
        return "it is too short to go round big/big through the cage"
    if reserve_deg < wanted_deg:
        return f"big/big would keep only {reserve_deg:.0f}° of the {wanted_deg:.0f}° it needs"
    if clearance_mm == -np.inf:
        return "in small/small it would hang loose"
    if clearance_mm < 0:
        return "in small/small the chain would touch the guide pulley"
    if clearance_mm < wanted_mm:
        return f"in small/small it would keep only {clearance_mm:.0f} mm of the {wanted_mm:.0f} mm of air it needs"
    return f"big/big keeps {reserve_deg:.0f}°, small/small {clearance_mm:.0f} mm of air"
