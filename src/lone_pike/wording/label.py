"""The words of a piece's label, and the label with them."""

from lone_pike.core.chain.label import label_line
from lone_pike.core.messages import Message, Quantity, Term, Unit
from lone_pike.drawing.charts.label import piece_label
from lone_pike.store.ledger import PieceRow
from lone_pike.wording.render import render
from lone_pike.wording.units import DisplayUnits


def line_of(row: PieceRow) -> str:
    """What a scanner reads off a piece's label."""
    return label_line(row.links, row.first_end, row.speeds, row.own_code, row.wear_percent)


def label_of(row: PieceRow, units: DisplayUnits) -> str:
    """A piece's label as SVG."""
    ends = Message("label_ends", first=Term("end", row.first_end), last=Term("end", row.last_end))
    cogs, worn = Quantity(row.speeds, Unit.COGS), Quantity(row.wear_percent, Unit.PERCENT)
    use = Message("label_worn", cogs=cogs, worn=worn) if row.wear_percent else Message("label_new", cogs=cogs)
    words = (*(render(one, units) for one in (ends, use)), row.own_code)
    return piece_label(line_of(row), units.one(row.links), words)
