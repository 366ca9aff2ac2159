"""Parts of the campaign that need no server: odd bikes, bent files, pictures."""

import json
import multiprocessing
import random
import resource
import sys
from io import BytesIO
from pathlib import Path
from typing import Any

from campaign_tried import Tried, guarded
from PIL import Image

sys.path.insert(0, str(Path(__file__).parent.parent))

from tests.core.random_bikes import FIXED, KINDS, random_bike, random_fixed, random_slot

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.count.answer import answer
from lone_pike.formats.files.bike_file import bike_from_document, read_bike
from lone_pike.formats.files.photo_file import read_photo

ODD_VALUES: list[Any] = [
    None, True, -1, 0, 1, 3.5, 1e9, -1e9, 1e300, "", "x", "9" * 5000, [], [[]], {}, [None], ["x"] * 50, [0] * 2000,
    {"type": "slot"}, {"type": "none"}, "±", "\x00", "11-46", 10**40,
]  # fmt: skip


def bent(document: dict[str, Any], lot: random.Random) -> dict[str, Any]:
    """A document with one to three places changed for something odd."""
    bike: dict[str, Any] = json.loads(json.dumps(document))
    for _ in range(lot.randint(1, 3)):
        here: Any = bike
        while True:
            keys = list(here) if isinstance(here, dict) else list(range(len(here)))
            if not keys:
                break
            key = lot.choice(keys)
            if isinstance(here[key], dict | list) and here[key] and lot.random() < 0.6:
                here = here[key]
                continue
            move = lot.random()
            if move < 0.4:
                here[key] = json.loads(json.dumps(lot.choice(ODD_VALUES)))
            elif isinstance(here[key], int | float) and not isinstance(here[key], bool):
                here[key] = here[key] * lot.choice([-1, 0, 0.5, 0.9, 1.1, 2, 10])
            elif isinstance(here, dict) and move < 0.9:
                here[f"{key}x" if move > 0.7 else key] = here.pop(key)
            break
    return bike


def random_any(seed: int, kind: str) -> dict[str, Any]:
    """A random bike of any kind."""
    if kind == "slot":
        return random_slot(seed)
    return random_fixed(seed, kind) if kind in FIXED else random_bike(seed, kind)


def bikes(seed: int, count: int) -> Tried:
    """Random bikes of every kind and bent ones: each has an answer, or faults that name their fields."""
    tried, lot = Tried("bikes and bent files"), random.Random(seed)
    for i in range(count):
        document = random_any(lot.randrange(10**6), lot.choice([*KINDS, *FIXED, "slot"]))
        if lot.random() < 0.6:
            document = bent(document, lot)

        def work(document: dict[str, Any] = document) -> None:
            answered = answer(bike_from_document(document))
            if not (answered.why and answered.warnings is not None and 0 < answered.links < 1000):
                raise ValueError("an answer that is none")

        guarded(tried, f"seed {seed}, bike {i}: {json.dumps(document)[:300]}", work, InvalidInput)
    many = {"lone_pike": 1, "name": "x"} | {f"key{i}": i for i in range(2000)}
    for line, data in {
        "2 000 unknown keys": json.dumps(many).encode(),
        "lists without end": b"[" * 200_000,
        "10 000 blanks": json.dumps({"name": " " * 10_000}).encode(),
        "no text": b"\xff\xfe\x00" * 999,
        "too large": b" " * 300_000,
    }.items():
        guarded(tried, line, lambda data=data: read_bike(data), InvalidInput)
    return tried


def images() -> Tried:
    """Pictures whole, broken and monstrous: read, or refused in words, and never much memory."""
    tried = Tried("images")

    def picture(kind: str, size: tuple[int, int], mode: str = "RGB") -> bytes:
        out = BytesIO()
        Image.new(mode, size).save(out, kind)
        return out.getvalue()

    whole = picture("JPEG", (1200, 900))
    files = {
        **{
            f"{kind} {mode}": picture(kind, (640, 480), mode)
            for kind in ("PNG", "WEBP")
            for mode in ("RGB", "RGBA", "L")
        },
        **{f"PNG {mode}": picture("PNG", (640, 480), mode) for mode in ("RGB", "RGBA", "L", "1", "P", "I;16", "LA")},
        **{f"JPEG cut at {share}": whole[: len(whole) * share // 10] for share in range(10)},
        **{f"JPEG bent at {at}": whole[:at] + b"\xff\x00\xee" + whole[at + 3 :] for at in (2, 20, 200, 2000)},
        "GIF": picture("GIF", (640, 480)),
        "BMP": picture("BMP", (640, 480)),
        "small": picture("PNG", (299, 800)),
        "a long strip": picture("PNG", (300, 266_000), "1"),
        "more than 24 megapixels": picture("PNG", (6001, 4001), "1"),
        "24 megapixels": picture("JPEG", (6000, 4000)),
        "nothing": b"",
        "text": b"not a picture " * 99,
    }
    for name, data in files.items():
        guarded(tried, name, lambda data=data: read_photo(data), InvalidInput)
    for name in ("a long strip", "more than 24 megapixels", "GIF", "nothing"):
        refused = False
        try:
            read_photo(files[name])
        except InvalidInput:
            refused = True
        tried.hold(refused, f"{name} was taken in")
    with multiprocessing.get_context("spawn").Pool(1) as pool:
        peak_mb = pool.apply(_peak_mb, (files["24 megapixels"],))
    tried.hold(peak_mb < 300, f"24 megapixels took {peak_mb:.0f} MB")
    tried.told = f"peak {peak_mb:.0f} MB"
    return tried


def _peak_mb(data: bytes) -> float:
    """The most memory a process has held that read a photo, MB."""
    read_photo(data)
    return resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1000
