"""Notes made at the stand, when two requests cross."""

from lone_pike.formats.records.merging import merge
from lone_pike.formats.records.observed import notes_typed


def test_a_late_form_changes_only_what_it_changed() -> None:
    base = {"pressure_before": "180 psi"}
    newest = base | {"steps": "noted, empty"}
    late = notes_typed({"observed.pressure_before": "185 psi", "observed.steps": ""}, base)
    merged = merge(base, newest, late, "")
    assert merged.merged == {"pressure_before": "185 psi", "steps": "noted, empty"}
    assert not merged.clashes and list(merged.elsewhere) == ["steps"]


def test_an_emptied_note_goes_and_one_that_was_not_sent_stays() -> None:
    kept = {"pressure_before": "180 psi", "steps": "noted"}
    assert notes_typed({"observed.steps": " "}, kept) == {"pressure_before": "180 psi"}


def test_two_changes_of_one_thing_clash_unless_they_agree() -> None:
    assert merge({"a": 1}, {"a": 2}, {"a": 3}, 0).clashes
    assert not merge({"a": 1}, {"a": 2}, {"a": 2}, 0).elsewhere
