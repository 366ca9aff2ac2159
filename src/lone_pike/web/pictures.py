"""Pictures as files: an SVG that contains its styles, in the light colours, to be saved or printed."""

import re
from functools import cache
from importlib.resources import files

from lone_pike.web.pages import environment

THEME = re.compile(r"--(color-[\w-]+): (?:light-dark\((#[0-9a-f]+),[^)]*\)|(#[0-9a-f]+));")
LINKS = r'\s(?:href|hx-[\w:-]+|aria-[\w-]+|data-[\w-]+)="[^"]*"'
FONT = r"font: (\d+) ([\d.]+px) ([^;]+);"
"""The shorthand for fonts, which not every program that reads SVG understands."""

NOT_RULES = r"/\*.*?\*/|@media[^{]*\{(?:[^{}]*\{[^{}]*\})*[^{}]*\}"
NOT_ON_PAPER = (":has(", "cursor:", "visibility:")
"""Parts of a style rule that only apply on a page."""


@cache
def picture_rules() -> tuple[tuple[frozenset[str], str], ...]:
    """The style rules of the pictures with their colours filled in, each with the classes it names."""
    styles = files("lone_pike.web") / "styles"
    colours = {name: light or plain for name, light, plain in THEME.findall((styles / "app.css").read_text())}
    text = re.sub(NOT_RULES, "", (styles / "pictures.css").read_text(), flags=re.S)
    text = re.sub(r"var\(--(color-[\w-]+)\)", lambda name: colours[name[1]], text)
    text = text.replace("var(--font-mono)", "'B612 Mono', monospace").replace("var(--font-sans)", "'B612', sans-serif")
    text = re.sub(FONT, r"font-weight: \1; font-size: \2; font-family: \3;", text)
    text = re.sub(r"var\(--[\w-]+, (#[0-9a-f]+)\)", r"\1", text)
    rules = [rule.strip() for rule in re.findall(r"[^{}]+\{[^{}]*\}", text)]
    kept = [rule for rule in rules if not any(mark in rule for mark in NOT_ON_PAPER)]
    return tuple((frozenset(re.findall(r"\.([a-z][\w-]*)", rule.partition("{")[0])), rule) for rule in kept)


def style_for(svg: str) -> str:
    """The style rules that a picture needs, by its classes."""
    classes = {name for names in re.findall(r'class="([^"]*)"', svg) for name in names.split()}
    return "\n".join(rule for named, rule in picture_rules() if not named.isdisjoint(classes))


def standalone(svg: str) -> str:
    """An SVG made by a template, with its styles inside and without links."""
    plain = re.sub(r"<a\b[^>]*>", lambda tag: "<g" + re.sub(LINKS, "", tag[0][2:]), svg).replace("</a>", "</g>")
    opened = re.search(r"<svg\b[^>]*>", plain)
    if opened is None:
        return plain
    return f"{plain[: opened.end()]}<style>{style_for(plain)}</style>{plain[opened.end() :]}".strip()


def drawn(template: str, macro: str, *arguments: object) -> str:
    """A picture as a file, by its template and macro."""
    module = environment.get_template(f"drawing/{template}.svg").module
    return standalone(str(getattr(module, macro)(*arguments)))
