"""The complete answer to one bike, as the command prints it and the pages show it (model, section 7)."""

from dataclasses import asdict, dataclass
from functools import cached_property, lru_cache
from typing import Any

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.limits import limit
from lone_pike.core.bike.measures import KINDS, Measure
from lone_pike.core.chain.counting import links_and_pairs, pairs_of
from lone_pike.core.chain.cutting import Cut, plan_cut
from lone_pike.core.judging.likelihood import Likelihood, likelihood_of
from lone_pike.core.judging.mending import Mend, largest_cog_served, mend_of
from lone_pike.core.judging.schools import Vote, verdict_at, votes_of
from lone_pike.core.judging.sensitivity import Sensitivity, ValidRange, sensitivity_of
from lone_pike.core.judging.sizing import Gear, Sizing, Window, size_bike

CACHE_SIZE = 64
EMPTY_WINDOW = "No count is safe at both ends; this is the shortest that is safe in big/big."


@dataclass(frozen=True)
class BareWrap:
    """Length round big/big without the derailleur, links."""

    rest: float
    worst: float
    worst_travel_mm: float


@dataclass(frozen=True)
class Capacity:
    """Teeth the derailleur must take up, and what its papers say; None where not given."""

    needed: int
    rated: int | None
    largest_cog: int
    rated_largest_cog: int | None


@dataclass(frozen=True)
class Served:
    """Capacity and largest cog needed, rated, and computed for this bike; None where not known."""

    needed: Capacity
    capacity: int | None
    largest_cog: int | None

    @property
    def words(self) -> str:
        """What it means when paper and bike disagree; empty where they do not."""
        rated, largest = self.needed.rated, self.needed.rated_largest_cog
        over = (rated is not None and self.needed.needed > rated) or (
            largest is not None and self.needed.largest_cog > largest
        )
        serves = self.largest_cog is not None and self.largest_cog >= self.needed.largest_cog
        if over and serves:
            return "More than it is rated for, though this bike's cage takes it up; its maker will not answer for it."
        if over:
            return "More than it is rated for, and more than it can take up here."
        if not serves and rated is not None:
            return "Within what it is rated for, and yet more than it can take up on this bike."
        return ""


@dataclass(frozen=True)
class Warning:
    """Something the mechanic must know about this answer."""

    code: str
    text: str


