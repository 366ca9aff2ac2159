"""A square code for a camera to read from a screen or from paper."""

from io import BytesIO

import segno


def square_code(text: str) -> str:
    """The square code of a text, as SVG; black on white even on a dark page, because cameras need that."""
    drawing = BytesIO()
    segno.make(text, error="m").save(
        drawing, kind="svg", xmldecl=False, svgns=True, scale=1, border=2, omitsize=True, light="#fff"
    )
    return drawing.getvalue().decode()
