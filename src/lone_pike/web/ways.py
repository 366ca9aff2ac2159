"""Where a page that says no leads to: the place where the thing stands now."""

import re
from dataclasses import dataclass

from lone_pike.core.refusals import CodeTwice, Conflict, PieceTaken, Refusal


@dataclass(frozen=True)
class Way:
    """An address and the word on its button."""

    url: str
    word: str


TO_THE_STAND = Way("/", "To the stand")
TO_THE_BIN = Way("/bin", "To the bin")
PLACES = (
    (re.compile(r"/jobs/\d+"), "To the job as it is now"),
    (re.compile(r"/bikes/\d+"), "To the bike"),
    (re.compile(r"/bin"), "To the bin"),
    (re.compile(r"/shop"), "To the shop"),
)


def way_on(path: str, refusal: Refusal) -> Way:
    """The way on from a refusal of what was sent to a path.

    A conflict leads to the thing itself: a piece that is taken to the bin, a job to where it stands now (a job's own
    address leads on to its bike once it is booked or closed). Whatever is not there leads to the stand.

    >>> way_on("/jobs/4/measure", Conflict("job_is_booked")).url
    '/jobs/4'
    """
    if isinstance(refusal, PieceTaken | CodeTwice):
        return TO_THE_BIN
    if isinstance(refusal, Conflict):
        for place, word in PLACES:
            if found := place.match(path):
                return Way(found[0], word)
    return TO_THE_STAND
