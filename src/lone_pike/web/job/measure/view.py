"""Measure: the drawing with its letters, and every field with its text, its fault and what an error in it would
change."""

from collections.abc import Mapping
from dataclasses import dataclass

from lone_pike.core.bike.base import MOST_COGS
from lone_pike.core.bike.cassettes import COMMON, label_of
from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import Fault
from lone_pike.core.bike.fields import FieldSpec, Kind, fields_of
from lone_pike.core.bike.joiners import JOINERS
from lone_pike.core.bike.take_up import Family
from lone_pike.core.messages import Message, Quantity, Term, links
from lone_pike.core.take_up.kinds import TakeUpKind, kind_named
from lone_pike.drawing.scene.bicycle import LONG_BIKE_MM
from lone_pike.drawing.scene.side_view import SideView
from lone_pike.formats.records.observed import LED, STEPS
from lone_pike.formats.typed.idler_form import rows_of
from lone_pike.formats.typed.measure_form import form_fields
from lone_pike.formats.typed.parsing import whole_number
from lone_pike.web.job.frame import CountRegions, Frame, StageRequest, side_of
from lone_pike.web.job.measure.fields import Cell, as_count, cells_of, costs_of, field_hint, folded
from lone_pike.web.job.measure.typical import KindChoice, kinds_offered
from lone_pike.web.job.route.view import unsized_side
from lone_pike.web.job.work import Work
from lone_pike.wording.terms import CHOICES, HOUSE_RULES, tells_of_motor

FEWEST_USUAL_COGS = 5
COG_NUMBERS = tuple((str(count), str(count)) for count in range(FEWEST_USUAL_COGS, MOST_COGS + 1))
EMPTY_CHOICE = {"suspension.type": "none", "chain.box_ends": "worked out", "chain.joiner": "the usual"}
RARE_ROUTE = ("idlers", "boom.from_mm", "boom.to_mm", "boom.angle_deg")
NOTED = "noted"
"""The form field that lists the fields with a note under them."""

TICKED_KINDS = frozenset({Kind.FLAG, Kind.CHOICES})
NUMERIC = frozenset({Kind.TEETH, Kind.COGS})
DECIMAL = frozenset({Kind.LENGTH, Kind.ANGLE})


@dataclass(frozen=True)
class FieldNote:
    """The note under a field while it is typed: a fault, a count in links and pairs, or a question."""

    path: str
    fault: Fault | None
    both: Quantity | None
    asks: Message | None


@dataclass(frozen=True)
class FieldView:
    """One field on the page."""

    path: str
    label: Term
    letter: str
    hint: Message
    text: str
    unit: str
    keyboard: str
    note: FieldNote
    cost: Message | None
    options: tuple[tuple[str, str], ...]

    @property
    def ticked(self) -> bool:
        """Whether a box is ticked."""
        return self.text == "yes"

    @property
    def shown(self) -> str:
        """Its text on paper; for a choice, its label."""
        return dict(self.options).get(self.text, self.text)


@dataclass(frozen=True)
class TickBox:
    """One box of several."""

    name: str
    word: Term
    ticked: bool


@dataclass(frozen=True)
class ByHand:
    """Measuring a suspension by hand: its steps, the shock's pressure, and whether anything of it was begun."""

    steps: tuple[TickBox, ...]
    pressure_before: str
    begun: bool


@dataclass(frozen=True)
class MeasureView:
    """The stage. sure_key is empty if the costs are shown at once; kinds holds the choice of kinds until something is
    measured."""

    frame: Frame
    side: SideView | None
    fields: dict[str, FieldView]
    turns: bool
    has_motor: bool
    has_route: bool
    from_photo: bool
    is_searched: bool
    kinds: tuple[KindChoice, ...]
    cells: tuple[Cell, ...]
    more: tuple[tuple[str, ...], ...]
    changed_parts: tuple[TickBox, ...]
    by_hand: ByHand | None
    led: tuple[TickBox, ...]
    idler_count: int
    rare_open: bool
    spacings: tuple[tuple[str, str], ...]
    sure_key: str


def stage_view(work: Work, asked: StageRequest) -> MeasureView:
    """The stage."""
    deferred = asked.deferred
    sized, chosen = work.sized, work.form["take_up.type"]
    kind, is_chosen = kind_named(chosen), not _is_unmeasured(work)
    costs = costs_of(sized.answer) if sized and not deferred else {}
    fields = {path: _field(work, spec, costs) for path, spec in form_fields().items()}
    changed, led = work.form["old_chain.changed"].split(", "), _led(work, kind)
    parts = fields_of(Bike)["old_chain.changed"].choices
    return MeasureView(
        frame=Frame(work, "measure", asked.announcements),
        side=side_of(sized, lettered=True) if sized else unsized_side(work, lettered=True),
        fields=fields,
        turns=kind.part.family is Family.TURNS,
        has_motor=tells_of_motor(str(work.document.get("name", "")), work.job.complaint, work.job.owner_word),
        has_route=kind.part.has_route,
        from_photo=kind.part.serves_range,
        is_searched=bool(kind.searched),
        kinds=() if is_chosen else kinds_offered(chosen),
        cells=cells_of(kind, work.form["suspension.type"], is_chosen=is_chosen),
        more=folded(kind, is_led=bool(led), may_change=is_chosen and "chain.speeds" in kind.first),
        changed_parts=tuple(TickBox(str(part), Term("changed_part", part), part in changed) for part in parts),
        by_hand=_by_hand(work),
        led=led,
        idler_count=len(rows_of(work.document)),
        rare_open=any(fields[path].note.fault for row in (*kind.more, RARE_ROUTE) for path in row),
        spacings=tuple((" ".join(map(str, cogs)), label_of(cogs)) for cogs in COMMON),
        sure_key=work.key if sized and deferred else "",
    )


