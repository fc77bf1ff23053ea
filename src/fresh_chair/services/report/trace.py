"""From a number of a report to the marks under it, by the number's id: `completion/dark-screen/A`."""

from collections.abc import Callable, Iterable, Iterator, Mapping

from fresh_chair.core.errors import InputError
from fresh_chair.core.figures.facts import AttemptFact
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.findings.sorted_findings import FindingView
from fresh_chair.core.findings.state.finding import Scope
from fresh_chair.core.frozen import frozen
from fresh_chair.core.sitting.state.attempt import Attempt
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.walked import step_lines
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.findings.observations import sorted_findings_of
from fresh_chair.services.report.trace_records import (
    TracedMark,
    is_foreseen,
    is_score,
    of_foreseen,
    of_kinds,
    of_nothing,
    of_ratings,
    of_records,
    of_score,
)
from fresh_chair.services.sitting.view import look_back_between
from fresh_chair.services.study.snapshot import StudyReading


@frozen
class Traced:
    """A number of a report, its meaning in words, and the marks under it."""

    id: str
    words: str
    marks: tuple[TracedMark, ...]


def trace(opened: StudyReading, weighing: Weighing, number: str) -> Traced:
    """The marks under a number.

    Args:
        opened: The study.
        weighing: Its figures.
        number: The number's id, as reports carry it.

    Raises:
        InputError: Where there is no such number.
    """
    figure, *parts = number.strip().removeprefix("#").split("/")
    known = _FIGURES.get(figure)
    if known is None:
        names = ", ".join(sorted(_FIGURES))
        raise InputError(f"There is no figure {legible(clipped(figure, 30))}; there are {names}.", _HINT)
    words, fits, marks = known
    found = list(marks(opened, weighing, parts)) if fits(opened, parts) else None
    if found is None:
        raise InputError(f"There is no number {legible(clipped(number, 60))} in this study.", _HINT)
    return Traced(number, words, tuple(found))


_HINT = "An id is what a number is: its figure, card and chair, such as completion/dark-screen/A."
Marks = Callable[[StudyReading, Weighing, list[str]], Iterable[TracedMark]]
Fits = Callable[[StudyReading, list[str]], bool]


def _card_and_chair(opened: StudyReading, parts: list[str]) -> bool:
    study = opened.study
    return len(parts) == 2 and parts[0] in study.card_by_id and parts[1] in study.chair_by_letter


def _chair(opened: StudyReading, parts: list[str]) -> bool:
    return len(parts) == 1 and parts[0] in opened.study.chair_by_letter


def _pair(opened: StudyReading, parts: list[str]) -> bool:
    letters = parts[-1].split("-") if parts else []
    return len(parts) == 2 and len(letters) == 2 and all(letter in opened.study.chair_by_letter for letter in letters)


def _of_cell(opened: StudyReading, weighing: Weighing, parts: list[str]) -> Iterator[TracedMark]:
    """The attempts of a cell, first tries that count; of said done, was not, those alone."""
    card, chair = parts
    yield from _attempts(opened, [f for f in _counted(weighing) if (f.card, f.chair) == (card, chair)])


def _of_expert(opened: StudyReading, weighing: Weighing, parts: list[str]) -> Iterator[TracedMark]:
    """The expert's attempts at a card on a chair."""
    experts = {person.code for person in opened.study.people if person.role == "expert"}
    here = [f for f in opened.facts() if f.participant in experts and (f.card, f.chair) == (parts[0], parts[1])]
    yield from _attempts(opened, here)


def _mistaken(opened: StudyReading, weighing: Weighing, parts: list[str]) -> Iterator[TracedMark]:
    card, chair = parts
    here = [f for f in _counted(weighing) if (f.card, f.chair) == (card, chair) and f.said_done_was_not]
    yield from _attempts(opened, here)


def _of_chair(opened: StudyReading, weighing: Weighing, parts: list[str]) -> Iterator[TracedMark]:
    yield from _attempts(opened, [fact for fact in _counted(weighing) if fact.chair == parts[0]])


def _of_pair(opened: StudyReading, weighing: Weighing, parts: list[str]) -> Iterator[TracedMark]:
    """The attempts of everyone who sat at both chairs."""
    first, second = parts[-1].split("-")
    facts = _counted(weighing)
    both = {f.participant for f in facts if f.chair == first} & {f.participant for f in facts if f.chair == second}
    yield from _attempts(opened, [f for f in facts if f.participant in both and f.chair in (first, second)])


def _everything(opened: StudyReading, weighing: Weighing, parts: list[str]) -> Iterator[TracedMark]:
    yield from _attempts(opened, _counted(weighing))


