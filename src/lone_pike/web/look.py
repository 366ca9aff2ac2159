"""What is only looked at: gear, count under test and travel. It lives in the address, never in the data file."""

from dataclasses import dataclass

from starlette.datastructures import QueryParams

from lone_pike.core.sizing import Sizing


@dataclass(frozen=True)
class Look:
    """Gear, count and travel in mm as the address has them; None where it says nothing.

    At no travel the dials show the worst of it, and the side view the bike at rest.
    """

    ring: int | None = None
    cog: int | None = None
    links: int | None = None
    travel: int | None = None

    def url(self, path: str, **changes: int | None) -> str:
        """The path with this look, some of it changed."""
        query = {name: value for name, value in {**vars(self), **changes}.items() if value is not None}
        return path + ("?" + "&".join(f"{name}={value}" for name, value in query.items()) if query else "")


def look_of(query: QueryParams) -> Look:
    """The look of an address; what is no sensible number is as if it were not there."""

    def whole(name: str) -> int | None:
        text = query.get(name, "")
        return int(text) if text.isdecimal() and len(text) <= 3 else None

    return Look(whole("ring"), whole("cog"), whole("links"), whole("travel"))


def gear_in(look: Look, sizing: Sizing) -> tuple[int, int]:
    """The gear looked at: the address's where the bike has it, big/big otherwise."""
    bike = sizing.bike
    ring = look.ring if look.ring in bike.rings else bike.biggest_ring
    cog = look.cog if look.cog in bike.cogs else bike.biggest_cog
    return (ring or bike.biggest_ring, cog or bike.biggest_cog)


def neighbour(sizes: tuple[int, ...], size: int, step: int) -> int:
    """The next size up or down; the same at the end.

    >>> neighbour((30, 11, 13), 13, 1), neighbour((30, 11, 13), 30, 1)
    (30, 30)
    """
    in_order = sorted(sizes)
    return in_order[min(max(in_order.index(size) + step, 0), len(in_order) - 1)]
