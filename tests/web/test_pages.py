"""All pages: links, policy, accessibility, use without script, and what must not come in."""

import re
from urllib.parse import urljoin

import pytest
from fastapi.testclient import TestClient
from hypothesis import HealthCheck, example, given, settings
from hypothesis import strategies as st
from playwright.sync_api import Page, expect

from lone_pike.formats.typed.measure_form import form_fields
from lone_pike.store.bikes import bike_by_id
from lone_pike.store.database import Database
from lone_pike.store.jobs import job_by_id, open_jobs
from tests.web.conftest import NewContext
from tests.web.reading import count, field

PAGES = [
    "/",
    "/jobs/4/measure",
    "/jobs/4/size",
    "/jobs/7/size?ring=26&cog=11",
    "/jobs/6/measure",
    "/jobs/6/size?travel=70",
    "/jobs/4/cut",
    "/jobs/4/tally?at=40",
    "/jobs/4/join",
    "/jobs/11/size",
    "/jobs/11/cut",
    "/jobs/11/route?idler=1",
    "/jobs/12/route",
    "/jobs/4/book",
    "/bikes",
    "/bikes/1",
    "/limits",
    "/about",
    "/jobs/8/photo",
    "/jobs/8/photo?mark=guide",
    "/jobs/4/photo",
    "/jobs/9/measure",
    "/jobs/9/size",
    "/jobs/10/size",
    "/jobs/4/receive",
    "/jobs/7/receive",
    "/jobs/6/prove",
    "/jobs/9/prove?step=slack",
    "/jobs/4/count-old?at=20",
    "/jobs/9/book",
    "/chains",
    "/chains/due",
    "/chains/costs",
    "/chains/2",
    "/chains?state=ended",
    "/practice",
    "/shop/access",
    "/shop/access/api",
    "/practice/v2/judge/hardtail/7",
    "/practice/v2/rivet/slot/7",
    "/practice/v2/sheet/3",
    "/practice/v2/clock/road/5?a.hand=4:30",
    "/bin",
    "/shop",
    "/nowhere",
    "/out-of-reach",
]


STANDS = PAGES[1:7]
"""At a stand's size these need no scrolling at all."""


LOOKS = "ring|cog|links|travel|at|piece|idler|step|near|counted|mark"
"""What an address says of how a page is looked at: of these each kind of link is asked for once."""


def test_every_link_of_the_workshop_answers_under_the_policy(client: TestClient) -> None:
    seen, waiting = set(), ["/"]
    while waiting:
        path = waiting.pop()
        answer = client.get(path, follow_redirects=True)
        assert answer.status_code in (200, 204), path
        assert "default-src 'self'" in answer.headers["content-security-policy"]
        if "text/html" not in answer.headers.get("content-type", ""):
            continue
        assert not re.search(r"\sstyle=|<script>|\shx-on|(?:href|src)=\"(?:https?:)?//", answer.text), path
        for link in re.findall(r'(?:href|src|hx-get)="([^"]+)"', answer.text):
            target = urljoin(path, link.replace("&amp;", "&").split("#")[0])
            plain = re.sub(rf"({LOOKS})=\w+&?", "", target).rstrip("?&")
            plain = re.sub(r"/jobs/\d+/(card|strip|picture|weigh)([^?]*).*", r"/jobs/N/\1\2", plain)
            if plain not in seen:
                seen.add(plain)
                waiting.append(target)
    assert {"/bikes", "/bin", "/jobs/4/cut", "/bikes/1/bike.json", "/static/app.css"} <= seen


def test_nothing_comes_from_outside_and_the_first_load_is_small(first_page: Page, base_url: str) -> None:
    """At most 150 kB compressed and 12 requests, so that a phone at the door shows a job at once.

    The stream of what others keep is not counted: it does not end.
    """
    answers, errors = [], []
    first_page.on("response", lambda answer: None if "/live?" in answer.url else answers.append(answer))
    first_page.on("console", lambda message: errors.append(message.text))
    first_page.on("pageerror", lambda error: errors.append(str(error)))
    first_page.goto(f"{base_url}/jobs/4/size")
    first_page.wait_for_load_state("networkidle")
    assert all(answer.url.startswith(base_url) for answer in answers)
    assert len(answers) <= 12
    sizes = [answer.request.sizes() for answer in answers]
    assert sum(size["responseBodySize"] + size["responseHeadersSize"] for size in sizes) <= 150_000
    assert errors == []


