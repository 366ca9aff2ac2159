"""What lands on fixed centres, found as by a plain loop; and what riders ask beside the count."""

from typing import Any

import pytest

from lone_pike.core.count.answer import answer
from lone_pike.core.count.search import CENTRES
from lone_pike.core.count.setting import ride
from tests.core.plain_fixed import combinations, shell_centres_mm
from tests.core.test_standing import standing


@pytest.mark.parametrize("take_up", [{"type": "none"}, {"type": "eccentric", "radius_mm": 4}])
@pytest.mark.parametrize("offset_link", [False, True])
@pytest.mark.parametrize("worn_percent", [0.0, 0.46])
def test_the_search_finds_what_a_plain_loop_finds(
    take_up: dict[str, Any], offset_link: bool, worn_percent: float
) -> None:
    """Every count that lands, of a chain as worn as it is; of each the place nearest to the middle of the slack."""
    search = {"rings": [38, 46], "cogs": [14, 19], "ratio": 2.7, "slack_mm": [2, 100], "offset_link": offset_link}
    chain = {"wear_percent": worn_percent}
    result = answer(standing(take_up, chainstay_mm=420.5, search=search, chain=chain))
    document = {"search": search, "chain": chain, "take_up": take_up, "chainstay_mm": 420.5}
    plain = combinations(document, shell_centres_mm(document, CENTRES))
    assert len(plain) > 20
    found = {(one.ring, one.cog, one.links): one.slack_mm for one in result.combinations}
    assert found == {gear: pytest.approx(slack, abs=1e-4) for gear, slack in plain.items()}
    off = [round(abs(one.ratio - 2.7), 6) for one in result.combinations]
    assert off == sorted(off)
    for one in result.combinations:
        assert list(one.worn_slack_mm) == sorted(one.worn_slack_mm)
        assert one.offset_link == bool(one.links % 2)


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
