"""Size: the bike in its gears, the board of dials, the travel, why this count, and what if."""

from dataclasses import dataclass

from lone_pike.core.bike.faults import Fault
from lone_pike.core.bike.take_up import Family
from lone_pike.core.count.answer import Answer, Served
from lone_pike.core.count.boom import BoomSetting
from lone_pike.core.count.reasons import rule_sentence
from lone_pike.core.count.sizing import Window
from lone_pike.core.messages import LengthUnit, Message, Notice, NoticeKind, Term, links
from lone_pike.core.take_up.protocol import Gear
from lone_pike.drawing.charts.boom import BoomPicture, boom_picture
from lone_pike.drawing.charts.dials import Dials, dials
from lone_pike.drawing.charts.growth import GrowthPlot, growth_plot, step_mm
from lone_pike.drawing.scene.side_view import SideView
from lone_pike.drawing.scene.small_view import chain_line
from lone_pike.formats.typed.measure_form import parse_form, with_readings
from lone_pike.web.job.frame import Frame, Papers, StageRequest, loupe_urls, papers_of, side_of
from lone_pike.web.job.size.standing import StandingBench, standing_bench
from lone_pike.web.job.work import SizedWork, Work
from lone_pike.web.view_state import WHAT_IF
from lone_pike.workshop.answers import answer_in_shop

FOLDED = frozenset({NoticeKind.COGS_SORTED, NoticeKind.WINDOW_EMPTY, NoticeKind.CAPACITY, NoticeKind.LARGEST_COG})
"""Notices that are shown elsewhere on the page."""

PAPERS = ("card.pdf", "picture/side.svg", "picture/rail.svg", "picture/dials.svg")
ALWAYS_ASKED = ("rings", "cogs")
STEPS = (("cog", -1, "["), ("cog", 1, "]"), ("ring", -1, "-"), ("ring", 1, "="))


@dataclass(frozen=True)
class Stepper:
    """A button to the next gear."""

    wheel: str
    key: str
    up: bool
    url: str


@dataclass(frozen=True)
class Bench:
    """The drawing, its readings, the dials and the travel. at_mm is the travel that the dials show; None for the worst
    of all."""

    side: SideView
    ghost: str
    gear: Gear
    steppers: tuple[Stepper, ...]
    dials: Dials
    dial_urls: tuple[str, ...]
    growth: GrowthPlot | None
    growth_urls: tuple[str, ...]
    travel_urls: tuple[tuple[str, str], ...]
    at_mm: int | None
    worst_url: str
    standing: StandingBench | None
    loupe_urls: dict[str, str]


@dataclass(frozen=True)
class AskedField:
    """One measure of the other bike: its name in the address, its text, and this bike's value."""

    name: str
    label: Term
    text: str
    now: str


@dataclass(frozen=True)
class WhatIf:
    """Another bike to compare with this one."""

    fields: tuple[AskedField, ...]
    asked: bool
    faults: tuple[Fault, ...]
    links: int | None
    window: Window | None
    action: str
    unit: LengthUnit


@dataclass(frozen=True)
class Sure:
    """How sure the count is; computed in a request of its own if the page must not wait for it.

    message is None if no chainstay was measured; served is None if no cage has to take up a range of gears.
    """

    message: Message | None
    notices: tuple[Notice, ...]
    served: Served | None
    served_meaning: Message | None


@dataclass(frozen=True)
class Supporter:
    """A school that votes for the count under test."""

    school: str
    message: Message


@dataclass(frozen=True)
class BoomView:
    """The boom: its sentences, each setting, and the picture."""

    messages: tuple[Message, ...]
    settings: tuple[BoomSetting, ...]
    picture: BoomPicture


@dataclass(frozen=True)
class SizeView:
    """The stage. sure is None if the sensitivity follows in a request of its own."""

    frame: Frame
    bench: Bench
    advised: int
    meaning: Message
    reasons: tuple[Message, ...]
    notices: tuple[Notice, ...]
    supporters: tuple[Supporter, ...]
    boom: BoomView | None
    sure: Sure | None
    sure_key: str
    what_if: WhatIf
    papers: Papers

    @property
    def is_advised(self) -> bool:
        """Whether the count under test is the advised one."""
        return self.frame.foot is not None and self.frame.foot.links == self.advised


