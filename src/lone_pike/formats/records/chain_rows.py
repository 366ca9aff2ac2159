"""The pieces at hand in the document: the effect of a cut, and pieces from the bin."""

from collections.abc import Sequence
from typing import Any

from lone_pike.core.chain.trial import CutEnd

Document = dict[str, Any]
PieceInRow = dict[str, Any] | str
"""A piece at hand; a row that could not be read is still its text."""

BOX = ("box_links", "box_includes_joiner", "box_ends")


def rows_in(document: Document) -> list[PieceInRow]:
    """The pieces beside the box, including rows that cannot be read."""
    chain = document.get("chain")
    rows = chain.get("pieces") if isinstance(chain, dict) else None
    return rows if isinstance(rows, list) else []


def bin_ids_in(document: Document) -> list[int]:
    """The ids of the pieces that come from the bin, as often as they are named."""
    numbers = [row.get("bin_id") for row in rows_in(document) if isinstance(row, dict)]
    return [number for number in numbers if isinstance(number, int)]


def piece_row(links: int, first_end: str, wear_percent: float, bin_id: int) -> dict[str, Any]:
    """The document's row for a piece of the bin."""
    row: dict[str, Any] = {"links": links, "first_end": first_end, "bin_id": bin_id}
    return row | ({"wear_percent": wear_percent} if wear_percent else {})


def with_pieces(document: Document, pieces: Sequence[PieceInRow], *, without_box: bool = False) -> Document:
    """The document with these pieces at hand; without_box if the box is one of them now."""
    chain = {key: value for key, value in document.get("chain", {}).items() if not (without_box and key in BOX)}
    chain.pop("pieces", None)
    return {**document, "chain": chain | ({"pieces": list(pieces)} if pieces else {})}


def without_chain_at_hand(document: Document) -> Document:
    """The document without box and pieces, because these are on a bike by now, or belong to another job."""
    if not isinstance(document.get("chain"), dict):
        return document
    return with_pieces(document, (), without_box=True)


def without_bin_numbers(document: Document) -> Document:
    """The document without pieces from this workshop's bin, which another job or file cannot have."""
    rows = rows_in(document)
    kept = [row for row in rows if not (isinstance(row, dict) and "bin_id" in row)]
    return document if len(kept) == len(rows) else with_pieces(document, kept)


def cut_into(document: Document, piece: int, made: Sequence[CutEnd], bin_ids: Sequence[int] | None = None) -> Document:
    """The document after a cut of one piece at hand: 0 for the box, 1 for the first piece beside it.

    Parameters: bin_ids, the ids of the parts if the piece comes from the bin.
    """
    rows = rows_in(document)
    cut = document.get("chain", {}) if piece == 0 else rows[piece - 1]
    wear = cut.get("wear_percent", 0.0) if isinstance(cut, dict) else 0.0
    kept = {"wear_percent": wear} if wear else {}
    new: list[PieceInRow] = [{"links": one.links, "first_end": str(one.first), **kept} for one in made]
    if bin_ids:
        new = [piece_row(one.links, str(one.first), wear, number) for one, number in zip(made, bin_ids, strict=True)]
    if piece == 0:
        return with_pieces(document, [*new, *rows], without_box=True)
    return with_pieces(document, [*rows[: piece - 1], *new, *rows[piece:]])
