"""What pages say in small: limits that a shop cannot change, what a piece makes, where a press on the photo lies."""

import pytest
from fastapi.testclient import TestClient

from lone_pike.core.bike.limits import LIMITS
from lone_pike.core.chain.moves import PieceSource
from lone_pike.formats.typed.bin_form import read_label
from lone_pike.store.bin import piece_by_id
from lone_pike.store.database import Database
from lone_pike.store.jobs import job_by_id
from lone_pike.web.bin.view import makes_of
from lone_pike.workshop import bin as shelf
from tests.web.reading import Texts
from tests.workshop.test_whole_job import NOW


def test_the_shop_lists_the_limits_that_it_cannot_change_and_no_others(client: TestClient) -> None:
    listed = " ".join(Texts(client.get("/shop").text).text.split()).partition("Other limits")[2]
    fixed = {one.why for one in LIMITS.values() if not one.shop_may_change}
    assert {one.why for one in LIMITS.values() if " ".join(one.why.split()) in listed} == fixed


@pytest.mark.parametrize(("links", "code"), [(57, "adds_up_to"), (59, "makes_up_to"), (61, "makes_up_to")])
def test_a_piece_makes_a_chain_from_60_links_on(database: Database, links: int, code: str) -> None:
    """With a locking link of one link, 59 links between inner ends make 60."""
    piece = shelf.add_piece(database, read_label(f"LP1*{links}*I*11*0*EDGE"), PieceSource.SCAN, NOW)
    row = piece_by_id(database, piece)
    assert row and makes_of(row).code == code


def test_a_press_on_the_photo_lies_in_the_middle_of_its_pixel_both_ways(client: TestClient, database: Database) -> None:
    client.post("/jobs/8/photo/mark", data={"mark": "axle", "at.x": "300", "at.y": "300"})
    job = job_by_id(database, 8)
    assert job and job.observed.photo
    x, y = job.observed.photo.marks["axle"]
    assert x == pytest.approx(y) and x > 300
