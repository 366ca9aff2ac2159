"""A square code: what a camera reads off a screen or off paper."""

from io import BytesIO

import segno


def square_code(text: str) -> str:
    """The square code of a text, as SVG: black on white also where the page is dark, for a camera reads it so."""
    drawing = BytesIO()
    segno.make(text, error="m").save(
        drawing, kind="svg", xmldecl=False, svgns=True, scale=1, border=2, omitsize=True, light="#fff"
    )
    return drawing.getvalue().decode()
