"""One entry of a journal in words."""

from fresh_chair.core.clock import SECOND, clock_text
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.journal import Entry
from fresh_chair.core.sitting.ratings import EASE_MOST
from fresh_chair.core.sitting.state import Sitting
from fresh_chair.core.text import clipped

_PLAIN_WORDS = {
    "sitting_began": "sat down",
    "wait_began": "waiting: the machine is busy",
    "wait_ended": "the machine is back",
    "aside_began": "aside",
    "aside_ended": "back from aside",
    "helped": "helped",
    "wrong_place": "wrong place",
    "said_done": "says it is done",
    "attempt_stopped": "clock stopped",
    "usability_declined": "usability scale not asked",
    "sitting_ended": "got up",
    "left_running": "left running; the next card meanwhile",
}
_MARKS = {
    "hesitates": "hesitates",
    "tries again": "tries again",
    "no reaction": "the machine does not react",
    "misled": "misled by a message",
    "restart": "the machine is restarted",
    "new login": "a new login",
}
_GAP_WORDS = {
    j.Gap.COUNT: "the time between counts",
    j.Gap.ASIDE: "the time between is aside",
    j.Gap.VOID: "the attempt is void",
}


def words_of(sitting: Sitting, entry: Entry) -> str:
    """The latest words of a mark that may have some."""
    remark = sitting.remarks.get(entry.id)
    if remark is not None:
        return remark.words
    return entry.content.words if isinstance(entry.content, j.Wordable) else ""


def entry_words(study: Study, sitting: Sitting, entry: Entry, at_ns: int) -> str | None:
    """The words of an entry's line; None for entries that show in another line."""
    match entry.content:
        case j.Worded() | j.Struck() | j.HelpTold() | j.WaitTold() | j.SnagRated() | j.MarkMoved():
            return None
        case j.Unreadable(why=why):
            return f"left out: {why}"
        case j.Helped():
            level = next((a.helps[entry.id] for a in sitting.attempts if entry.id in a.helps), "")
            return f"helped{': ' if level else ''}{level}"
        case j.WaitBegan():
            how = next((w.how for a in sitting.attempts for w in a.waits if w.begin_ns == at_ns), "")
            return f"waiting: {how or 'the machine is busy'}"
        case j.Marked(mark=mark):
            return _MARKS[mark]
        case j.StepReached(step=step):
            return f"at step {step} of the route"
        case j.PlaceVisited(place=place):
            return f"at {place}"
        case j.AddedLate(mark=mark, words=words, reason=reason):
            return f"{mark.replace('_', ' ')}{': ' if words else ''}{words} (added late: {reason})"
        case j.OutcomeCorrected(attempt=number, outcome=outcome, reason=reason):
            return f"attempt {number} judged otherwise: {outcome.words}: {reason}"
        case j.OutcomeTold():
            return _outcome_told(entry.content)
        case j.ChairWitnessed():
            return _witnessed(study, entry.content)
        case j.ChairFound():
            return _found(entry.content)
        case j.AttemptStarted(card=card):
            return f"start: {_title(study, card)}"
        case j.CardPassed(card=card, reason=reason):
            return f"passed over {_title(study, card)}: {reason}"
        case j.SnagSeen() | j.DelightSeen() | j.NoteTaken() | j.QuoteTaken() | j.WarningSeen() | j.QuestionLeft():
            words = words_of(sitting, entry)
            remark = sitting.remarks.get(entry.id)
            rated = f" {remark.severity} of 4" if remark is not None and remark.severity is not None else ""
            return f"{entry.content.kind}{rated}: {words}" if words else f"{entry.content.kind}{rated} (words to come)"
        case j.OutcomeJudged(outcome=outcome, reason=reason):
            return f"{outcome.words}{': ' if reason else ''}{reason}"
        case j.EaseRated(score=score):
            return "ease not given" if score is None else f"ease {score} of 7"
        case j.UsabilityAnswered(item=item, score=score):
            return f"usability {item}: {'left out' if score is None else score}"
        case j.SittingBrokenOff(reason=reason):
            return f"broken off: {reason}"
        case j.SittingResumed(gap=gap):
            return f"resumed; {_GAP_WORDS[gap]}"
        case other:
            return _course(study, sitting, entry) or _PLAIN_WORDS[other.kind]


