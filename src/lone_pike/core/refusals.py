"""Why an operation was refused: a message for the user, without HTTP."""

from lone_pike.core.messages import Message, Value


class Refusal(Exception):
    """An operation that did nothing; its message says why, and what to do instead."""

    def __init__(self, code: str, /, **values: Value) -> None:
        self.message = Message(code, **values)
        super().__init__(code)


class NotThere(Refusal):
    """What was asked for does not exist."""


class Unfit(Refusal):
    """What was sent cannot be used; if a single field is wrong, InvalidInput is raised instead."""


class Conflict(Refusal):
    """What was sent could be used, but not in the present state."""


class NotOpen(Conflict):
    """The job is booked or closed, so it can no longer be changed."""


class Stale(Conflict):
    """The page showed a revision that is no longer the newest."""


class PieceTaken(Conflict):
    """A piece of the bin is reserved for another job, or gone."""

    def __init__(self) -> None:
        super().__init__("piece_taken")


class CodeTwice(Conflict):
    """A piece in the bin has this code already."""

    def __init__(self, label: str) -> None:
        super().__init__("code_twice", label=label)


class ChainShort(Conflict):
    """Box and pieces are too short for the count."""