def _usability(opened: StudyReading, weighing: Weighing, parts: list[str]) -> Iterator[TracedMark]:
    """The answers to the usability scale at a chair."""
    yield from of_kinds(opened, ("usability_answered", "usability_declined"), chair=parts[0])


def _threshold(opened: StudyReading, weighing: Weighing, parts: list[str]) -> Iterator[TracedMark]:
    """The ground of a threshold at a chair: its attempts, its answers, or the findings met there."""
    number, chair = int(parts[0]), parts[1]
    measure = opened.study.sheet.thresholds[number - 1].measure
    if measure == "satisfaction":
        yield from _usability(opened, weighing, [chair])
    elif measure == "severity":
        for view in sorted_findings_of(opened).findings:
            if any(spread.chair == chair and spread.people for spread in view.spread):
                yield from _seen(opened, view, chair)
    else:
        yield from _of_chair(opened, weighing, [chair])


def _is_threshold(opened: StudyReading, parts: list[str]) -> bool:
    held = len(opened.study.sheet.thresholds)
    return len(parts) == 2 and parts[0].isdecimal() and 1 <= int(parts[0]) <= held and _chair(opened, parts[1:])


def _view(opened: StudyReading, parts: list[str]) -> FindingView | None:
    name = parts[0].removeprefix("F") if parts else ""
    finding = opened.findings.by_number(int(name)) if name.isdecimal() else None
    return None if finding is None else sorted_findings_of(opened).by_id.get(finding.id)


def _is_finding(opened: StudyReading, parts: list[str]) -> bool:
    return _view(opened, parts) is not None and (len(parts) == 1 or _chair(opened, parts[1:]))


def _of_finding(opened: StudyReading, weighing: Weighing, parts: list[str]) -> Iterator[TracedMark]:
    view, chair = _view(opened, parts), parts[1] if len(parts) > 1 else ""
    if view is None:
        return
    seen = list(_seen(opened, view, chair))
    # Where nobody met it, the number stands on those who tried.
    tried = [fact for fact in _counted(weighing) if fact.card in view.cards and fact.chair == chair]
    yield from seen or _attempts(opened, tried)


def _seen(opened: StudyReading, view: FindingView, chair: str) -> Iterator[TracedMark]:
    for each in view.observations:
        if chair in ("", each.chair):
            entry = _entry_number(opened, each.sitting, each.entry)
            under = f"F{view.finding.number} {view.title}"
            yield TracedMark(each.sitting, each.participant, each.chair, entry, each.at, each.words, under)


def _severity(opened: StudyReading, weighing: Weighing, parts: list[str]) -> Iterator[TracedMark]:
    """The judgement itself with its reason, then the marks it stands on."""
    view = _view(opened, parts)
    if view is None:
        return
    judged = view.finding.severity_in(Scope(chair=parts[1] if len(parts) > 1 else ""))
    if judged is not None:
        words = f"severity {judged.severity}, by {judged.author}: {judged.reason}"
        yield TracedMark(0, "", "", view.id, "", words, f"F{view.finding.number} {view.title}")
    yield from _of_finding(opened, weighing, parts)


def _is_step(opened: StudyReading, parts: list[str]) -> bool:
    if len(parts) != 2 or not all(part.isdecimal() for part in parts):
        return False
    sitting = opened.sittings.get(int(parts[0]))
    return sitting is not None and any(line.number == int(parts[1]) for line in step_lines(sitting))


def _of_step(opened: StudyReading, weighing: Weighing, parts: list[str]) -> Iterator[TracedMark]:
    """Everything written down from the opening of a step of a walk until the next was opened."""
    number = int(parts[0])
    seat, lines = opened.study.seat(number), step_lines(opened.sittings[number])
    step = next(line for line in lines if line.number == int(parts[1]))
    later = [line.opened_seconds for line in lines if line.opened_seconds > step.opened_seconds]
    end = min(later, default=float("inf"))
    for line in look_back_between(opened, number, step.opened_seconds, end):
        yield TracedMark(number, seat.participant, seat.chair, str(line.number), line.at, line.text, step.title)


def _walked(opened: StudyReading, weighing: Weighing, parts: list[str]) -> Iterator[TracedMark]:
    """The steps of all walks through a chair."""
    for number, sitting in sorted(opened.sittings.items()):
        seat = opened.study.seat(number)
        if sitting.walk is not None and seat.chair in parts[0].split("-"):
            for line in step_lines(sitting):
                said = line.ending.words if line.ending is not None else "left open"
                entry = _entry_number(opened, number, line.entry)
                yield TracedMark(number, seat.participant, seat.chair, entry, "", f"{line.title}: {said}", line.title)


