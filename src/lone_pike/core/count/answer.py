"""The complete answer to one bike, as the command prints it and the pages show it (model, section 7)."""

from dataclasses import dataclass
from functools import cached_property, lru_cache

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import InvalidInput, invalid
from lone_pike.core.bike.limits import MOST_LINKS
from lone_pike.core.bike.measures import Measure
from lone_pike.core.chain.cutting import Cut, plan_cut
from lone_pike.core.chain.pieces import KeptRun
from lone_pike.core.chain.plan import missing_links, runs_for
from lone_pike.core.count.boom import BoomRange, boom_range, check_boom
from lone_pike.core.count.mending import Mend, largest_cog_served, mend_of
from lone_pike.core.count.notices import answer_notices, capacity_meaning, sensitivity_notices
from lone_pike.core.count.reasons import likely_message, reasons_of, sure_message
from lone_pike.core.count.schools import Vote, votes_of
from lone_pike.core.count.search import Combination, combinations_of
from lone_pike.core.count.sizing import CACHE_SIZE, Sizing, Window, size_bike
from lone_pike.core.doubt.likelihood import Likelihood, likelihood_of
from lone_pike.core.doubt.sensitivity import Sensitivity, ValidRange, sensitivity_of
from lone_pike.core.messages import Message, Notice, NoticeKind, links
from lone_pike.core.take_up.protocol import Capacity, Fit, Gear, Safety

WINDOW_DECIDES = "window"


@dataclass(frozen=True)
class BareWrap:
    """Length round big/big without the take-up, links."""

    rest: float
    worst: float
    worst_travel_mm: float


@dataclass(frozen=True)
class Served:
    """Capacity and largest cog: needed, rated, and computed for this bike; None for what is not known."""

    needed: Capacity
    capacity: int | None
    largest_cog: int | None

    @property
    def meaning(self) -> Message | None:
        """What it means if paper and bike disagree; None if they agree."""
        serves = self.largest_cog is not None and self.largest_cog >= self.needed.largest_cog
        return capacity_meaning(self.needed, serves=serves)


@dataclass(frozen=True)
class Answer:
    """The count for a bike, what decided it ("window", or a school), why, and how sure."""

    links: int
    decided_by: str
    sizing: Sizing
    bare_wrap: BareWrap
    votes: tuple[Vote, ...]
    gears: tuple[Gear, ...]
    capacity: Capacity
    fits: tuple[Fit, ...]
    cut: Cut | None
    notices: tuple[Notice, ...]

    @property
    def bike(self) -> Bike:
        """The bike that was sized."""
        return self.sizing.bike

    @property
    def window(self) -> Window | None:
        """The safe counts; None if no count is safe at both ends."""
        return self.sizing.window

    @property
    def recommended_links(self) -> int:
        """The count that the window recommends, whatever decided the count."""
        return self.sizing.recommended_links

    def safety(self, count: int) -> Safety:
        """The safety of a count."""
        return self.sizing.safety(count)

    def meaning(self, count: int) -> Message:
        """What a count does at both ends."""
        return self.sizing.take_up.meaning(count)

    def gears_at(self, count: int) -> tuple[Gear, ...]:
        """Every gear with the chain at a count."""
        return self.gears if count == self.links else self.sizing.take_up.gears(count)

    @cached_property
    def sensitivity(self) -> Sensitivity:
        """How far each measure may be off. This is half of the work, so it is computed on demand."""
        sizing = self.sizing
        worst_mm = sizing.worst_travels_mm(self.links)
        return sensitivity_of(sizing.bike, sizing.take_up, sizing.recommended_links, worst_mm)

    @property
    def valid_ranges(self) -> dict[Measure, ValidRange]:
        """The range of each measure in which the count stays the same."""
        return self.sensitivity.valid_ranges

    @cached_property
    def likelihood(self) -> Likelihood | None:
        """How likely the recommended count stays right over the spreads of the measures; None if no measure is in
        doubt."""
        sizing, count = self.sizing, self.recommended_links
        return likelihood_of(sizing.bike, count, sizing.step_links, sizing.worst_travels_mm(count))

    @cached_property
    def plan(self) -> tuple[KeptRun, ...]:
        """The runs of several pieces that make the count, if the box alone does not; empty if nothing reaches it."""
        return runs_for(self.bike, self.links)

    @cached_property
    def boom(self) -> BoomRange | None:
        """The counts for the boom's settings; None without a boom."""
        return boom_range(self.sizing, self.links)

    @cached_property
    def combinations(self) -> tuple[Combination, ...]:
        """The results of a search; empty if none was asked for."""
        return combinations_of(self.bike)

    @cached_property
    def mend(self) -> Mend | None:
        """What would open an empty window; None if it is open."""
        return mend_of(self.sizing) if self.window is None else None

    @cached_property
    def served(self) -> Served:
        """What the take-up can serve on this bike, compared with what is needed and what it is rated for."""
        bike, cog = self.bike, largest_cog_served(self.sizing, self.mend)
        capacity = None if cog is None else bike.largest_ring - bike.smallest_ring + cog - bike.smallest_cog
        return Served(self.capacity, capacity, cog)

    @property
    def later_notices(self) -> tuple[Notice, ...]:
        """Notices that follow from the sensitivity, and on what would mend an empty window."""
        of_ranges = sensitivity_notices(self.bike, self.valid_ranges)
        return (Notice(NoticeKind.MEND, self.mend.message), *of_ranges) if self.mend else of_ranges

    @property
    def warnings(self) -> tuple[Notice, ...]:
        """All notices."""
        return (*self.notices, *self.later_notices)

    @property
    def reasons(self) -> tuple[Message, ...]:
        """Why this count, in two sentences."""
        rule = next((vote.rule for vote in self.votes if vote.school == self.decided_by), None)
        return reasons_of(self.sizing, self.links, self.gears, rule)

    @property
    def sure(self) -> Message:
        """How sure the count is, in one sentence; by its likelihood if a measure is in doubt."""
        if self.likelihood:
            return likely_message(self.recommended_links, self.likelihood)
        return self.valid

    @property
    def valid(self) -> Message:
        """The range of chainstays in which the count stays the same, in one sentence."""
        sentence = sure_message(self.valid_ranges.get("chainstay_mm"))
        if self.decided_by == WINDOW_DECIDES:
            return sentence
        return Message("windows_count", count=links(self.recommended_links), sure=sentence)

    @property
    def why(self) -> tuple[Message, ...]:
        """Why this count, in three sentences at most."""
        return (*self.reasons, self.valid)


