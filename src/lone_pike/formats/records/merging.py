"""Merges two edits of the same state; used for measures, notes and settings."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Generic, TypeVar

from lone_pike.core.messages import Message

Value = TypeVar("Value")
Change = tuple[Value, Value]


@dataclass(frozen=True)
class Merge(Generic[Value]):
    """The merged state, what my edit changed, and what was changed elsewhere in the meantime and differs from mine."""

    merged: dict[str, Value]
    mine: dict[str, tuple[Value, Value]]
    elsewhere: dict[str, tuple[Value, Value]]

    @property
    def clashes(self) -> bool:
        """Whether both changed the same thing."""
        return any(name in self.mine for name in self.elsewhere)


def message_with_merge(
    message: Message, merged: Merge[Value], tell: Callable[[dict[str, Change[Value]]], Message]
) -> Message:
    """The message of my edit, with what another tab changed in the meantime, as tell words it."""
    if not merged.elsewhere or not merged.mine:
        return message
    code = "mine_stands" if merged.clashes else "both_kept"
    return Message("with_merge", changes=message, merge=Message(code, changes=tell(merged.elsewhere)))


def differences(before: Mapping[str, Value], after: Mapping[str, Value], nothing: Value) -> dict[str, Change[Value]]:
    """The entries that differ, with their values before and after.

    >>> differences({"a": 1, "b": 2}, {"a": 1, "c": 3}, 0)
    {'b': (2, 0), 'c': (0, 3)}
    """
    return {
        name: (before.get(name, nothing), after.get(name, nothing))
        for name in {**before, **after}
        if before.get(name, nothing) != after.get(name, nothing)
    }


def merge(
    base: Mapping[str, Value], newest: Mapping[str, Value], mine: Mapping[str, Value], nothing: Value
) -> Merge[Value]:
    """The newest state with what I changed since the base; nothing is the value for a missing entry.

    >>> merge({"a": 1, "b": 2}, {"a": 5, "b": 2}, {"a": 1, "b": 3}, 0).merged
    {'a': 5, 'b': 3}
    """
    changed = differences(base, mine, nothing)
    theirs = differences(base, newest, nothing)
    merged = {**newest, **{name: new for name, (_, new) in changed.items()}}
    elsewhere = {
        name: change for name, change in theirs.items() if name not in changed or changed[name][1] != change[1]
    }
    return Merge({name: value for name, value in merged.items() if value != nothing}, changed, elsewhere)
