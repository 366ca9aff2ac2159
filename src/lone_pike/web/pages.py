"""Templates, and rendering a whole page or only the block that changed."""

from typing import Any, get_args

from jinja2 import Environment, PackageLoader, PrefixLoader, StrictUndefined
from jinja2_fragments import render_block
from starlette.requests import Request
from starlette.responses import HTMLResponse, RedirectResponse

from lone_pike import __version__
from lone_pike.core.bike.cassettes import COMMON, label_of
from lone_pike.core.bike.document import HouseRule
from lone_pike.drawing.rail import FLAGS
from lone_pike.formats.measure_form import LABELS
from lone_pike.formats.observed import STEPS
from lone_pike.formats.photo_notes import PRESSED
from lone_pike.formats.shop import Shop
from lone_pike.web.view_state import WHAT_IF

KINDS = {
    "quick_link": "quick link",
    "locking_link": "locking link",
    "joining_pin": "joining pin",
    "rivet": "driven-back rivet",
    "offset_link": "offset link",
}


HOUSE_RULES = {rule: FLAGS.get(rule, "the window") for rule in get_args(HouseRule)}
"""Each house rule with its short name, as on the rail."""


def ordinal(number: int) -> str:
    """A place in words.

    >>> ordinal(1), ordinal(3), ordinal(10), ordinal(112), ordinal(122)
    ('1st', '3rd', '10th', '112th', '122nd')
    """
    teen = 10 <= number % 100 <= 20
    return f"{number}{'th' if teen else {1: 'st', 2: 'nd', 3: 'rd'}.get(number % 10, 'th')}"


def day_of(moment: str) -> str:
    """The day of an ISO time."""
    return moment[:10]


environment = Environment(
    loader=PrefixLoader(
        {"pages": PackageLoader("lone_pike.web"), "drawing": PackageLoader("lone_pike.drawing")}, delimiter="/"
    ),
    autoescape=True,
    undefined=StrictUndefined,
    auto_reload=False,
    trim_blocks=True,
    lstrip_blocks=True,
)
environment.filters.update(ordinal=ordinal, day=day_of)
environment.filters["kind_word"] = KINDS.__getitem__
environment.filters["spacing_label"] = label_of
environment.globals.update(
    version=__version__,
    kinds=KINDS,
    labels=LABELS,
    flags=FLAGS,
    spacings=COMMON,
    by_hand=STEPS,
    what_if=WHAT_IF,
    pressed_of=PRESSED,
    house_rules=HOUSE_RULES,
    number_options=[(str(count), str(count)) for count in range(5, 14)],
)


def redirect(url: str) -> RedirectResponse:
    """On to another page, after a post or where there is nothing to show."""
    return RedirectResponse(url, 303)


def is_partial(request: Request) -> bool:
    """Whether only a part of the page is asked for."""
    return request.headers.get("HX-Request-Type") == "partial"


def page(
    request: Request, name: str, shop: Shop, context: dict[str, Any], status: int = 200, block: str = ""
) -> HTMLResponse:
    """The page in the shop's words, or for a swap within the page its block alone."""
    full = {"request": request, "status": status, "shop": shop, "words": shop.words, **context}
    if block and is_partial(request):
        html = render_block(environment, f"pages/{name}", block, full)
    else:
        html = environment.get_template(f"pages/{name}").render(full)
    return HTMLResponse(html, status, headers={"Vary": "HX-Request-Type"})