def _check_length(bike: Bike, count: int) -> None:
    """Refuses a bike whose chain would be longer than any that can be entered. Raises: InvalidInput."""
    if count > MOST_LINKS:
        field = "idlers" if bike.idlers else "chainstay_mm"
        raise invalid(field, Message("asks_for", count=links(count)), Message("chain_up_to", most=links(MOST_LINKS)))


@lru_cache(maxsize=CACHE_SIZE)
def answer(bike: Bike) -> Answer:
    """The complete answer to a bike.

    Raises: InvalidInput where the measures contradict each other.

    >>> from lone_pike.core.bike.turning import Derailleur
    >>> cage = Derailleur(type="derailleur", cage_mm=92.0, b_gap_mm=6.0)
    >>> cogs = (11, 13, 15, 17, 20, 23, 26, 30, 34, 40, 46)
    >>> answer(Bike(lone_pike=1, name="Otter", rings=(30,), cogs=cogs, chainstay_mm=432.0, take_up=cage)).links
    112
    """
    check_boom(bike)
    sizing = size_bike(bike)
    votes = votes_of(sizing)
    count, decided_by = _decided(sizing, votes)
    _check_length(bike, max(count, sizing.recommended_links))
    gears = sizing.take_up.gears(count)
    cut = plan_cut(bike, count)
    capacity = sizing.take_up.capacity()
    return Answer(
        links=count,
        decided_by=decided_by,
        sizing=sizing,
        bare_wrap=BareWrap(float(sizing.bare_wraps_links.item(0)), sizing.bare_wrap_links, sizing.worst_travel_mm),
        votes=votes,
        gears=gears,
        capacity=capacity,
        fits=sizing.take_up.fits(),
        cut=cut,
        notices=answer_notices(sizing, gears, capacity, missing_links(bike, count), count, decided_by),
    )


@lru_cache(maxsize=CACHE_SIZE)
def answer_or_refusal(bike: Bike) -> Answer | InvalidInput:
    """The complete answer, or the reason why there is none; both are cached, so that a refused bike is not computed
    again."""
    try:
        return answer(bike)
    except InvalidInput as refused:
        return refused


def _decided(sizing: Sizing, votes: tuple[Vote, ...]) -> tuple[int, str]:
    """What decides the count: the maker's sheet, else the shop's school if it has a count here, else the window."""
    counts = {vote.school: vote.links for vote in votes}
    for school in ("makers_sheet", str(sizing.bike.house_rule)):
        if school in counts:
            return counts[school], school
    return sizing.recommended_links, WINDOW_DECIDES
