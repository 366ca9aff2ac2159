"""What the devices said last: the newest lines of each, kept while the workshop runs and no longer."""

from collections import deque
from dataclasses import dataclass, field
from threading import Lock

from lone_pike.devices.declared import POSTING

MOST_LINES, LONGEST_LINE = 1000, 80
HEARD_FOR_S = 60.0
"""A device that said nothing for so long is taken for switched off."""


@dataclass
class Hub:
    """The newest lines of each device, and when it last spoke, seconds of a clock that only runs forward."""

    lines: dict[str, deque[str]] = field(default_factory=lambda: {name: deque(maxlen=MOST_LINES) for name in POSTING})
    heard_at: dict[str, float] = field(default_factory=dict)
    lock: Lock = field(default_factory=Lock)

    def hear(self, name: str, text: str, now_s: float) -> None:
        """Lines of a device, the newest last."""
        with self.lock:
            for line in text.splitlines()[-MOST_LINES:]:
                self.lines[name].append(line[:LONGEST_LINE])
            self.heard_at[name] = now_s

    def said(self, name: str, now_s: float) -> list[str]:
        """What a device said; nothing where it has been silent for long."""
        with self.lock:
            silent = now_s - self.heard_at.get(name, -HEARD_FOR_S) >= HEARD_FOR_S
            return [] if silent else list(self.lines[name])
