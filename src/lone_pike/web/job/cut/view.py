"""Cut: the rivet to push on the strip, and the count-along."""

from dataclasses import dataclass
from urllib.parse import parse_qsl, urlsplit

from lone_pike.core.bike.faults import Fault
from lone_pike.core.bike.joiners import JOINERS, JoinerShape
from lone_pike.core.chain.counting import joins_at
from lone_pike.core.chain.cutting import Cut
from lone_pike.core.chain.plan import offer_of, short_message
from lone_pike.core.chain.trial import PushTrial, try_push
from lone_pike.core.messages import Message, NoticeKind, Term, number
from lone_pike.drawing.charts.pieces_row import PiecesRow, pieces_row
from lone_pike.drawing.charts.strip import Strip, close_up, strip
from lone_pike.drawing.charts.tool import ToolView, tool_view
from lone_pike.drawing.scene.side_view import SideView
from lone_pike.formats.typed.parsing import whole_number
from lone_pike.store.bin import joiner_stock, pieces_for
from lone_pike.store.database import Database
from lone_pike.store.ledger import PieceRow
from lone_pike.web.bin.view import loose_of
from lone_pike.web.job.frame import Frame, Papers, StageRequest, papers_of, side_of, unsafe_message
from lone_pike.web.job.work import Work, cut_of, cuts_of, jump_messages
from lone_pike.web.view_state import with_query

TALLY_STEP = 10
PAPERS = ("card.pdf", "strip.pdf", "picture/strip.svg", "weigh")


@dataclass(frozen=True)
class PieceLink:
    """One piece of a loop of several: its name, the links kept of it, the rivet to push, and the address of its cut."""

    name: Message
    keep_links: int
    push: int | None
    shown: bool
    url: str


@dataclass(frozen=True)
class Reference:
    """One place to count rivets from: its key, whether it is in use, and its address."""

    key: str
    word: Term
    shown: bool
    url: str


@dataclass(frozen=True)
class CutView:
    """The stage. cut is None until the box is known; fault says why a known box cannot be cut."""

    frame: Frame
    side: SideView
    cut: Cut | None
    fault: Fault | None
    joiner_warning: Message | None
    jump: Message | None
    has_clip: bool
    joiners: tuple[str, ...]
    pieces: tuple[PieceLink, ...]
    row: PiecesRow | None
    offers: tuple[PieceRow, ...]
    short: Message | None
    joiners_left: int | None
    papers: Papers
    references: tuple[Reference, ...]
    number: int | None
    trial: PushTrial | None
    slip_url: str
    try_action: str
    kept_query: tuple[tuple[str, str], ...]
    strip: Strip | None
    close_up: Strip | None
    tool: ToolView | None
    shortest_from_end: bool


@dataclass(frozen=True)
class TallyView:
    """The count-along: links counted so far, the rivet to reach, and the addresses of ten back and ten on."""

    reached: int
    end: int
    on: int
    push_from_end: int
    tens: tuple[bool, ...]
    unsafe: Message | None
    back_url: str
    on_url: str
    cut_url: str
    wheel_url: str
    by_wheel: bool

    @property
    def is_there(self) -> bool:
        """Whether the rivet is reached."""
        return self.reached == self.end

    @property
    def is_whole_ten(self) -> bool:
        """Whether the step back is ten links."""
        return self.reached % TALLY_STEP == 0


def stage_view(work: Work, asked: StageRequest) -> CutView:
    """The stage."""
    lacking = offered(asked.data, work) if lacks_chain(work) else ()
    jumps = bool(jump_messages(asked.data, work))
    return cut_view(work, asked.announcements, lacking, joiners_left(asked.data, work), jumps=jumps)


def cut_view(
    work: Work,
    announcements: tuple[Message, ...] = (),
    offers: tuple[PieceRow, ...] = (),
    joiners_left: int | None = None,
    *,
    jumps: bool = False,
) -> CutView:
    """Builds the stage. Parameters: offers, pieces of the bin if the chain is too short; joiners_left, how many joiners
    of its kind the bin has; jumps, whether a new chain may jump on the cassette."""
    sized = work.sized_or_error
    (cut, fault), (cuts, _) = cut_of(work), cuts_of(work)
    trial = try_push(cut, work.state.rivet, _closes_into(cut)) if cut and work.state.rivet else None
    return CutView(
        frame=Frame(work, "cut", announcements),
        side=side_of(sized),
        cut=cut,
        fault=fault,
        joiner_warning=joiner_warning(work),
        jump=Message("jump_short") if jumps else None,
        has_clip=bool(cuts) and JOINERS[cuts[0].joiner].shape is JoinerShape.CLIP,
        joiners=tuple(joiner for each in cuts for joiner in (str(each.joiner), *["offset_link"] * each.offset_links)),
        pieces=_piece_links(work, cuts, cut),
        row=pieces_row(cuts) if len(cuts) > 1 else None,
        offers=offers if not cut or cut.missing_links else (),
        short=short_message(sized.bike, cut.missing_links) if cut and cut.missing_links else None,
        joiners_left=joiners_left,
        papers=papers_of(work, PAPERS),
        references=_references(work) if cut and cut.push_from_start is not None else (),
        number=_number(work, cut) if cut else None,
        trial=trial,
        slip_url=work.at("slip", rivet=None),
        try_action=f"/jobs/{work.job.id}/cut",
        kept_query=tuple(parse_qsl(urlsplit(work.at("cut", rivet=None)).query)),
        strip=strip(cut, from_end=work.state.counted == "end", tried=work.state.rivet) if cut else None,
        close_up=close_up(cut) if cut else None,
        tool=tool_view(cut) if cut else None,
        shortest_from_end=bool(cut and (cut.push_from_end or 0) < (cut.push_from_start or 0)),
    )


