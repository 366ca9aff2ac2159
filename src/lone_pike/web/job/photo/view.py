"""Photo: the marks in it, the measures they give, and the computed chain over it."""

from dataclasses import dataclass
from math import atan2, degrees

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import Fault, InvalidInput
from lone_pike.core.bike.photo import LEVEL, MARKS, Care, Mark, Photo, Point
from lone_pike.core.messages import LengthUnit, Message, Term, Unit
from lone_pike.drawing.scene.side_view import SideView, side_view
from lone_pike.formats.typed.measure_form import form_fields
from lone_pike.formats.typed.parsing import Reading
from lone_pike.formats.typed.writing import format_reading
from lone_pike.store.photos import PhotoRow
from lone_pike.web.job.frame import PHOTO, Frame
from lone_pike.web.job.work import SizedWork, Work
from lone_pike.web.view_state import ViewState, with_query
from lone_pike.workshop.photos import (
    JobPhoto,
    PhotoMeasure,
    photo_gear,
    photo_gears,
    photo_in_px,
    read_photo_measures,
)

SHOWN_WITHIN_PX = (772, 536)
LOUPE_PX = 90


@dataclass(frozen=True)
class ShownMeasure:
    """A measure from the photo that may be taken over: its field, its text, and the bike's value now."""

    field: str
    label: Term
    unit: Unit
    text: str
    now: str
    taken: bool
    wanted: bool
    trouble: Message | None


@dataclass(frozen=True)
class MarkStep:
    """A mark: whether it is set, whether it is selected, and the address that selects it."""

    mark: Mark
    word: Term
    set: bool
    in_hand: bool
    url: str


@dataclass(frozen=True)
class Overlay:
    """The computed chain over the photo, mm about the crank, and the transform that puts it there."""

    side: SideView
    transform: str
    gear: tuple[int, int]


@dataclass(frozen=True)
class MarkedPhoto:
    """The photo with its marks."""

    address: str
    width: int
    height: int
    shown_px: tuple[int, int]
    marks: dict[Mark, Point]
    steps: tuple[MarkStep, ...]
    hand: Mark | None
    pressed: Term | None
    loupe: str
    overlay: Overlay | None
    measures: tuple[ShownMeasure, ...]
    gears: tuple[tuple[int, int], ...]
    gear: tuple[int, int] | None
    ring_teeth: int | None
    ruler_text: str
    care: tuple[tuple[Care, Term, bool], ...]
    unit: LengthUnit
    own_url: str
    mark_url: str
    scale_url: str
    take_url: str


@dataclass(frozen=True)
class PhotoView:
    """The page; picture is None if the job has no photo yet."""

    frame: Frame
    links: int | None
    picture: MarkedPhoto | None
    fault: Fault | None
    photo_url: str


def photo_view(work: Work, photo: JobPhoto | None, asked: str, fault: Fault | None = None) -> PhotoView:
    """Builds the page; asked is the mark that the address selects, fault what could not be stored."""
    picture, of_marks = _picture(work, photo, asked) if photo else (None, None)
    return PhotoView(
        frame=Frame(work, PHOTO),
        links=work.sized.links if work.sized else None,
        picture=picture,
        fault=fault or of_marks,
        photo_url=work.at("photo"),
    )


def _picture(work: Work, photo: JobPhoto, asked: str) -> tuple[MarkedPhoto, Fault | None]:
    needed, notes, row = _needed(work), photo.notes, photo.row
    hand = next((mark for mark in needed if mark == asked), None)
    hand = hand or next((mark for mark in needed if mark not in notes.marks and mark not in LEVEL), None)
    gear = photo_gear(work.document, notes)
    measures, fault = read_photo_measures(work.document, photo)
    place = notes.marks.get(hand) if hand else None
    picture = MarkedPhoto(
        address=f"/jobs/{row.job_id}/photo/{row.id}.jpg",
        width=row.width,
        height=row.height,
        shown_px=shown_px(row),
        marks={mark: place for mark, place in notes.marks.items() if mark in needed},
        steps=tuple(
            MarkStep(
                mark, Term("mark", mark), mark in notes.marks, mark == hand, photo_url(work.state, row.job_id, mark)
            )
            for mark in needed
        ),
        hand=hand,
        pressed=Term("pressed", hand) if hand else None,
        loupe=f"{place[0] - LOUPE_PX / 2} {place[1] - LOUPE_PX / 2} {LOUPE_PX} {LOUPE_PX}" if place else "",
        overlay=_overlay(work.sized, photo, gear) if work.sized and gear else None,
        measures=tuple(_shown_measure(work, one) for one in measures),
        gears=photo_gears(work.document),
        gear=gear,
        ring_teeth=notes.ring_teeth,
        ruler_text=format_reading(form_fields(Bike)["chainstay_mm"], Reading(notes.ruler_mm), work.shop.unit),
        care=tuple((one, Term("care", one), one in notes.care) for one in Care),
        unit=work.shop.unit,
        own_url=photo_url(work.state, row.job_id),
        mark_url=work.at("photo/mark"),
        scale_url=work.at("photo/scale"),
        take_url=work.at("photo/take"),
    )
    return picture, fault


def photo_url(state: ViewState, job_id: int, mark: str = "") -> str:
    """The address of the photo's page with a mark selected."""
    address = state.url(f"/jobs/{job_id}/photo")
    return with_query(address, "mark", mark) if mark else address


def shown_px(row: PhotoRow) -> tuple[int, int]:
    """The size of the photo on the page. It is always the same, because a press is reported in these px."""
    share = min(most / size for most, size in zip(SHOWN_WITHIN_PX, (row.width, row.height), strict=True))
    return round(row.width * share), round(row.height * share)


def _needed(work: Work) -> tuple[Mark, ...]:
    """The marks to set, with the pivot if the bike has one."""
    return tuple(mark for mark in MARKS if mark != "pivot" or work.form["suspension.type"] == "pivot")


def _shown_measure(work: Work, measure: PhotoMeasure) -> ShownMeasure:
    spec, unit = measure.field, work.shop.unit
    return ShownMeasure(
        field=spec.path,
        label=Term("field", spec.path),
        unit=spec.unit,
        text=format_reading(spec, measure.reading, unit),
        now=format_reading(spec, measure.now, unit),
        taken=measure.taken,
        wanted=measure.wanted,
        trouble=measure.trouble,
    )


def _overlay(sized: SizedWork, photo: JobPhoto, gear: tuple[int, int]) -> Overlay | None:
    """The computed chain in the photo's gear, with its axle on the marked one; None until the scale is known."""
    notes, mm_per_px = photo.notes, _mm_per_px(photo_in_px(photo))
    if mm_per_px is None or "crank" not in notes.marks:
        return None
    crank_x, crank_y = notes.marks["crank"]
    turn = 0.0
    if "axle" in notes.marks:
        (axle_x, axle_y), (x_mm, y_mm) = notes.marks["axle"], sized.bike.axle_xy_mm
        turn = degrees(atan2(axle_y - crank_y, axle_x - crank_x) - atan2(-y_mm, x_mm))
    shown = next(one for one in sized.standing.take_up.gears(sized.links) if (one.ring, one.cog) == gear)
    return Overlay(
        side=side_view(sized.standing, shown, sized.links),
        transform=f"translate({crank_x:.1f} {crank_y:.1f}) rotate({turn:.2f}) scale({1 / mm_per_px:.4f})",
        gear=gear,
    )


def _mm_per_px(photo: Photo) -> float | None:
    try:
        return photo.mm_per_px
    except InvalidInput:
        return None
