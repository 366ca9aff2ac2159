"""The counter wheel: a toothed wheel over which the chain is drawn, with one tick for each link.

A line is "T" and the wheel's own clock in ms, or "Z" where its zero button was pressed.
"""

from collections.abc import Iterable

BOUNCE_MS = 40
"""Two ticks closer together than this count as one link: nobody draws a chain that fast, but contacts bounce."""


def ticks_of(lines: Iterable[str]) -> int:
    """Links counted since the last zero; lines that do not come from a wheel are ignored.

    >>> ticks_of(["T 10", "Z", "T 500", "T 512", "T 900", "T x"])
    2
    """
    count, last_ms = 0, -BOUNCE_MS
    for line in lines:
        mark, _, clock = line.strip().partition(" ")
        if mark == "Z":
            count, last_ms = 0, -BOUNCE_MS
        elif mark == "T" and clock.isascii() and clock.isdecimal() and len(clock) < 13:
            if abs(int(clock) - last_ms) >= BOUNCE_MS:
                count += 1
            last_ms = int(clock)
    return count
