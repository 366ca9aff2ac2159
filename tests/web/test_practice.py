"""Practice on its pages: ten in a row by keyboard, nothing that gives an answer away, names that go for good."""

import re

import pytest
from fastapi.testclient import TestClient
from playwright.sync_api import Page, expect

from lone_pike.core.practice.exercises import EXERCISES, question
from lone_pike.store.database import Database
from lone_pike.store.practice import answers_of, mechanics
from lone_pike.wording.practice import EXERCISE_WORDS


def at(exercise: str, seed: int = 7) -> str:
    return f"/practice/v2/{exercise}/{EXERCISES[exercise].kinds[0]}/{seed}"


def test_ten_exercises_in_a_row_by_keyboard_alone(page: Page, base_url: str, database: Database) -> None:
    page.goto(f"{base_url}/practice")
    page.get_by_label("Another name").focus()
    page.keyboard.type("Dabchick")
    page.keyboard.press("Enter")
    page.wait_for_url("**/practice?who=1")
    for name in [*EXERCISE_WORDS.values(), ""]:
        if name:
            page.get_by_role("link", name=re.compile(f"^{re.escape(name)}")).last.focus()
        page.keyboard.press("Enter")
        expect(page.get_by_role("form", name="Answer")).to_be_visible()
        for group in page.get_by_role("form", name="Answer").get_by_role("group").all():
            group.locator("input").first.focus()
            page.keyboard.press("Space")
            if group.locator("input[type=text]").count():
                page.keyboard.type("5")
        page.get_by_role("button", name="Answer").focus()
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name=re.compile("^(Right|Not right)$"))).to_be_visible()
        page.get_by_role("link", name="Practice", exact=True).last.focus()
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="Practice")).to_be_visible()
    answers = answers_of(database, 1)
    assert len(answers) == 10 and {one.exercise for one in answers} == set(EXERCISES)


@pytest.mark.parametrize("exercise", EXERCISES)
def test_nothing_gives_the_answer_away(client: TestClient, exercise: str) -> None:
    """Neither words nor marks nor the number of pictures differ with what is right; the address holds a seed alone."""
    for seed in range(6):
        asked = question(seed, exercise, EXERCISES[exercise].kinds[0])
        page = client.get(at(exercise, seed))
        assert page.status_code == 200 and not re.search(
            r"\bchecked\b|\bright\b</b>|state-(safe|short|loose)", page.text
        )
        keys = re.findall(r'name="a\.[\w.]+" value="([^"]*)"', page.text)
        assert keys == [key for part in asked.parts for key in part.options or ("",)]
        shown = "".join(re.findall(r'aria-label="([^"]*)"', page.text))
        assert "links" not in shown and "push rivet" not in shown


def test_an_answer_is_told_and_kept_once(client: TestClient, database: Database) -> None:
    client.post("/practice", data={"name": "  Pochard "})
    asked = question(7, "judge", "hardtail")
    right = next(iter(asked.right["pairs"]))
    wrong = "1" if right != "1" else "2"
    for pairs in (wrong, right):
        told = client.post(at("judge"), data={"a.pairs": pairs, "who": "1"})
        assert told.status_code == 303
        shown = client.get(told.headers["location"]).text
        assert ("Not right" in shown) == (pairs != right) and "Safe from" in shown
    assert [one.right for one in answers_of(database, 1)] == [False], "the first answer counts"
    assert "0 of 1 right" in client.get("/practice?who=1").text


def test_a_name_is_removed_for_good_with_all_its_answers(client: TestClient, database: Database) -> None:
    client.post("/practice", data={"name": "Pochard"})
    client.post(at("judge"), data={"a.pairs": "1", "who": "1"})
    client.post("/practice/remove", data={"who": "1"})
    assert not mechanics(database) and not answers_of(database, 1)
    assert database.connection.execute("SELECT count(*) FROM practised").fetchone()[0] == 0
    assert client.get("/practice?who=1").status_code == 404


@pytest.mark.parametrize(
    "path",
    [
        "/practice/v1/judge/road/1",
        "/practice/v2/judge/slot/1",
        "/practice/v2/juggle/road/1",
        "/practice/v2/judge/road/-1",
        "/practice/v2/judge/road/99999999999",
        "/practice/v2/sheet/x",
    ],
)
def test_what_is_no_question_is_not_there(client: TestClient, path: str) -> None:
    assert client.get(path).status_code == 404


@pytest.mark.parametrize("told", [{}, {"a.pairs": "9"}, {"a.pairs": ["1", "x"]}, {"a.pairs": "<b>", "who": "x"}])
def test_a_part_without_an_answer_is_asked_again(client: TestClient, told: dict[str, str]) -> None:
    answer = client.post(at("judge"), data=told)
    assert answer.status_code == 422 and "Answer each part" in answer.text


def test_no_name_and_too_long_a_name_are_told(client: TestClient) -> None:
    for name in ("", "x" * 61):
        assert client.post("/practice", data={"name": name}).status_code == 422


def test_a_sheet_of_ten_has_its_answers_overleaf(client: TestClient) -> None:
    text = client.get("/practice/v2/sheet/3").text
    asked, answers = text.split("What is right")
    assert len(re.findall(r'aria-label="Question \d+"', asked)) == 10 and answers.count("<b>10.</b>") == 1
    assert text == client.get("/practice/v2/sheet/3").text
