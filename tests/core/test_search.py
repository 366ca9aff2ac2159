"""What lands on fixed centres, found as by a plain loop; and what riders ask beside the count."""

from itertools import product
from math import pi, sin, sqrt
from typing import Any

import numpy as np
import pytest

from lone_pike.core.count.answer import answer
from lone_pike.core.count.riding import ride
from lone_pike.core.count.search import CENTRES
from tests.core.test_standing import PITCH, plain_links, standing


@pytest.mark.parametrize("take_up", [{"type": "none"}, {"type": "eccentric", "radius_mm": 4}])
@pytest.mark.parametrize("offset_link", [False, True])
def test_the_search_finds_what_a_plain_loop_finds(take_up: dict[str, Any], offset_link: bool) -> None:
    search = {"rings": [38, 46], "cogs": [14, 19], "ratio": 2.7, "slack_mm": [2, 40], "offset_link": offset_link}
    result = answer(standing(take_up, chainstay_mm=420.5, search=search))
    radius = take_up.get("radius_mm", 0.0)
    centres = np.linspace(420.5 - radius, 420.5 + radius, CENTRES) if radius else [420.5]
    plain = {}
    for ring, cog in product(range(38, 47), range(14, 20)):
        best = None
        for centre in centres:
            length = plain_links(ring, cog, centre)
            step = 1 if offset_link else 2
            count = next(n for n in range(40, 200) if n % step == 0 and n >= length - 1e-9)
            span = sqrt(centre**2 - ((PITCH / 2) * (1 / sin(pi / ring) - 1 / sin(pi / cog))) ** 2)
            slack = 2 * sqrt(max((count - length) * PITCH, 0.0) * span / 2)
            if 2 <= slack <= 40 and (best is None or abs(slack - 21) < abs(best[1] - 21)):
                best = (count, slack)
        if best:
            plain[ring, cog] = best
    assert plain
    found = {(one.ring, one.cog): (one.links, one.slack_mm) for one in result.combinations}
    assert found.keys() == plain.keys()
    for gear, (count, slack) in plain.items():
        assert found[gear] == (count, pytest.approx(slack, abs=1e-4))
    off = [round(abs(one.ratio - 2.7), 6) for one in result.combinations]
    assert off == sorted(off)
    for one in result.combinations:
        assert list(one.worn_slack_mm) == sorted(one.worn_slack_mm) and one.worn_slack_mm[0] > one.slack_mm


def test_riding_figures() -> None:
    """By hand: 46/16 is 23/8, 8 places with one foot, 16 with either; 44/16 is 11/4, 4 and 8; 48/16 is 3/1, 1 and 2."""
    assert [
        (ride(r, c, 2100).patches_one_foot, ride(r, c, 2100).patches_both_feet)
        for r, c in ((46, 16), (44, 16), (48, 16), (46, 15))
    ] == [
        (8, 16),
        (4, 8),
        (1, 2),
        (15, 15),
    ]
    assert ride(44, 16, 2000).development_m == pytest.approx(5.5)