@dataclass(frozen=True)
class Answer:
    """The count for a bike, what decided it ("window", or a school), why, and how sure."""

    links: int
    decided_by: str
    sizing: Sizing
    bare_wrap: BareWrap
    window: Window | None
    votes: tuple[Vote, ...]
    gears: tuple[Gear, ...]
    capacity: Capacity
    cut: Cut | None
    notices: tuple[Warning, ...]

    @cached_property
    def doubt(self) -> Sensitivity:
        """How far each measure may be off; half of the work, so it is done when it is asked for."""
        return sensitivity_of(
            self.sizing.bike, self.recommended_links, self.sizing.step_links, self.sizing.worst_travels_mm(self.links)
        )

    @property
    def recommended_links(self) -> int:
        """The count the window recommends, whatever was decided."""
        return self.sizing.recommended_links

    @property
    def doubt_is_known(self) -> bool:
        """Whether the doubt has been worked out already."""
        return {"doubt", "served", "likelihood"} <= set(vars(self))

    @property
    def doubts(self) -> tuple[Warning, ...]:
        """Warnings that come of the doubt, and what would mend an empty window."""
        found = _doubt_warnings(self.sizing.bike, self.valid_ranges)
        return (Warning("mend", self.mend.words), *found) if self.mend else tuple(found)

    @cached_property
    def likelihood(self) -> Likelihood | None:
        """How likely the recommended count stays over the spread of the measures; None where none is in doubt."""
        sizing, links = self.sizing, self.recommended_links
        return likelihood_of(sizing.bike, links, sizing.step_links, sizing.worst_travels_mm(links))

    @property
    def likely(self) -> str:
        """The same in a sentence; empty where no measure is in doubt."""
        return _likely(self.recommended_links, self.likelihood) if self.likelihood else ""

    @cached_property
    def served(self) -> Served:
        """What the cage can serve on this very bike, beside what is needed and what it is rated for."""
        bike, cog = self.sizing.bike, largest_cog_served(self.sizing.bike, self.mend)
        capacity = None if cog is None else bike.biggest_ring - bike.smallest_ring + cog - bike.smallest_cog
        return Served(self.capacity, capacity, cog)

    @cached_property
    def mend(self) -> Mend | None:
        """What would open an empty window; None where it is open."""
        return mend_of(self.sizing.bike) if self.window is None else None

    @property
    def warnings(self) -> tuple[Warning, ...]:
        """All warnings."""
        return (*self.notices, *self.doubts)

    @property
    def valid_ranges(self) -> dict[Measure, ValidRange]:
        """Over which values of each measure the count stands."""
        return self.doubt.valid_ranges

    @property
    def reasons(self) -> tuple[str, ...]:
        """Why this count, in two sentences."""
        return _reasons(self)

    @property
    def sure(self) -> str:
        """How sure the count is, in one sentence."""
        sentence = _sure(self.valid_ranges["chainstay_mm"])
        return sentence if self.decided_by == "window" else f"The window's {self.recommended_links} links: {sentence}"

    @property
    def why(self) -> tuple[str, ...]:
        """Why this count, in three sentences at most."""
        return (*self.reasons, self.sure)

    def as_json(self) -> dict[str, Any]:
        """The answer as the command's contract has it."""
        chainstay = self.valid_ranges["chainstay_mm"]
        return {
            "links": self.links,
            "pairs": pairs_of(self.links),
            "recommended": self.recommended_links,
            "decided_by": self.decided_by,
            "bare_wrap": asdict(self.bare_wrap),
            "window": asdict(self.window) if self.window else None,
            "votes": [
                {"school": vote.school, "links": vote.links, "inside": vote.inside, "why": vote.why}
                for vote in self.votes
            ],
            "gears": [asdict(gear) for gear in self.gears],
            "confidence": {
                "chainstay_min_mm": chainstay.least,
                "chainstay_max_mm": chainstay.most,
                "likelihood": asdict(self.likelihood) if self.likelihood else None,
                "measures": {name: {"min": hold.least, "max": hold.most} for name, hold in self.valid_ranges.items()},
            },
            "capacity": asdict(self.capacity)
            | {"computed": self.served.capacity, "computed_largest_cog": self.served.largest_cog},
            "boom": [],
            "fits": [],
            "cut": asdict(self.cut) if self.cut else None,
            "warnings": [asdict(warning) for warning in self.warnings],
            "why": list(self.why),
        }


@lru_cache(maxsize=CACHE_SIZE)
def answer(bike: Bike) -> Answer:
    """The complete answer to a bike.

    Raises: InvalidInput where the measures contradict each other.

    >>> from lone_pike.core.bike.document import Derailleur
    >>> cage = Derailleur(type="derailleur", cage_mm=92.0, b_gap_mm=6.0)
    >>> cogs = (11, 13, 15, 17, 20, 23, 26, 30, 34, 40, 46)
    >>> answer(Bike(lone_pike=1, name="Otter", rings=(30,), cogs=cogs, chainstay_mm=432.0, take_up=cage)).links
    112
    """
    sizing = size_bike(bike)
    votes = votes_of(sizing)
    links, decided_by = _decided(sizing, votes)
    gears = sizing.gears(links)
    cut = plan_cut(bike, links)
    capacity = _capacity(bike)
    return Answer(
        links=links,
        decided_by=decided_by,
        sizing=sizing,
        bare_wrap=BareWrap(float(sizing.bare_wraps_links[0]), sizing.bare_wrap_links, sizing.worst_travel_mm),
        window=sizing.window,
        votes=votes,
        gears=gears,
        capacity=capacity,
        cut=cut,
        notices=tuple(_notices(sizing, gears, capacity, cut, links, decided_by)),
    )


def _decided(sizing: Sizing, votes: tuple[Vote, ...]) -> tuple[int, str]:
    """The maker's sheet, else the shop's school where it has a count here, else the window."""
    counts = {vote.school: vote.links for vote in votes}
    for school in ("makers_sheet", sizing.bike.house_rule):
        if school in counts:
            return counts[school], school
    return sizing.recommended_links, "window"


def _capacity(bike: Bike) -> Capacity:
    needed = bike.biggest_ring - bike.smallest_ring + bike.biggest_cog - bike.smallest_cog
    return Capacity(needed, bike.take_up.capacity, bike.biggest_cog, bike.take_up.max_cog)


