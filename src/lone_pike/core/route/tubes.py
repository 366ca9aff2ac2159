"""Tubes that the chain runs through: the place of each on its run, and where it is to be cut."""

from dataclasses import dataclass
from math import cos, radians, sin

from lone_pike.core.bike.base import Run
from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.limits import PITCH_MM, limit
from lone_pike.core.bike.parts import Tube
from lone_pike.core.chain.crossing import Point, Reach, reaches_of
from lone_pike.core.chain.path import TURN_RAD, ChainPath, Stop
from lone_pike.core.chain.stops import COG, RING, TENSION, StopId
from lone_pike.core.messages import Message, Term, Value, mm, number


@dataclass(frozen=True)
class TubeFit:
    """A tube on its run: its two ends, mm, and the stops on either side of it, rear_wheel and front_wheel.

    front_mm and rear_mm are the clearance of each end to the wheel next to it, at the shortest boom, beyond what is
    needed; a negative value is to be cut off.
    """

    tube: Tube
    place: int
    front: Point
    rear: Point
    front_wheel: StopId
    rear_wheel: StopId
    front_spare_mm: float
    rear_spare_mm: float

    @property
    def cut_front_mm(self) -> float:
        """What is to be cut off its front end."""
        return max(0.0, -self.front_spare_mm)

    @property
    def cut_rear_mm(self) -> float:
        """What is to be cut off its rear end."""
        return max(0.0, -self.rear_spare_mm)

    @property
    def is_narrow(self) -> bool:
        """Whether chain and joiner would catch in it."""
        return self.tube.inner_mm < limit("tube_inner")

    @property
    def messages(self) -> tuple[Message, ...]:
        """What is to be done with it, as sentences."""
        values: dict[str, Value] = {"run": Term("run", self.tube.run), "place": number(self.place)}
        messages = []
        if self.cut_front_mm + self.cut_rear_mm >= self.tube.length_mm:
            messages.append(Message("tube_no_room", **values))
        else:
            if self.cut_front_mm:
                messages.append(Message("tube_cut_front", cut=mm(self.cut_front_mm), **values))
            if self.cut_rear_mm:
                messages.append(Message("tube_cut_rear", cut=mm(self.cut_rear_mm), **values))
        if self.is_narrow:
            messages.append(
                Message("tube_narrow", bore=mm(self.tube.inner_mm), least=mm(limit("tube_inner")), **values)
            )
        return tuple(messages)


def tube_fits(bike: Bike, path: ChainPath) -> tuple[TubeFit, ...]:
    """The places of the bike's tubes on a loop of plain numbers; without those for which the loop has no straight part.

    The ring is nearest at the shortest boom. A front end stays clear of the ring or the front derailleur, any other end
    of its idler. Source: trade, section 7.
    """
    fits = []
    for place, tube in enumerate(bike.tubes, start=1):
        straight = _straight_of(path, tube)
        if straight:
            fits.append(_fit(bike, tube, place, straight))
    return tuple(fits)


def in_tubes_links(bike: Bike, path: ChainPath) -> list[tuple[float, float]]:
    """The stretches of a loop inside tubes, in links from where the chain leaves its first stop."""
    return [_stretch(path, fit) for fit in tube_fits(bike, path)]


def _straight_of(path: ChainPath, tube: Tube) -> Reach | None:
    """The straight part of the loop for a tube's part; None if the loop has no such part.

    Parts are counted from wheel to wheel, starting at the ring, whether or not the chain touches the wheels. If an
    idler is out of play, the parts on both sides of it are one straight line.
    """
    wheels = _wheels_of(path, tube.run)
    if tube.part >= len(wheels):
        return None
    places = {wheel: place for place, wheel in enumerate(wheels)}
    for reach in reaches_of(path):
        ends = sorted(places.get(wheel, -1) for wheel in (reach.leaves, reach.comes_to))
        if 0 <= ends[0] < tube.part <= ends[1]:
            return reach
    return None


def _wheels_of(path: ChainPath, run: Run) -> list[StopId]:
    """The wheels of a run from the ring to the back, to the cog or to the wheel behind the return idlers."""
    names = [stop.name for stop in path.stops]
    turned = names[names.index(RING) :] + names[: names.index(RING)]
    at_cog = turned.index(COG)
    if run is Run.DRIVE:
        return [turned[0], *turned[at_cog:][::-1]]
    return turned[: turned.index(TENSION) + 1] if TENSION in turned else turned[: at_cog + 1]


def _fit(bike: Bike, tube: Tube, place: int, part: Reach) -> TubeFit:
    """A tube on a straight part, measured from its rear wheel."""
    drive = tube.run is Run.DRIVE
    (front_wheel, front), (rear_wheel, rear) = (part.leaves, part.start), (part.comes_to, part.end)
    if drive:
        (front_wheel, front), (rear_wheel, rear) = (rear_wheel, rear), (front_wheel, front)
    span = part.length_mm or 1.0
    ahead = ((front[0] - rear[0]) / span, (front[1] - rear[1]) / span)
    first, last = tube.behind_mm, tube.behind_mm + tube.length_mm
    clear, before_ring = bike.limits.tube_clear_mm, front_wheel == RING
    pushed_in = _pushed_in_mm(bike, ahead) if before_ring else 0.0
    keep = limit("front_cage_clear") + (tube.front_cage_mm or 0.0) if before_ring and drive else clear
    return TubeFit(
        tube=tube,
        place=place,
        front=(rear[0] + last * ahead[0], rear[1] + last * ahead[1]),
        rear=(rear[0] + first * ahead[0], rear[1] + first * ahead[1]),
        front_wheel=front_wheel,
        rear_wheel=rear_wheel,
        front_spare_mm=span - last - pushed_in - keep,
        rear_spare_mm=first - clear,
    )


def _pushed_in_mm(bike: Bike, ahead: Point) -> float:
    """How much nearer the ring is along a run with the boom pushed in completely."""
    if bike.boom is None:
        return 0.0
    angle = radians(bike.boom.angle_deg)
    return max(0.0, -bike.boom.from_mm * (cos(angle) * ahead[0] + sin(angle) * ahead[1]))


def _stretch(path: ChainPath, fit: TubeFit) -> tuple[float, float]:
    """The stretch of a loop inside a tube, from link to link."""
    leaving = {stop.name: end for stop, (_, end) in zip(_from_the_second(path), stops_links(path), strict=True)}
    if fit.tube.run is Run.DRIVE:
        before_mm, wheel = fit.tube.behind_mm, fit.rear_wheel
    else:
        reach = next(reach for reach in reaches_of(path) if reach.leaves == fit.front_wheel)
        before_mm = reach.length_mm - fit.tube.behind_mm - fit.tube.length_mm
        wheel = fit.front_wheel
    start = (0.0 if wheel == path.stops[0].name else leaving[wheel]) + before_mm / PITCH_MM
    return start, start + fit.tube.length_mm / PITCH_MM


def stops_links(path: ChainPath) -> list[tuple[float, float]]:
    """The stretches of a loop on its stops, from the second stop round to the first, in links from where the chain
    leaves the first."""
    at, stretches = 0.0, []
    following = range(1, len(path.stops) + 1)
    for i, stop in zip(following, _from_the_second(path), strict=True):
        at += float(path.spans_mm[i - 1]) / PITCH_MM
        wrapped = float(stop.teeth) * float(path.wraps_rad[i % len(path.stops)]) / TURN_RAD
        stretches.append((at, at + wrapped))
        at += wrapped
    return stretches


def _from_the_second(path: ChainPath) -> list[Stop]:
    return [*path.stops[1:], path.stops[0]]
