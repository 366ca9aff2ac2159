"""Paper and files: the job card and the strip as PDF, and every picture as SVG."""

from collections.abc import Callable

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import Response

from lone_pike.core.refusals import NotThere, Unfit
from lone_pike.drawing.charts.boom import boom_picture
from lone_pike.drawing.charts.strip import strip
from lone_pike.formats.files.pdf import pdf_of
from lone_pike.web.dear import dear_work, in_turn
from lone_pike.web.job.cut.view import cut_view
from lone_pike.web.job.frame import Frame, side_of
from lone_pike.web.job.paper.view import SHEETS, card_view, strip_sheets
from lone_pike.web.job.size.view import bench_of
from lone_pike.web.job.work import SizedWork, cut_of, work_of
from lone_pike.web.pages import attached, environment, units_of
from lone_pike.web.pictures import drawn
from lone_pike.web.thing import ForJob, JobRequest
from lone_pike.wording.units import DisplayUnits

router = APIRouter(prefix="/jobs/{job_id}")


@router.get("/card.pdf", dependencies=[in_turn("paper")])
def card(job_request: ForJob, sheet: str = "a4") -> Response:
    """The job card, one page, with a code that leads back to the job."""
    sized, units = _sized(job_request), units_of(job_request.shop)
    address = str(job_request.request.url_for("latest_stage", job_id=job_request.job.id))
    view = card_view(sized, sheet, address, units)
    html = environment.get_template("pages/job/paper/card.html").render(view=view, units=units)
    return _pdf(job_request.request, html, "card")


@router.get("/strip.pdf", dependencies=[in_turn("paper")])
def strip_at_scale(job_request: ForJob, sheet: str = "a4") -> Response:
    """The strip at 1:1 over as many pages as it needs."""
    sized = _sized(job_request)
    sheets = strip_sheets(sized)
    if not sheets:
        raise Unfit("no_chain_at_hand")
    context = {"sheets": sheets, "sheet": SHEETS.get(sheet, "A4"), "name": sized.bike.name, "links": sized.links}
    html = environment.get_template("pages/job/paper/strip.html").render(**context, units=units_of(job_request.shop))
    return _pdf(job_request.request, html, "strip")


@router.get("/picture/{name}.svg")
def picture(job_request: ForJob, name: str) -> Response:
    """One picture of the job, to be saved."""
    sized = _sized(job_request)
    svg = _picture(sized, name)
    if svg is None:
        raise NotThere("no_such_drawing")
    return attached(svg, f"{name}.svg", "image/svg+xml")


def _picture(sized: SizedWork, name: str) -> str | None:
    """A picture's SVG; None where the job has none of that name."""
    draw = PICTURES.get(name)
    return draw(sized) if draw else None


def _side(sized: SizedWork) -> str:
    return drawn("side_view", "side_view", side_of(sized), _units(sized))


def _rail(sized: SizedWork) -> str | None:
    foot = Frame(sized.work, "size").foot
    return drawn("rail", "rail", foot.rail, foot.urls, _units(sized)) if foot else None


def _dials(sized: SizedWork) -> str | None:
    bench = bench_of(sized, "size")
    return None if bench.standing else drawn("dials", "dials", bench.dials, bench.dial_urls, _units(sized))


def _growth(sized: SizedWork) -> str | None:
    bench = bench_of(sized, "size")
    return drawn("growth", "growth", bench.growth, bench.growth_urls, _units(sized)) if bench.growth else None


def _boom(sized: SizedWork) -> str | None:
    boom = sized.answer.boom
    return drawn("boom", "boom", boom_picture(boom, sized.links), _units(sized)) if boom else None


def _strip(sized: SizedWork) -> str | None:
    (cut, *_) = cut_of(sized.work)
    return drawn("strip", "strip", strip(cut)) if cut and not cut.missing_links else None


def _tool(sized: SizedWork) -> str | None:
    tool = cut_view(sized.work).tool
    return drawn("tool", "tool", tool) if tool else None


PICTURES: dict[str, Callable[[SizedWork], str | None]] = {
    "side": _side,
    "rail": _rail,
    "dials": _dials,
    "growth": _growth,
    "boom": _boom,
    "strip": _strip,
    "tool": _tool,
}


def _units(sized: SizedWork) -> DisplayUnits:
    return units_of(sized.work.shop)


def _sized(job_request: JobRequest) -> SizedWork:
    sized = work_of(job_request).sized
    if sized is None:
        raise Unfit("not_measured_yet")
    return sized


def _pdf(request: Request, html: str, name: str) -> Response:
    content = dear_work(request).papers.run(pdf_of, html)
    headers = {"Content-Disposition": f'inline; filename="{name}.pdf"'}
    return Response(content, media_type="application/pdf", headers=headers)
