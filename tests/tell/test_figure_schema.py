"""The figures as JSON fit their schema, whichever study they are of and however they are taken."""

import json
from pathlib import Path

import pytest
from pydantic import ValidationError

from fresh_chair.services.figures.study_figures import weigh
from fresh_chair.services.file.new_study import new_second_round
from fresh_chair.services.study.open_study import OpenStudy, create_study, open_study
from fresh_chair.tell.figure_data import figures_data
from fresh_chair.tell.figure_schema import FiguresData, figures_schema
from tests.builders import small_study

DOCUMENTED = Path(__file__).parents[2] / "docs" / "figures.schema.json"


def fits(opened: OpenStudy, **choice: object) -> FiguresData:
    text = json.dumps(figures_data(weigh(opened, **choice)), allow_nan=False)  # type: ignore[arg-type]
    return FiguresData.model_validate_json(text, strict=True)


def test_the_demo_fits_by_every_choice(demo: OpenStudy) -> None:
    assert fits(demo).times == "hands"
    assert fits(demo, times="elapsed", interval="Clopper-Pearson").elapsed is None
    assert fits(demo, own=True).own_evidence_only


def test_groups_and_an_empty_study_fit(tmp_path: Path) -> None:
    new_second_round(tmp_path / "second.fresh")
    create_study(tmp_path / "empty.fresh", small_study(people=2, chairs=2, cards=2))
    for name in ("second", "empty"):
        opened = open_study(tmp_path / f"{name}.fresh", write=False)
        assert len(fits(opened).groups) == (2 if name == "second" else 0)
        opened.close()


def test_a_key_that_is_not_documented_does_not_fit(demo: OpenStudy) -> None:
    data = figures_data(weigh(demo))
    with pytest.raises(ValidationError):
        FiguresData.model_validate({**data, "another": 1})


def test_the_documented_schema_is_that_of_the_code() -> None:
    assert json.loads(DOCUMENTED.read_text(encoding="utf-8")) == json.loads(json.dumps(figures_schema()))
