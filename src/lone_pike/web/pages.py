"""The templates, and rendering either a whole page or only the block that has changed."""

import re
import sys
from contextlib import suppress
from dataclasses import dataclass
from importlib.util import cache_from_source
from pathlib import Path
from types import SimpleNamespace
from typing import Any

from jinja2 import Environment, FileSystemBytecodeCache, PackageLoader, PrefixLoader, StrictUndefined, Template
from jinja2.bccache import Bucket
from jinja2_fragments import render_block
from markupsafe import Markup
from starlette.requests import Request
from starlette.responses import HTMLResponse, RedirectResponse, Response

from lone_pike import __version__
from lone_pike.core.bike.joiners import JOINERS
from lone_pike.core.messages import Quantity, Term, Unit
from lone_pike.core.refusals import CodeTwice, Conflict, NotThere, PieceTaken, Refusal
from lone_pike.core.stages import STAGES
from lone_pike.core.wear.rides import km
from lone_pike.formats.records.shop import Shop
from lone_pike.wording.joiners import JOINER_NAMES
from lone_pike.wording.render import fault_at_label, fault_parts, fault_text, figure, render, written
from lone_pike.wording.schools import FLAGS
from lone_pike.wording.terms import SAFETY_WORDS, word_of
from lone_pike.wording.units import DisplayUnits
from lone_pike.workshop.clock import day_of, today

PLACES = (
    ("/", "Stand"),
    ("/bikes", "Bikes"),
    ("/chains", "Chains"),
    ("/bin", "Bin"),
    ("/practice", "Practice"),
    ("/shop", "Shop"),
)


MACROS = {
    **{
        name: (f"pages/ui/_{name}.html",)
        for name in ("icons", "ui", "help", "boxes", "sides", "ledger", "gauges", "chain_lines", "posed")
    },
    "drawn": tuple(
        f"drawing/{name}.svg"
        for name in (
            *("chain", "side_view", "rail", "dials", "growth", "strip", "tool", "fits", "clip", "boom", "pieces"),
            *("clock", "level", "symptoms", "wear", "ruler", "ways", "joiners"),
        )
    ),
}
"""The macros that every template can call, by name space: `ui.wrong()` stands in `_ui.html`, and `drawn` holds the
templates of drawing. They are global, because importing them costs time on every page."""


def macros_of(template: Template) -> dict[str, Any]:
    """The macros that a template defines, and the class lists that it names."""
    return {name: value for name, value in vars(template.module).items() if not name.startswith("_")}


def ordinal(number: int) -> str:
    """A place of the ledger in words.

    >>> ordinal(1), ordinal(3), ordinal(10), ordinal(112), ordinal(122)
    ('1st', '3rd', '10th', '112th', '122nd')
    """
    teen = 10 <= number % 100 <= 20
    return f"{number}{'th' if teen else {1: 'st', 2: 'nd', 3: 'rd'}.get(number % 10, 'th')}"


def grown(change: float, units: DisplayUnits) -> str:
    """A change of the wrap as a number with its sign and no unit.

    >>> grown(2.61, DisplayUnits())
    '+2.6'
    """
    return units.bare(Quantity(change, Unit.LINKS), 1, "+")


def named(key: str, kind: str) -> str:
    """The word for a key of a list.

    >>> named("inner", "end")
    'inner'
    """
    return word_of(Term(kind, key))


class TemplateCache(FileSystemBytecodeCache):
    """Keeps compiled templates beside the compiled modules. If that folder cannot be written to, they are compiled at
    each start."""

    def dump_bytecode(self, bucket: Bucket) -> None:
        """Stores a compiled template, unless Python was started so that it writes none."""
        if not sys.dont_write_bytecode:
            with suppress(OSError):
                super().dump_bytecode(bucket)


