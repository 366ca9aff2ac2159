"""What comes in a fixed set is declared whole: every member has all that each must have."""

from importlib.resources import files

import pytest

from lone_pike.core.bike.joiners import JOINERS, JoinerKind
from lone_pike.core.stages import STAGES
from lone_pike.core.take_up.kinds import KINDS
from lone_pike.devices.declared import DEVICES, StandInRequest
from lone_pike.formats.files.bike_file import bike_from_document
from lone_pike.formats.records.shop import Shop
from lone_pike.formats.typed.measure_form import form_fields
from lone_pike.store.database import Database
from lone_pike.web.job.measure.typical import typical_small
from lone_pike.web.job.stages import VIEWS
from lone_pike.web.pages import environment
from lone_pike.wording.joiners import JOINER_WORDS
from lone_pike.wording.kinds import KIND_WORDS
from lone_pike.wording.sentences import SENTENCES
from lone_pike.wording.terms import TERMS
from tests.bikes import SAMPLES

PARTS = files("lone_pike.web") / "job"


def names_in(database: Database, table: str) -> set[str]:
    return {row["name"] for row in database.connection.execute(f"SELECT name FROM {table}")}


@pytest.mark.parametrize("name", KINDS)
def test_a_kind_has_its_words_fields_drawing_walk_checks_and_sample(name: str) -> None:
    kind = KINDS[name]
    assert KIND_WORDS[name].name and KIND_WORDS[name].bikes
    assert typical_small(name), "a typical bike of it is sized and drawn"
    assert kind.part.ring_count[0] <= kind.part.ring_count[1] and kind.part.cog_count[0] <= kind.part.cog_count[1]
    placed = {*kind.first, *kind.searched, *(path for row in kind.more for path in row)}
    own = {f"take_up.{field.alias or key}" for key, field in kind.part.model_fields.items() if key != "type"}
    assert own <= placed, "each of its own fields stands on Measure"
    assert all(form_fields()[path].label for path in placed)
    assert all(path in form_fields() or path == "axle_mm" for _, fields in kind.drawn for path in fields)
    assert kind.walk in SENTENCES
    assert all(check in TERMS["step"] for check in kind.checks)
    assert any(document["take_up"]["type"] == name for document in SAMPLES.values())


def test_no_words_are_left_over() -> None:
    assert set(KIND_WORDS) == set(KINDS)
    assert set(JOINER_WORDS) == set(JOINERS) == set(JoinerKind)


@pytest.mark.parametrize("kind", JOINERS)
def test_a_joiner_has_its_words_drawing_and_row(kind: JoinerKind, database: Database) -> None:
    words = JOINER_WORDS[kind]
    assert words.name and words.seat.endswith(".") and words.look.endswith(".")
    draw = environment.get_template("drawing/joiners.svg").module.joiner_state  # type: ignore[attr-defined]
    drawn = [str(draw(str(kind), state)) for state in ("out", "half", "in")]
    assert len(set(drawn)) == 3 and all("joiner-p" in one or "joiner-clip" in one for one in drawn)
    assert kind in names_in(database, "joiner_kind")
    assert (
        bike_from_document(
            {**SAMPLES["Otter"], "cogs": [16], "take_up": {"type": "none"}, "chain": {"joiner": str(kind)}}
        ).joiner
        is kind
    )


@pytest.mark.parametrize("name", STAGES)
def test_a_stage_has_its_name_view_templates_row_and_question(name: str, database: Database) -> None:
    stage = STAGES[name]
    assert stage.label and stage.key == name
    assert all((PARTS / name / part).is_file() for part in ("_bench.html", "_panel.html"))
    assert set(VIEWS) == set(STAGES)
    assert name in names_in(database, "stage")
    assert not stage.question or stage.question in SENTENCES


@pytest.mark.parametrize("name", DEVICES)
def test_a_device_has_its_name_and_a_stand_in_that_it_understands(name: str) -> None:
    device = DEVICES[name]
    lines = list(device.stand_in(StandInRequest(links=57, grams=250.0, drift_g=0.0)))
    assert device.label and lines
    if device.read:
        assert device.read(lines) and str(device.read(lines)) != str(device.read([]))


@pytest.mark.parametrize("name", Shop.model_fields)
def test_a_setting_has_its_label_its_words_and_its_place(name: str) -> None:
    field = Shop.model_fields[name]
    assert TERMS["setting"][name]
    page = environment.loader.get_source(environment, "pages/shop/shop.html")[0]
    assert f'"{name}"' in page or "own.name" in page
    choices = getattr(field.annotation, "__members__", {})
    kind = "house_rule" if name == "house_rule" else "setting_value"
    assert all(str(one.value) in TERMS.get(kind, TERMS["house_rule"]) for one in choices.values()), name
