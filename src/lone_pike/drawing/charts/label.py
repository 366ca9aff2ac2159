"""The label of a piece of chain: a square code for the scanner, words for the hand; 62 by 29 mm, black on white."""

from collections.abc import Sequence

from markupsafe import Markup

from lone_pike.drawing.charts.code import square_code

LABEL = Markup(
    '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 62 29" width="62mm" height="29mm" role="img"'
    ' aria-label="{name}" font-family="\'B612\', sans-serif"><rect width="62" height="29" fill="#fff"/>'
    '<svg x="1" y="2" width="25" height="25">{code}</svg>{words}</svg>\n'
)
WORDS = Markup('<text x="28" y="{y}" font-size="{size}" font-weight="{weight}">{text}</text>')
NAME_Y, LINES_Y, LINE = 10.0, 15.5, 4.8
NAME_SIZE, SIZE, ROOM, LETTER = 7.5, 3.4, 33.0, 0.52
"""How large name and words are; how wide their room is, mm; how wide a letter is of its size."""


def piece_label(line: str, name: str, words: Sequence[str]) -> str:
    """The label as SVG. Parameters: line, what the scanner reads; name, the largest on it; words, one a line below."""
    lines = [_words(name, NAME_Y, NAME_SIZE, 700)]
    lines += [_words(text, LINES_Y + LINE * i, SIZE) for i, text in enumerate(words)]
    return str(LABEL.format(code=Markup(square_code(line)), name=name, words=Markup("").join(lines)))


def _words(text: str, y: float, size: float, weight: int = 400) -> Markup:
    """A line of words, smaller where it is too long for its room."""
    fitting = min(size, ROOM / (LETTER * max(len(text), 1)))
    return WORDS.format(y=f"{y:g}", size=f"{fitting:.3g}", weight=weight, text=text)
