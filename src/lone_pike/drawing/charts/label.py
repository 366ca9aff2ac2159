"""The label of a piece of chain: a square code for the scanner, words for the hand; black on white. The code alone
too."""

from collections.abc import Sequence
from io import BytesIO
from xml.etree.ElementTree import Element, SubElement, fromstring, register_namespace, tostring

import segno

SVG = "http://www.w3.org/2000/svg"
WIDTH_MM, HEIGHT_MM = 62, 29
CODE_AT = {"x": "1", "y": "2", "width": "25", "height": "25"}
NAME_Y, LINES_Y, LINE = 10.0, 15.5, 4.8
NAME_SIZE, SIZE, WORDS_X, ROOM, LETTER = 7.5, 3.4, 28, 33.0, 0.52
"""The sizes of name and words, where they begin and how much room they have, mm, and the width of a letter as a share
of its size."""


def piece_label(line: str, name: str, words: Sequence[str]) -> str:
    """The label as SVG. Parameters: line, what the scanner reads; name, the largest on it; words, one a line below."""
    register_namespace("", SVG)
    box = {"viewBox": f"0 0 {WIDTH_MM} {HEIGHT_MM}", "width": f"{WIDTH_MM}mm", "height": f"{HEIGHT_MM}mm"}
    label = Element(f"{{{SVG}}}svg", box | {"role": "img", "aria-label": name, "font-family": "'B612', sans-serif"})
    SubElement(label, f"{{{SVG}}}rect", {"width": str(WIDTH_MM), "height": str(HEIGHT_MM), "fill": "#fff"})
    SubElement(label, f"{{{SVG}}}svg", CODE_AT).append(fromstring(square_code(line)))
    _write(label, name, NAME_Y, NAME_SIZE, "bold")
    for i, text in enumerate(words):
        _write(label, text, LINES_Y + LINE * i, SIZE, "normal")
    return tostring(label, encoding="unicode")


def _write(label: Element, text: str, y: float, size: float, weight: str) -> None:
    """Adds a line of words, in smaller letters if it is too long for its room."""
    fitting = min(size, ROOM / (LETTER * max(len(text), 1)))
    look = {"x": str(WORDS_X), "y": f"{y:g}", "font-size": f"{fitting:.3g}", "font-weight": weight}
    SubElement(label, f"{{{SVG}}}text", look).text = text


def square_code(text: str) -> str:
    """The square code of a text, as SVG; black on white even on a dark page, because cameras need that."""
    drawing = BytesIO()
    segno.make(text, error="m").save(
        drawing, kind="svg", xmldecl=False, svgns=True, scale=1, border=2, omitsize=True, light="#fff"
    )
    return drawing.getvalue().decode()
