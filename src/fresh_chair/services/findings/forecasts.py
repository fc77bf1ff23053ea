"""Forecasts of a study, hunches among them: each with how sure it is, its seal and its outcome."""

from fresh_chair.core.evidence.records import Forecast
from fresh_chair.core.findings.foreseen import ForeseenHunch, foreseen
from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.study import Study
from fresh_chair.services.evidence.records import evidence_of_kind
from fresh_chair.services.findings.observations import marks_of
from fresh_chair.services.study.snapshot import StudyReading


@frozen
class ForecastLine:
    """One prediction.

    Attributes:
        sort: A hunch of what will trip newcomers, or any other forecast.
        about: The card and chair, or the thing, that it speaks of; as a target for a forecast.
        by: The day or the release by which it can be judged.
        late: Whether it was made when somebody had sat there already, and so is no prediction.
    """

    id: str
    sort: str
    what: str
    about: str
    by: str
    sure: str
    sealed: bool
    late: bool
    outcome: str
    note: str


def forecast_lines(opened: StudyReading) -> list[ForecastLine]:
    """All predictions of a study: forecasts in the order they came in, then hunches."""
    records = [held.record for held in evidence_of_kind(opened, "forecast")]
    found = [_forecast_line(record) for record in records if isinstance(record, Forecast)]
    return [*found, *(_hunch_line(opened.study, each) for each in hunches_held(opened))]


def _forecast_line(record: Forecast) -> ForecastLine:
    return ForecastLine(
        record.id, "forecast", record.what, record.bears_on, ", ".join(filter(None, (record.by, record.release))),
        record.sure, record.sealed, False, record.outcome, record.note,
    )  # fmt: skip


def hunches_held(opened: StudyReading) -> list[ForeseenHunch]:
    """Every hunch of a study against the attempts of the newcomers it spoke of."""
    state = opened.findings
    counted = [fact for fact in opened.facts() if opened.study.counted(fact.participant)]
    told = []
    for snag in marks_of(opened):
        if snag.kind == "snag" and opened.study.counted(snag.participant):
            judged = [state.by_id[name].severity for name in state.findings_of.get(snag.target, ())]
            told.append((snag, max((each for each in judged if each is not None), default=None)))
    return foreseen(opened.hunches, counted, told)


def _hunch_line(study: Study, each: ForeseenHunch) -> ForecastLine:
    hunch = each.hunch
    card = study.card_by_id.get(hunch.card)
    title = card.title if card is not None else hunch.card
    note = f"tripped {len(each.tripped)} of {len(each.tried)}" if each.tried else "nobody tried it yet"
    if each.found is not None:
        note += f"; severity {each.found} found"
    return ForecastLine(
        hunch.id, "hunch", hunch.words, f"{title}, at {hunch.chair}", "when newcomers have sat there",
        f"severity {hunch.severity}", hunch.sealed_wall_ns is not None, hunch.late, each.outcome, note,
    )  # fmt: skip
