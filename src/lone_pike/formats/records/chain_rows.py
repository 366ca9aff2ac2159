"""The chain's pieces at hand as the document has them: what a cut makes of them, what comes from the bin."""

from collections.abc import Sequence
from typing import Any

from lone_pike.core.chain.trial import CutEnd

Document = dict[str, Any]
BOX = ("box_links", "box_includes_joiner", "box_ends")


def pieces_in(document: Document) -> list[dict[str, Any]]:
    """The pieces beside the box that can be read."""
    chain = document.get("chain")
    rows = chain.get("pieces") if isinstance(chain, dict) else None
    return [row for row in rows if isinstance(row, dict)] if isinstance(rows, list) else []


def piece_row(links: int, first_end: str, wear_percent: float, bin_id: int) -> dict[str, Any]:
    """A piece of the bin as the document has it."""
    row: dict[str, Any] = {"links": links, "first_end": first_end, "bin_id": bin_id}
    return row | ({"wear_percent": wear_percent} if wear_percent else {})


def with_pieces(document: Document, pieces: Sequence[dict[str, Any]], *, without_box: bool = False) -> Document:
    """The document with these pieces at hand; without_box where the box is among them now."""
    chain = {key: value for key, value in document.get("chain", {}).items() if not (without_box and key in BOX)}
    chain.pop("pieces", None)
    return {**document, "chain": chain | ({"pieces": list(pieces)} if pieces else {})}


def cut_into(document: Document, piece: int, made: Sequence[CutEnd]) -> Document:
    """The document after a cut of one piece at hand: 0 the box, 1 the first beside it."""
    rows = pieces_in(document)
    cut = document.get("chain", {}) if piece == 0 else rows[piece - 1]
    wear = cut.get("wear_percent", 0.0)
    kept = {"wear_percent": wear} if wear else {}
    kept |= {"bin_id": cut["bin_id"]} if cut.get("bin_id") else {}
    new = [{"links": one.links, "first_end": str(one.first), **kept} for one in made]
    if piece == 0:
        return with_pieces(document, [*new, *rows], without_box=True)
    return with_pieces(document, [*rows[: piece - 1], *new, *rows[piece:]])
