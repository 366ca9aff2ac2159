"""The stages of a job, in the order of the work. Source: trade, section 3."""

from dataclasses import dataclass


@dataclass(frozen=True)
class Stage:
    """One stage: its key (in addresses, templates and the data file), its name on the page, the code of the question
    that the Stand shows while the job is there, whether it can be shown before the bike can be sized, and whether
    tablets fetch it ahead, for hands that are at work while the workshop is out of reach."""

    key: str
    label: str
    question: str = ""
    before_count: bool = False
    fetched_ahead: bool = False


STAGES: dict[str, Stage] = {
    stage.key: stage
    for stage in (
        Stage("receive", "Receive", question="what_is_wrong", before_count=True),
        Stage("measure", "Measure", before_count=True),
        Stage("size", "Size", fetched_ahead=True),
        Stage("cut", "Cut", question="rivet_counted_twice", fetched_ahead=True),
        Stage("join", "Join", question="is_it_joined", fetched_ahead=True),
        Stage("prove", "Prove", question="is_it_proved"),
        Stage("book", "Book", question="is_it_fitted"),
    )
}
"""The stages in order. A stage's place is its number on the page and its key on the keyboard."""

FIRST_STAGE, LAST_STAGE = next(iter(STAGES)), next(reversed(STAGES))


def stage_after(key: str) -> str:
    """The stage that follows; the last one is followed by itself.

    >>> stage_after("size"), stage_after("book")
    ('cut', 'book')
    """
    order = list(STAGES)
    return order[min(order.index(key) + 1, len(order) - 1)]
