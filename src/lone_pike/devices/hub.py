"""The newest lines of each device, held only while the workshop runs."""

from collections import deque
from dataclasses import dataclass, field
from math import inf
from threading import Lock

MOST_LINES, LONGEST_LINE = 1000, 80
HEARD_FOR_S, SILENT = 60.0, -inf
"""After how many seconds of silence a device counts as switched off; and the time of the last line of one that never
sent any."""

Spoken = tuple[str, str]
"""A bench and a device."""


@dataclass
class Hub:
    """The newest lines of each device at each bench, and the time of the last one, in seconds of a monotonic clock.

    A bench is identified by its tablet's name; "" stands for lines that every bench gets.
    """

    lines: dict[Spoken, deque[str]] = field(default_factory=dict)
    heard_at: dict[Spoken, float] = field(default_factory=dict)
    lock: Lock = field(default_factory=Lock)

    def hear(self, name: str, text: str, now_s: float, bench: str = "") -> None:
        """Adds lines of a device, the newest last."""
        with self.lock:
            kept = self.lines.setdefault((bench, name), deque(maxlen=MOST_LINES))
            kept.extend(line[:LONGEST_LINE] for line in text.splitlines()[-MOST_LINES:])
            self.heard_at[bench, name] = now_s

    def said(self, name: str, now_s: float, bench: str = "") -> list[str]:
        """The lines of a device for a bench; empty if it has been silent for long."""
        with self.lock:
            heard = [one for one in ((bench, name), ("", name)) if now_s - self.heard_at.get(one, SILENT) < HEARD_FOR_S]
            return list(self.lines[heard[0]]) if heard else []
