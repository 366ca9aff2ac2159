"""The table of all fields: what each key of the file is, its bounds, its label, how it is measured, and its spread.

A field is declared once, in its model, with `measured`. Readers, pages, faults, schema, what-if, photo and sensitivity
use `fields_of`.
"""

from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache
from typing import Any, Literal, get_args, get_origin

from pydantic import BaseModel, Field, RootModel
from pydantic.fields import FieldInfo

from lone_pike.core.bike.limits import LIMITS, limit
from lone_pike.core.messages import Message, Quantity, Term, Unit


class Kind(StrEnum):
    """What a field contains, which decides how it is typed, shown and compared."""

    TEXT = "text"
    CHOICE = "choice"
    CHOICES = "choices"
    FLAG = "flag"
    LENGTH = "length"
    ANGLE = "angle"
    TEETH = "teeth"
    RATIO = "ratio"
    COGS = "cogs"
    COUNT = "count"
    PLACE = "place"
    TEETH_LIST = "teeth_list"
    COG_LIST = "cog_list"
    TRAVEL_ROWS = "travel_rows"
    IDLER_ROWS = "idler_rows"
    TUBE_ROWS = "tube_rows"
    PIECE_ROWS = "piece_rows"
    PART = "part"


UNITS: dict[Kind, Unit] = {
    Kind.LENGTH: Unit.MM,
    Kind.PLACE: Unit.MM,
    Kind.ANGLE: Unit.DEG,
    Kind.TEETH: Unit.TEETH,
    Kind.COGS: Unit.COGS,
    Kind.COUNT: Unit.LINKS,
    Kind.TEETH_LIST: Unit.TEETH,
    Kind.COG_LIST: Unit.TEETH,
    Kind.TEXT: Unit.LETTERS,
}
ROWS = frozenset({Kind.TRAVEL_ROWS, Kind.IDLER_ROWS, Kind.TUBE_ROWS, Kind.PIECE_ROWS})
"""Kinds of several rows, described as a whole."""

TWO_FIGURES, THREE_FIGURES = ROW_TAGS = ("two figures", "three figures")
"""The tags that distinguish rows of two figures from rows of three in lists that accept both; they are not part of a
path in the document."""


@dataclass(frozen=True)
class Spread:
    """The spread of a measure: its key, what a plain "about" means, the largest spread, and how far errors are
    followed; in the measure's unit."""

    key: str
    usual: float
    most: float
    reach: float


@dataclass(frozen=True)
class FieldSpec:
    """One field of the file, with its path."""

    path: str
    kind: Kind
    label: str
    how: str
    low: float | None
    high: float | None
    fewest: int | None
    most: int | None
    choices: tuple[str, ...]
    default: Any
    letter: str
    spread: Spread | None
    allowed_code: str
    limits: tuple[str, ...]

    @property
    def unit(self) -> Unit:
        """The unit of its numbers."""
        return UNITS.get(self.kind, Unit.NUMBER)

    @property
    def allowed(self) -> Message:
        """What is allowed in it, made from its bounds."""
        if self.allowed_code:
            named = {name: Quantity(limit(name), Unit(LIMITS[name].unit)) for name in self.limits}
            return Message(self.allowed_code, **self.bounds(), **named)
        if self.choices:
            return Message("one_of", keys=self.choices)
        if self.kind is Kind.FLAG:
            return Message("true_or_false")
        if self.kind in (Kind.TEETH_LIST, Kind.COG_LIST):
            return self.list_allowed(self.fewest or 0, self.most or 0)
        if self.low is not None:
            return Message("between", **self.bounds())
        return Message("letters_between", **self.bounds()) if self.most else Message("an_object")

    def list_allowed(self, fewest: int, most: int) -> Message:
        """What is allowed in a list of tooth counts."""
        unit = Unit.RINGS if self.kind is Kind.TEETH_LIST else Unit.COGS
        code = "list_of" if most > fewest else "just_so_many"
        return Message(code, **self.bounds() | {"fewest": Quantity(fewest, unit), "most": Quantity(most, unit)})

    def bounds(self) -> dict[str, Quantity]:
        """The bounds it has, with their units."""
        bounds = {"low": self.low, "high": self.high}
        counts = {"fewest": self.fewest, "most": self.most}
        unit = Unit.LETTERS if self.kind is Kind.TEXT else Unit.ROWS
        return {name: Quantity(value, self.unit) for name, value in bounds.items() if value is not None} | {
            name: Quantity(value, unit) for name, value in counts.items() if value is not None
        }


