"""The words of each kind of drivetrain: its name and the words that find it."""

from dataclasses import dataclass


@dataclass(frozen=True)
class KindWords:
    """The name of a kind in the choice of kinds, and names of bikes that have it, for the search."""

    name: str
    bikes: str


KIND_WORDS = {
    "derailleur": KindWords("derailleur", "derailleur"),
    "slot": KindWords(
        "sliding dropouts or track ends",
        "sliding dropouts, track ends, axle in a slot, single speed, bmx, fixed gear, flip-flop",
    ),
    "eccentric": KindWords("eccentric", "eccentric, single speed"),
    "none": KindWords("fixed axle (vertical dropouts)", "fixed axle, vertical dropouts, single speed"),
    "arm": KindWords("sprung arm", "sprung arm, hub gear"),
}
