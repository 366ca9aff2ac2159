"""The causes of a complaint, ranked by what is computed for this bike; those that cannot be computed come after (trade,
section 13)."""

from collections.abc import Callable
from dataclasses import dataclass
from statistics import NormalDist

from lone_pike.core.bike.limits import LINKS_PER_PAIR, limit
from lone_pike.core.bike.take_up import Family
from lone_pike.core.complaint.old_chain import serves
from lone_pike.core.count.sizing import Sizing
from lone_pike.core.messages import Message, Value, links, mm, number
from lone_pike.core.take_up.protocol import GearState, Safety
from lone_pike.core.wear.gauging import Wear
from lone_pike.core.wear.replacing import cogs_percent, limit_percent, percent

RUBS, STRAIGHT, JUMPS, TICKS, GRINDS = "rubs", "straight", "jumps", "ticks", "grinds"
BACKWARDS, ROARS, SLAPS, COMES_OFF, BROKE = "backwards", "roars", "slaps", "comes_off", "broke"
SYMPTOMS = (RUBS, STRAIGHT, JUMPS, TICKS, GRINDS, BACKWARDS, ROARS, SLAPS, COMES_OFF, BROKE)
"""Complaints, as they are chosen from the pictures."""


@dataclass(frozen=True)
class Known:
    """What is known of the bike as it came, None for what is not known: its sizing, the old chain's links and wear.
    crossed says that its route was refused because the two runs cross."""

    sizing: Sizing | None
    old_links: int | None
    wear: Wear | None
    crossed: bool = False


@dataclass(frozen=True)
class Evidence:
    """How likely a cause is by the computation, 0 to 1, and the reason, with figures."""

    chance: float
    why: Message


Ask = Callable[[Known], Evidence | None]
"""A function that judges a cause for a bike; None if what it needs is not known."""


@dataclass(frozen=True)
class Cause:
    """One cause of a complaint: its key, how likely it is (None if that cannot be computed), the reason, and the
    quickest check."""

    key: str
    chance: float | None
    why: Message
    check: Message

    @property
    def is_likely(self) -> bool:
        """Whether it was computed and is more likely than not."""
        return self.chance is not None and self.chance > LIKELY


LIKELY = 0.5
SURE, UNSURE, HARDLY = 0.95, 0.75, 0.04


def too_long(known: Known) -> Evidence | None:
    """Judges whether the old chain is past the window's long end."""
    return _off_window(known, Safety.LOOSE, ("cause_too_long", "cause_not_too_long"))


def too_short(known: Known) -> Evidence | None:
    """Judges whether the old chain is before the window's short end."""
    return _off_window(known, Safety.SHORT, ("cause_too_short", "cause_not_too_short"))


def _off_window(known: Known, end: Safety, codes: tuple[str, str]) -> Evidence | None:
    sizing, old = known.sizing, known.old_links
    if sizing is None or old is None:
        return None
    served = serves(sizing, old)
    beyond = sizing.window is None and end is Safety.LOOSE and old > sizing.recommended_links
    pairs = abs(served.pairs) if served.safety is end else 0
    if beyond:
        pairs = (old - sizing.recommended_links) // LINKS_PER_PAIR
    is_so = pairs > 0 and (beyond or sizing.window is not None or end is Safety.SHORT)
    said: dict[str, Value] = {"count": links(old), "pairs": links(LINKS_PER_PAIR * pairs)}
    said["meaning"] = sizing.take_up.meaning(old)
    return Evidence(SURE if is_so else HARDLY, Message(codes[0] if is_so else codes[1], **said))


def beyond_capacity(known: Known) -> Evidence | None:
    """Judges whether no count is safe in all gears."""
    sizing = known.sizing
    if sizing is None or not sizing.bike.take_up.serves_range:
        return None
    if sizing.window:
        low, high = links(sizing.window.min), links(sizing.window.max)
        return Evidence(HARDLY, Message("cause_within_capacity", low=low, high=high))
    gears = sizing.take_up.gears(sizing.recommended_links)
    out = tuple(
        Message("gear", ring=number(gear.ring), cog=number(gear.cog))
        for gear in gears
        if gear.state in (GearState.TOUCHING, GearState.LOOSE)
    )[:MOST_GEARS]
    code = "cause_beyond_capacity_in" if out else "cause_beyond_capacity"
    return Evidence(0.9, Message(code, **({"gears": out} if out else {})))


MOST_GEARS = 3


def worn_chain(known: Known) -> Evidence | None:
    """Judges whether the chain is past its limit."""
    return _worn(known, limit_percent, ("cause_worn", "cause_not_worn"))


def worn_cogs(known: Known) -> Evidence | None:
    """Judges whether the chain is so worn that the cogs are worn too."""
    return _worn(known, cogs_percent, ("cause_cogs_worn", "cause_cogs_not_worn"))


