"""Notes made at the stand, when two requests cross."""

from lone_pike.formats.records.merging import merge
from lone_pike.formats.records.observed import Observed, merged, notes_typed, observed_of, record_of
from lone_pike.formats.records.photo_notes import PhotoNotes, with_mark


def test_a_late_form_changes_only_what_it_changed() -> None:
    base = Observed(pressure_before="180 psi", steps=("noted",))
    newest = Observed(pressure_before="180 psi", steps=("noted", "empty"))
    late = notes_typed({"observed.pressure_before": "185 psi", "observed.steps": "noted"}, base)
    assert merged(base, newest, late) == Observed(pressure_before="185 psi", steps=("noted", "empty"))


def test_an_emptied_note_goes_and_one_that_was_not_sent_stays() -> None:
    kept = Observed(pressure_before="180 psi", steps=("noted",))
    assert notes_typed({"observed.steps": " "}, kept) == Observed(pressure_before="180 psi")


def test_two_marks_of_one_photo_are_both_kept() -> None:
    photo = PhotoNotes(7)
    base, mine, theirs = (
        Observed(photo=one) for one in (photo, with_mark(photo, "crank", (1, 2)), with_mark(photo, "axle", (3, 4)))
    )
    both = merged(base, theirs, mine).photo
    assert both and both.marks == {"crank": (1, 2), "axle": (3, 4)}


def test_what_is_kept_reads_back_and_older_records_read_as_well() -> None:
    notes = PhotoNotes(7, {"crank": (1120.5, 559.5)}, 38, 250.0, (38, 32))
    observed = Observed(complaint="slips", threaded=("cog", "ring"), photo=notes)
    assert observed_of(record_of(observed)) == observed
    older = {"complaint": "slips", "threaded": "cog, ring", "photo": "7", "photo.crank": "1120.5 559.5"}
    older |= {"photo.ring": "38", "photo.ruler": "250", "photo.gear": "38 32"}
    assert observed_of(older) == observed
    assert record_of(Observed()) == {}


def test_two_changes_of_one_thing_clash_unless_they_agree() -> None:
    assert merge({"a": 1}, {"a": 2}, {"a": 3}, 0).clashes
    assert not merge({"a": 1}, {"a": 2}, {"a": 2}, 0).elsewhere
