"""Messages as JSON, as the history stores them and the command prints them; and back."""

from typing import Any

from lone_pike.core.messages import Message, Quantity, Raw, Term, Unit, Value

Record = dict[str, Any]


def record_of(message: Message) -> Record:
    """A message in the form in which it is stored; it reads back as the same message.

    >>> from lone_pike.core.messages import links
    >>> record_of(Message("count_chosen", count=links(112)))
    {'code': 'count_chosen', 'values': {'count': {'links': 112}}}
    """
    return {"code": message.code, "values": {name: _kept(value) for name, value in message.values.items()}}


def message_of(record: Record) -> Message:
    """Reads a stored message."""
    return Message(record["code"], **{name: _read(value) for name, value in record["values"].items()})


def values_of(message: Message) -> dict[str, Any]:
    """A message's values for another program: the numbers with their unit in the key.

    >>> from lone_pike.core.messages import links, mm
    >>> values_of(Message("near", low=links(110), edge=mm(1.2), field=Term("field", "cogs")))
    {'low_links': 110, 'edge_mm': 1.2, 'field': 'cogs'}
    """
    return {_key(name, value): _plain(value) for name, value in message.values.items()}


def _key(name: str, value: Value) -> str:
    return f"{name}_{value.unit}" if isinstance(value, Quantity) and value.unit else name


def _plain(value: Value) -> Any:
    if isinstance(value, Quantity):
        return value.value
    if isinstance(value, Message):
        return {"code": value.code, "values": values_of(value)}
    if isinstance(value, tuple):
        return [_plain(one) for one in value]
    return value.key if isinstance(value, Term) else value.value if isinstance(value, Raw) else value


def _kept(value: Value) -> Any:
    if isinstance(value, Quantity):
        record = {str(value.unit) or "number": value.value}
        return record | ({"spread": value.spread} if value.spread else {})
    if isinstance(value, Message):
        return record_of(value)
    if isinstance(value, Term):
        return {"term": value.kind, "key": value.key}
    if isinstance(value, Raw):
        return {"raw": value.value}
    return [_kept(one) for one in value] if isinstance(value, tuple) else str(value)


def _read(value: Any) -> Value:
    if isinstance(value, list):
        return tuple(_read(one) for one in value)
    if not isinstance(value, dict):
        return str(value)
    if "code" in value:
        return message_of(value)
    if "term" in value:
        return Term(value["term"], value["key"])
    if "raw" in value:
        return Raw(value["raw"])
    unit, figure = next(iter(value.items()))
    return Quantity(figure, Unit.NUMBER if unit == "number" else Unit(unit), value.get("spread", 0.0))