def _is_walked(opened: StudyReading, parts: list[str]) -> bool:
    return len(parts) == 1 and all(letter in opened.study.chair_by_letter for letter in parts[0].split("-"))


def _entry_number(opened: StudyReading, sitting: int, entry: str) -> str:
    return next((str(each.number) for each in opened.entries.get(sitting, ()) if each.id == entry), entry)


def _counted(weighing: Weighing) -> list[AttemptFact]:
    return [fact for fact in weighing.facts if fact.first_try and fact.outcome is not Outcome.VOID]


def _attempts(opened: StudyReading, facts: Iterable[AttemptFact]) -> Iterator[TracedMark]:
    """Everything written down in some attempts, mark by mark."""
    for fact in facts:
        attempt = opened.sittings[fact.sitting].attempts[fact.attempt - 1]
        card = opened.study.card_by_id.get(fact.card)
        title = fact.card if card is None else card.title
        for line in look_back_between(opened, fact.sitting, *_stretch(opened, fact.sitting, attempt)):
            yield TracedMark(fact.sitting, fact.participant, fact.chair, str(line.number), line.at, line.text, title)


def _stretch(opened: StudyReading, number: int, attempt: Attempt) -> tuple[float, float]:
    """From the reading of the card until the next one, in seconds of the sitting."""
    starts = [each.started_ns for each in opened.sittings[number].attempts if each.started_ns > attempt.started_ns]
    end = min(starts, default=None)
    return attempt.started_ns / 1e9, float("inf") if end is None else end / 1e9


# The figures that numbers are of: in words, whether the rest of an id fits, and the marks under it.
_FIGURES: Mapping[str, tuple[str, Fits, Marks]] = {
    **dict.fromkeys(
        ("completion", "unaided", "time", "ease", "first-choice", "lostness", "ways"),
        ("a figure of a task at a chair", lambda o, p: _card_and_chair(o, p) or _chair(o, p), lambda o, w, p: (
            _of_cell(o, w, p) if len(p) == 2 else _of_chair(o, w, p)
        )),
    ),
    "benchmark": ("the time of one who knows it", _card_and_chair, _of_expert),
    "said-done": ("believed done, and was not", _card_and_chair, _mistaken),
    **dict.fromkeys(
        ("completed", "waits", "people", "hands", "elapsed", "timed", "silent", "restarts"),
        ("a figure of all tasks at a chair", lambda o, p: _chair(o, p) or not p, lambda o, w, p: (
            _of_chair(o, w, p) if p else _everything(o, w, p)
        )),
    ),
    **dict.fromkeys(("tasks", "attempts"), ("all attempts that count", lambda o, p: not p, _everything)),
    "overall": ("two chairs compared over all tasks", _pair, _of_pair),
    "satisfaction": ("the usability scale at a chair", _chair, _usability),
    "threshold": ("a level that was decided to be good enough", _is_threshold, _threshold),
    "finding": ("a finding at a chair", _is_finding, _of_finding),
    "severity": ("how bad a finding is", _is_finding, _severity),
    "step": ("a step of a walk", _is_step, _of_step),
    "sittings": (
        "the sittings of a person",
        lambda o, p: len(p) == 1 and p[0] in o.study.person_by_code,
        lambda o, w, p: of_kinds(o, ("sitting_began", "sitting_ended", "sitting_broken_off"), code=p[0]),
    ),
    "fresh": ("how each sitting found its chair", lambda o, p: not p, lambda o, w, p: of_kinds(o, ("chair_found",))),
    "order": ("whether later chairs went faster", lambda o, p: not p, _everything),
    "preferred": ("which chairs people would rather have", lambda o, p: len(p) == 1, lambda o, w, p: (
        of_kinds(o, ("preference_given",))
    )),
    "alpha": ("how far raters agree", lambda o, p: not p, of_ratings),
    "foreseen": ("a prediction, and what happened", is_foreseen, of_foreseen),
    "record": ("what is on record of a chair", lambda o, p: len(p) == 2 and _chair(o, p[1:]), lambda o, w, p: (
        _walked(o, w, p[1:]) if p[0].startswith("the-reviewer") else of_records(o, w, p)
    )),
    **dict.fromkeys(("score", "total"), ("a score with its ground", is_score, of_score)),
    **dict.fromkeys(
        ("seed", "chairs", "cards"), ("decided in the plan, under no mark", lambda o, p: not p, of_nothing)
    ),
    "place": ("decided in the plan, under no mark", lambda o, p: len(p) == 2 and _chair(o, p[1:]), of_nothing),
    **dict.fromkeys(
        ("steps", "worked", "failed", "looked-at", "not-tried", "contest"),
        ("the reviewer's walks", _is_walked, _walked),
    ),
}  # fmt: skip
