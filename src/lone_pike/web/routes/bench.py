"""The cutting bench: counting along, the cut, a mistake, pieces of the bin, and the join."""

from dataclasses import replace

from fastapi import APIRouter, HTTPException
from starlette.requests import Request
from starlette.responses import Response

from lone_pike.core.chain.trial import piece_of
from lone_pike.core.messages import Message, links, number
from lone_pike.formats.chain_rows import cut_into, piece_row, pieces_in, with_pieces
from lone_pike.formats.parsing import whole_number
from lone_pike.store.bin import PieceTaken, piece_by_id
from lone_pike.store.jobs import JobState
from lone_pike.web.edits import reach, seen_state, write_edit
from lone_pike.web.pages import page, redirect
from lone_pike.web.requests import Fields, ForJob, wheel_ticks
from lone_pike.web.views.cut import tally_view
from lone_pike.web.views.work import cut_of, work_of

router = APIRouter(prefix="/jobs/{job_id}")
MOST_TAKEN = 6
"""Pieces of the bin that one press takes."""


@router.get("/tally")
def tally(request: Request, job_request: ForJob, at: str = "0") -> Response:
    """Counting along in tens, up to the rivet."""
    work = work_of(job_request)
    view = tally_view(work, at, wheel_ticks(request))
    if view is None:
        return redirect(work.at("cut"))
    return page(request, "tally.html", job_request.shop, {"view": view}, block="tally")


@router.post("/cut")
def it_is_cut(job_request: ForJob) -> Response:
    """On to joining: the chain is cut."""
    job_request.open_job()
    reach(job_request, "join")
    return redirect(work_of(job_request).at("join"))


@router.post("/from-bin")
def take_from_bin(job_request: ForJob, form: Fields) -> Response:
    """Puts pieces of the bin to those at hand: reserved for this job from now on. Raises: PieceTaken, 422."""
    job_request.open_job()
    texts = form.get("pieces", "").split(",")
    numbers = [one for text in texts if (one := whole_number(text, 15)) is not None]
    rows = [row for one in numbers[:MOST_TAKEN] if (row := piece_by_id(job_request.data, one))]
    if not rows or len(rows) < len(numbers):
        raise PieceTaken
    new = [piece_row(row.links, row.first_end, row.wear_percent, row.id) for row in rows]
    message = Message("from_bin", pieces=tuple(links(row.links) for row in rows))

    def with_new(base: JobState) -> JobState:
        return replace(base, document=with_pieces(base.document, [*pieces_in(base.document), *new]))

    write_edit(job_request, form, with_new, lambda _: message)
    return redirect(job_request.state.url(f"/jobs/{job_request.job.id}/cut", rivet=None, piece=None))


@router.post("/slip")
def cut_by_mistake(job_request: ForJob, form: Fields) -> Response:
    """The chain was cut at another rivet: both pieces are at hand from now on, and the plan starts from them."""
    job_request.open_job()
    text = form.get("rivet", "")
    joint = whole_number(text, 3) or 0
    cut, _ = cut_of(replace(work_of(job_request), document=seen_state(job_request, form).document))
    if cut is None or not 0 < joint < cut.box_links:
        raise HTTPException(422, f"rivet: read {text[:20]!r}; allowed: a rivet between two links of this chain.")
    pieces = (piece_of(cut.first_end, 0, joint), piece_of(cut.first_end, joint, cut.box_links))
    left, right = (links(piece.links) for piece in pieces)
    message = Message("cut_slipped", joint=number(joint), left=left, right=right)

    def with_both(base: JobState) -> JobState:
        return replace(base, document=cut_into(base.document, cut.piece, pieces))

    write_edit(job_request, form, with_both, lambda _: message)
    return redirect(job_request.state.url(f"/jobs/{job_request.job.id}/cut", rivet=None, piece=None))


@router.post("/join")
def it_is_joined(job_request: ForJob) -> Response:
    """On to booking: the chain is on, and closed."""
    job_request.open_job()
    reach(job_request, "book")
    return redirect(work_of(job_request).at("book"))
