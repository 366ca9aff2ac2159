"""The one table of fields: what each key of the file is, its bounds, its label, how it is taken, how far off it may be.

A field is declared once, in its model, by `measured`. Reader, page, fault, schema, what-if, photo and sensitivity
ask `fields_of`.
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
    """What a field holds, which decides how it is typed, shown and compared."""

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
"""What tells rows of two figures from rows of three where a list takes both; no part of a place in the document."""


@dataclass(frozen=True)
class Spread:
    """How far off a measure may be: its key, what plain "about" stands for, the most it may be, and how far an
    error is followed; in the measure's unit."""

    key: str
    usual: float
    most: float
    reach: float


@dataclass(frozen=True)
class FieldSpec:
    """One field of the file, by its path there."""

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
        """What its numbers count."""
        return UNITS.get(self.kind, Unit.NUMBER)

    @property
    def allowed(self) -> Message:
        """What it may hold, made from its bounds."""
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
        """What a list of so many teeth may hold."""
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
    """A field of a model: what it holds, its label, how it is measured, and pydantic's own bounds and default.

    Parameters: letter, where the drawing shows it; usual, most and reach, its spread as in Spread, where it may be
    in doubt; allowed, the code of what is allowed where the bounds do not say it all, and limits that stand in it.
    """
    given = {"kind": kind, "letter": letter, "usual": usual, "most": most, "reach": reach, "allowed": allowed}
    given |= {"limits": list(limits)}
    extra: dict[str, Any] = {name: value for name, value in given.items() if value}
    return Field(title=label, description=how, json_schema_extra=extra, **bounds)


@lru_cache(maxsize=16)
def fields_of(model: type[BaseModel]) -> dict[str, FieldSpec]:
    """Every field of a model and of the parts in it, by its path in the file."""
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
    """All models a field may hold."""
    if isinstance(annotation, type) and issubclass(annotation, BaseModel):
        return [] if issubclass(annotation, RootModel) else [annotation]
    return [model for argument in get_args(annotation) for model in models_in(argument)]


def tag_of(model: type[BaseModel]) -> str | None:
    """The value of a model's `type` that tells it from others."""
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
    """Bounds as pydantic keeps them, by their own names."""
    names = ("ge", "le", "min_length", "max_length")
    return {name: getattr(one, name) for one in metadata for name in names if getattr(one, name, None) is not None}


def _bounds_of_items(annotation: Any) -> dict[str, Any]:
    """Bounds of what a list holds."""
    for argument in get_args(annotation):
        bounds = _bounds(
            [inner for one in getattr(argument, "__metadata__", ()) for inner in getattr(one, "metadata", ())]
        )
        if bounds or (bounds := _bounds_of_items(argument)):
            return bounds
    return {}


def _choices(annotation: Any) -> tuple[str, ...]:
    """The values of the enum a field takes, if it takes one."""
    if isinstance(annotation, type) and issubclass(annotation, StrEnum):
        return tuple(annotation)
    return next((choices for argument in get_args(annotation) if (choices := _choices(argument))), ())
