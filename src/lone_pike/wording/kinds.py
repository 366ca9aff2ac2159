"""The words of each kind of drivetrain: its name, what it is looked for by, and what it is taken for on the page."""

from dataclasses import dataclass


@dataclass(frozen=True)
class KindWords:
    """The name of a kind, as it is chosen; and the names of bikes that have it, for whoever looks for one."""

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
