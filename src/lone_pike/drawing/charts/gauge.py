"""A drop-in gauge on a chain, to scale: a step that drops in, and one that stays up on its roller."""

from dataclasses import dataclass

from lone_pike.core.bike.limits import PITCH_MM, limit
from lone_pike.core.wear.gauging import PERCENT, Way, WearReading

SCALE, MARGIN_MM, SPAN_PITCHES, BEHIND = 6.0, 10.0, 8, 2
ROLLER_MM = 3.9
"""Radius of a roller."""

TOOTH_MM, BAR_MM = 3.0, 6.5
"""Half the width of the gauge's tooth, and how high its bar lies over the rollers' middle where it drops in."""


@dataclass(frozen=True)
class GaugeStep:
    """One step on the chain: the rollers, the place and height of its tooth, and the number stamped on it."""

    rollers: tuple[float, ...]
    tooth_x: float
    lifted: float
    step: str


@dataclass(frozen=True)
class GaugePicture:
    """The picture: its size, the hook's place, the rollers' radius, and the two steps."""

    width: float
    hook_x: float
    radius: float
    tooth: float
    bar: float
    steps: tuple[GaugeStep, ...]


def gauge_picture(reading: WearReading) -> GaugePicture | None:
    """Both steps on the chain; None for a reading by another gauge."""
    if reading.way is not Way.GAUGE:
        return None
    passes, stops = reading.passes or 0.0, reading.stops or 0.0
    pitch_mm = PITCH_MM * (1 + ((passes + stops) / 2 - limit("roller_play")) / PERCENT)
    rollers = tuple(_x(i * pitch_mm) for i in range(-1, SPAN_PITCHES + BEHIND))
    return GaugePicture(
        width=_x((SPAN_PITCHES + BEHIND) * pitch_mm),
        hook_x=_x(PITCH_MM / 2),
        radius=ROLLER_MM * SCALE,
        tooth=TOOTH_MM * SCALE,
        bar=BAR_MM * SCALE,
        steps=tuple(
            GaugeStep(rollers, _x((SPAN_PITCHES - 0.5) * PITCH_MM * (1 + step / PERCENT)), lifted * SCALE, f"{step:g}")
            for step, lifted in ((passes, 0.0), (stops, ROLLER_MM))
        ),
    )


def _x(at_mm: float) -> float:
    return round((at_mm + MARGIN_MM) * SCALE, 1)
