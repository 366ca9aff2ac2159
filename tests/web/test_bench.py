"""The cutting bench: a mistake and its recovery, the bin, the devices, and what is printed."""

import re
import xml.etree.ElementTree as ElementTree

import pytest
from fastapi.testclient import TestClient
from playwright.sync_api import Page, expect

from lone_pike.core.chain.weighing import label_line
from lone_pike.devices.stand_in import counter_lines, scale_lines
from lone_pike.formats.files.pdf import pdf_of
from lone_pike.formats.records.shop import Shop
from lone_pike.store.bin import joiners_there, pieces_in_bin
from lone_pike.store.database import Database
from lone_pike.store.jobs import job_by_id
from lone_pike.web.job.paper.view import strip_sheets
from lone_pike.web.job.work import Work
from lone_pike.web.pages import environment
from lone_pike.web.view_state import ViewState
from lone_pike.wording.units import DisplayUnits
from tests.web.reading import settled

PT_MM = 25.4 / 72


@pytest.mark.parametrize(("at", "word"), [(40, "Ten back"), (37, ">Back")])
def test_a_step_back_is_ten_links_from_a_whole_ten(client: TestClient, at: int, word: str) -> None:
    page = client.get(f"/jobs/4/tally?at={at}").text
    assert (word in page) and ("Ten back" in page) == (at == 40)


def test_a_cut_at_the_wrong_rivet_is_recovered_from_the_bin(
    page: Page, base_url: str, client: TestClient, database: Database
) -> None:
    """117 loose for 112: cut at 100 in place of 111, and the 17 are lost; the bin has 21. 99 + 11 + 2 links."""
    boxed = next(row.id for row in pieces_in_bin(database) if row.code == "BOX-0126")
    client.post(f"/bin/{boxed}/take")
    page.goto(f"{base_url}/jobs/4/cut")
    page.get_by_label("Try a rivet first").fill("100")
    page.get_by_role("button", name="Try").click()
    expect(page.get_by_text("inner to outer; a locking link won't fit there.")).to_be_visible()
    page.get_by_label("Try a rivet first").fill("111")
    page.get_by_role("button", name="Try").click()
    expect(page.get_by_text("closes into 112 links. That is the one.")).to_be_visible()
    page.locator("#strip-bed [data-joint='100']").click(force=True)
    expect(page.get_by_text("Cutting at 100 leaves")).to_be_visible()
    page.get_by_role("button", name="Already cut here").click()
    expect(page.get_by_text("Cut at rivet 100 by mistake: 100 links and 17 links are left")).to_be_visible()
    expect(page.get_by_role("group", name="Pieces").get_by_role("link")).to_have_count(2)
    page.goto(f"{base_url}/jobs/4/measure")
    page.get_by_label("Pieces at hand").fill("100 inner")
    page.get_by_role("button", name="Size it").click()
    expect(page.get_by_role("heading", name="Why 112 links")).to_be_focused()
    settled(page)
    page.get_by_role("button", name="Cut to 112 links").click()
    expect(page.get_by_role("heading", name="The bin has what is missing")).to_be_visible()
    expect(page.get_by_role("listitem").filter(has_text="21 links")).to_be_visible()
    settled(page)
    page.get_by_role("button", name="Take from the bin").click()
    kept = page.get_by_role("group", name="Pieces").get_by_role("link")
    expect(kept).to_have_count(2)
    counts = [int(text) for text in re.findall(r"keep (\d+)", " ".join(kept.all_inner_texts()))]
    assert sum(counts) == 112 - 2
    page.goto(f"{base_url}/bin")
    expect(page.get_by_role("link", name="Reserved: to its job")).to_have_count(1)
    before = joiners_there(database.connection, "locking_link", 11)
    page.goto(f"{base_url}/jobs/4/book")
    page.get_by_role("button", name="Book 112 links").click()
    expect(page.get_by_role("group", name="Fitted").first).to_contain_text("112 links")
    assert "CUT-0021" not in [row.code for row in pieces_in_bin(database)]
    assert joiners_there(database.connection, "locking_link", 11) == before - 2


def test_rivets_are_counted_from_either_end_and_from_the_mark(client: TestClient) -> None:
    """117 loose, push 111: the 6th from the far end; bare the ends meet at 108, so 4 past where they met."""
    for counted, shown in (("", "111"), ("&counted=end", "6"), ("&counted=mark", "4")):
        html = client.get(f"/jobs/4/cut?ring=30{counted}").text
        assert re.search(rf'aria-labelledby="push-rivet">{shown}<', html), counted
    assert 'data-joint="111">6</text>' in client.get("/jobs/4/cut?counted=end").text


