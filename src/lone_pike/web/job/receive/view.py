"""Receive: the complaint and its possible causes, the old chain, what to replace, pictures, and what to lay out."""

from dataclasses import dataclass
from math import inf

from lone_pike.core.bike.faults import Fault
from lone_pike.core.bike.limits import LEAST_LINKS, MOST_LINKS
from lone_pike.core.bike.take_up import Family
from lone_pike.core.complaint.causes import SYMPTOMS, Cause, Known, causes_of
from lone_pike.core.complaint.old_chain import level_ends, serves
from lone_pike.core.complaint.ticking import Drive, Suspect, ticking_of
from lone_pike.core.complaint.tools import Layout, tools_for
from lone_pike.core.messages import Message, Quantity, Term, Unit, links, mm, number
from lone_pike.core.motion.poses import all_gears
from lone_pike.core.wear.gauging import NEEDS, ChainWear, Way, Wear, chain_wear, wear_of
from lone_pike.core.wear.replacing import Replacing, percent, what_to_replace
from lone_pike.drawing.charts.level import LevelPicture, level_picture
from lone_pike.drawing.scene.side_view import SideView
from lone_pike.formats.typed.parsing import parse_quantity, whole_number
from lone_pike.web.chains.view import ChainLine
from lone_pike.web.job.frame import Frame, StageRequest, side_of
from lone_pike.web.job.measure.view import TickBox
from lone_pike.web.job.route.view import route_is_crossed, unsized_side
from lone_pike.web.job.work import SizedWork, Work, chain_known, jump_messages
from lone_pike.web.view_state import with_query
from lone_pike.wording.receive import symptom_in
from lone_pike.wording.terms import tells_of_motor

MOST_TURNS = 40.0
PRESSES = ("/receive", "/complaint", "/gauge", "/reading-out", "/pictures", "/picture-out")
"""The actions, by the end of their address."""


@dataclass(frozen=True)
class CauseView:
    """One cause: its name, its reason and its check, whether the computation makes it likely, and whether it was
    found."""

    cause: Cause
    word: Term
    found: bool


@dataclass(frozen=True)
class TickView:
    """The tick finder: the gear in which the tick is heard, what was typed, and the parts that come round as often."""

    gears: tuple[tuple[int, int], ...]
    ring: int
    cog: int
    typed: str
    action: str
    said: tuple[Message, ...]


@dataclass(frozen=True)
class ReadingView:
    """One reading of the old chain: the gauge and the result."""

    way: Term
    reading: Message


@dataclass(frozen=True)
class OldChainView:
    """The old chain: its typed count, its readings and wear, its picture beside a new one, what is known of it, and
    whether it can still be used."""

    links: str
    readings: tuple[ReadingView, ...]
    wear: Message | None
    level: LevelPicture | None
    known: ChainLine | None
    said: tuple[Message, ...]


@dataclass(frozen=True)
class ReplaceView:
    """One part that may need replacing: the reason, and whether it was decided."""

    replacing: Replacing
    word: Term
    chosen: bool


@dataclass(frozen=True)
class ReceiveView:
    """The stage."""

    frame: Frame
    side: SideView | None
    complaint: str
    symptom: str
    chosen: str
    symptoms: tuple[Term, ...]
    causes: tuple[CauseView, ...]
    tick: TickView | None
    old_chain: OldChainView
    ways: tuple[tuple[Term, tuple[str, ...]], ...]
    parts: tuple[ReplaceView, ...]
    pictures: tuple[tuple[str, str, str], ...]
    tools: tuple[TickBox, ...]
    typed: dict[str, str]
    fault: Fault | None
    urls: dict[str, str]


@dataclass(frozen=True)
class CountOldView:
    """The count-along of the old chain: links so far, and the addresses of a step back, of ten more and of one more."""

    reached: int
    saw: int
    back_url: str
    ten_url: str
    one_url: str
    keep_url: str
    receive_url: str


TEN = 10


def count_old_view(work: Work, at: str) -> CountOldView:
    """The count-along of the old chain."""
    reached = min(whole_number(at, 3) or 0, MOST_LINKS)
    address, receive = work.at("count-old"), work.at("receive")

    def counted(count: int) -> str:
        return with_query(address, "at", min(max(count, 0), MOST_LINKS))

    back = reached - (reached % TEN or TEN)
    return CountOldView(
        reached, work.job.revision_id, counted(back), counted(reached + TEN), counted(reached + 1), receive, receive
    )


def stage_view(work: Work, asked: StageRequest) -> ReceiveView:
    """The stage."""
    observed, sized = work.job.observed, work.sized
    worn = chain_wear(observed.gauged)
    parts = _parts(work, worn)
    base = f"/jobs/{work.job.id}"
    return ReceiveView(
        frame=Frame(work, "receive", asked.announcements),
        side=side_of(sized) if sized else unsized_side(work),
        complaint=observed.complaint,
        symptom=_symptom(work),
        chosen=observed.symptom,
        symptoms=tuple(Term("symptom", key) for key in SYMPTOMS),
        causes=_causes(work, worn),
        tick=_tick(sized) if sized else None,
        old_chain=_old_chain(asked, work, worn),
        ways=tuple((Term("wear_way", way), NEEDS[way]) for way in Way),
        parts=parts,
        pictures=tuple((one, word, f"{base}/pictures/{one}.jpg") for one, word in observed.pictures),
        tools=_tools(work),
        typed=dict(asked.typed),
        fault=next(iter(asked.faults), None),
        urls={press: work.state.url(f"{base}{press}") for press in PRESSES},
    )


