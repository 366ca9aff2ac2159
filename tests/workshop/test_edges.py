"""What operations do at their edges: the first photo and the next, a mark beside it, a full note, one step undone."""

import pytest

from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.messages import LengthUnit
from lone_pike.demo.workshop import sample_photo
from lone_pike.formats.files.photo_file import read_photo
from lone_pike.formats.records.observed import LONGEST_NOTE
from lone_pike.formats.records.shop import settings_message
from lone_pike.store.database import Database
from lone_pike.workshop import jobs, photos, proving
from lone_pike.workshop.edits import job_there
from tests.bikes import said
from tests.workshop.test_whole_job import NOW

JOB = 4


def test_a_first_photo_is_taken_in_and_the_next_one_replaces_it(database: Database) -> None:
    file = read_photo(sample_photo())
    for code in ("photo_taken_in", "photo_replaced"):
        photos.take_photo_in(database, JOB, None, file, NOW)
        assert job_there(database, JOB).message.code == code


def test_a_mark_beside_the_photo_stands_on_its_edge(database: Database) -> None:
    photos.take_photo_in(database, JOB, None, file := read_photo(sample_photo()), NOW)
    for place, kept in (((-5.0, 1e6), (0.0, file.height)), ((1e6, -5.0), (file.width, 0.0)), ((7.0, 8.0), (7.0, 8.0))):
        photos.set_mark(database, JOB, None, "axle", place, NOW)
        photo = job_there(database, JOB).observed.photo
        assert photo and photo.marks["axle"] == kept


def test_a_note_takes_all_its_letters_and_not_one_more(database: Database) -> None:
    was = job_there(database, JOB).observed.complaint
    room = LONGEST_NOTE - len(was) - len("; ")
    with pytest.raises(InvalidInput):
        jobs.add_complaint(database, JOB, "x" * (room + 1), NOW)
    assert len(jobs.add_complaint(database, JOB, "x" * room, NOW).observed.complaint) == LONGEST_NOTE


def test_a_folder_of_backups_is_told_by_its_name_and_none_as_beside_the_file() -> None:
    changes = settings_message({"backup_folder": None}, {"backup_folder": "shed"}).values["changes"]
    change = changes[0]
    assert said(change).endswith("beside the data file → shed")  # type: ignore[arg-type]


def test_a_step_that_is_taken_back_leaves_the_others_as_they_were(database: Database) -> None:
    for step in ("clear_of_guide", "joiner_again"):
        proving.see(database, JOB, step, {"as_drawn": "1"}, LengthUnit.MM, NOW)
    proving.skip(database, JOB, "second_largest", "no time", NOW)
    proving.open_again(database, JOB, "clear_of_guide", NOW)
    observed = job_there(database, JOB).observed
    assert observed.proved == ("joiner_again",) and observed.skipped == (("second_largest", "no time"),)