@pytest.mark.parametrize(("width", "height"), [(1280, 800), (820, 1180), (390, 844), (320, 844)])
def test_a_job_needs_no_sideways_scrolling_and_at_the_stand_none_at_all(
    page: Page, base_url: str, width: int, height: int
) -> None:
    page.set_viewport_size({"width": width, "height": height})
    for path in (PAGES if width == 320 else PAGES[::3]) if width < 640 else STANDS:
        page.goto(base_url + path)
        wide, high = page.evaluate("[document.documentElement.scrollWidth, document.documentElement.scrollHeight]")
        assert wide <= width, path
        if width == 1280:
            assert high <= height, path
            hidden = page.evaluate(
                "[...document.querySelectorAll('.scroll')].some(e => e.scrollHeight > e.clientHeight)"
            )
            assert not hidden, path


def test_the_whole_job_without_script(new_context: NewContext, base_url: str, database: Database) -> None:
    page = new_context(java_script_enabled=False).new_page()
    page.goto(base_url)
    page.get_by_role("button", name="Shelduck").click()
    page.get_by_role("button", name="Chain slaps").click()
    page.get_by_role("link", name="To Measure").click()
    field(page, "chainstay_mm").fill("436,5")
    page.get_by_role("button", name="Size it").click()
    expect(count(page)).to_have_text("110")
    page.get_by_role("link", name="108 links · 54 pairs, safe").click()
    page.get_by_role("button", name="Cut to 108").click()
    expect(page.get_by_role("group", name="Push rivet")).to_have_text("107")
    page.get_by_role("button", name="It is cut").click()
    page.get_by_role("button", name="Done, next").click()
    expect(page.get_by_role("heading", name="Round the cog from behind")).to_be_visible()
    page.get_by_role("button", name="It is joined").click()
    page.get_by_role("button", name="As drawn, next").click()
    page.get_by_role("button", name="It is proved").click()
    page.get_by_label("Note").fill("Salt on everything.")
    page.get_by_role("button", name="Book 108 links").click()
    expect(page.get_by_role("group", name="Fitted").first).to_contain_text("Salt on everything.")
    page.get_by_role("button", name="Booked by mistake").click()
    expect(page).to_have_url(re.compile("/book"))
    for _ in ("the step of proving", "the step of threading", "the count", "the chainstay"):
        page.get_by_role("button", name="Undo").click()
    page.goto(page.url.replace("/book", "/measure"))
    expect(field(page, "chainstay_mm")).to_have_value("435")
    assert "Shelduck" in [job.document["name"] for job in open_jobs(database)]


def test_a_file_starts_a_job_and_comes_out_the_same(client: TestClient, database: Database) -> None:
    bike = bike_by_id(database, 1)
    assert bike
    content = client.get("/bikes/1/bike.json").content
    started = client.post("/jobs", files={"file": ("otter.json", content)}, data={"from": "file"})
    assert started.status_code == 303
    assert client.get(f"{started.headers['location']}/bike.json").content == content


@pytest.mark.parametrize(
    ("content", "told"),
    [
        (b"\xff\xfe", "here: UTF-8 text"),
        (b'{"lone_pike": 1,', "here: JSON"),
        (b'{"lone_pike": 1, "wheels": 2}', "wheels: “2” won’t do here: no such key here"),
        (b'{"a": ' + b"[" * 100_000, "here: JSON as the schema has it"),
        (b'{"lone_pike": 1, "suspension": {"type": "coil"}}', "suspension.type"),
    ],
)
def test_bad_files_are_refused_with_every_fault(client: TestClient, content: bytes, told: str) -> None:
    answer = client.post("/jobs", files={"file": ("x.json", content)}, data={"from": "file"})
    assert answer.status_code == 422
    assert told in answer.text.replace("&#34;", '"')