def _causes(work: Work, worn: ChainWear | None) -> tuple[CauseView, ...]:
    observed, symptom = work.job.observed, _symptom(work)
    if not symptom:
        return ()
    crossed = route_is_crossed(work)
    known = Known(
        work.sized.answer.sizing if work.sized else None, _old_links(work), worn.worst if worn else None, crossed
    )
    return tuple(
        CauseView(cause, Term("cause", cause.key), cause.key in observed.causes) for cause in causes_of(symptom, known)
    )


def _symptom(work: Work) -> str:
    """The complaint: the chosen picture, else the one that fits the typed words."""
    observed = work.job.observed
    return observed.symptom if observed.symptom in SYMPTOMS else symptom_in(observed.complaint)


def _old_links(work: Work) -> int | None:
    old = work.document.get("old_chain")
    count = old.get("links") if isinstance(old, dict) else None
    return count if isinstance(count, int) and LEAST_LINKS <= count <= MOST_LINKS else None


def _tick(sized: SizedWork) -> TickView:
    """The part that comes round as often as the tick was heard, in the gear shown."""
    bike, gears, typed = sized.bike, all_gears(sized.bike), sized.work.state.tick
    gear, heard = (sized.gear.ring, sized.gear.cog), parse_quantity(typed, Unit.NUMBER).value
    said: list[Message] = []
    if isinstance(heard, int | float) and 0 < heard <= MOST_TURNS:
        turns = bike.take_up.family is Family.TURNS
        count = _old_links(sized.work) or sized.links
        pulleys = (bike.caged.guide_teeth, bike.caged.tension_teeth) if turns else (None, None)
        ticking = ticking_of(Drive(*gear, count, *pulleys), float(heard), gears)
        first, second, *_ = ticking.suspects
        said = [_suspect("tick_is", first), _suspect("tick_next", second)]
        if ticking.better_gear:
            ring, cog = map(number, ticking.better_gear)
            said.append(Message("tick_gear", gear=Message("gear", ring=ring, cog=cog)))
    action = f"/jobs/{sized.work.job.id}/receive"
    return TickView(gears, *gear, typed=typed, action=action, said=tuple(said))


def _suspect(code: str, one: Suspect) -> Message:
    parts = tuple(Term("turning", part) for part in one.parts)
    return Message(code, parts=parts, turns=Quantity(one.turns, Unit.TURNS))


def _old_chain(asked: StageRequest, work: Work, worn: ChainWear | None) -> OldChainView:
    """The old chain's readings, and what its count means for the present gears."""
    count, said, picture = _old_links(work), list[Message](), None
    if count and worn and worn.worst.percent > 0:
        level = level_ends(count, worn.worst.percent)
        picture = level_picture(level.longer_mm)
        values = {"wear": percent(worn.worst.percent), "count": links(count), "longer": mm(level.longer_mm)}
        said += [
            Message("old_chain_level", **values, links=links(level.misleads_links)),
            Message("old_chain_compare"),
        ]
    if count and work.sized:
        served = serves(work.sized.answer.sizing, count)
        pairs = links(2 * abs(served.pairs))
        if served.pairs == 0:
            said.append(Message("old_chain_serves", count=links(count)))
        else:
            said.append(Message("old_chain_add" if served.pairs > 0 else "old_chain_off", pairs=pairs))
    said += jump_messages(asked.data, work)
    return OldChainView(
        links=work.text("old_chain.links"),
        readings=tuple(
            ReadingView(Term("wear_way", one.way), wear_message(wear_of(one))) for one in work.job.observed.gauged
        ),
        wear=wear_message(worn.worst) if worn else None,
        level=picture,
        known=None if work.job.booked_at else chain_known(asked.data, work),
        said=tuple(said),
    )


def wear_message(wear: Wear) -> Message:
    """The result of a reading: a figure with its spread, or an interval."""
    if wear.low == -inf and wear.high == inf:
        return Message("wear_is", wear=percent(wear.percent), spread=percent(2 * wear.spread))
    if wear.low == -inf:
        return Message("wear_below", high=percent(wear.high))
    if wear.high == inf:
        return Message("wear_from", low=percent(wear.low))
    return Message("wear_between", low=percent(wear.low), high=percent(wear.high))


def _parts(work: Work, worn: ChainWear | None) -> tuple[ReplaceView, ...]:
    if worn is None or work.sized is None:
        return ()
    chosen = work.job.observed.replaced
    advice = what_to_replace(worn.worst, work.sized.bike.speeds, work.shop.wear_school)
    return tuple(ReplaceView(one, Term("part", one.part), one.part in chosen) for one in advice)


def _tools(work: Work) -> tuple[TickBox, ...]:
    observed = work.job.observed
    has_motor = tells_of_motor(str(work.document.get("name", "")), observed.complaint, work.job.owner_word)
    layout = Layout(work.sized.bike if work.sized else None, observed.replaced, has_motor)
    return tuple(TickBox(name, Term("tool", name), name in observed.tools) for name in tools_for(layout))
