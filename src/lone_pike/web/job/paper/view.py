"""Paper: the job card on one page, and the strip pitch for pitch."""

from dataclasses import dataclass, replace

from lone_pike.core.bike.take_up import Family
from lone_pike.core.chain.cutting import Cut
from lone_pike.core.messages import Message, Term
from lone_pike.core.route.threading import Walk
from lone_pike.drawing.charts.label import square_code
from lone_pike.drawing.charts.strip import StripPage, strip_pages
from lone_pike.drawing.scene.side_view import SideView
from lone_pike.drawing.scene.small_view import chain_line
from lone_pike.drawing.scene.threading import threaded_view
from lone_pike.store.jobs import JobRow
from lone_pike.web.job.cut.view import piece_name
from lone_pike.web.job.frame import side_of
from lone_pike.web.job.join.view import LOOK, SEAT, threading_gear, walk_in
from lone_pike.web.job.work import SizedWork, cuts_of
from lone_pike.web.pictures import drawn
from lone_pike.wording.units import DisplayUnits
from lone_pike.workshop.proving import proof_messages

MOST_PLATES = 160
SHEETS = {"a4": "A4", "letter": "letter"}


@dataclass(frozen=True)
class CardCut:
    """One piece on the card: its name and its cut."""

    name: Message
    cut: Cut


@dataclass(frozen=True)
class CardView:
    """The contents of the job card: the picture of the bike, the count, measures, cuts, joiner, the way round, and the
    code that leads back to the job."""

    sheet: str
    name: str
    job: JobRow
    links: int
    unsafe: bool
    picture: str
    measures: tuple[tuple[Term, str], ...]
    cuts: tuple[CardCut, ...]
    joiner: str
    joiner_count: int
    seat: Message
    looks: Message
    steps: tuple[Message, ...]
    proof: tuple[Message, ...]
    has_cage: bool
    code: str
    address: str


@dataclass(frozen=True)
class StripSheet:
    """One page of the strip: its drawing, its piece, and its number among how many."""

    name: Message
    picture: str
    page: StripPage
    pages: int


MEASURED = (
    "rings",
    "cogs",
    "chainstay_mm",
    "axle_height_mm",
    "take_up.cage_mm",
    "take_up.class",
    "take_up.b_gap_mm",
    "take_up.min_mm",
    "take_up.max_mm",
    "take_up.pivot_mm",
    "take_up.radius_mm",
    "suspension.travel_mm",
    "boom.from_mm",
    "boom.to_mm",
    "idlers",
    "tubes",
)


def card_view(sized: SizedWork, sheet: str, address: str, units: DisplayUnits) -> CardView:
    """The card of a job whose bike is sized."""
    work, bike = sized.work, sized.bike
    cuts, _ = cuts_of(work)
    walk = walk_in(sized)
    return CardView(
        sheet=SHEETS.get(sheet, "A4"),
        name=bike.name,
        job=work.job,
        links=sized.links,
        unsafe=sized.safety != "safe",
        picture=drawn("side_view", "side_view", _side(sized, walk), units),
        measures=tuple((Term("field", path), text) for path in MEASURED if (text := _text(sized, path))),
        cuts=tuple(CardCut(piece_name(cut), cut) for cut in cuts),
        joiner=str(bike.joiner),
        joiner_count=max(len(cuts), 1),
        seat=Message(SEAT[bike.joiner]),
        looks=Message(LOOK[bike.joiner]),
        steps=tuple(step.message for step in walk.steps),
        proof=proof_messages(work.job, sized.answer, sized.links),
        has_cage=bike.take_up.family is Family.TURNS,
        code=square_code(address),
        address=address,
    )


def _side(sized: SizedWork, walk: Walk) -> SideView:
    """The bike, with all joiners in place if the chain is of several pieces. On a long bike the chain is one line,
    because its plates would be only a millimetre long."""
    side, gear = side_of(sized), sized.gear
    if len(walk.placing.joiners) > 1:
        gear = threading_gear(sized)
        side = threaded_view(sized.answer.sizing, gear, sized.links, walk, None)
    if sized.links <= MOST_PLATES:
        return side
    line = chain_line(sized.answer.sizing, gear, sized.links)
    return replace(side, line=line, chain=replace(side.chain, outer="", inner="", rivets=""))


def strip_sheets(sized: SizedWork) -> tuple[StripSheet, ...]:
    """The strip of each piece at 1:1, over as many pages as it needs."""
    sheets = []
    for cut in cuts_of(sized.work)[0]:
        pages = strip_pages(cut)
        sheets += [StripSheet(piece_name(cut), drawn("strip", "strip", page.strip), page, len(pages)) for page in pages]
    return tuple(sheets)


def _text(sized: SizedWork, path: str) -> str:
    text = sized.work.text(path)
    unit = f" {sized.work.shop.unit}" if path.endswith("_mm") and text else ""
    return text.replace("\n", "; ") + unit
