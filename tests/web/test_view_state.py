"""What is looked at, in the address and back."""

from dataclasses import replace

from hypothesis import given
from hypothesis import strategies as st
from starlette.datastructures import QueryParams

from lone_pike.web.view_state import WHAT_IF, ViewState, gear_in, neighbour, view_state_of
from tests.bikes import road_bike

small = st.none() | st.integers(0, 999)


@given(small, small, small, small, st.dictionaries(st.sampled_from(list(WHAT_IF)), st.text(min_size=1, max_size=80)))
def test_a_look_survives_its_address(
    ring: int | None, cog: int | None, links: int | None, travel: int | None, asked: dict[str, str]
) -> None:
    what_if = tuple((name, asked[name]) for name in WHAT_IF if asked.get(name, "").strip())
    look = ViewState(ring, cog, links, travel, what_if)
    url = look.url("/jobs/1/size")
    assert view_state_of(QueryParams(url.partition("?")[2])) == look
    assert view_state_of(QueryParams(look.url("/x", links=None).partition("?")[2])).links is None
    counts = [
        view_state_of(QueryParams(one.partition("?")[2])) for one in look.urls("/x", ("links",), [(110,), (112,)])
    ]
    assert counts == [replace(look, links=110), replace(look, links=112)]


def test_a_gear_the_bike_does_not_have_falls_back_to_big_big() -> None:
    bike = road_bike()
    assert gear_in(ViewState(99, 99), bike) == (46, 30)
    assert gear_in(ViewState(33, 11), bike) == (33, 11)


@given(st.sets(st.integers(9, 60), min_size=1, max_size=13), st.integers(-1, 1))
def test_a_step_from_any_size_stays_on_the_bike(sizes: set[int], step: int) -> None:
    for size in sizes:
        there = neighbour(tuple(sizes), size, step)
        assert there in sizes
        assert (there - size) * step >= 0
