"""Turns messages and faults into text."""

import json
import re
from dataclasses import dataclass
from functools import cache
from string import Formatter

from lone_pike.core.bike.faults import Fault
from lone_pike.core.bike.fields import term_of
from lone_pike.core.bike.limits import Limit
from lone_pike.core.messages import CountWord, Message, Quantity, Raw, Term, Unit, Value
from lone_pike.wording.sentences import SENTENCES
from lone_pike.wording.terms import word_of
from lone_pike.wording.units import DisplayUnits

READ_SHOWN = 60
UNIT_WORD = "unit_word"
"""The one name in a sentence that is not a value: the shop's unit of length."""

IN_LINKS = CountWord.LINKS
JOINED_BY = {"or": (", ", " or "), "and": (" and ", " and "), "": (", ", ", ")}


@dataclass(frozen=True)
class Manner:
    """How to write a value: with its sign, with a number of decimals, without its unit; or in a manner with a name."""

    name: str
    sign: str
    decimals: int | None
    bare: bool
    alone: bool


def manner_of(how: str) -> Manner:
    """Reads a manner as a sentence names it.

    >>> manner_of("+.1 bare")
    Manner(name='+.1 bare', sign='+', decimals=1, bare=True, alone=False)
    """
    figures = re.search(r"\.(\d)", how)
    decimals = int(figures[1]) if figures else None
    return Manner(how, "+" if "+" in how else "", decimals, "bare" in how, how in ("pairs", "both", "loose"))


PLAINLY = manner_of("")


@cache
def parts_of(code: str) -> tuple[tuple[str, str, Manner], ...]:
    """A sentence in parts: each is a text, the name of the value after it, and the manner in which to write that.

    >>> [(text, name, manner.name) for text, name, manner in parts_of("box_short")]
    [('The box is ', 'missing', 'both'), (' short.', '', '')]
    """
    parts = Formatter().parse(SENTENCES[code])
    return tuple((text, name or "", manner_of(how or "")) for text, name, how, _ in parts)


def render(message: Message, units: DisplayUnits) -> str:
    """A message in words.

    >>> from lone_pike.core.messages import links
    >>> render(Message("box_short", missing=links(6)), DisplayUnits())
    'The box is 6 links · 3 pairs short.'
    """
    values = message.values
    texts = []
    for text, name, manner in parts_of(message.code):
        texts.append(text)
        if name == UNIT_WORD:
            texts.append(units.unit_word)
        elif name:
            texts.append(written(values[name], units, manner))
    return "".join(texts)


def written(value: Value, units: DisplayUnits, manner: Manner = PLAINLY) -> str:
    """Writes a value in the manner that its sentence asks for."""
    if isinstance(value, Quantity):
        if manner.alone:
            return _alone(value, units, manner.name)
        write = units.bare if manner.bare else units.write
        return write(value, manner.decimals, manner.sign)
    if isinstance(value, tuple):
        between, last = JOINED_BY.get(manner.name, JOINED_BY[""])
        texts = [written(one, units) for one in value]
        return last.join(filter(None, [between.join(texts[:-1]), *texts[-1:]])) if texts else "–"
    text = render(value, units) if isinstance(value, Message) else _plain(value)
    return text[:1].upper() + text[1:] if manner.name == "capital" else text


def _alone(value: Quantity, units: DisplayUnits, how: str) -> str:
    """The manners with a name: always in pairs, in links and pairs, or as the links of a loose chain."""
    if how == "pairs":
        return DisplayUnits(CountWord.PAIRS).write(value)
    if how == "both":
        return units.format_count(int(value.value))
    return f"{units.bare(value)} loose {units.write(value).rpartition(' ')[2]}"


def fault_text(fault: Fault, units: DisplayUnits) -> str:
    """The text of a fault beside its field; if one answer would settle it, it asks for that.

    >>> from lone_pike.core.messages import teeth
    >>> fault_text(Fault("rings.0", teeth(0), Message("between", low=teeth(16), high=teeth(70))), DisplayUnits())
    '“0 teeth” won’t do here: 16 to 70 teeth.'
    """
    return " ".join(filter(None, fault_parts(fault, units)))


