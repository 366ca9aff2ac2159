"""Pages to PDF."""

import atexit
from functools import cache
from importlib.resources import files
from pathlib import Path
from threading import Lock
from typing import Any

FACES = (("B612", 400, "b612-400"), ("B612", 700, "b612-700"), ("B612 Mono", 700, "b612-mono-700"))
ONE_AT_A_TIME = Lock()
"""The fonts are read once and shared; their library is not made for several at the same time."""


def pdf_of(html: str, *, plain: bool = False) -> bytes:
    """The pages of an HTML text as PDF, its fonts from the package; plain leaves the pages' drawing uncompressed.

    The library is loaded when it is first needed: a second that a start need not wait for.
    """
    from weasyprint import HTML

    options: dict[str, Any] = {"uncompressed_pdf": True} if plain else {}
    with ONE_AT_A_TIME:
        faces, fonts = _fonts()
        content: bytes = HTML(string=html).write_pdf(stylesheets=[faces], font_config=fonts, **options)
    return content


@cache
def _fonts() -> tuple[Any, Any]:
    """The faces as a style, and where they are kept once they are unpacked."""
    from weasyprint import CSS
    from weasyprint.text.fonts import FontConfiguration

    fonts, folder = FontConfiguration(), Path(str(files("lone_pike.web") / "static" / "fonts"))
    faces = [
        f"@font-face {{ font-family: '{family}'; font-weight: {weight};"
        f" src: url('{(folder / f'{name}.woff2').as_uri()}') }}"
        for family, weight, name in FACES
    ]
    # Its folder is taken away while the interpreter still stands.
    atexit.register(_fonts.cache_clear)
    return CSS(string="".join(faces), font_config=fonts), fonts
