"""What every page of a job shows: the stages, the last change, the count and its rail."""

from collections.abc import Mapping
from dataclasses import dataclass, field

from lone_pike.core.bike.faults import Fault
from lone_pike.core.chain.cutting import Cut
from lone_pike.core.messages import Message, Term, links
from lone_pike.core.stages import STAGES
from lone_pike.core.take_up.protocol import Safety
from lone_pike.drawing.charts.rail import Rail, rail
from lone_pike.drawing.scene.side_view import SideView, side_view
from lone_pike.store.database import Database
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
class StageLink:
    """One stage on the run of chain."""

    name: str
    word: Term
    place: int
    url: str
    here: bool
    driven: bool


@dataclass(frozen=True)
class Undo:
    """The last change, and its undo."""

    action: str
    saw: int
    message: Message


@dataclass(frozen=True)
class Foot:
    """The count under test and the rail of counts; advised is set if that is another count, unsafe if it is not
    safe."""

    links: int
    safety: Safety
    advised: int | None
    unsafe: Message | None
    rail: Rail
    urls: tuple[str, ...]
    less_url: str
    more_url: str


@dataclass(frozen=True)
class Paper:
    """The heading of a printed page besides the count: the owner's name for the bike, and the cut."""

    owner_word: str
    cut: Cut | None


@dataclass(frozen=True)
class Upshot:
    """The regions of every stage that follow the measures, also while they are being typed. to_do holds the fields that
    are needed and still empty; fault is a fault that belongs to no field."""

    stage: str
    announcements: tuple[Message, ...]
    fault: Fault | None
    to_do: tuple[Term, ...]
    foot: Foot | None


@dataclass(frozen=True)
class Frame(Upshot):
    """The frame around every stage. parts is the name of its templates; first, the path of the first field that is
    still empty; wrong, the fields with faults; left_out, those of them that the count does not need."""

    job_id: int
    saw: int
    stands_at: str
    parts: str
    name: str
    complaint: str
    stages: tuple[StageLink, ...]
    undo: Undo | None
    first: str
    wrong: tuple[Term, ...]
    left_out: tuple[tuple[Term, Fault], ...]
    measure_url: str
    booked_at: str | None
    bike_url: str
    paper: Paper

    @property
    def goes_to(self) -> str:
        """The field to mend first: one with a fault, else one that is still empty."""
        return (*self.wrong, *self.to_do, Term("field", ""))[0].key


def upshot_of(
    work: Work, stage: str, announcements: tuple[Message, ...] = (), beside: SizedWork | None = None
) -> Upshot:
    """The regions that follow the measures: announcements, what is still to do, the count and its rail."""
    loose = work.faults.get("")
    return Upshot(
        stage=stage,
        announcements=(*announcements, *work.messages),
        fault=loose if loose and not loose.is_missing else None,
        to_do=tuple([Term("field", path) for path, fault in work.faults.items() if fault.is_missing]),
        foot=_foot(work.sized, stage, beside) if work.sized else None,
    )


def frame_of(
    work: Work, stage: str, announcements: tuple[Message, ...] = (), beside: SizedWork | None = None, *, parts: str = ""
) -> Frame:
    """The frame of a job at a stage.

    Parameters: announcements, shown at the top of the page; beside, another bike whose window is drawn on the rail;
    parts, the templates in it if these are not the stage's own.
    """
    stands_at = "measure" if stage in ASIDE else stage
    here = list(STAGES).index(stands_at)
    return Frame(
        **vars(upshot_of(work, stage, announcements, beside)),
        job_id=work.job.id,
        saw=work.job.revision_id,
        stands_at=stands_at,
        parts=parts or stage,
        name=str(work.document.get("name") or "New bike"),
        complaint=work.job.complaint,
        stages=tuple(
            StageLink(name, Term("stage", name), i + 1, work.at(name), here=i == here, driven=i < here)
            for i, name in enumerate(STAGES)
        ),
        undo=_undo(work),
        first=next((path for path, fault in work.faults.items() if fault.is_missing), "") if stage == "measure" else "",
        wrong=tuple(Term("field", path) for path, fault in work.faults.items() if path and not fault.is_missing),
        left_out=tuple((Term("field", path), fault) for path, fault in work.faults.items()) if work.sized else (),
        measure_url=work.at("measure"),
        booked_at=work.job.booked_at,
        bike_url=f"/bikes/{work.job.bike_id}",
        paper=Paper(work.job.owner_word, cut_of(work)[0]),
    )


def _undo(work: Work) -> Undo | None:
    job = work.job
    if job.parent_id is None or job.booked_at or work.document != job.document:
        return None
    return Undo(work.at("undo"), job.revision_id, job.message)


def _foot(sized: SizedWork, stage: str, beside: SizedWork | None) -> Foot:
    drawn = rail(sized.answer, sized.links, FLAGS, beside.answer if beside else None)
    step = sized.answer.sizing.step_links
    less, more = (sized.work.at(stage, links=sized.links + change) for change in (-step, step))
    return Foot(
        links=sized.links,
        safety=sized.safety,
        advised=sized.answer.links if sized.links != sized.answer.links else None,
        unsafe=unsafe_message(sized),
        rail=drawn,
        urls=sized.work.each(stage, ("links",), [(place.links,) for place in drawn.places]),
        less_url=less,
        more_url=more,
    )


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
