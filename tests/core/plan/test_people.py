"""Who somebody is to the study: screened, agreed, and known outside by a code alone."""

from dataclasses import fields

import pytest

from fresh_chair.core.plan.people import Consent, Participant, ScreenerQuestion, code_alone, lacking_consents, screened

SCREENER = (
    ScreenerQuestion(id="linux", ask="Have you used it?", accept=("no", "I do not know")),
    ScreenerQuestion(id="daily", ask="What do you use?"),
)
CONSENTS = (Consent(id="part", words="to take part"), Consent(id="again", words="to be asked again", needed=False))


def person(**parts: object) -> Participant:
    return Participant(code="P01", **parts)  # type: ignore[arg-type]


def test_the_screener_lets_in_whoever_gives_an_accepted_answer_whatever_its_case() -> None:
    assert screened(person(answers={"linux": "NO", "daily": "a tablet"}), SCREENER).result == "passed"


def test_an_answer_that_is_not_accepted_fails_with_its_reason() -> None:
    result = screened(person(answers={"linux": "yes", "daily": "a tablet"}), SCREENER)
    assert result.result == "failed"
    assert "“yes” is none of no, I do not know" in result.reasons[0]


def test_a_missing_answer_leaves_the_screener_open_and_experts_are_not_asked() -> None:
    assert screened(person(answers={"linux": "no"}), SCREENER).reasons == ("daily was not answered",)
    assert screened(person(role="expert"), SCREENER).result == "none"
    assert screened(person(), ()).result == "none"


def test_only_needed_consents_are_lacking() -> None:
    assert lacking_consents(person(), CONSENTS) == ("part",)
    assert lacking_consents(person(consents={"part": "2026-11-09"}), CONSENTS) == ()
    assert lacking_consents(person(left="ill"), CONSENTS) == ()


@pytest.mark.parametrize("day", ["", "yesterday", "2026-13-01"])
def test_a_consent_has_a_date(day: str) -> None:
    with pytest.raises(ValueError, match="is a date such as"):
        person(consents={"part": day})


def test_outside_the_study_nothing_of_who_somebody_is_remains() -> None:
    telling = {
        "profile": "secret",
        "uses": "secret",
        "uses_for": "secret",
        "comfort": 3,
        "linux": "never",
        "language": "secret",
        "aids": "secret",
        "answers": {"daily": "secret"},
        "consents": {"part": "2026-11-09"},
        "left": "secret",
    }
    bare = code_alone(person(role="pilot", replaces="P02", **telling))
    assert "secret" not in repr(bare)
    assert bare == Participant(code="P01", role="pilot", replaces="P02", left="left")
    assert set(telling) | {"code", "role", "group", "replaces", "erased"} == {part.name for part in fields(Participant)}
