"""Photo: the marks in it, the measures they give, and the computed chain over it."""

from dataclasses import dataclass
from math import atan2, degrees
from typing import TypeGuard

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import Fault, InvalidInput
from lone_pike.core.bike.fields import FieldSpec
from lone_pike.core.bike.limits import limit
from lone_pike.core.bike.measures import MEASURES
from lone_pike.core.bike.photo import LEVEL, MARKS, Mark, Photo, Point, Read, Taken, Wheels, taken_from
from lone_pike.core.messages import LengthUnit, Message, Term, Unit
from lone_pike.drawing.side_view import SideView, side_view
from lone_pike.formats.measure_form import form_fields
from lone_pike.formats.parsing import Reading
from lone_pike.formats.photo_notes import PhotoNotes
from lone_pike.formats.writing import format_reading
from lone_pike.store.photos import PhotoRow
from lone_pike.web.view_state import ViewState, with_query
from lone_pike.web.views.frame import PHOTO, Frame, frame_of
from lone_pike.web.views.work import SizedWork, Work

SHOWN_WITHIN_PX = (772, 536)
LOUPE_PX = 90
LEAST_SPREAD = 0.1
GAP = "b_gap_mm"


@dataclass(frozen=True)
class Offer:
    """A measure off the photo as it may be taken over: its field, its reading, and what stands there now."""

    field: str
    label: Term
    unit: Unit
    reading: Reading
    text: str
    now: str
    taken: bool
    wanted: bool
    trouble: Message | None


@dataclass(frozen=True)
class MarkStep:
    """A mark to set, whether it is set or in hand, and the address that takes it in hand."""

    mark: Mark
    word: Term
    set: bool
    in_hand: bool
    url: str


@dataclass(frozen=True)
class Overlay:
    """The computed chain over the photo, in mm about the crank, and how it comes to lie there."""

    side: SideView
    transform: str
    gear: tuple[int, int]


@dataclass(frozen=True)
class Picture:
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
    offers: tuple[Offer, ...]
    gears: tuple[tuple[int, int], ...]
    gear: tuple[int, int] | None
    ring_teeth: int | None
    ruler_text: str
    unit: LengthUnit
    own_url: str
    mark_url: str
    scale_url: str
    take_url: str


@dataclass(frozen=True)
class PhotoView:
    """The page; picture is None where the job has no photo yet."""

    frame: Frame
    links: int | None
    picture: Picture | None
    fault: Fault | None
    photo_url: str
    measure_url: str


def photo_view(
    work: Work, notes: PhotoNotes | None, row: PhotoRow | None, asked: str, fault: Fault | None = None
) -> PhotoView:
    """The page; asked is the mark that the address wants in hand, fault what could not be kept."""
    picture, of_marks = _picture(work, notes, row, asked) if notes and row else (None, None)
    return PhotoView(
        frame=frame_of(work, PHOTO),
        links=work.sized.links if work.sized else None,
        picture=picture,
        fault=fault or of_marks,
        photo_url=work.at("photo"),
        measure_url=work.at("measure"),
    )


def _picture(work: Work, notes: PhotoNotes, row: PhotoRow, asked: str) -> tuple[Picture, Fault | None]:
    needed = _needed(work)
    hand = next((mark for mark in needed if mark == asked), None)
    hand = hand or next((mark for mark in needed if mark not in notes.marks and mark not in LEVEL), None)
    photo = notes.photo((row.width, row.height))
    gear = photo_gear(work, notes)
    taken, fault = _taken(work, photo, gear)
    place = notes.marks.get(hand) if hand else None
    picture = Picture(
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
        overlay=_overlay(work.sized, notes, photo, gear) if work.sized and gear else None,
        offers=tuple(_offer(work, read, one) for read, one in taken.items() if read != "pivot_mm" or "pivot" in needed),
        gears=_gears(work),
        gear=gear,
        ring_teeth=notes.ring_teeth,
        ruler_text=format_reading(_length_spec(), Reading(notes.ruler_mm), work.shop.unit),
        unit=work.shop.unit,
        own_url=photo_url(work.state, row.job_id),
        mark_url=work.at("photo/mark"),
        scale_url=work.at("photo/scale"),
        take_url=work.at("photo/take"),
    )
    return picture, fault


