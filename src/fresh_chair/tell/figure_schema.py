"""The form of the figures as JSON, as a schema that `fresh-chair figures --json` fits, and nothing else."""

from typing import Any, Literal

from pydantic import BaseModel, ConfigDict


class _Part(BaseModel):
    model_config = ConfigDict(extra="forbid")


class EstimateData(_Part):
    """One figure; `x` stands with rates only."""

    x: int | None = None
    value: float | None
    low: float | None
    high: float | None
    n: int
    method: str
    level: float
    note: str


class CellData(_Part):
    """One task on one chair; seconds are of the time that `times` names."""

    task: str
    chair: str
    n: int
    not_reached: int
    outcomes: dict[str, int]
    completed_unaided: EstimateData
    completed: EstimateData
    completed_by_workaround: int
    seconds_completed: EstimateData
    seconds_all: EstimateData
    seconds_default: Literal["completed", "all"]
    ease: EstimateData
    ease_counts: list[int]
    assists: int
    wrong_places: int
    said_done_was_not: int
    later_tries: int
    benchmark_seconds: float | None
    efficiency: float | None


class ComparisonData(_Part):
    """Two chairs on one task."""

    task: str
    measure: Literal["completion", "completed unaided", "time"]
    first: str
    second: str
    estimate: EstimateData
    p: float | None
    p_adjusted: float | None
    left_out: int
    verdict: Literal["first better", "second better", "cannot tell"]
    completed_more: float
    same_people: bool
    rank_p: float | None
    censored_p: float | None


class CompletionBesideData(_Part):
    """Completion of the pair beside another measure; done and tried at the first chair and at the second."""

    measure: Literal["completed unaided", "completed"]
    value: float | None
    error: float
    low: float | None
    high: float | None
    p_adjusted: float
    done: list[int]
    tried: list[int]


class SharePartData(_Part):
    """A part of the net share of who fared better."""

    part: Literal["outcome", "time"]
    value: float
    low: float | None
    high: float | None


class PairData(_Part):
    """Two chairs on one measure over all tasks; times in log seconds, completion and net shares of 1."""

    first: str
    second: str
    people: int
    value: float | None
    error: float | None
    degrees: float
    differences: list[float]
    common: list[str]
    left_out: list[str]
    margin: float
    said: str
    winner: str
    low: float | None
    high: float | None
    level: float
    p: float | None
    p_adjusted: float | None
    q: float | None
    q_adjusted: float | None
    beyond: float | None
    beyond_adjusted: float | None
    why: str
    alone: bool
    family: int
    completions: list[CompletionBesideData]
    against: Literal["completed unaided", "completed", ""]
    before: str | None
    parts: list[SharePartData]
    took_longer: float | None


class PeopleAloneData(_Part):
    """How the people themselves differ; it decides nothing."""

    first: int
    second: int
    even: int
    p: float | None


class ToldPairData(PairData):
    """The same with its people and its sentence."""

    people_alone: PeopleAloneData
    sentence: str


class ShiftData(_Part):
    """The effect of a later position."""

    position: int
    value: float
    error: float
    degrees: float


class MeasureData(_Part):
    """One measure over all tasks."""

    attempts: int
    dropped: list[str]
    positions: list[ShiftData]
    pairs: list[ToldPairData]


class OverallData(_Part):
    """Chairs compared over all tasks."""

    primary: str | None
    decided_late_wall_ns: list[int]
    notes: list[str]
    measures: dict[str, MeasureData]


class ThresholdData(_Part):
    """One threshold at one chair."""

    measure: str
    level: float
    why: str
    chair: str
    held: Literal["met", "not met", "open"]
    estimate: EstimateData


class GroupData(_Part):
    """The main measure among the people of one group."""

    group: str
    people: int
    asked_beforehand: bool
    completed: dict[str, EstimateData]
    measure: str
    pairs: list[PairData]


class OwnScaleData(_Part):
    """One of the study's own scales."""

    question: str
    points: int
    margin: float
    means: dict[str, EstimateData]
    pairs: list[PairData]


class PreferencePairData(_Part):
    """How many people put which of two chairs first."""

    first: str
    second: str
    for_first: int
    for_second: int
    p: float | None
    p_adjusted: float | None


class PreferenceData(_Part):
    """The order of preference."""

    people: int
    mean_ranks: dict[str, float]
    p: float | None
    pairs: list[PreferencePairData]


class MachineData(_Part):
    """The machine's share of a chair, or of a task on it."""

    card: str
    chair: str
    attempts: int
    elapsed_seconds: float
    wait_seconds: float
    shown_seconds: float
    silent_seconds: float
    frozen_seconds: float
    longest_silent_seconds: float
    restarts: int
    new_logins: int
    completed_hands: EstimateData
    completed_elapsed: EstimateData


class EdgeData(_Part):
    """A way from one place to the next, or to the end of the attempt."""

    origin: str
    target: str
    end: str | None
    attempts: int


class RouteData(_Part):
    """The ways of one task on one chair."""

    card: str
    chair: str
    attempts: int
    first_right: EstimateData
    edges: list[EdgeData]
    lostness: EstimateData
    expected: list[str]


class OrderData(_Part):
    """How later chairs went against the first."""

    position: int
    ratio: EstimateData


class SatisfactionData(_Part):
    """The System Usability Scale at one chair."""

    chair: str
    scores: dict[str, float | None]
    mean: EstimateData


class FiguresData(_Part):
    """All figures of a study."""

    format: Literal["fresh-chair-figures"]
    format_version: Literal[11]
    study: str
    own_evidence_only: bool
    not_own_evidence: int
    times: Literal["hands", "elapsed"]
    rate_interval: Literal["adjusted Wald", "Clopper-Pearson"]
    broken_off: dict[str, list[int]]
    cells: list[CellData]
    comparisons: list[ComparisonData]
    sentences: dict[str, list[str]]
    order: list[OrderData]
    conditions: list[str]
    overall: OverallData
    thresholds: list[ThresholdData]
    thresholds_late_wall_ns: list[int]
    groups: list[GroupData]
    own_scales: list[OwnScaleData]
    preference: PreferenceData | None
    machine: list[MachineData]
    elapsed: list[PairData] | None
    routes: list[RouteData]
    satisfaction: list[SatisfactionData]


def figures_schema() -> dict[str, Any]:
    """The JSON Schema of the figures."""
    return {"$schema": "https://json-schema.org/draft/2020-12/schema", **FiguresData.model_json_schema()}
