"""Weigh: counting the links of a chain by weight, with a piece whose links are counted."""

from collections.abc import Sequence
from dataclasses import dataclass

from lone_pike.core.bike.limits import MOST_LINKS
from lone_pike.core.chain.weighing import Weighed, links_by_weight
from lone_pike.core.messages import Message, Quantity, Unit, links
from lone_pike.devices.scale import ScaleTrouble, Weight, weight_of
from lone_pike.formats.typed.parsing import parse_quantity, whole_number
from lone_pike.web.job.work import Work, cut_of

MOST_G = 5000.0


@dataclass(frozen=True)
class WeighView:
    """The page: what was typed, what the scale says, and the result."""

    name: str
    chain: str
    piece: str
    links: str
    scale: Weight | None
    trouble: Message | None
    result: Message | None
    agrees: bool | None
    wrong: str
    action: str
    cut_url: str


def weigh_view(work: Work, typed: tuple[str, str, str], said: Sequence[str]) -> WeighView:
    """Builds the page; typed holds the weights of chain and piece, grams, and the piece's links."""
    weight = weight_of(said)
    cut, _ = cut_of(work)
    chain, piece, count = typed[0].strip()[:20], typed[1].strip()[:20], typed[2].strip()[:20]
    count = count or (str(cut.offcut_links) if cut and cut.offcut_links else "")
    weighed, wrong = _weighed(chain, piece, count)
    held = cut.box_links if cut else None
    return WeighView(
        name=str(work.document.get("name") or "New bike"),
        chain=chain,
        piece=piece,
        links=count,
        scale=weight if isinstance(weight, Weight) else None,
        trouble=None if isinstance(weight, Weight) else Message(TROUBLES[weight]),
        result=_result(weighed, held) if weighed else None,
        agrees=weighed.says(held) if weighed and held else None,
        wrong=wrong,
        action=f"/jobs/{work.job.id}/weigh",
        cut_url=work.at("cut"),
    )


TROUBLES = {trouble: trouble.value for trouble in ScaleTrouble}
"""Codes of the sentences for a scale that gives no weight."""


def _weighed(chain: str, piece: str, count: str) -> tuple[Weighed | None, str]:
    """The result from the texts, and the names of those that cannot be read."""
    if not chain or not piece:
        return None, ""
    values = [parse_quantity(text.removesuffix("g"), Unit.NUMBER).value for text in (chain, piece)]
    for name, value in zip(("chain", "piece"), values, strict=True):
        if not isinstance(value, int | float) or not 0 < value <= MOST_G:
            return None, name
    counted = whole_number(count, 20) or 0
    if not 0 < counted <= MOST_LINKS:
        return None, "links"
    return links_by_weight(float(values[0]), float(values[1]), counted), ""


def _result(weighed: Weighed, held: int | None) -> Message:
    by_weight = {
        "links": Quantity(round(weighed.links, 1), Unit.LINKS),
        "about": Quantity(round(weighed.about_links, 1), Unit.LINKS),
    }
    if held is None:
        return Message("weighed", **by_weight)
    return Message("weighed_agrees" if weighed.says(held) else "weighed_differs", held=links(held), **by_weight)