def photo_url(state: ViewState, job_id: int, mark: str = "") -> str:
    """Address of the photo's page, a mark kept in hand."""
    address = state.url(f"/jobs/{job_id}/photo")
    return with_query(address, "mark", mark) if mark else address


def shown_px(row: PhotoRow) -> tuple[int, int]:
    """How large the photo stands on the page: always so, for a press tells its place in these px."""
    share = min(most / size for most, size in zip(SHOWN_WITHIN_PX, (row.width, row.height), strict=True))
    return round(row.width * share), round(row.height * share)


def offers_of(work: Work, notes: PhotoNotes, row: PhotoRow) -> tuple[Offer, ...]:
    """The measures, each with its spread, ticked where the bike has no caliper's figure for it."""
    picture, _ = _picture(work, notes, row, "")
    return picture.offers


def photo_gear(work: Work, notes: PhotoNotes) -> tuple[int, int] | None:
    """The gear in the photo: the one told, else big/big; None while the wheels are not counted."""
    gears = _gears(work)
    told = notes.gear
    return told if told in gears else next(iter(gears), None)


def _needed(work: Work) -> tuple[Mark, ...]:
    """The marks asked for; the pivot where the bike has one."""
    return tuple(mark for mark in MARKS if mark != "pivot" or work.form["suspension.type"] == "pivot")


def _gears(work: Work) -> tuple[tuple[int, int], ...]:
    """Gears to choose from, largest first."""
    rings, cogs = work.document.get("rings"), work.document.get("cogs")
    if not (_are_sizes(rings) and _are_sizes(cogs)):
        return ()
    return tuple((ring, cog) for ring in sorted(rings, reverse=True) for cog in sorted(cogs, reverse=True))


def _taken(work: Work, photo: Photo, gear: tuple[int, int] | None) -> tuple[dict[Read, Taken], Fault | None]:
    guide = work.readings["take_up.guide_teeth"].value or int(limit("pulley"))
    wheels = None
    if gear and isinstance(guide, int):
        _, cog = gear
        wheels = Wheels(guide, cog, max(work.document["cogs"]))
    try:
        return taken_from(photo, wheels), None
    except InvalidInput as error:
        return {}, error.faults[0]


def _offer(work: Work, read: Read, taken: Taken) -> Offer:
    spec = _spec_of(read)
    spread = round(max(taken.spread, LEAST_SPREAD), 1)
    values = [round(value, 1) for value in taken.values]
    reading = Reading(values if len(values) > 1 else next(iter(values)), spread)
    now = work.readings[spec.path]
    text, now_text = (format_reading(spec, one, work.shop.unit) for one in (reading, now))
    trouble = _trouble(spec, reading, spread)
    wanted = trouble is None and now != reading and (now.value is None or now.spread is not None)
    return Offer(
        field=spec.path,
        label=Term("field", spec.path),
        unit=spec.unit,
        reading=reading,
        text=text,
        now=now_text,
        taken=now == reading,
        wanted=wanted,
        trouble=trouble,
    )


def _trouble(spec: FieldSpec, reading: Reading, spread: float) -> Message | None:
    """Why a measure off the photo cannot be taken over: its own bounds, or too wide a spread."""
    low, high = spec.low or 0.0, spec.high or 0.0
    if spec.spread and spec.spread.key == GAP and not low <= reading.value <= high:
        return Message("gap_unlike")
    return Message("too_rough") if spec.spread is None or spread > spec.spread.most else None


def _overlay(sized: SizedWork, notes: PhotoNotes, photo: Photo, gear: tuple[int, int]) -> Overlay | None:
    """The computed chain in the photo's gear, its axle on the marked one; None while the scale is not known."""
    mm_per_px = _mm_per_px(photo)
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


def _spec_of(read: Read) -> FieldSpec:
    """The form field of a measure that a photo gives."""
    measure = {"pivot_mm": "pivot_x_mm"}.get(read, str(read))
    return form_fields(Bike)[MEASURES[measure].path]


def _length_spec() -> FieldSpec:
    return form_fields(Bike)["chainstay_mm"]


def _are_sizes(sizes: object) -> TypeGuard[list[int]]:
    return isinstance(sizes, list) and bool(sizes) and all(isinstance(size, int) for size in sizes)
