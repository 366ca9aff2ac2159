"""An old chain beside a new one with the same number of links: both begin level, and the picture shows their other
ends."""

from dataclasses import dataclass

from lone_pike.core.bike.limits import PITCH_MM

SHOWN_LINKS, WIDTH, HEIGHT = 5, 320, 96
MARGIN, SCALE = 26.0, 3.3
MOST_APART_MM = 2 * PITCH_MM


@dataclass(frozen=True)
class LevelPicture:
    """The rivets of both chains; the last one of each is its end. apart_x are the two ends."""

    new: tuple[float, ...]
    old: tuple[float, ...]
    apart_x: tuple[float, float]


def level_picture(longer_mm: float) -> LevelPicture:
    """The ends of both chains, to scale; longer_mm is by how much the old one is longer, or with a minus shorter."""
    new = tuple(round(MARGIN + SCALE * PITCH_MM * i, 1) for i in range(SHOWN_LINKS + 1))
    shift = SCALE * max(min(longer_mm, MOST_APART_MM), -MOST_APART_MM)
    old = tuple(round(x + shift, 1) for x in new)
    return LevelPicture(new, old, (new[-1], old[-1]))