def test_a_piece_tells_what_it_will_make(client: TestClient, database: Database) -> None:
    box = next(row for row in pieces_in_bin(database) if row.code == "BOX-0126")
    assert "Alone with a locking link up to 126 links." in client.get(f"/bin/{box.id}").text
    assert client.get("/bin/99999").status_code == 404


@pytest.mark.parametrize(
    ("path", "form", "says"),
    [
        ("/bin", {"links": "0", "speeds": "9"}, "Links: “0 links” won’t do here: 1 to 600 links."),
        ("/bin", {"links": "57½", "speeds": "9"}, "Links: “57½” won’t do here: 1 to 600 links."),
        ("/bin/joiners", {"kind": "clip_link", "speeds": "1", "change": "-9"}, "no more out than the 4 that are there"),
        ("/bin/joiners", {"kind": "staple", "speeds": "1", "change": "1"}, "Kind: “staple” won’t do here"),
        ("/bin/scan", {"label": "LP1*57*I"}, "Label: “LP1*57*I” won’t do here: a label of this workshop"),
        ("/bin/scan", {"label": label_line(57, "inner", 9, "CUT-0057")}, "CUT-0057 is in the bin already"),
        ("/bin/scan", {"label": ""}, "Label: Missing"),
    ],
)
def test_what_cannot_be_laid_in_is_said_and_stands_there_still(
    client: TestClient, path: str, form: dict[str, str], says: str
) -> None:
    answer = client.post(path, data=form)
    assert answer.status_code == 422 and says in answer.text
    assert all(
        f'value="{text}"' in answer.text for name, text in form.items() if name in ("links", "change", "label") and text
    )


def test_a_label_and_joiners_come_in(client: TestClient, database: Database) -> None:
    assert client.post("/bin/scan", data={"label": label_line(33, "outer", 9, "CUT-0033", 0.2)}).status_code == 303
    row = next(row for row in pieces_in_bin(database) if row.code == "CUT-0033")
    assert (row.links, row.first_end, row.last_end, row.wear_percent, row.source) == (
        33,
        "outer",
        "outer",
        0.2,
        "scan",
    )
    assert client.post("/bin/joiners", data={"kind": "clip_link", "speeds": "1", "change": "−4"}).status_code == 303
    assert "low: order more" in client.get("/bin").text


def test_a_piece_without_a_code_is_labelled_by_its_number_and_its_label_puts_nothing_in(
    client: TestClient, database: Database
) -> None:
    piece = next(row for row in pieces_in_bin(database) if not row.code)
    label = client.get(f"/bin/{piece.id}/label.svg").text
    assert f">{piece.links} links<" in label and f">{piece.own_code}<" in label
    assert label.partition("<svg")[2] in client.get(f"/bin/{piece.id}").text
    count = len(list(pieces_in_bin(database)))
    line = label_line(piece.links, piece.first_end, piece.speeds, piece.own_code)
    assert client.post("/bin/scan", data={"label": line}).status_code == 422
    assert client.post("/bin/scan", data={"label": piece.own_code.lower()}).status_code == 303
    assert len(list(pieces_in_bin(database))) == count


def test_the_counter_wheel_counts_links_not_bounces_and_ends_at_the_rivet(
    page: Page, base_url: str, client: TestClient
) -> None:
    page.goto(f"{base_url}/jobs/4/tally")
    assert client.post("/devices/counter", content="\n".join(counter_lines(57))).status_code == 204
    expect(page.get_by_label("Counted")).to_have_text("57")
    expect(page.get_by_text("By the counter wheel")).to_be_visible()
    client.post("/devices/counter", content="\n".join(counter_lines(300, seed=2)))
    expect(page.get_by_role("heading")).to_have_text("Push this rivet")
    expect(page.get_by_label("Counted")).to_have_text("111")
    page.goto(f"{base_url}/jobs/4/tally")
    page.mouse.click(640, 200)
    expect(page.get_by_label("Counted")).to_have_text("10")
    for _ in range(2):
        with page.expect_response(lambda answer: "wheel" in answer.url):
            pass
    expect(page.get_by_label("Counted")).to_have_text("10")
    assert client.post("/devices/kettle", content="x").status_code == 404