def measured(
    kind: Kind,
    label: str,
    how: str,
    *,
    letter: str = "",
    usual: float = 0.0,
    most: float = 0.0,
    reach: float = 0.0,
    allowed: str = "",
    limits: tuple[str, ...] = (),
    **bounds: Any,
) -> Any:
    """Declares a field of a model: its kind, its label, how it is measured, and pydantic's own bounds and default.

    Parameters: letter, if the drawing shows it; usual, most and reach, as in Spread, if it can be in doubt; allowed,
    the code of what is allowed if the bounds do not say everything, and limits, its values.
    """
    given = {"kind": kind, "letter": letter, "usual": usual, "most": most, "reach": reach, "allowed": allowed}
    given |= {"limits": list(limits)}
    extra: dict[str, Any] = {name: value for name, value in given.items() if value}
    return Field(title=label, description=how, json_schema_extra=extra, **bounds)


@lru_cache(maxsize=16)
def fields_of(model: type[BaseModel]) -> dict[str, FieldSpec]:
    """Every field of a model and of its parts, by its path in the file."""
    fields: dict[str, FieldSpec] = {}
    for name, info in model.model_fields.items():
        path = info.alias or name
        fields[path] = _spec(path, info)
        for part in models_in(info.annotation):
            for below, spec in fields_of(part).items():
                fields.setdefault(f"{path}.{below}", _moved(spec, f"{path}.{below}"))
        tags = [tag for part in models_in(info.annotation) if (tag := tag_of(part))]
        if tags:
            fields[f"{path}.type"] = _moved(fields[f"{path}.type"], f"{path}.type", choices=tuple(tags))
    return fields


def models_in(annotation: Any) -> list[type[BaseModel]]:
    """All models that a field accepts."""
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        return [] if issubclass(annotation, RootModel) else [annotation]
    return [model for argument in get_args(annotation) for model in models_in(argument)]


def tag_of(model: type[BaseModel]) -> str | None:
    """The value of `type` that distinguishes a model from others."""
    info = model.model_fields.get("type")
    return str(get_args(info.annotation)[0]) if info and get_origin(info.annotation) is Literal else None


def term_of(path: str) -> Term:
    """A field's name, to be put into words."""
    return Term("field", path)


def _spec(path: str, info: FieldInfo) -> FieldSpec:
    extra: dict[str, Any] = info.json_schema_extra if isinstance(info.json_schema_extra, dict) else {}
    bounds = _bounds(info.metadata) | _bounds_of_items(info.annotation)
    usual = float(extra.get("usual", 0.0))
    spread = Spread(path, usual, float(extra["most"]), float(extra["reach"])) if usual else None
    return FieldSpec(
        path=path,
        kind=Kind(extra.get("kind", Kind.PART)),
        label=info.title or "",
        how=info.description or "",
        low=bounds.get("ge"),
        high=bounds.get("le"),
        fewest=bounds.get("min_length"),
        most=bounds.get("max_length"),
        choices=_choices(info.annotation),
        default=None if info.is_required() else info.default,
        letter=str(extra.get("letter", "")),
        spread=spread,
        allowed_code=str(extra.get("allowed", "")),
        limits=tuple(extra.get("limits", ())),
    )


def _moved(spec: FieldSpec, path: str, **changes: Any) -> FieldSpec:
    return FieldSpec(**{**vars(spec), "path": path, **changes})


def _bounds(metadata: list[Any]) -> dict[str, Any]:
    """The bounds in pydantic's metadata, by name."""
    names = ("ge", "le", "min_length", "max_length")
    return {name: getattr(one, name) for one in metadata for name in names if getattr(one, name, None) is not None}


def _bounds_of_items(annotation: Any) -> dict[str, Any]:
    """The bounds of a list's items."""
    for argument in get_args(annotation):
        bounds = _bounds(
            [inner for one in getattr(argument, "__metadata__", ()) for inner in getattr(one, "metadata", ())]
        )
        if bounds or (bounds := _bounds_of_items(argument)):
            return bounds
    return {}


def _choices(annotation: Any) -> tuple[str, ...]:
    """The values of a field's enum, if it has one."""
    if isinstance(annotation, type) and issubclass(annotation, StrEnum):
        return tuple(annotation)
    return next((choices for argument in get_args(annotation) if (choices := _choices(argument))), ())
