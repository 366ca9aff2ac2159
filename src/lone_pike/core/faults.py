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
    def line(self) -> str:
        """The fault on one line, as the command prints it."""
        return f"{self.field}: {self.text}"


class Refused(Exception):
    """The input cannot be used; carries one Fault or more."""

    def __init__(self, faults: Iterable[Fault]) -> None:
        self.faults = tuple(faults)
        super().__init__("\n".join(fault.line for fault in self.faults))


def refuse(field: str, read: str, allowed: str, cure: str = "") -> Refused:
    """A Refused with a single fault; read is said as it stands, quote values with shown()."""
    return Refused([Fault(field, read, allowed, cure)])


def shown(value: object) -> str:
    """What was read, on one line and short enough to read.

    >>> shown("431\\n,5")
    '"431 ,5"'
    """
    text = f'"{" ".join(value.split())}"' if isinstance(value, str) else " ".join(repr(value).split())
    text = "".join(char if char.isprintable() else "�" for char in text)
    return text if len(text) <= READ_SHOWN else text[: READ_SHOWN - 1] + "…"


def refused_by_model(error: ValidationError, model: type[BaseModel]) -> Refused:
    """The faults of a document that its model does not accept."""
    faults = [_fault(detail, model) for detail in error.errors(include_url=False)]
    fields = {fault.field for fault in faults}
    return Refused(fault for fault in faults if not any(field.startswith(f"{fault.field}.") for field in fields))


def _fault(detail: ErrorDetails, model: type[BaseModel]) -> Fault:
    context: dict[str, Any] = detail.get("ctx", {})
    field = ".".join(str(part) for part in (*detail["loc"], *_as_list(context.get("at")))) or "file"
    if detail["type"] == "extra_forbidden":
        return _unknown_key(field, detail["input"], _model_at(detail["loc"][:-1], model))
    missing = detail["type"] == "missing" or context.get("missing")
    read = "nothing" if missing else shown(context.get("read", detail["input"]))
    allowed = context.get("allowed") or _allowed(detail["loc"], model) or detail["msg"]
    return Fault(field, read, allowed, context.get("cure", ""))


def _unknown_key(field: str, read: object, owner: type[BaseModel]) -> Fault:
    what = getattr(owner, "not_sized_yet", {}).get(field.rsplit(".", 1)[-1])
    if what:
        return Fault(field, shown(read), "a bike without this key", f"This version does not size a bike with {what}.")
    return Fault(field, shown(read), "no such key here", f"Known keys: {', '.join(_keys(owner))}.")


def _as_list(value: object) -> list[object]:
    return [] if value is None else [value]


def _field(loc: tuple[int | str, ...], model: type[BaseModel]) -> FieldInfo | None:
    """The model's field nearest to a place in the document."""
    found: FieldInfo | None = None
    for part in loc:
        fields = {info.alias or name: info for name, info in model.model_fields.items()}
        if isinstance(part, int) or part not in fields:
            continue
        found = fields[part]
        model = _inner_model(found) or model
    return found


def _inner_model(info: FieldInfo) -> type[BaseModel] | None:
    kinds = [info.annotation, *getattr(info.annotation, "__args__", ())]
    return next((kind for kind in kinds if isinstance(kind, type) and issubclass(kind, BaseModel)), None)


def _model_at(loc: tuple[int | str, ...], model: type[BaseModel]) -> type[BaseModel]:
    info = _field(loc, model)
    return (_inner_model(info) if info else None) or model


def _keys(model: type[BaseModel]) -> list[str]:
    return [info.alias or name for name, info in model.model_fields.items()]


def _allowed(loc: tuple[int | str, ...], model: type[BaseModel]) -> str:
    info = _field(loc, model)
    extra = info.json_schema_extra if info else None
    return str(extra["allowed"]) if isinstance(extra, dict) and "allowed" in extra else ""
