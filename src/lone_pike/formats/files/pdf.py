"""Pages to PDF."""

import atexit
from functools import cache
from importlib.resources import files
from pathlib import Path
from threading import Lock
from typing import Any

FACES = (("B612", 400, "b612-400"), ("B612", 700, "b612-700"), ("B612 Mono", 700, "b612-mono-700"))
ONE_AT_A_TIME = Lock()
"""A lock for the fonts: they are read once and shared, and their library is not made for several threads."""


def pdf_of(html: str, *, plain: bool = False) -> bytes:
    """The pages of an HTML text as PDF, with fonts from the package; with plain, the drawing of the pages is not
    compressed.

    The library is loaded when it is first needed, which saves a second at each start.
    """
    from weasyprint import HTML

    options: dict[str, Any] = {"uncompressed_pdf": True} if plain else {}
    with ONE_AT_A_TIME:
        faces, fonts = _fonts()
        content: bytes = HTML(string=html).write_pdf(stylesheets=[faces], font_config=fonts, **options)
    return content


@cache
def _fonts() -> tuple[Any, Any]:
    """The font faces as a style, and the folder into which they are unpacked."""
    from weasyprint import CSS
    from weasyprint.text.fonts import FontConfiguration

    fonts, folder = FontConfiguration(), Path(str(files("lone_pike.web") / "static" / "fonts"))
    faces = [
        f"@font-face {{ font-family: '{family}'; font-weight: {weight};"
        f" src: url('{(folder / f'{name}.woff2').as_uri()}') }}"
        for family, weight, name in FACES
    ]
    # Its folder is removed while the interpreter is still working.
    atexit.register(_fonts.cache_clear)
    return CSS(string="".join(faces), font_config=fonts), fonts
