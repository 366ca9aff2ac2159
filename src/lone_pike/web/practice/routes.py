"""Practice: the place, a question, its answer, a sheet of ten, and names that come and go."""

from fastapi import APIRouter
from starlette.requests import Request
from starlette.responses import HTMLResponse, Response

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.practice.asking import Answers, Question
from lone_pike.core.practice.exercises import EXERCISES, question
from lone_pike.core.practice.making import LARGEST_SEED, VERSION
from lone_pike.core.practice.spacing import next_up, seed_next
from lone_pike.core.refusals import NotThere
from lone_pike.formats.records.shop import Shop
from lone_pike.formats.typed.parsing import whole_number
from lone_pike.store.database import Database
from lone_pike.store.paging import row_id
from lone_pike.store.practice import answers_of, mechanics
from lone_pike.web.pages import page, redirect, units_of
from lone_pike.web.practice.view import (
    at_question,
    practice_view,
    question_view,
    sheet_of,
)
from lone_pike.web.thing import Data, Fields, InShop, Listed
from lone_pike.wording.render import fault_at_label
from lone_pike.workshop.clock import now
from lone_pike.workshop.practice import add_mechanic, answer, mechanic_there, remove

router = APIRouter(prefix="/practice")
UNANSWERED = 422


@router.get("")
def practice(request: Request, data: Data, shop: InShop, who: str = "") -> Response:
    """The place: who practises, what comes next, and the results so far."""
    return _shown(request, data, shop, row_id(who))


@router.post("")
def who_practises(request: Request, data: Data, shop: InShop, form: Fields) -> Response:
    """Adds or finds somebody who practises, by name."""
    try:
        return redirect(f"/practice?who={add_mechanic(data, form.get('name', ''))}")
    except InvalidInput as error:
        problem = fault_at_label(error.faults[0], units_of(shop))
        return _shown(request, data, shop, 0, problem, form.get("name", ""))


@router.post("/remove")
def remove_name(data: Data, form: Fields) -> Response:
    """Removes a name and its answers for good."""
    remove(data, row_id(form.get("who", "")))
    return redirect("/practice")


@router.get("/v{version}/sheet/{seed}")
def sheet(request: Request, shop: InShop, version: str, seed: str) -> Response:
    """Ten questions to print, with the right answers overleaf."""
    if version != str(VERSION):
        raise NotThere("practice_version")
    return page(request, "practice/sheet.html", shop, {"questions": sheet_of(_seed(seed)), "seed": _seed(seed)})


@router.get("/v{version}/{exercise}/{kind}/{seed}")
def asked(
    request: Request, data: Data, shop: InShop, version: str, exercise: str, kind: str, seed: str, who: str = ""
) -> Response:
    """A question; with answers in its address, the explanation."""
    found = _question(version, exercise, kind, seed)
    query = {name: request.query_params.getlist(name) for name in request.query_params}
    answers = found.answers_in(query) if any(name.startswith("a.") for name in query) else None
    return _asked(request, data, shop, found, row_id(who), answers)


@router.post("/v{version}/{exercise}/{kind}/{seed}")
def answered(
    request: Request, data: Data, shop: InShop, version: str, exercise: str, kind: str, seed: str, sent: Listed
) -> Response:
    """Takes an answer, and stores whether it is right for the person who practises."""
    found, who = _question(version, exercise, kind, seed), row_id(next(iter(sent.get("who", [])), ""))
    answers = found.answers_in(sent)
    if answers is None:
        return _asked(request, data, shop, found, who, None, UNANSWERED)
    if who:
        answer(data, who, found, answers, now())
    return redirect(at_question(exercise, kind, found.seed, who, answers))


def _question(version: str, exercise: str, kind: str, seed: str) -> Question:
    """The question of an address. Raises: NotThere."""
    if version != str(VERSION):
        raise NotThere("practice_version")
    if exercise not in EXERCISES or kind not in EXERCISES[exercise].kinds:
        raise NotThere("no_such_question")
    return question(_seed(seed), exercise, kind)


def _seed(text: str) -> int:
    found = whole_number(text, 10)
    if found is None or found > LARGEST_SEED:
        raise NotThere("no_such_question")
    return found


def _asked(
    request: Request,
    data: Database,
    shop: Shop,
    found: Question,
    who: int,
    answers: Answers | None,
    status: int = 200,
) -> HTMLResponse:
    mechanic = mechanic_there(data, who) if who else None
    before = answers_of(data, who) if mechanic else []
    exercise, kind = next_up(before) if mechanic else (found.exercise, found.kind)
    seed = seed_next(before, who) if mechanic else (found.seed + 1) % LARGEST_SEED
    view = question_view(found, who, answers, at_question(exercise, kind, seed, who))
    context = {"view": view, "who": mechanic, "unanswered": status == UNANSWERED}
    return page(request, "practice/question.html", shop, context, status)


def _shown(request: Request, data: Database, shop: Shop, who: int, problem: str = "", typed: str = "") -> HTMLResponse:
    mechanic = mechanic_there(data, who) if who else None
    answers = answers_of(data, who) if mechanic else []
    view = practice_view(mechanics(data), mechanic, answers, problem, typed)
    return page(request, "practice/practice.html", shop, {"view": view}, UNANSWERED if problem else 200)
