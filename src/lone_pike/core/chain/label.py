"""The line of a piece's label, as a scanner reads it.

LP1, links, first end (I or O), cogs, wear in percent, the piece's own code; stars between.
"""

LABEL, PARTS = "LP1", 6


def label_line(links: int, first: str, speeds: int, code: str, wear_percent: float = 0.0) -> str:
    """The line of a piece.

    >>> label_line(57, "inner", 9, "CUT-0057")
    'LP1*57*I*9*0*CUT-0057'
    """
    return f"{LABEL}*{links}*{first[0].upper()}*{speeds}*{wear_percent:g}*{code}"
