"""A bike's words, closing without a booking, putting away, copies, and off-cuts taken by hand: nothing is lost."""

from fastapi.testclient import TestClient

from lone_pike.store.bikes import bike_by_id, bikes_like
from lone_pike.store.bin import pieces_in_bin
from lone_pike.store.database import Database
from lone_pike.store.jobs import job_by_id


def names(database: Database, text: str) -> list[str]:
    return [bike.name for bike in bikes_like(database, text, 1, 50)]


def test_a_bike_is_found_by_everything_that_is_said_of_it(client: TestClient, database: Database) -> None:
    assert (
        client.post("/bikes/5/words", data={"owner_word": "the red one", "story": "Left at the slip."}).status_code
        == 303
    )
    name = bike_by_id(database, 5).name
    assert names(database, "RED ONE") == names(database, "at the slip") == [name]
    assert names(database, "new cassette") == ["Otter"], "by the complaint of its job"
    assert "Otter" in names(database, "110"), "by a count that was fitted"
    client.post("/bikes/5/words", data={"owner_word": "", "story": ""})
    assert "the red one" in client.get("/bikes/5").text, "what stood there before is offered"
    for asked, found in (("BMX", {"Coot", "Tern"}), ("hub gear", {"Scaup"}), ("vertical", {"Smew"})):
        shown = client.get("/bikes", params={"find": asked}).text
        assert {name for name in ("Coot", "Tern", "Scaup", "Smew", "Otter") if f">{name}<" in shown} == found


def test_the_newest_bike_stands_first(client: TestClient, database: Database) -> None:
    client.post("/jobs", data={"name": "Zander"})
    client.post("/jobs", data={"name": "Avocet"})
    assert names(database, "")[:2] == ["Avocet", "Zander"]


def test_a_job_is_closed_without_a_booking_and_opened_again(client: TestClient, database: Database) -> None:
    job = job_by_id(database, 4)
    assert job and client.post("/jobs/4/close").headers["location"] == f"/bikes/{job.bike_id}"
    assert "Otter" not in client.get("/").text.split("Start a job")[0]
    assert client.post("/jobs/4/measure", data={"chainstay_mm": "440"}).status_code == 409
    assert "Open its" in client.get(f"/bikes/{job.bike_id}").text
    assert client.post("/jobs/4/reopen").status_code == 303
    assert client.get("/jobs/4/measure").status_code == 200
    assert job_by_id(database, 4) == job


def test_a_bike_is_put_away_and_brought_back(client: TestClient, database: Database) -> None:
    shelduck = next(bike for bike in bikes_like(database, "Shelduck", 1, 2))
    assert client.post(f"/bikes/{shelduck.id}/put-away").status_code == 303
    assert "Shelduck" not in names(database, "") and names(database, "Shelduck") == ["Shelduck"]
    assert "put away" in client.get("/bikes?find=Shelduck").text
    client.post(f"/bikes/{shelduck.id}/put-away", data={"back": "yes"})
    assert "Shelduck" in names(database, "")
    in_hand = job_by_id(database, 4)
    assert in_hand and client.post(f"/bikes/{in_hand.bike_id}/put-away").status_code == 409


def test_a_copy_starts_as_the_bike_it_is_like_and_leaves_that_alone(client: TestClient, database: Database) -> None:
    before = bike_by_id(database, 1)
    location = client.post("/jobs", data={"bike": "1", "copy": "yes"}).headers["location"]
    job = job_by_id(database, int(location.rsplit("/", 1)[1]))
    assert before and job and job.bike_id != 1
    assert job.document == before.document | {"name": f"{before.name} copy"}
    assert bike_by_id(database, 1) == before


def test_a_complaint_is_told_at_the_start_and_later_and_undone(client: TestClient, database: Database) -> None:
    location = client.post("/jobs", data={"name": "Teal", "complaint": "Ticks once a turn"}).headers["location"]
    job = job_by_id(database, int(location.rsplit("/", 1)[1]))
    assert job and job.complaint == "Ticks once a turn"
    client.post(f"{location}/measure", data={"saw": str(job.revision_id), "observed.complaint": "Jumps in the hills"})
    changed = job_by_id(database, job.id)
    assert changed and changed.complaint == "Jumps in the hills"
    client.post(f"{location}/undo", data={"saw": str(changed.revision_id)})
    undone = job_by_id(database, job.id)
    assert undone and undone.complaint == "Ticks once a turn"


def test_an_offcut_is_taken_by_hand_and_laid_back(client: TestClient, database: Database) -> None:
    before = pieces_in_bin(database).rows
    assert client.post(f"/bin/{before[0].id}/take").headers["location"] == f"/bin?taken={before[0].id}"
    assert pieces_in_bin(database).rows == before[1:]
    assert f"/bin/{before[0].id}/lay-back" in client.get(f"/bin?taken={before[0].id}").text
    client.post(f"/bin/{before[0].id}/lay-back")
    assert pieces_in_bin(database).rows == before
    assert client.post("/bin/9999/take").status_code == 404