def _notices(
    sizing: Sizing, gears: tuple[Gear, ...], capacity: Capacity, cut: Cut | None, links: int, decided_by: str
) -> list[Warning]:
    bike = sizing.bike
    found = []
    if list(bike.cogs) != sorted(bike.cogs):
        in_order = ", ".join(map(str, sorted(bike.cogs)))
        found.append(Warning("cogs_sorted", f"Cogs were out of order; read as {in_order}."))
    if bike.chain.joiner == "quick_link" and bike.speeds > limit("quick_link_cogs"):
        text = f"Chains for {bike.speeds} cogs are closed by a locking link, new each time."
        found.append(Warning("joiner_speeds", text))
    if decided_by != "window" and not sizing.ends_for([links]).safe[0, 0]:
        who = "The maker's sheet" if decided_by == "makers_sheet" else "The house rule"
        text = (
            f"{who} says {links} links, but {verdict_at(sizing, links)}."
            f" The window would take {sizing.recommended_links} links."
        )
        found.append(Warning("conflict", text))
    found += _rating_warnings(capacity)
    if sizing.window is None:
        found.append(Warning("window_empty", f"{EMPTY_WINDOW} {stay_out_of(gears)}".strip()))
    if cut and cut.missing_links:
        found.append(Warning("box_short", f"The box is {links_and_pairs(cut.missing_links)} short."))
    return found


def _doubt_warnings(bike: Bike, held: dict[Measure, ValidRange]) -> list[Warning]:
    found = []
    if bike.take_up.cage_mm is None:
        doubt, length = limit("cage_class_doubt"), bike.take_up.cage_length_mm
        text = f"Cage taken as {bike.take_up.cage_class}: {length:.0f} mm, {doubt:.0f} more or less."
        found.append(Warning("cage_class", text))
    edge = held["chainstay_mm"].nearest
    if edge is not None and edge < limit("near_edge"):
        found.append(Warning("near_edge", f"Measure the chainstay again: {edge:.1f} mm off, and it is another count."))
    return found


def stay_out_of(gears: tuple[Gear, ...]) -> str:
    """The gears in which the chain touches itself or hangs, in a sentence; empty where there are none."""
    out = ", ".join(f"{gear.ring}/{gear.cog}" for gear in gears if gear.state in ("touching", "loose"))
    return f"Stay out of {out}." if out else ""


def _rating_warnings(capacity: Capacity) -> list[Warning]:
    found = []
    if capacity.rated is not None and capacity.needed > capacity.rated:
        found.append(Warning("capacity", f"Rated for {capacity.rated} teeth of capacity, needed {capacity.needed}."))
    rated_cog = capacity.rated_largest_cog
    if rated_cog is not None and capacity.largest_cog > rated_cog:
        found.append(Warning("largest_cog", f"Rated for a {rated_cog} cog, fitted {capacity.largest_cog}."))
    return found


def _reasons(found: Answer) -> tuple[str, ...]:
    if found.decided_by != "window":
        rule = next(vote.rule for vote in found.votes if vote.school == found.decided_by)
        return (
            rule,
            f"At {found.links} links, {verdict_at(found.sizing, found.links)};"
            f" the window takes {found.recommended_links} links.",
        )
    if found.window is None:
        return tuple(filter(None, [EMPTY_WINDOW, stay_out_of(found.gears)]))
    first = f"At {found.links} links, {verdict_at(found.sizing, found.links)}."
    if found.window.min == found.window.max:
        return (first, "No other count is safe on this bike.")
    safe = f"Safe from {found.window.min} to {found.window.max} links"
    return (first, f"{safe}; this one is nearest to 45° short of straight.")


def _likely(links: int, found: Likelihood) -> str:
    others = [
        f"{count} links in {share:.0%}" for count, share in found.shares.items() if count != links and share >= 0.005
    ]
    share = "more than 99%" if found.stays > 0.99 else f"{found.stays:.0%}"
    text = f"With these doubts {links} links stay right in {share} of bikes" + (
        f", else {', '.join(others)}." if others else "."
    )
    if not found.matters:
        return text
    return f"{text} The {KINDS[found.matters].word} matters most: measure it again."


def _sure(hold: ValidRange) -> str:
    if hold.least is None and hold.most is None:
        return "It stands for any chainstay near this one."
    if hold.least is None:
        return f"It stands for chainstays up to {hold.most:.1f} mm."
    if hold.most is None:
        return f"It stands for chainstays from {hold.least:.1f} mm."
    return f"It stands for chainstays from {hold.least:.1f} to {hold.most:.1f} mm."
