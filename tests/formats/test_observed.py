"""Notes made at the stand, when two requests cross."""

from lone_pike.formats.observed import observed_of


def test_a_late_form_changes_only_what_it_changed() -> None:
    base = {"pressure_before": "180 psi"}
    newest = base | {"steps": "noted, empty"}
    late = {"observed.pressure_before": "185 psi", "observed.steps": ""}
    assert observed_of(base, newest, late) == {"pressure_before": "185 psi", "steps": "noted, empty"}


def test_an_emptied_note_goes_and_one_that_was_not_sent_stays() -> None:
    kept = {"pressure_before": "180 psi", "steps": "noted"}
    assert observed_of(kept, kept, {"observed.steps": " "}) == {"pressure_before": "180 psi"}