def _is_unmeasured(work: Work) -> bool:
    """Whether nothing is measured yet, so that the kind of bike is still open."""
    return not any(work.form[path] for path in ("rings", "cogs", "chainstay_mm", "take_up.min_mm", "take_up.cage_mm"))


@dataclass(frozen=True)
class TypedView:
    """The regions of the page that change while a measure is being typed; nothing is stored."""

    frame: CountRegions
    side: SideView | None
    notes: tuple[FieldNote, ...]
    sure_key: str


def typed_view(work: Work, sent: Mapping[str, str]) -> TypedView:
    """The regions that follow what is typed.

    Parameters: sent, the fields that were sent; a page sends only those that differ, and names in NOTED the others that
    have a note now.
    """
    noted = sent.get(NOTED, "").split()
    fields = form_fields()
    paths = dict.fromkeys(path for path in (*sent, *noted, *work.faults) if path in fields)
    sized = work.sized
    return TypedView(
        frame=CountRegions(work, "measure"),
        side=side_of(sized, lettered=True) if sized else unsized_side(work, lettered=True),
        notes=tuple(_note(work, fields[path]) for path in paths if fields[path].kind not in TICKED_KINDS),
        sure_key=work.key if sized else "",
    )


def _note(work: Work, spec: FieldSpec) -> FieldNote:
    fault = work.faults.get(spec.path)
    text = work.text(spec.path) if spec.kind is Kind.COUNT else ""
    count = whole_number(text, 3)
    fault = fault if fault and not fault.is_missing else None
    return FieldNote(spec.path, fault, links(count) if count else None, as_count(work, spec))


def _field(work: Work, spec: FieldSpec, costs: dict[str, Message]) -> FieldView:
    text = work.form[spec.path] or (str(spec.default or "") if spec.path == "take_up.taste" else "")
    return FieldView(
        path=spec.path,
        label=Term("field", spec.path),
        letter=spec.letter,
        hint=field_hint(spec),
        text=text,
        unit=_unit(work, spec),
        keyboard="numeric" if spec.kind in NUMERIC else "decimal" if spec.kind in DECIMAL else "text",
        note=_note(work, spec),
        cost=costs.get(spec.path),
        options=_options(work, spec, text),
    )


def _unit(work: Work, spec: FieldSpec) -> str:
    """The unit shown in the box behind the number."""
    if spec.kind in (Kind.LENGTH, Kind.PLACE):
        return str(work.shop.unit)
    return "°" if spec.kind is Kind.ANGLE else ""


def _options(work: Work, spec: FieldSpec, text: str) -> tuple[tuple[str, str], ...]:
    """The choices with their labels, including the current value if it is none of them."""
    if spec.kind is Kind.COGS:
        options: tuple[tuple[str, str], ...] = (("", "–"), *COG_NUMBERS)
    elif spec.kind is not Kind.CHOICE:
        return ()
    else:
        words = CHOICES.get(spec.path, {})
        empty = [("", EMPTY_CHOICE.get(spec.path, "–"))]
        if spec.path in ("take_up.type", "take_up.taste"):
            empty = []
        if spec.path == "house_rule":
            empty = [("", f"shop: {HOUSE_RULES[work.shop.house_rule]}")]
        kind = work.form["take_up.type"]
        offered = (key for key in spec.choices if _is_offered(key, kind))
        options = (*empty, *((str(key), words.get(key, key)) for key in offered))
    known = text in {key for key, _ in options}
    return options if known else (*options, (text, text))


def _is_offered(choice: str, kind: str) -> bool:
    """Whether a choice is offered. A joiner is not if it is made for fewer cogs than such a bike has."""
    joiner = JOINERS.get(choice)  # type: ignore[call-overload]
    fewest, _ = kind_named(kind).part.cog_count
    return joiner is None or joiner.most_cogs >= fewest


def _by_hand(work: Work) -> ByHand | None:
    if not work.form["suspension.type"]:
        return None
    observed = work.job.observed
    done = observed.steps
    steps = tuple(TickBox(step, Term("step", step), step in done) for step in STEPS)
    before = observed.pressure_before
    return ByHand(steps, before, begun=bool(done or before))


def _led(work: Work, kind: TakeUpKind) -> tuple[TickBox, ...]:
    """The steps before the chain of a long bike is measured; empty for others."""
    if not kind.part.has_route or not (work.form["boom.from_mm"] or work.form["boom.to_mm"] or _is_long(work)):
        return ()
    done = work.job.observed.led
    return tuple(TickBox(step, Term("step", step), step in done) for step in LED)


def _is_long(work: Work) -> bool:
    return bool(work.sized and work.sized.bike.chainstay_length_mm > LONG_BIKE_MM)
