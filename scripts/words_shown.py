"""Prints every word that the product shows, to be read in one go."""

import re
from html.parser import HTMLParser
from pathlib import Path

from lone_pike.core.bike.document import Bike
from lone_pike.core.bike.fields import fields_of
from lone_pike.wording import terms
from lone_pike.wording.not_known import NOT_KNOWN
from lone_pike.wording.render import SENTENCES
from lone_pike.wording.schools import FLAGS

TEMPLATES = [
    *sorted(Path("src/lone_pike/web").rglob("*.html")),
    *sorted(Path("src/lone_pike/drawing/templates").glob("*.svg")),
]
SHOWN = ("aria-label", "placeholder", "title")
JINJA, COMMENT = re.compile(r"\{\{.*?\}\}|\{%.*?%\}", re.DOTALL), re.compile(r"\{#.*?#\}", re.DOTALL)
CODE = re.compile(r"-\[|wide:|max-hand:|min-h-|aria-|M\d+ \d+")
WORDS = re.compile(r"[A-Za-z]{2,}")


class Words(HTMLParser):
    """The texts of one template, what is filled in shown as dots."""

    def __init__(self) -> None:
        super().__init__()
        self.texts: list[str] = []

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:  # noqa: ARG002
        """Keeps the attributes that are read out or shown."""
        self.texts += [value for name, value in attrs if name in SHOWN and value]

    def handle_data(self, data: str) -> None:
        """Keeps a text."""
        self.texts.append(data)


def words_of(template: str) -> list[str]:
    """The texts of a template that hold a word, in the order they stand, each once."""
    reader = Words()
    quoted = [text for block in JINJA.findall(template) for text in re.findall(r'"([A-Z][^"<>{}]* [^"<>{}]*)"', block)]
    reader.feed(JINJA.sub("…", COMMENT.sub("", template)))
    texts = (re.sub(r"\s+", " ", text).strip() for text in (*reader.texts, *quoted))
    return list(dict.fromkeys(text for text in texts if WORDS.search(text) and not CODE.search(text)))


def section(heading: str, lines: list[str]) -> str:
    """One heading with its lines; none where there are none."""
    return f"## {heading}\n\n" + "".join(f"- {line}\n" for line in lines) + "\n" if lines else ""


def words_page() -> str:
    """All words, by where they stand."""
    labels = [f"**{label}**" for label in dict.fromkeys(terms.LABELS.values())]
    hows = [f"**{spec.label}.** {spec.how}" for spec in fields_of(Bike).values() if spec.how]
    choices = [word for words in terms.CHOICES.values() for word in words.values()]
    parts = [
        "# Every word that is shown\n\nPrinted by scripts/words. Dots and braces stand for what is filled in.\n\n",
        section("Names of fields", labels),
        section("How fields are taken", hows),
        section("Choices", choices),
        section("Flags", list(FLAGS.values())),
        section("Sentences", [f"`{code}` {text}" for code, text in SENTENCES.items()]),
        section("What the count does not know", [f"**{what}.** {why}" for what, why in NOT_KNOWN]),
        *(section(str(path.relative_to("src/lone_pike")), words_of(path.read_text())) for path in TEMPLATES),
    ]
    return "".join(parts).rstrip() + "\n"


if __name__ == "__main__":
    print(words_page(), end="")
