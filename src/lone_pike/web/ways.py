"""The way on from a refusal: the place where the thing is now."""

import re
from dataclasses import dataclass

from lone_pike.core.messages import Term
from lone_pike.core.refusals import CodeTwice, Conflict, PieceTaken, Refusal


@dataclass(frozen=True)
class ButtonLink:
    """An address and the label of its button."""

    url: str
    word: Term


TO_THE_STAND = ButtonLink("/", Term("way", "stand"))
TO_THE_BIN = ButtonLink("/bin", Term("way", "bin"))
PLACES = (
    (re.compile(r"/jobs/\d+"), "job"),
    (re.compile(r"/bikes/\d+"), "bike"),
    (re.compile(r"/shop"), "shop"),
    (re.compile(r"/chains/\d+"), "chain"),
)


def way_on(path: str, refusal: Refusal) -> ButtonLink:
    """The way on from a refusal, by the path to which the request was sent.

    Anything about pieces leads to the bin. Another conflict leads to the thing itself; a job's address leads on to its
    bike once it is booked or closed. Everything else leads to the stand.

    >>> way_on("/jobs/4/measure", Conflict("job_is_booked")).url
    '/jobs/4'
    """
    if isinstance(refusal, PieceTaken | CodeTwice) or path.startswith(TO_THE_BIN.url):
        return TO_THE_BIN
    if isinstance(refusal, Conflict):
        for place, word in PLACES:
            if found := place.match(path):
                return ButtonLink(found[0], Term("way", word))
    return TO_THE_STAND
