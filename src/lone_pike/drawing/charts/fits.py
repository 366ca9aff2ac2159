"""The slot, or the eccentric's reach, to scale: where each count puts axle or crank, and the room behind it."""

from dataclasses import dataclass

from lone_pike.core.take_up.standing import FixedCentres

WIDTH, ROW_HEIGHT, TOP, LEFT, RIGHT = 836.0, 62.0, 26.0, 96.0, 40.0
BESIDE_SHARE = 0.22
"""How much beside the reach is shown, as a share of it."""

WORDS_END = LEFT - 18.0
"""Where the name of a gear ends, to the left of all marks."""

MOST_MM = 120.0
"""The longest part of a reach that is drawn; of a longer one, the part around the count under test."""


@dataclass(frozen=True)
class Stand:
    """One count in one gear: where it puts axle or crank, as x, and its centre distance in mm."""

    links: int
    x: float
    centre_mm: float
    fits: bool
    shown: bool


@dataclass(frozen=True)
class FitRow:
    """One gear: its teeth, its y, its counts, and the room behind the shown one as a bar."""

    ring: int
    cog: int
    y: float
    stands: tuple[Stand, ...]
    room: tuple[float, float] | None


@dataclass(frozen=True)
class Fits:
    """The picture. near_x and far_x are the two ends of the reach, or of the part of it that is drawn; near_mm and
    far_mm are None if that end is not drawn. The names of the gears end at words_x."""

    width: float
    height: float
    words_x: float
    near_x: float
    far_x: float
    near_mm: float | None
    far_mm: float | None
    rows: tuple[FitRow, ...]


def fits_picture(fixed: FixedCentres, links: int) -> Fits:
    """Every joinable count near the reach, gear by gear; the near end is on the right, the direction in which the bike
    goes."""
    near_end, far_end = float(fixed.near_mm[0].min()), float(fixed.far_mm[0].max())
    near, far = _drawn_part(near_end, far_end, fixed.places(links)[0].centre_mm)
    beside = max((far - near) * BESIDE_SHARE, 0.2)
    scale = (WIDTH - LEFT - RIGHT) / (far - near + 2 * beside)

    def x(centre_mm: float) -> float:
        return round(LEFT + (far + beside - centre_mm) * scale, 1)

    rows, counts = [], fixed.counts_in_reach()
    places_of = list(zip(counts, fixed.places_of(counts), strict=True))
    for i, (ring, cog) in enumerate(fixed.gear_teeth):
        places = [(count, gears[i]) for count, gears in places_of]
        stands = tuple(
            Stand(
                count,
                x(place.centre_mm),
                place.centre_mm,
                place.ahead_mm >= 0 <= place.room_mm,
                count == links,
            )
            for count, place in places
            if near - beside <= place.centre_mm <= far + beside
        )
        shown = next((stand for stand in stands if stand.shown and stand.fits), None)
        room = (x(far), round(shown.x - x(far), 1)) if shown else None
        rows.append(FitRow(ring, cog, TOP + i * ROW_HEIGHT, stands, room))
    ends_mm = near if near == near_end else None, far if far == far_end else None
    return Fits(WIDTH, TOP + len(rows) * ROW_HEIGHT + 8, WORDS_END, x(near), x(far), *ends_mm, tuple(rows))


def _drawn_part(near_mm: float, far_mm: float, centre_mm: float) -> tuple[float, float]:
    """The part of a reach that is drawn: all of it, or the part around a centre distance.

    >>> _drawn_part(385.0, 400.0, 390.0), _drawn_part(230.0, 2468.0, 400.0), _drawn_part(230.0, 2468.0, 240.0)
    ((385.0, 400.0), (340.0, 460.0), (230.0, 350.0))
    """
    if far_mm - near_mm <= MOST_MM:
        return near_mm, far_mm
    start_mm = min(max(centre_mm - MOST_MM / 2, near_mm), far_mm - MOST_MM)
    return start_mm, start_mm + MOST_MM
