"""What riders ask besides the count: gear ratio, development, skid patches."""

from dataclasses import dataclass
from math import gcd

MM_PER_METRE = 1000


@dataclass(frozen=True)
class Rollout:
    """One gear: its ratio, the metres that one turn of the crank rolls, and the skid patches with one foot and with
    either foot."""

    ring: int
    cog: int
    ratio: float
    development_m: float
    patches_one_foot: int
    patches_both_feet: int


def ride(ring: int, cog: int, wheel_turn_mm: float) -> Rollout:
    """The figures of one gear.

    Equation: ratio = ring / cog; development = ratio x wheel turn; skidding with one foot wears the tyre at
    cog / gcd(ring, cog) places, with either foot at twice as many where ring / gcd is odd. Parameters: teeth, and what
    the wheel rolls in one turn, mm. Returns: development in metres. Source: the crank stops at the same angle each
    time; between two stops the wheel turns by whole multiples of ring / cog, or of half of it.

    >>> ride(46, 16, 2100)
    Rollout(ring=46, cog=16, ratio=2.875, development_m=6.0375, patches_one_foot=8, patches_both_feet=16)
    """
    common = gcd(ring, cog)
    one = cog // common
    return Rollout(
        ring, cog, ring / cog, ring / cog * wheel_turn_mm / MM_PER_METRE, one, one * (1 + ring // common % 2)
    )