def stage_view(work: Work, asked: StageRequest) -> SizeView:
    """The stage."""
    sized = work.sized_or_error
    answered = sized.answer
    what_if, other = _what_if(sized)
    return SizeView(
        frame=Frame(work, "size", asked.announcements, other),
        bench=bench_of(sized, "size", other),
        advised=answered.links,
        meaning=Message("count_means", count=links(sized.links), meaning=answered.meaning(sized.links)),
        reasons=answered.reasons,
        notices=tuple(notice for notice in answered.notices if notice.kind not in FOLDED),
        supporters=tuple(
            Supporter(vote.school, rule_sentence(vote.rule)) for vote in answered.votes if vote.links == sized.links
        ),
        boom=_boom(sized),
        sure=None if asked.deferred else sure_of(answered),
        sure_key=work.key,
        what_if=what_if,
        papers=papers_of(work, PAPERS if sized.bike.take_up.family is Family.TURNS else PAPERS[:-1]),
    )


def sure_of(answered: Answer) -> Sure:
    """Computes how sure a count is, and what the take-up can serve."""
    served = answered.served
    notices = tuple(notice for notice in answered.later_notices if notice.kind is not NoticeKind.NEAR_EDGE)
    if not answered.bike.take_up.serves_range:
        return Sure(answered.sure if answered.valid_ranges and answered.window else None, notices, None, None)
    return Sure(answered.sure, notices, served, served.meaning if answered.window else None)


def _boom(sized: SizedWork) -> BoomView | None:
    boom = sized.answer.boom
    if boom is None:
        return None
    return BoomView(
        messages=(boom.message, *([boom.lender] if boom.lender else [])),
        settings=boom.settings,
        picture=boom_picture(boom, sized.links),
    )


def bench_of(sized: SizedWork, stage: str, other: SizedWork | None = None) -> Bench:
    """The drawing and its controls; the other bike's chain lies over it as a ghost."""
    work, bike = sized.work, sized.bike
    board = dials(sized.gears, (sized.gear.ring, sized.gear.cog))
    growth = growth_plot(sized.answer.sizing, sized.links, sized.travel_mm) if bike.suspension else None
    side = side_of(sized)
    return Bench(
        side=side,
        ghost=_ghost(other.answer) if other else "",
        gear=sized.gear,
        steppers=tuple(
            Stepper(wheel, key, step > 0, sized.step_url(stage, wheel, step))
            for wheel, step, key in STEPS
            if wheel == "cog" or len(bike.rings) > 1
        ),
        dials=board,
        dial_urls=work.each(stage, ("ring", "cog"), ((dial.gear.ring, dial.gear.cog) for dial in board.dials)),
        growth=growth,
        growth_urls=work.each(stage, ("travel",), ((step.travel,) for step in growth.steps)) if growth else (),
        travel_urls=_travel_urls(sized, stage) if growth else (),
        at_mm=work.state.travel if bike.suspension else None,
        worst_url=work.at(stage, travel=None),
        standing=standing_bench(sized, stage),
        loupe_urls=loupe_urls(work, stage, side),
    )


def _ghost(other: Answer) -> str:
    """The other bike's chain in its largest gear."""
    return chain_line(other.sizing, next(iter(other.gears)), other.links)


def _travel_urls(sized: SizedWork, stage: str) -> tuple[tuple[str, str], ...]:
    """The steps to less and more travel, with their addresses."""
    full = sized.bike.travel_mm

    def moved(steps: int) -> str:
        travel = sized.travel_mm + steps * step_mm(full)
        return sized.work.at(stage, travel=round(min(max(travel, 0), full)))

    return ((",", moved(-1)), (".", moved(1)))


def _what_if(sized: SizedWork) -> tuple[WhatIf, SizedWork | None]:
    """The measures of the other bike, and that bike; nothing of it is stored."""
    work = sized.work
    asked = dict(work.state.what_if)
    other, faults = _other(work, asked) if asked else (None, ())
    view = WhatIf(
        fields=tuple(
            AskedField(name, Term("field", path), asked.get(name, ""), work.text(path))
            for name, path in WHAT_IF.items()
            if path in ALWAYS_ASKED or work.text(path)
        ),
        asked=bool(asked),
        faults=faults,
        links=other.answer.links if other else None,
        window=other.answer.window if other else None,
        action=f"/jobs/{work.job.id}/size",
        unit=work.shop.unit,
    )
    return view, other


def _other(work: Work, asked: dict[str, str]) -> tuple[SizedWork | None, tuple[Fault, ...]]:
    typed = {WHAT_IF[name]: text for name, text in asked.items()}
    if "cogs" in typed:
        typed["chain.speeds"] = work.form["chain.speeds"] or str(len(work.document.get("cogs", [])))
    changed = parse_form(work.readings, typed, work.state.unit).changed
    changed.pop("chain.speeds", None)
    other = answer_in_shop(with_readings(work.document, changed), work.shop)
    return SizedWork(work, other.answer) if other.answer else None, other.faults