@pytest.mark.parametrize(
    ("lines", "says"),
    [
        (scale_lines(251.0), "251.0 g"),
        (scale_lines(240.0, drift_g=0.8), "The reading drifts: wait until it settles"),
        (["nonsense", "G x S", "G 1e9 S"], "No reading from the scale"),
    ],
)
def test_the_scale_says_its_weight_or_why_not(client: TestClient, lines: list[str], says: str) -> None:
    client.app.state.devices.lines.clear()  # type: ignore[attr-defined]
    client.post("/devices/scale", content="\n".join(lines))
    assert says in client.get("/jobs/4/weigh").text


def test_a_box_is_checked_by_weight(client: TestClient) -> None:
    """117 links at 2.15 g: 251.6 g; the off-cut of 6 links weighs 12.9 g. A box of 105 would weigh 225.8 g."""
    right = client.get("/jobs/4/weigh?chain=251.6&piece=12.9").text
    assert "By weight 117.0 links" in right and "that fits 117 links" in right
    assert "but the box says 117 links. Count again" in client.get("/jobs/4/weigh?chain=225.8&piece=43&links=20").text
    assert "The piece: “-3" in client.get("/jobs/4/weigh?chain=251&piece=-3").text


def points_mm(pdf: bytes) -> list[list[tuple[float, float]]]:
    """Where each page's content begins its lines, mm, by the matrices that are in force."""
    pages = []
    for stream in re.findall(rb"stream\r?\n(.*?)endstream", pdf, re.S):
        matrix, kept, operands, points = (1.0, 0.0, 0.0, 1.0, 0.0, 0.0), [], [], []
        for token in stream.split():
            if re.fullmatch(rb"-?\d*\.?\d+", token):
                operands.append(float(token))
                continue
            if token == b"q":
                kept.append(matrix)
            elif token == b"Q" and kept:
                matrix = kept.pop()
            elif token == b"cm" and len(operands) >= 6:
                a, b, c, d, e, f = operands[-6:]
                ma, mb, mc, md, me, mf = matrix
                matrix = (
                    a * ma + b * mc, a * mb + b * md, c * ma + d * mc, c * mb + d * md,
                    e * ma + f * mc + me, e * mb + f * md + mf,
                )  # fmt: skip
            elif token == b"m" and len(operands) >= 2:
                x, y = operands[-2:]
                a, b, c, d, e, f = matrix
                points.append(((x * a + y * c + e) * PT_MM, (x * b + y * d + f) * PT_MM))
            operands = []
        pages.append(points)
    return pages


@pytest.mark.parametrize("job_id", [4, 11])
def test_the_strip_lies_pitch_for_pitch_in_the_pdf(database: Database, job_id: int) -> None:
    """Rivets of ten links in a row, measured in the file: each 12.700 mm from the next, within 0.005."""
    job = job_by_id(database, job_id)
    assert job
    sized = Work(job, ViewState(), Shop(), job.document).sized
    assert sized
    sheets = strip_sheets(sized)
    context = {"sheets": sheets, "sheet": "A4", "name": "x", "links": sized.links, "units": DisplayUnits()}
    pdf = pdf_of(environment.get_template("pages/job/paper/strip.html").render(**context), plain=True)
    assert len(re.findall(rb"/Type /Page\b", pdf)) == len(sheets)
    rows: dict[int, set[float]] = {}
    for points in points_mm(pdf):
        for x, y in points:
            rows.setdefault(round(y * 20), set()).add(round(x, 3))
    spans = [
        (after - before, len(row))
        for row in rows.values()
        for before, after in zip(sorted(row), sorted(row)[10:], strict=False)
        if len(row) >= 11
    ]
    tens = [span for span, _ in spans if abs(span - 127) < 1]
    assert len(tens) >= 10
    assert all(abs(span / 10 - 12.7) <= 0.005 for span in tens)


def test_card_and_pictures_stand_alone(client: TestClient) -> None:
    for job in (4, 6, 9, 11):
        for sheet in ("a4", "letter"):
            card = client.get(f"/jobs/{job}/card.pdf?sheet={sheet}")
            assert card.status_code == 200 and card.content.startswith(b"%PDF")
    for name in ("side", "rail", "dials", "strip", "tool"):
        answer = client.get(f"/jobs/4/picture/{name}.svg")
        root = ElementTree.fromstring(answer.text)
        assert root.tag.endswith("svg") and "var(" not in answer.text and "href" not in answer.text
    assert client.get("/jobs/4/picture/boom.svg").status_code == 404
    assert client.get("/jobs/11/picture/boom.svg").status_code == 200
    started = client.post("/jobs", data={"name": "Teal"}).headers["location"]
    assert client.get(f"{started}/card.pdf").status_code == 422