environment = Environment(
    loader=PrefixLoader(
        {"pages": PackageLoader("lone_pike", "web"), "drawing": PackageLoader("lone_pike.drawing")}, delimiter="/"
    ),
    autoescape=True,
    undefined=StrictUndefined,
    auto_reload=False,
    bytecode_cache=TemplateCache(str(Path(cache_from_source(__file__)).parent), f"{__version__}-%s.template"),
    trim_blocks=True,
    lstrip_blocks=True,
)
environment.filters.update(
    ordinal=ordinal,
    day=day_of,
    say=render,
    word=word_of,
    named=named,
    km=km,
    fault_text=fault_text,
    fault_parts=fault_parts,
    fault_at_label=fault_at_label,
    figure=figure,
    figure_of=written,
    grown=grown,
    flag=FLAGS.__getitem__,
    joiner=JOINER_NAMES.__getitem__,
    safety=SAFETY_WORDS.__getitem__,
)
environment.globals.update(joiner_table=JOINERS, stages=STAGES, version=__version__, places=PLACES, today=today)
environment.globals.update({room: SimpleNamespace() for room in MACROS})
for room, sources in MACROS.items():
    for source in sources:
        vars(environment.globals[room]).update(macros_of(environment.get_template(source)))
environment.globals["helps"] = Markup(environment.get_template("pages/ui/_helps.html").render())  # on every page


def redirect(url: str) -> RedirectResponse:
    """Redirects to another page."""
    return RedirectResponse(url, 303)


def leave(request: Request, url: str) -> Response:
    """Redirects to a page outside the job, as a full load; a swap would put that page into this one."""
    return Response(headers={"HX-Redirect": url}) if request.headers.get("HX-Request") else redirect(url)


def attached(content: bytes | str, name: str, media_type: str) -> Response:
    """A file for download, with its name."""
    headers = {"Content-Disposition": f'attachment; filename="{name}"'}
    return Response(content, media_type=media_type, headers=headers)


def unchanging_jpeg(image: bytes | None) -> Response:
    """A stored picture, which never changes. Raises: NotThere if there is none."""
    if image is None:
        raise NotThere("no_such_photo")
    headers = {"Cache-Control": "private, max-age=31536000, immutable"}
    return Response(image, media_type="image/jpeg", headers=headers)


def is_partial(request: Request) -> bool:
    """Whether only a part of the page was requested."""
    return request.headers.get("HX-Request-Type") == "partial"


def units_of(shop: Shop) -> DisplayUnits:
    """The units in which the shop wants counts and lengths."""
    return DisplayUnits(shop.first, shop.unit)


def page(
    request: Request,
    name: str,
    shop: Shop,
    context: dict[str, Any],
    status: int = 200,
    block: str = "",
    revision: int | None = None,
) -> HTMLResponse:
    """The page in the shop's units; for a swap within the page, only its block.

    Parameters: revision, that of the job as the page shows it: pages that a tablet stored at another revision are out
    of date.
    """
    network = getattr(request.app.state, "network", None)
    full = {"request": request, "status": status, "units": units_of(shop), "network": network, **context}
    if block and is_partial(request):
        html = render_block(environment, f"pages/{name}", block, full)
    else:
        html = environment.get_template(f"pages/{name}").render(full)
    of_job = {"Job-Revision": str(revision)} if revision is not None else {}
    return HTMLResponse(html, status, headers={"Vary": "HX-Request-Type", **of_job})


@dataclass(frozen=True)
class ButtonLink:
    """An address and the label of its button."""

    url: str
    word: Term


TO_THE_STAND = ButtonLink("/", Term("way", "stand"))
TO_THE_BIN = ButtonLink("/bin", Term("way", "bin"))
WAYS = (
    (re.compile(r"/jobs/\d+"), "job"),
    (re.compile(r"/bikes/\d+"), "bike"),
    (re.compile(r"/shop"), "shop"),
    (re.compile(r"/chains/\d+"), "chain"),
)


def way_on(path: str, refusal: Refusal) -> ButtonLink:
    """The way on from a refusal, by the path to which the request was sent.

    Anything about pieces leads to the bin. Another conflict leads to the thing itself; a job's address leads on to its
    bike once it is booked or closed. Everything else leads to the stand.

    >>> way_on("/jobs/4/measure", Conflict("job_is_booked")).url
    '/jobs/4'
    """
    if isinstance(refusal, PieceTaken | CodeTwice) or path.startswith(TO_THE_BIN.url):
        return TO_THE_BIN
    if isinstance(refusal, Conflict):
        for place, word in WAYS:
            if found := place.match(path):
                return ButtonLink(found[0], Term("way", word))
    return TO_THE_STAND
