"""Every device, declared as a whole: what its lines mean, and its simulated stand-in."""

from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Any

from lone_pike.core.chain.weighing import label_line
from lone_pike.devices.counter import ticks_of
from lone_pike.devices.scale import weight_of
from lone_pike.devices.stand_in import counter_lines, scale_lines


@dataclass(frozen=True)
class StandInRequest:
    """The values for a stand-in: links that a wheel counts or a label has, grams on a scale, and its drift for each
    reading."""

    links: int
    grams: float
    drift_g: float


@dataclass(frozen=True)
class Device:
    """One device: its name; what its lines mean, None if it types into a field like a keyboard; and the lines of its
    stand-in."""

    label: str
    read: Callable[[list[str]], Any] | None
    stand_in: Callable[[StandInRequest], Iterator[str]]

    @property
    def posts_lines(self) -> bool:
        """Whether it sends its lines to an address of its own."""
        return self.read is not None


def _label(links: int) -> str:
    return label_line(links, "inner", 9, f"CUT-{links:04}")


DEVICES: dict[str, Device] = {
    "counter": Device("counter wheel", ticks_of, lambda asked: counter_lines(asked.links)),
    "scale": Device("scale", weight_of, lambda asked: scale_lines(asked.grams, drift_g=asked.drift_g)),
    "scanner": Device("scanner", None, lambda asked: iter([_label(asked.links)])),
}
POSTING = tuple(name for name, device in DEVICES.items() if device.posts_lines)
"""The devices that a workshop listens to."""
