"""Lone Pike: the right chain, worked out and explained at the stand.

From Python: `from lone_pike import Bike, read_bike, read_row, size, say, InvalidInput`; see `lone_pike.library`.
"""

from typing import TYPE_CHECKING, Any

if TYPE_CHECKING:
    from lone_pike.library import Bike, InvalidInput, read_bike, read_row, say, size

__version__ = "0.1.0"
__all__ = ["Bike", "InvalidInput", "read_bike", "read_row", "say", "size"]


def __getattr__(name: str) -> Any:
    """The library's names, loaded when they are first asked for: the command starts faster without them."""
    if name not in __all__:
        raise AttributeError(f"module 'lone_pike' has no attribute {name!r}")
    from lone_pike import library

    return getattr(library, name)