def _worn(known: Known, limit_of: Callable[[int], float], codes: tuple[str, str]) -> Evidence | None:
    if known.wear is None or known.sizing is None:
        return None
    wear, at_percent = known.wear, limit_of(known.sizing.bike.speeds)
    past = NormalDist(0, max(wear.spread, 1e-6)).cdf(wear.percent - at_percent)
    chance = HARDLY + (SURE - HARDLY) * past
    code = codes[0] if past > LIKELY else codes[1]
    return Evidence(chance, Message(code, wear=percent(wear.percent), most=percent(at_percent)))


def gap_too_small(known: Known) -> Evidence | None:
    """Judges whether the guide pulley is too close to the largest cog."""
    bike = known.sizing.bike if known.sizing else None
    gap_mm = bike.derailleur.b_gap_mm if bike and bike.take_up.serves_range else None
    if gap_mm is None:
        return None
    usual = limit("gap")
    is_close = gap_mm < usual - limit("gap_close")
    code = "cause_gap_small" if is_close else "cause_gap_right"
    return Evidence(UNSURE if is_close else HARDLY, Message(code, gap=mm(gap_mm), usual=mm(usual)))


def runs_swapped(known: Known) -> Evidence | None:
    """Judges whether the route crosses itself."""
    if known.crossed:
        return Evidence(SURE, Message("cause_runs_cross"))
    if known.sizing is None or not known.sizing.bike.idlers:
        return None
    return Evidence(HARDLY, Message("cause_runs_apart"))


def slack_wrong(known: Known) -> Evidence | None:
    """Judges whether the old chain hangs by more than it may on a bike where nothing moves."""
    stands = known.sizing is not None and known.sizing.bike.take_up.family is Family.STANDS
    return too_long(known) if stands else None


COMPUTED: dict[str, Ask] = {
    "too_long": too_long,
    "too_short": too_short,
    "beyond_capacity": beyond_capacity,
    "worn_chain": worn_chain,
    "worn_cogs": worn_cogs,
    "gap_too_small": gap_too_small,
    "runs_swapped": runs_swapped,
    "slack_wrong": slack_wrong,
}
NOT_COMPUTED = (
    *("clutch", "hanger", "stiff_link", "joiner_seat", "wrong_tab", "new_cassette", "dry", "chain_line"),
    *("wheel_loose", "old_rivet", "guard", "pulley_worn"),
)
"""Causes that cannot be computed and have to be checked."""

CAUSES_OF: dict[str, tuple[str, ...]] = {
    RUBS: ("too_long", "beyond_capacity", "worn_chain", "clutch", "hanger"),
    STRAIGHT: ("too_short", "beyond_capacity", "hanger", "stiff_link"),
    JUMPS: ("worn_cogs", "worn_chain", "too_long", "new_cassette", "stiff_link", "hanger", "joiner_seat"),
    TICKS: ("stiff_link", "joiner_seat", "pulley_worn", "worn_chain"),
    GRINDS: ("gap_too_small", "too_short", "wrong_tab", "guard", "dry", "pulley_worn"),
    BACKWARDS: ("runs_swapped", "guard", "joiner_seat"),
    ROARS: ("gap_too_small", "too_short", "pulley_worn", "dry"),
    SLAPS: ("too_long", "beyond_capacity", "worn_chain", "clutch", "hanger"),
    COMES_OFF: ("slack_wrong", "too_long", "worn_cogs", "worn_chain", "wheel_loose", "chain_line", "hanger"),
    BROKE: ("too_short", "worn_chain", "old_rivet", "joiner_seat", "stiff_link"),
}
"""The possible causes of each complaint, in the order in which they are checked."""

HOW_OFTEN: dict[str, float] = {"worn_chain": 0.9, "beyond_capacity": 0.95}
"""The weight of a cause that explains a complaint less well than the others; 1 if it is not listed."""


def causes_of(symptom: str, known: Known) -> tuple[Cause, ...]:
    """The causes of a complaint: first those that the computation makes likely, then those to be checked, and last
    those that the figures speak against."""
    found = [_cause(key, known) for key in CAUSES_OF[symptom]]
    likely = sorted((one for one in found if one.is_likely), key=lambda one: -(one.chance or 0.0))
    looked_at = [one for one in found if one.chance is None]
    return (*likely, *looked_at, *(one for one in found if one.chance is not None and not one.is_likely))


def _cause(key: str, known: Known) -> Cause:
    check = Message(CHECKS[key])
    if key not in COMPUTED:
        return Cause(key, None, Message(LOOKED_AT), check)
    evidence = COMPUTED[key](known)
    if evidence is None:
        return Cause(key, None, Message(NOT_KNOWN), check)
    return Cause(key, evidence.chance * HOW_OFTEN.get(key, 1.0), evidence.why, check)


CHECKS = {key: f"check_{key}" for key in (*COMPUTED, *NOT_COMPUTED)}
LOOKED_AT, NOT_KNOWN = "cause_looked_at", "cause_not_known"
"""Codes of the sentences for the quickest check of each cause, and for why there is no figure."""