def lacks_chain(work: Work) -> bool:
    """Whether box and pieces are too short for the count under test."""
    cuts, _ = cuts_of(work)
    return any(cut.missing_links for cut in cuts)


def _closes_into(cut: Cut) -> int:
    """The links of one piece with its joiner; for a whole loop, that is the count."""
    return cut.keep_links + cut.joiner_links + cut.offset_links


def _references(work: Work) -> tuple[Reference, ...]:
    """The places to count rivets from; the mark only if the whole chain was wrapped."""
    cuts, _ = cuts_of(work)
    keys = ("", "end", "mark") if len(cuts) == 1 else ("", "end")
    path = f"/jobs/{work.job.id}/cut"
    return tuple(
        Reference(
            key or "start",
            Term("counted", key or "start"),
            key == work.state.counted,
            work.state.counting(key).url(path),
        )
        for key in keys
    )


def _number(work: Work, cut: Cut) -> int | None:
    """The number of the rivet to push, counted from the start, from the far end, or from where the ends met at the
    wrap."""
    if work.state.counted == "end":
        return cut.push_from_end
    if work.state.counted == "mark" and work.sized:
        bike = work.sized.bike
        first = joins_at(bike.chain, work.sized.answer.bare_wrap.worst)
        return work.sized.links - first
    return cut.push_from_start


def _piece_links(work: Work, cuts: tuple[Cut, ...], shown: Cut | None) -> tuple[PieceLink, ...]:
    """The pieces of a loop of several, in order round it."""
    if len(cuts) < 2:
        return ()
    return tuple(
        PieceLink(piece_name(cut), cut.keep_links, cut.push_from_start, cut is shown, work.at("cut", piece=cut.piece))
        for cut in cuts
    )


def piece_name(cut: Cut) -> Message:
    """The name of a piece: the box or its place in the list, and whether it is turned end for end."""
    name = Message("the_piece", place=number(cut.piece)) if cut.piece else Message("the_box")
    return Message("piece_turned", piece=name) if cut.turned else name


def joiner_warning(work: Work) -> Message | None:
    """A warning if the joiner is not the one the trade uses for this number of cogs."""
    notices = work.answer.notices if work.answer else ()
    return next((notice.message for notice in notices if notice.kind is NoticeKind.JOINER_SPEEDS), None)


def tally_view(work: Work, at: str, ticks: int, *, by_wheel: bool = False) -> TallyView | None:
    """The count-along at a number of links; None if there is nothing to count to.

    Parameters: ticks, the links that the counter wheel has counted so far; it is followed once it goes beyond them.
    """
    cut, _ = cut_of(work)
    if cut is None or cut.push_from_start is None or cut.push_from_end is None:
        return None
    end = cut.push_from_start
    reached = min(whole_number(at, 3) or 0, end)
    on = min(reached + TALLY_STEP, end)
    back = max(reached - (reached % TALLY_STEP or TALLY_STEP), 0)
    address = work.at("tally")
    return TallyView(
        reached=reached,
        end=end,
        on=on,
        push_from_end=cut.push_from_end,
        unsafe=unsafe_message(work.sized) if work.sized else None,
        tens=tuple(ten < reached for ten in range(0, end, TALLY_STEP)),
        back_url=with_query(address, "at", back),
        on_url=with_query(address, "at", on),
        cut_url=work.at("cut"),
        wheel_url=f"/jobs/{work.job.id}/wheel?seen={ticks}",
        by_wheel=by_wheel,
    )


def joiners_left(database: Database, work: Work) -> int | None:
    """How many joiners of the job's kind the bin has; None if none of that kind was ever counted."""
    if work.sized is None:
        return None
    bike = work.sized.bike
    counted = {(one.kind, one.speeds): one.amount for one in joiner_stock(database)}
    return counted.get((str(bike.joiner), bike.speeds))


def offered(database: Database, work: Work) -> tuple[PieceRow, ...]:
    """The pieces of the bin that would make the job's count possible, if what is at hand is too short."""
    if work.sized is None:
        return ()
    rows = {row.id: row for row in pieces_for(database, work.sized.bike.speeds)}
    offer = offer_of(work.sized.bike, work.sized.links, [loose_of(row) for row in rows.values()])
    return tuple(rows[one] for one in offer.bin_ids) if offer else ()
