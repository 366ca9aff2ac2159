"""What is wrong with an input, as data; and the one place where it is turned into words."""

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Any

from pydantic import BaseModel, ValidationError
from pydantic.fields import FieldInfo
from pydantic_core import ErrorDetails

READ_SHOWN = 60


@dataclass(frozen=True)
class Fault:
    """One fault: the field as it is written in the file, what was read, what is allowed, how to mend it."""

    field: str
    read: str
    allowed: str
    cure: str = ""

    @property
    def text(self) -> str:
        """The fault without its field, as shown beside the field.

        >>> Fault("rings.0", "0", "16 to 70 teeth").text
        'read 0; allowed: 16 to 70 teeth.'
        """
        return " ".join(filter(None, [f"read {self.read}; allowed: {self.allowed}.", self.cure]))

    @property
    def row(self) -> str:
        """Which row of a table, in words, where the field is one."""
        _, _, place = self.field.partition("points.")
        return f"row {int(place.split('.')[0]) + 1}: " if place[:1].isdigit() else ""

    @property
    def line(self) -> str:
        """The fault on one line, as the command prints it."""
        return f"{self.field}: {self.text}"


class InvalidInput(Exception):
    """The input cannot be used; carries one Fault or more."""

    def __init__(self, faults: Iterable[Fault]) -> None:
        self.faults = tuple(faults)
        super().__init__("\n".join(fault.line for fault in self.faults))


def invalid(field: str, read: str, allowed: str, cure: str = "") -> InvalidInput:
    """A InvalidInput with a single fault; read is said as it stands, quote values with shown()."""
    return InvalidInput([Fault(field, read, allowed, cure)])


def shown(value: object) -> str:
    """What was read, on one line and short enough to read.

    >>> shown("431\\n,5")
    '"431 ,5"'
    """
    text = f'"{" ".join(value.split())}"' if isinstance(value, str) else " ".join(repr(value).split())
    text = "".join(char if char.isprintable() else "�" for char in text)
    return text if len(text) <= READ_SHOWN else text[: READ_SHOWN - 1] + "…"


def invalid_by_model(error: ValidationError, model: type[BaseModel]) -> InvalidInput:
    """The faults of a document that its model does not accept."""
    faults = [_fault(detail, model) for detail in error.errors(include_url=False)]
    fields = {fault.field for fault in faults}
    return InvalidInput(fault for fault in faults if not any(field.startswith(f"{fault.field}.") for field in fields))


def _fault(detail: ErrorDetails, model: type[BaseModel]) -> Fault:
    context: dict[str, Any] = detail.get("ctx", {})
    loc, info, owner = _place(detail["loc"], model)
    if detail["type"] in ("union_tag_invalid", "union_tag_not_found"):
        typed = detail["input"].get("type") if isinstance(detail["input"], dict) else None
        allowed = " or ".join(tag for kind in _models(info) if (tag := _tag(kind)))
        return Fault(".".join([*loc, "type"]), "nothing" if typed is None else shown(typed), allowed)
    field = ".".join([*loc, *([context["at"]] if "at" in context else [])]) or "file"
    if detail["type"] == "extra_forbidden":
        return _unknown_key(field, detail["input"], owner)
    missing = detail["type"] == "missing" or context.get("missing")
    read = "nothing" if missing else shown(context.get("read", detail["input"]))
    extra = info.json_schema_extra if info else None
    said = str(extra["allowed"]) if isinstance(extra, dict) and "allowed" in extra else detail["msg"]
    return Fault(field, read, context.get("allowed", said), context.get("cure", ""))


def _place(loc: tuple[int | str, ...], model: type[BaseModel]) -> tuple[list[str], FieldInfo | None, type[BaseModel]]:
    """A place in the document without the union tags in it, its nearest field, and the model that valid_ranges it."""
    path, found, owner = [], None, model
    for i, part in enumerate(loc):
        fields = {info.alias or name: info for name, info in model.model_fields.items()}
        tagged = [kind for kind in _models(found) if _tag(kind) == part]
        if tagged and part not in fields:
            model = owner = tagged[0]
            continue
        path.append(str(part))
        if isinstance(part, str) and part in fields:
            found, owner = fields[part], model
            inner = _models(found)
            model = inner[0] if inner and i < len(loc) - 1 else model
            owner = model if inner and i == len(loc) - 2 else owner
    return path, found, owner


def _models(info: FieldInfo | None) -> list[type[BaseModel]]:
    """All models a field may hold."""
    found, waiting = [], [info.annotation] if info else []
    while waiting:
        kind = waiting.pop(0)
        if isinstance(kind, type) and issubclass(kind, BaseModel):
            found.append(kind)
        waiting += list(getattr(kind, "__args__", ()))
    return found


def _tag(kind: type[BaseModel]) -> str | None:
    """The value of a model's `type` that tells it from others."""
    field = kind.model_fields.get("type")
    return str(field.annotation.__args__[0]) if field and hasattr(field.annotation, "__args__") else None  # type: ignore[union-attr]


def _unknown_key(field: str, read: object, owner: type[BaseModel]) -> Fault:
    what = getattr(owner, "not_sized_yet", {}).get(field.rsplit(".", 1)[-1])
    if what:
        return Fault(field, shown(read), "a bike without this key", f"This version does not size a bike with {what}.")
    return Fault(field, shown(read), "no such key here", f"Known keys: {', '.join(_keys(owner))}.")


def _keys(model: type[BaseModel]) -> list[str]:
    return [info.alias or name for name, info in model.model_fields.items()]