def test_five_megabytes_and_other_sites_do_not_come_in(client: TestClient, database: Database) -> None:
    jobs = len(open_jobs(database).rows)
    assert client.post("/jobs", files={"file": ("x.json", b" " * 5_000_000)}).status_code == 413
    assert client.post("/jobs", data={"name": "x"}, headers={"Sec-Fetch-Site": "cross-site"}).status_code == 403
    assert client.post("/jobs", data={"name": "x"}, headers={"Origin": "https://elsewhere.example"}).status_code == 403
    assert len(open_jobs(database).rows) == jobs


@pytest.mark.parametrize(
    ("path", "status"),
    [
        ("/jobs/99/size", 404),
        ("/jobs/99999999999999999999/size", 404),
        ("/jobs/x/size", 404),
        ("/jobs/4/thread", 404),
        ("/bikes/99", 404),
        ("/jobs/4/size?ring=999&cog=-1&links=banana", 200),
        ("/jobs/4/size?links=0", 200),
        ("/jobs/4/size?links=999", 200),
        ("/jobs/4/tally?at=99999999999", 200),
    ],
)
def test_absurd_addresses_get_a_page(client: TestClient, path: str, status: int) -> None:
    answer = client.get(path)
    assert answer.status_code == status
    assert "Lone Pike" in answer.text


def revision(database: Database, job_id: int = 4) -> str:
    job = job_by_id(database, job_id)
    assert job
    return str(job.revision_id)


def test_a_booked_job_takes_no_late_edit_from_an_old_tab(client: TestClient, database: Database) -> None:
    saw = revision(database)
    assert client.post("/jobs/4/book", data={"note": "", "saw": saw}).status_code == 303
    late = client.post("/jobs/4/measure", data={"whole": "1", "saw": saw, "chainstay_mm": "500"})
    assert late.status_code == 409
    assert "nothing was changed" in late.text
    assert client.get("/jobs/4").headers["location"] == "/bikes/1"
    assert client.get("/bin").text.count("Off Otter, ") == 2


def test_healthz_has_version_and_schema_number(client: TestClient, database: Database) -> None:
    body = client.get("/healthz").json()
    assert (body["status"], body["schema"]) == ("ok", database.schema_number)


TEXTS = [
    "",
    "0",
    "-1",
    "1e9",
    "999999999",
    "431,5",
    "NaN",
    "\x00",
    "<b>",
    "🚲",
    "１２",
    "11-46",
    "pivot",
    "table",
    "growth",
]
TEXTS += ["0 430\n50 440", "8, 52", "drive over 18 -14 82", "yes", "rivet", "null", "432 ± 3", "± 5", "2500", "70", "9"]


def test_a_count_typed_in_links_is_told_in_pairs_beside_it(client: TestClient) -> None:
    for path, text, told in (("chain.box_links", "116", "58 pairs"), ("rings", "31", "")):
        typed = client.post("/jobs/4/typed", data={"saw": "4", path: text}).text
        note = typed.partition(f"{path}-notes")[2].partition("</hx-partial>")[0]
        assert note and told in note and ("pairs" in note) == bool(told)


@settings(max_examples=10, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    form=st.dictionaries(
        st.sampled_from([*form_fields(), "saw", "whole"]), st.sampled_from(TEXTS), min_size=1, max_size=8
    ),
    job=st.sampled_from([4, 6, 7]),
    look=st.sampled_from(["", "?links=999", "?travel=999", "?if_cogs=11-46", "?if_chainstay=0"]),
)
@example(form={"chain.box_links": "116 116"}, job=4, look="")  # one field alone, which leans on another
def test_no_measures_break_any_page(client: TestClient, form: dict[str, str], job: int, look: str) -> None:
    for path in ("typed", "sure", "measure"):
        assert client.post(f"/jobs/{job}/{path}{look}", data=form).status_code in (200, 303)
    for stage in ("receive", "measure", "size", "cut", "join", "prove", "book", "route"):
        assert client.get(f"/jobs/{job}/{stage}{look}").status_code in (200, 422)
    assert client.get("/").status_code == 200
    client.post(f"/jobs/{job}/undo")
