"""What the devices said last: the newest lines of each, kept while the workshop runs and no longer."""

from collections import deque
from dataclasses import dataclass, field
from math import inf
from threading import Lock

MOST_LINES, LONGEST_LINE = 1000, 80
HEARD_FOR_S, SILENT = 60.0, -inf
"""A device that said nothing for so long is taken for switched off; when one spoke that never did."""

Spoken = tuple[str, str]
"""A bench and a device."""


@dataclass
class Hub:
    """The newest lines of each device at each bench, and when it last spoke, seconds of a clock that only runs forward.

    A bench is known by what its tablet is called; under "" stands what every bench hears.
    """

    lines: dict[Spoken, deque[str]] = field(default_factory=dict)
    heard_at: dict[Spoken, float] = field(default_factory=dict)
    lock: Lock = field(default_factory=Lock)

    def hear(self, name: str, text: str, now_s: float, bench: str = "") -> None:
        """Lines of a device, the newest last."""
        with self.lock:
            kept = self.lines.setdefault((bench, name), deque(maxlen=MOST_LINES))
            kept.extend(line[:LONGEST_LINE] for line in text.splitlines()[-MOST_LINES:])
            self.heard_at[bench, name] = now_s

    def said(self, name: str, now_s: float, bench: str = "") -> list[str]:
        """What a device said to a bench; nothing where it has been silent for long."""
        with self.lock:
            heard = [one for one in ((bench, name), ("", name)) if now_s - self.heard_at.get(one, SILENT) < HEARD_FOR_S]
            return list(self.lines[heard[0]]) if heard else []