def fault_parts(fault: Fault, units: DisplayUnits) -> tuple[str, str]:
    """A fault in two parts: what is wrong, and what is allowed instead."""
    read, allowed, hint = fault_words(fault, units)
    if allowed.endswith("?"):
        return "", allowed
    before, colon, after = not_taken(read, allowed).partition(": ")
    return before + colon.strip(), " ".join(filter(None, [after, hint]))


def not_taken(read: str, allowed: str) -> str:
    """What was read, and what may stand there instead.

    >>> not_taken("nothing", "a length")
    'Missing: a length.'
    """
    typed = read[1:-1] if read.startswith('"') and read.endswith('"') else read
    return f"Missing: {allowed}." if read == "nothing" else f"“{typed}” won’t do here: {allowed}."


def fault_words(fault: Fault, units: DisplayUnits) -> tuple[str, str, str]:
    """What was read, what is allowed, and the hint; counts in links, for that is how they are typed."""
    typed_in_links = DisplayUnits(IN_LINKS, units.unit)
    read, allowed = (written(part, typed_in_links) for part in (fault.read, fault.allowed))
    return read, allowed, render(fault.hint, typed_in_links) if fault.hint else ""


def fault_line(fault: Fault, units: DisplayUnits) -> str:
    """A fault on one line, with its field as the file has it."""
    return f"{fault.field}: {fault_text(fault, units)}"


def fault_at_label(fault: Fault, units: DisplayUnits) -> str:
    """A fault on one line for a page: its field by the name that stands over it, with its row where it has one.

    >>> from lone_pike.core.messages import teeth
    >>> wrong = Fault("idlers.1.teeth", teeth(3), Message("between", low=teeth(8), high=teeth(40)))
    >>> fault_at_label(wrong, DisplayUnits())
    'Idlers 2: “3 teeth” won’t do here: 8 to 40 teeth.'
    """
    rows = [int(part) + 1 for part in fault.field.split(".") if part.isdecimal()]
    path = ".".join(part for part in fault.field.split(".") if not part.isdecimal())
    if rows:
        path = fault.field.partition(f".{rows[0] - 1}")[0]
    while word_of(term_of(path)) == path and "." in path:
        path = path.rpartition(".")[0]
    word = word_of(term_of(path))
    label = word if word != path else path.rpartition(".")[2].replace("_", " ").capitalize()
    return f"{label}{f' {rows[0]}' if rows else ''}: {fault_text(fault, units)}"


def figure(limit: Limit, units: DisplayUnits) -> str:
    """The value of a limit with its unit, where the unit is none that is counted.

    >>> figure(Limit(25, "deg", ""), DisplayUnits()), figure(Limit(12.7, "mm", ""), DisplayUnits())
    ('25°', '12.7 mm')
    """
    name, _, per = limit.unit.partition("/")
    unit = next((one for one in Unit if one == name and one), None)
    text = units.write(Quantity(limit.value, unit)) if unit else f"{limit.value:g} {name}"
    return f"{text}/{per}" if per else text


def shown_raw(value: object) -> str:
    """What was read, on one line and short enough to read.

    >>> shown_raw("431\\n,5"), shown_raw([11, 12, 46]), shown_raw(None), shown_raw(True)
    ('"431 ,5"', '11, 12, 46', 'nothing', 'true')
    """
    if value is None:
        return "nothing"
    if isinstance(value, str):
        text = f'"{" ".join(value[: 4 * READ_SHOWN].split())}"'
    elif isinstance(value, list | tuple):
        text = ", ".join(shown_raw(part) for part in value[:READ_SHOWN]) or "an empty list"
    elif isinstance(value, dict):
        text = "an object with " + (", ".join(map(str, list(value)[:READ_SHOWN])) or "no keys")
    else:
        text = f"{value:g}" if isinstance(value, float) else json.dumps(value, default=str)
    text = "".join(char if char.isprintable() else "�" for char in text)
    return text if len(text) <= READ_SHOWN else text[: READ_SHOWN - 1] + "…"


def _plain(value: Term | Raw | str) -> str:
    if isinstance(value, Term):
        return word_of(value)
    return shown_raw(value.value) if isinstance(value, Raw) else value
