"""Bikes for practice, made from a seed: within one version, the same seed and kind always give the same bike."""

from functools import lru_cache
from random import Random

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.count.sizing import Sizing, size_bike
from lone_pike.core.practice.families import FAMILIES, Document

VERSION = 2
"""The version of the generator. Any change to the bike or the question of some seed needs a new version."""

MOST_DRAFTS, LARGEST_SEED = 60, 10**9
SLACKS_MM = (0.08, 0.05, 0.1, 0.12, 0.15)
"""By how much a stay is shorter than for a taut chain on bikes where nothing moves, for the wanted slack."""


def lot_of(seed: int, *about: str) -> Random:
    """The random generator of a seed for one purpose; it gives the same values on every machine."""
    return Random(f"{VERSION} {seed} {' '.join(about)}")


def kind_of_seed(seed: int) -> str:
    """The kind of a seed if none was asked for, by the families' shares."""
    return lot_of(seed, "kind").choices(list(FAMILIES), [one.share for one in FAMILIES.values()])[0]


@lru_cache(maxsize=256)
def made(seed: int, kind: str) -> Sizing:
    """A sized bike of a kind, with a count that is safe at both ends.

    Raises: KeyError if there is no such kind; LookupError if a seed gives no bike, which does not happen in this
    version.
    """
    lot = lot_of(seed, "bike", kind)
    for _ in range(MOST_DRAFTS):
        draft = {"lone_pike": 1, "name": f"Practice {kind.replace('_', ' ')} {seed}"} | FAMILIES[kind].draw(lot)
        for document in _variants(draft, kind):
            found = _sized(document)
            if found:
                return found
    raise LookupError(kind, seed)


def _variants(draft: Document, kind: str) -> list[Document]:
    """The draft; if nothing moves, with the stays on which the nearest count fits."""
    if kind != "vertical":
        return [draft]
    sizing = size_bike(Bike.model_validate(draft))
    taut_mm = float(sizing.fixed.centres_mm([sizing.recommended_links]).min())
    return [draft | {"chainstay_mm": round(taut_mm - slack_mm, 2)} for slack_mm in SLACKS_MM]


def _sized(document: Document) -> Sizing | None:
    """The sized bike; None if the model refuses it, its chain's route is doubtful, or no count is safe."""
    try:
        sizing = size_bike(Bike.model_validate(document))
    except InvalidInput:
        return None
    return sizing if sizing.window and not sizing.troubles else None
