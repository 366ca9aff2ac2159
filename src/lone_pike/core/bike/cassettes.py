"""Cog spacings: common ones by range and number of cogs, and an even spread if none is known."""

COMMON: tuple[tuple[int, ...], ...] = (
    (14, 17, 20, 24, 28),
    (14, 16, 18, 21, 24, 28),
    (14, 16, 18, 20, 22, 24, 28),
    (11, 13, 15, 18, 21, 24, 28, 32),
    (11, 13, 15, 18, 21, 24, 28, 34),
    (11, 13, 15, 17, 20, 23, 26, 30, 34),
    (11, 13, 15, 17, 20, 23, 26, 30, 36),
    (11, 13, 15, 17, 19, 21, 24, 28, 32, 36),
    (11, 13, 15, 18, 21, 24, 28, 32, 37, 42),
    (11, 12, 13, 14, 15, 17, 19, 21, 23, 25, 28),
    (11, 12, 13, 14, 15, 17, 19, 21, 24, 27, 30),
    (11, 13, 15, 17, 19, 21, 24, 28, 32, 37, 42),
    (11, 13, 15, 17, 20, 23, 26, 30, 34, 40, 46),
    (11, 12, 13, 14, 15, 16, 17, 19, 21, 24, 27, 30),
    (10, 12, 14, 16, 18, 21, 24, 28, 33, 39, 45, 51),
    (11, 13, 15, 17, 19, 22, 25, 28, 32, 38, 44, 50),
)
"""Spacings that are common at the stand, smallest cog first."""


def label_of(cogs: tuple[int, ...]) -> str:
    """The name of a spacing.

    >>> label_of(COMMON[0])
    '14-28 × 5'
    """
    return f"{cogs[0]}-{cogs[-1]} × {len(cogs)}"


def spread_cogs(smallest: int, largest: int, count: int) -> tuple[int, ...]:
    """A number of cogs from smallest to largest: a common spacing, or else even steps of ratio.

    Only the two ends affect the count of links; the cogs between them are for the dials.

    >>> spread_cogs(11, 46, 11)
    (11, 13, 15, 17, 20, 23, 26, 30, 34, 40, 46)
    >>> spread_cogs(12, 25, 6)
    (12, 14, 16, 19, 22, 25)
    """
    for cogs in COMMON:
        if (cogs[0], cogs[-1], len(cogs)) == (smallest, largest, count):
            return cogs
    ratio = (largest / smallest) ** (1 / (count - 1))
    sizes = [round(smallest * ratio**i) for i in range(count)]
    for i in range(1, count):
        sizes[i] = max(sizes[i], sizes[i - 1] + 1)
    sizes[-1] = largest
    for i in range(count - 2, 0, -1):
        sizes[i] = min(sizes[i], sizes[i + 1] - 1)
    return tuple(sizes)