def _found(content: j.ChairFound) -> str:
    told = f": {'; '.join(content.told)}" if content.told else ""
    skipped = f". Not so at the bench: {'; '.join(content.skipped)}" if content.skipped else ""
    return f"the chair is {content.freshness}{told}{skipped}"


def _course(study: Study, sitting: Sitting, entry: Entry) -> str:
    """The words of an entry about the course of the sitting; empty for another one."""
    match entry.content:
        case j.LeftReady(attempt=number):
            return f"ready: {_tried(study, sitting, number)}"
        case j.TakenUp(attempt=number):
            return f"back to: {_tried(study, sitting, number)}"
        case j.CardReopened(card=card, reason=reason):
            return f"once more: {_title(study, card)}: {reason}"
        case j.AttemptSplit(attempt=number, at_seconds=seconds, outcome=outcome, card=card, reason=reason):
            parted = clock_text(round(seconds * SECOND))
            return (
                f"attempt {number} was two, parted at {parted}: {outcome.words}, then {_title(study, card)}: {reason}"
            )
        case j.AttemptsJoined(attempt=number, later=later, reason=reason):
            return f"attempts {number} and {later} were one: {reason}"
        case j.SittingUnbegun(reason=reason):
            return f"taken back, nobody sat down: {reason}"
        case j.StopMoved(attempt=number, seconds_earlier=seconds, reason=reason):
            return f"attempt {number} was stopped {seconds:g} s too late: {reason}"
        case j.RatingCorrected():
            return _corrected(study, entry.content)
        case j.BenchmarkRefused(attempt=number, reason=reason):
            return f"attempt {number} does not count for the benchmark: {reason}"
        case j.RecordingOpened(file=file, offset_seconds=seconds):
            return f"from the recording {file}, beginning at {clock_text(round(seconds * SECOND))} of it"
        case j.ObserverJoined():
            return f"{entry.author} watches too"
        case j.ExpectationGiven(score=score):
            return "expectation not given" if score is None else f"expects an ease of {score} of 7"
        case j.QuestionAnswered():
            return _answer(study, entry.content)
        case j.PreferenceGiven(order=order, words=words):
            said = f"would rather have {', then '.join(order)}" if order else "would not say which chair"
            return f"{said}{': ' if words else ''}{words}"
    return ""


def _corrected(study: Study, given: j.RatingCorrected) -> str:
    said = given.words or ("no answer" if given.score is None else str(given.score))
    if given.what == "usability":
        return f"usability {given.item} was {said}: {given.reason}"
    if given.what == "question":
        asked = next((q.ask for q in study.sheet.questions if q.id == given.question), given.question)
        return f"{clipped(asked, 60)} was {said}: {given.reason}"
    return f"{given.what} of attempt {given.attempt} was {said}: {given.reason}"


def _outcome_told(told: j.OutcomeTold) -> str:
    grade = f"grade {told.grade}" if told.grade is not None else ""
    route = f"by {told.route} way" if told.route in ("expected", "another") else told.route
    return "; ".join(part for part in (grade, route, told.why) if part) or "nothing more said"


def _witnessed(study: Study, seen: j.ChairWitnessed) -> str:
    evidence = f" ({seen.evidence})" if seen.evidence else ""
    return f"the chair, {seen.when} “{_title(study, seen.card)}”: {seen.says}{evidence}"


def _title(study: Study, card: str) -> str:
    return study.card_by_id[card].title if card in study.card_by_id else card


def _tried(study: Study, sitting: Sitting, number: int) -> str:
    known = 0 < number <= len(sitting.attempts)
    return _title(study, sitting.attempts[number - 1].card) if known else f"attempt {number}"


def _answer(study: Study, given: j.QuestionAnswered) -> str:
    asked = next((q.ask for q in study.sheet.questions if q.id == given.question), given.question)
    most = next((q.points for q in study.sheet.questions if q.id == given.question), EASE_MOST)
    said = given.words if given.score is None else f"{given.score} of {most}"
    return f"{clipped(asked, 60)} {said or 'no answer'}"
