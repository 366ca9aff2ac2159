"""Where to clamp the axle for the wanted slack, how sensitive that is (model, section 5), and what else riders ask."""

from dataclasses import dataclass
from math import gcd

from lone_pike.core.bike.limits import PITCH_MM, limit
from lone_pike.core.take_up.protocol import GearPlace
from lone_pike.core.take_up.standing import FixedCentres
from lone_pike.core.take_up.wheels_apart import links_round, movement_mm, span_mm, stands_at_mm


@dataclass(frozen=True)
class Setting:
    """The slack of one count in one gear, mm.

    taut_mm is the centre distance at which the run is straight; from_mm and to_mm those at which it moves by the least
    and the most that is wanted, at the tightest point of the turn; moves_a_mm, how much more it moves for the first
    millimetre that the axle goes on forward from there. now_mm, tightest_mm and slackest_mm tell the movement where
    axle or crank stands, on the whole and over one turn of a ring that is out of round; as_it_stands_mm, with the
    wheels as far apart as they were measured.
    """

    place: GearPlace
    taut_mm: float
    from_mm: float
    to_mm: float
    moves_a_mm: float
    now_mm: float
    tightest_mm: float
    slackest_mm: float
    as_it_stands_mm: float


def setting_of(fixed: FixedCentres, count: int, stands_mm: float | None = None) -> Setting:
    """The slack of a count in the first gear, with the axle clamped at a distance from the crank, mm, or where it gives
    the wanted slack.

    Equation: e = (N - L(C)) p, movement 2 sqrt(e s / 2); a ring out of round by o moves the loop by o either way
    between its tightest and its slackest point.
    """
    place = fixed.places(count)[0]
    ring, cog, taut = place.ring, place.cog, place.centre_mm
    span = float(span_mm(ring, cog, taut))
    slope = 2 * span / taut
    least, most = limit("least_slack"), limit("most_slack")
    runout = fixed.part.ring_runout_mm
    from_mm, to_mm = (float(stands_at_mm(each, taut, span, runout)) for each in (least, most))
    stands = (from_mm + to_mm) / 2 if stands_mm is None else stands_mm
    links = count * fixed.bike.chain.stretch
    spare = (links - float(links_round(ring, cog, stands))) * PITCH_MM
    now, tightest, slackest = (float(movement_mm(spare + change, span)) for change in (0.0, -runout, runout))
    moves = float(movement_mm(spare + slope, span)) - now
    measured = (links - float(links_round(ring, cog, fixed.axle_away_mm))) * PITCH_MM
    as_it_stands = float(movement_mm(measured, span))
    return Setting(place, taut, from_mm, to_mm, moves, now, tightest, slackest, as_it_stands)


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
