"""Which rivet to push: the model's examples, and every cut replayed on a chain made of letters."""

import pytest

from lone_pike.core.bike.base import BoxEnds
from lone_pike.core.bike.faults import InvalidInput
from lone_pike.core.bike.joiners import JOINERS, JoinerKind
from lone_pike.core.chain.cutting import plan_cut
from lone_pike.core.chain.trial import Verdict, try_push
from tests.bikes import told, wide_bike, wide_document


def chain_of(**chain: object) -> dict[str, object]:
    return {"speeds": 11, **chain}


def test_quick_link_example_of_the_model_section_6() -> None:
    cut = plan_cut(wide_bike(chain=chain_of(box_links=125, joiner="quick_link")), 116)
    assert cut
    assert (cut.keep_links, cut.push_from_start, cut.push_from_end, cut.offcut_links) == (115, 115, 10, 10)
    assert (cut.keep_ends, cut.offcut_ends) == (("inner", "inner"), ("outer", "inner"))


def test_joining_pin_example_of_the_model_section_6() -> None:
    cut = plan_cut(wide_bike(chain=chain_of(box_links=125, joiner="joining_pin")), 116)
    assert cut
    assert (cut.keep_links, cut.push_from_start, cut.push_from_end, cut.offcut_links) == (116, 116, 9, 9)
    assert (cut.keep_ends, cut.offcut_ends) == (("inner", "outer"), ("inner", "inner"))


def test_a_box_of_126_with_its_link_is_125_loose() -> None:
    cut = plan_cut(wide_bike(chain=chain_of(box_links=126, box_includes_joiner=True, joiner="locking_link")), 116)
    assert cut and cut.box_links == 125


@pytest.mark.parametrize("joiner", list(JoinerKind))
@pytest.mark.parametrize("ends", list(BoxEnds))
def test_every_cut_of_every_box_closes_into_its_count(joiner: JoinerKind, ends: BoxEnds) -> None:
    """All boxes of 20 to 46 links for all counts of 20 to 44: cut a chain of plates as planned, join it, and look.

    Right count, plates in turn, a link joiner between inner ends, a pin between unlike ones, nothing lost; and every
    other rivet is told to be another.
    """
    first, last = ends.split("_")
    other = {"inner": "outer", "outer": "inner"}
    for box in range(20, 47):
        plates = [first if i % 2 == 0 else other[first] for i in range(box)]
        if plates[-1] != last:
            continue
        chain = {"speeds": 1, "box_links": box, "joiner": joiner, "box_ends": ends, "offset_link": True}
        bike = wide_bike(chain=chain)
        for links in range(20, 45):
            cut = plan_cut(bike, links)
            assert cut
            if cut.missing_links:
                assert cut.keep_links + cut.trim_links == box + cut.missing_links
                continue
            kept = plates[cut.trim_links : cut.trim_links + cut.keep_links]
            assert cut.trim_links + len(kept) + cut.offcut_links == box
            assert (kept[0], kept[-1]) == cut.keep_ends
            loop = kept + (["outer"] if JOINERS[joiner].links else [])
            assert len(loop) + cut.offset_links == links
            assert all(a != b for a, b in zip(loop, [*loop[1:], loop[0]], strict=True))
            if cut.push_from_start is not None and cut.push_from_end is not None:
                assert cut.push_from_start + cut.push_from_end == box
                assert cut.offcut_ends == (plates[cut.push_from_start], plates[-1])
            trials = {joint: try_push(cut, joint, links) for joint in range(1, box)}
            right = [joint for joint, trial in trials.items() if trial and trial.verdict is Verdict.RIGHT]
            assert right == ([] if cut.push_from_start is None else [cut.push_from_start])
            for joint, trial in trials.items():
                assert trial and (trial.rest.first, trial.rest.last) == (plates[joint], plates[-1])
                assert trial.rest.links == box - joint
                only_trims = joint <= cut.trim_links
                assert (trial.verdict is Verdict.TRIM) == only_trims
                assert trial.kept.links == joint - (0 if only_trims else cut.trim_links)


@pytest.mark.parametrize(("speeds", "refused"), [(8, False), (9, True)])
def test_a_rivet_is_never_driven_back_from_nine_cogs_up(speeds: int, refused: bool) -> None:
    chain = {"speeds": speeds, "box_links": 120, "joiner": "rivet"}
    if not refused:
        cut = plan_cut(wide_bike(chain=chain), 112)
        assert cut and not cut.push_fully_out
        return
    with pytest.raises(InvalidInput) as caught:
        wide_bike(chain=chain)
    assert caught.value.faults[0].field == "chain.joiner"


@pytest.mark.parametrize(
    ("joiner", "speeds", "fully_out"),
    [("quick_link", 8, True), ("locking_link", 11, True), ("joining_pin", 11, True), ("rivet", 8, False)],
)
def test_only_a_rivet_that_is_driven_back_stays_in_its_plate(joiner: str, speeds: int, fully_out: bool) -> None:
    """Trade, section 9: fully out for a quick link or a joining pin."""
    cut = plan_cut(wide_bike(chain={"speeds": speeds, "box_links": 120, "joiner": joiner}), 112)
    assert cut and cut.push_fully_out == fully_out


def test_a_short_box_says_how_many_links_are_missing() -> None:
    cut = plan_cut(wide_bike(chain=chain_of(box_links=106, joiner="locking_link", box_includes_joiner=True)), 112)
    assert cut and (cut.missing_links, cut.push_from_start, cut.offcut_links) == (6, None, 0)


def test_ends_that_do_not_go_with_the_count_are_refused() -> None:
    bike = wide_bike(**wide_document(chain=chain_of(box_links=118, box_ends="inner_inner")))
    with pytest.raises(InvalidInput) as caught:
        plan_cut(bike, 112)
    assert told(caught.value).endswith("here: inner_outer with 118 loose links. Count the box again.")


def test_a_pin_takes_a_box_that_begins_with_an_outer_link_as_it_is() -> None:
    """A pin needs unlike ends, and 112 links have them wherever they begin; a quick link needs the outer one off."""
    chain = chain_of(box_links=117, box_ends="outer_outer")
    pin, quick = (plan_cut(wide_bike(chain=chain | {"joiner": kind}), 112) for kind in ("joining_pin", "quick_link"))
    assert pin and (pin.trim_links, pin.keep_links, pin.push_from_start, pin.offcut_links) == (0, 112, 112, 5)
    assert quick and (quick.trim_links, quick.keep_links, quick.push_from_start, quick.offcut_links) == (1, 111, 112, 5)
