"""What a part of the campaign counts: tries, and what broke."""

import time
from collections.abc import Callable
from dataclasses import dataclass, field
from threading import Event

SLOWEST_SECONDS = 3.0
"""An answer or a reading that takes longer holds the bench up."""


SHORT = Event()
"""Set in the short form, which runs beside other work: there nothing is measured by the clock."""


@dataclass
class Tried:
    """One part of the campaign: how many were tried, and what broke, in a line each."""

    part: str
    tried: int = 0
    broke: list[str] = field(default_factory=list)
    told: str = ""

    def hold(self, holds: bool, line: str) -> None:
        """Counts one try."""
        self.tried += 1
        if not holds:
            self.broke.append(line)


def guarded(tried: Tried, line: str, work: Callable[[], object], *allowed: type[Exception]) -> None:
    """One try that may raise what is allowed and must not take long."""
    start = time.monotonic()
    try:
        work()
    except allowed:
        pass
    except Exception as error:
        tried.hold(False, f"{line}: {error!r}")
        return
    took = time.monotonic() - start
    tried.hold(took < SLOWEST_SECONDS or SHORT.is_set(), f"{line}: took {took:.1f} s")
