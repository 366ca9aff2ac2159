"""The boom to scale: at which of its settings each count is safe."""

from dataclasses import dataclass

from lone_pike.core.count.boom import BoomRange

WIDTH, ROW, TOP, LEFT, RIGHT = 300.0, 25.0, 20.0, 48.0, 12.0


@dataclass(frozen=True)
class BoomBar:
    """One count as a bar over the settings at which it is safe; in_cover if it is one of the fewest counts that
    together cover all of them."""

    links: int
    x: float
    y: float
    width: float
    low_mm: float
    high_mm: float
    shown: bool
    in_cover: bool


@dataclass(frozen=True)
class BoomPicture:
    """The picture; own_x is the rider's own setting, if it is within the boom's range."""

    width: float
    height: float
    left: float
    right: float
    from_mm: float
    to_mm: float
    own_x: float | None
    bars: tuple[BoomBar, ...]


def boom_picture(boom: BoomRange, links: int) -> BoomPicture:
    """Every count that is safe at some setting, with the most links on top; pushed in is on the left."""
    low, high = boom.settings[0].boom_mm, boom.settings[-1].boom_mm
    scale = (WIDTH - LEFT - RIGHT) / max(high - low, 1.0)

    def x(at_mm: float) -> float:
        return round(LEFT + (at_mm - low) * scale, 1)

    cover = {one.links for one in boom.cover}
    bars = tuple(
        BoomBar(
            links=one.links,
            x=x(one.low_mm),
            y=TOP + i * ROW,
            width=round(max(x(one.high_mm) - x(one.low_mm), 3.0), 1),
            low_mm=one.low_mm,
            high_mm=one.high_mm,
            shown=one.links == links,
            in_cover=one.links in cover,
        )
        for i, one in enumerate(reversed(boom.counts))
    )
    own = x(0.0) if low <= 0 <= high else None
    return BoomPicture(WIDTH, TOP + len(bars) * ROW + 6, LEFT, WIDTH - RIGHT, low, high, own, bars)
