"""What every page of a job shows: the stages, the last change, the count and its rail."""

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property

from lone_pike.core.bike.faults import Fault
from lone_pike.core.chain.cutting import Cut
from lone_pike.core.messages import Message, Term, links
from lone_pike.core.stages import STAGES
from lone_pike.core.take_up.protocol import Safety
from lone_pike.drawing.charts.rail import Rail, rail
from lone_pike.drawing.scene.side_view import SideView, side_view
from lone_pike.store.database import Database
from lone_pike.store.jobs import JobRow
from lone_pike.web.job.work import SizedWork, Work, cut_of
from lone_pike.wording.schools import FLAGS

PHOTO, ROUTE = "photo", "route"
ASIDE = (PHOTO, ROUTE)
"""Pages that belong to Measure."""


@dataclass(frozen=True)
class StageRequest:
    """What a stage's view is built from: the data file, the stage, announcements, whether slow parts follow in a
    request of their own; typed, what a form sent that was not accepted, with the reason, so that it is shown again."""

    data: Database
    stage: str
    announcements: tuple[Message, ...] = ()
    deferred: bool = False
    typed: Mapping[str, str] = field(default_factory=dict)
    faults: tuple[Fault, ...] = ()


@dataclass(frozen=True)
class Foot:
    """The count under test and the rail of counts; beside is another bike whose window is drawn on the rail."""

    sized: SizedWork
    stage: str
    beside: SizedWork | None

    @property
    def links(self) -> int:
        """The count under test."""
        return self.sized.links

    @property
    def safety(self) -> Safety:
        """Whether it is safe."""
        return self.sized.safety

    @property
    def advised(self) -> int | None:
        """The advised count, if that is another."""
        return self.sized.answer.links if self.links != self.sized.answer.links else None

    @cached_property
    def unsafe(self) -> Message | None:
        """What an unsafe count does; None for a safe one."""
        return unsafe_message(self.sized)

    @cached_property
    def rail(self) -> Rail:
        """The rail of counts."""
        return rail(self.sized.answer, self.links, FLAGS, self.beside.answer if self.beside else None)

    @property
    def urls(self) -> tuple[str, ...]:
        """The address of each count on the rail."""
        return self.sized.work.each(self.stage, ("links",), [(place.links,) for place in self.rail.places])

    def stepped(self, steps: int) -> str:
        """The address of a count some steps up or down."""
        return self.sized.work.at(self.stage, links=self.links + steps * self.sized.answer.sizing.step_links)


@dataclass(frozen=True)
class CountRegions:
    """The regions of every stage that follow the measures, also while they are being typed."""

    work: Work
    stage: str
    announced: tuple[Message, ...] = ()
    beside: SizedWork | None = None

    def __post_init__(self) -> None:
        """Works the count out: what breaks on it breaks while the view is built, and the page says so."""
        _ = self.foot and (self.foot.rail, self.foot.unsafe)

    def at(self, stage: str, **changes: int | None) -> str:
        """The address of a stage of this job."""
        return self.work.at(stage, **changes)

    @property
    def announcements(self) -> tuple[Message, ...]:
        """What the page says first."""
        return (*self.announced, *self.work.messages)

    @property
    def fault(self) -> Fault | None:
        """A fault that belongs to no field."""
        loose = self.work.faults.get("")
        return loose if loose and not loose.is_missing else None

    @cached_property
    def to_do(self) -> tuple[Term, ...]:
        """The fields that are needed and still empty."""
        return tuple([Term("field", path) for path, fault in self.work.faults.items() if fault.is_missing])

    @cached_property
    def foot(self) -> Foot | None:
        """The count and its rail."""
        return Foot(self.work.sized, self.stage, self.beside) if self.work.sized else None


@dataclass(frozen=True)
class Frame(CountRegions):
    """The frame around every stage. shown_as is the folder of its templates, if that is not the stage's own."""

    shown_as: str = ""

    def __post_init__(self) -> None:
        """Works out the count and the cut."""
        super().__post_init__()
        _ = self.cut

    @property
    def parts(self) -> str:
        """The folder of its templates."""
        return self.shown_as or self.stage

    @property
    def job(self) -> JobRow:
        """The job."""
        return self.work.job

    @property
    def stands_at(self) -> str:
        """The stage that is marked on the run of chain."""
        return "measure" if self.stage in ASIDE else self.stage

    @property
    def place(self) -> int:
        """Its place among the stages, from 0."""
        return list(STAGES).index(self.stands_at)

    @property
    def name(self) -> str:
        """The bike's name."""
        return str(self.work.document.get("name") or "New bike")

    @property
    def bike_url(self) -> str:
        """The address of the bike."""
        return f"/bikes/{self.job.bike_id}"

    @property
    def undoes(self) -> Message | None:
        """The last change, if it can be undone from this page."""
        job = self.job
        is_shown = self.work.document == job.document
        return job.message if is_shown and job.parent_id is not None and not job.booked_at else None

    @property
    def first(self) -> str:
        """On Measure, the path of the first field that is still empty."""
        return self.to_do[0].key if self.to_do and self.stage == "measure" else ""

    @cached_property
    def wrong(self) -> tuple[Term, ...]:
        """The fields with faults."""
        faults = self.work.faults.items()
        return tuple(Term("field", path) for path, fault in faults if path and not fault.is_missing)

    @property
    def left_out(self) -> tuple[tuple[Term, Fault], ...]:
        """The fields with faults that the count does not need."""
        faults = self.work.faults.items()
        return tuple((Term("field", path), fault) for path, fault in faults) if self.work.sized else ()

    @property
    def goes_to(self) -> str:
        """The field to mend first: one with a fault, else one that is still empty."""
        return (*self.wrong, *self.to_do, Term("field", ""))[0].key

    @cached_property
    def cut(self) -> Cut | None:
        """The cut that is shown, for the heading of a printed page."""
        return cut_of(self.work)[0]


Papers = tuple[tuple[str, Term], ...]
"""The files of a job, each with its address and its name."""


def papers_of(work: Work, files: tuple[str, ...]) -> Papers:
    """The files of a job that a page offers."""
    return tuple((work.at(file), Term("paper", file)) for file in files)


def unsafe_message(sized: SizedWork) -> Message | None:
    """What an unsafe count does, and the advised count, shown wherever the hand acts; None for a safe count."""
    if sized.safety is Safety.SAFE:
        return None
    meaning, count = sized.answer.meaning(sized.links), links(sized.links)
    if sized.links == sized.answer.links:
        return Message("count_means", count=count, meaning=meaning)
    return Message("count_unsafe", count=count, meaning=meaning, advised=links(sized.answer.links))


def side_of(sized: SizedWork, *, lettered: bool = False) -> SideView:
    """The bike in the gear shown, or the part of it that fills the picture."""
    side = side_view(sized.standing, sized.gear, sized.links, lettered=lettered)
    return side.near(sized.work.state.near)


def loupe_urls(work: Work, stage: str, side: SideView) -> dict[str, str]:
    """For each part of a long bike, the address that shows it closely, or that shows the whole bike again."""
    path = f"/jobs/{work.job.id}/{stage}"
    return {loupe.near: work.state.looking(loupe.near).url(path) for loupe in side.loupes}
