"""The Stand: the jobs in hand, each with its one open question."""

from dataclasses import dataclass

from lone_pike.core.chain.plan import short_message
from lone_pike.core.messages import Message, Term, links
from lone_pike.core.route.routing import drafted
from lone_pike.core.stages import STAGES
from lone_pike.drawing.scene.drafted import small_drafted
from lone_pike.drawing.scene.small_view import SmallView, small_view
from lone_pike.formats.records.shop import Shop
from lone_pike.store.bikes import BikeRow
from lone_pike.store.jobs import JobRow
from lone_pike.store.paging import Listed
from lone_pike.web.job.measure.typical import KindChoice, kinds_offered
from lone_pike.web.job.work import SizedWork, Work, cut_of, kept_work, view_or_trouble
from lone_pike.web.listing import Listing, Pager, pager_of
from lone_pike.web.view_state import ViewState
from lone_pike.workshop.idlers import routed_bike


@dataclass(frozen=True)
class InHand:
    """A job in hand: its bike, its stage, its open question and its count."""

    url: str
    name: str
    complaint: str
    stage: Term
    question: Message
    side: SmallView | None
    links: int | None


@dataclass(frozen=True)
class StandView:
    """The jobs in hand, the kinds and bikes to start one from, which chains are due, and the faults of a file that
    could not be read."""

    in_hand: tuple[InHand, ...]
    pager: Pager
    kinds: tuple[KindChoice, ...]
    bikes: Listed[BikeRow]
    due: tuple[Message, ...]
    faults: tuple[str, ...]


def stand_view(
    jobs: Listed[JobRow],
    bikes: Listed[BikeRow],
    listing: Listing,
    shop: Shop,
    due: tuple[Message, ...],
    faults: tuple[str, ...] = (),
) -> StandView:
    """Builds the page; only the rows on it are sized."""
    rows = tuple(view_or_trouble(kept_work(job, ViewState(), shop), _in_hand) for job in jobs)
    return StandView(rows, pager_of("/", listing, jobs), kinds_offered(), bikes, due, faults)


def _in_hand(work: Work) -> InHand:
    return InHand(
        url=f"/jobs/{work.job.id}",
        name=str(work.document.get("name") or "New bike"),
        complaint=work.job.complaint,
        stage=Term("stage", work.job.stage),
        question=_question(work),
        side=_drawn(work.sized) if work.sized else _drafted(work),
        links=work.sized.links if work.sized else None,
    )


def _drawn(sized: SizedWork) -> SmallView:
    """The bike at rest in big/big, with the count under test."""
    return small_view(sized.standing, sized.gear, sized.links)


def _drafted(work: Work) -> SmallView | None:
    """A route that cannot work, as described; None for any other bike without a count."""
    bike = None if work.trouble else routed_bike(work.document, work.shop)
    return small_drafted(bike, drafted(bike)) if bike else None


def _question(work: Work) -> Message:
    """The open question of a job."""
    if work.sized is None:
        wrong = next((fault for fault in work.faults.values() if not fault.is_missing), None)
        if wrong and wrong.field.startswith("idlers"):
            return Message("route_is_wrong")
        return Message("measures_contradict") if wrong else Message("what_do_they_measure")
    return _of_sized(work, work.sized)


def _of_sized(work: Work, sized: SizedWork) -> Message:
    cut, _ = cut_of(work)
    old, count = sized.bike.old_chain, links(sized.links)
    if sized.answer.window is None:
        return Message("no_count_suits")
    if cut and cut.missing_links:
        return Message("which_other_piece", short=short_message(sized.bike, cut.missing_links))
    if old and old.links != sized.links:
        return Message("came_with", old=links(old.links), count=count)
    if sized.bike.take_up.by_class:
        return Message("cage_by_class")
    question = STAGES[work.job.stage].question
    return Message(question) if question else Message("is_it_count", count=count)
