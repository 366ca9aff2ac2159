"""What the trade uses where the mechanic says nothing."""

from lone_pike.core.bike.base import JoinerKind
from lone_pike.core.bike.limits import limit


def usual_joiner(speeds: int) -> JoinerKind:
    """What the trade closes a chain for so many cogs with.

    >>> str(usual_joiner(9)), str(usual_joiner(11))
    ('quick_link', 'locking_link')
    """
    return JoinerKind.QUICK_LINK if speeds <= limit("quick_link_cogs") else JoinerKind.LOCKING_LINK
