"""Outcomes that their own marks contradict, and answers that no question allows."""

from collections.abc import Sequence

from fresh_chair.core.errors import Refused
from fresh_chair.core.plan.sheet import StudyQuestion
from fresh_chair.core.plan.study import Study
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.journal import Entry
from fresh_chair.core.sitting.replay import advance
from fresh_chair.core.sitting.state.attempt import Attempt
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.sitting import Sitting
from fresh_chair.core.text import count_of


def outcome_contradictions(attempt: Attempt) -> list[str]:
    """Marks of an attempt that contradict its outcome, a few words each."""
    outcome = attempt.outcome
    if outcome is None or not outcome.counts:
        return []
    found = []
    if outcome is Outcome.UNAIDED and attempt.helped:
        found.append(f"completed unaided, with {count_of(attempt.helped, 'help')} that counted")
    if outcome is Outcome.HELPED and not attempt.helped:
        found.append("completed with help, and no help that counts was logged")
    if outcome.completed and attempt.why:
        found.append(f"completed, and “{attempt.why}”")
    if outcome.completed and attempt.chair_says == "contradicted":
        found.append("completed, and the chair shows that it did not happen")
    if outcome in (Outcome.GAVE_UP, Outcome.OUT_OF_TIME, Outcome.BLOCKED) and attempt.chair_says == "confirmed":
        found.append(f"{outcome.words}, and the chair shows that it did happen")
    return found


def impossible(study: Study, sitting: Sitting, content: j.Content) -> str:
    """Why an entry cannot be of this study, as a sentence; empty where it can.

    What may follow when is for the rules to say; here it is what the study asks, offers and lists.
    """
    match content:
        case j.QuestionAnswered(question=name, attempt=attempt, score=score, words=words):
            return _answer_problem(study, name, attempt, score, words)
        case j.RatingCorrected(what="question", question=name, attempt=attempt, score=score, words=words):
            return _answer_problem(study, name, attempt, score, words)
        case j.PreferenceGiven(order=order):
            strange = [letter for letter in order if letter not in study.chair_by_letter]
            if strange:
                return f"There is no chair {strange[0][:12]} that anybody could prefer."
            return "A chair is preferred once only." if len(set(order)) < len(order) else ""
        case j.WalkBegan():
            code = study.seat(sitting.number).participant
            walks = study.person_by_code[code].role == "reviewer"
            return "" if walks else f"{code} is no reviewer; only a reviewer walks alone."
        case j.ContestJoined(chairs=chairs):
            strange = [letter for letter in chairs if letter not in study.chair_by_letter]
            return f"There is no chair {strange[0][:12]} that a contest could be about." if strange else ""
        case j.StepOpened(card=card) | j.StepMadeCard(card=card) if card and card not in study.card_by_id:
            return f"The study has no card “{card[:40]}”."
        case j.OutcomeTold(grade=grade, why=why):
            return _told_problem(study, sitting, grade, why)
    return ""


def _answer_problem(study: Study, name: str, attempt: int, score: int | None, words: str) -> str:
    question = next((each for each in study.sheet.questions if each.id == name), None)
    if question is None:
        return f"The study asks no question “{name[:40]}”."
    if (question.when == "after the sitting") != (attempt == 0):
        return f"“{name}” is asked {question.when}."
    if question.kind == "scale":
        return _scale_problem(question, score, words)
    if score is not None:
        return f"“{name}” is answered in words, and not by a number."
    if question.kind == "choice" and words and words not in question.choices:
        return f"“{words[:40]}” is none of the choices of “{name}”: {', '.join(question.choices)}."
    return ""


def _scale_problem(question: StudyQuestion, score: int | None, words: str) -> str:
    if words:
        return f"“{question.id}” is answered by a number, and not in words."
    if score is not None and not 1 <= score <= question.points:
        return f"“{question.id}” goes from 1 to {question.points}; {score} is outside."
    return ""


def _told_problem(study: Study, sitting: Sitting, grade: int | None, why: str) -> str:
    attempt = sitting.latest
    card = study.card_by_id.get(attempt.card) if attempt is not None else None
    if attempt is None or card is None:
        return ""
    if grade is not None and grade > len(card.partly):
        listed = count_of(len(card.partly), "step")
        return f"“{card.title}” lists {listed} on the way; there is no number {grade}."
    if why and attempt.outcome is not None and attempt.outcome.completed:
        return f"What was completed cannot be “{why}”."
    return ""


def impossible_entries(study: Study, number: int, entries: Sequence[Entry]) -> list[tuple[int, str]]:
    """Number and reason of every entry of a journal that cannot be of this study; struck ones do not count."""
    struck = {entry.content.entry for entry in entries if isinstance(entry.content, j.Struck)}
    state = Sitting(number, study.seat(number).cards)
    found = []
    for entry in entries:
        if entry.id in struck or isinstance(entry.content, j.Struck | j.Unreadable):
            continue
        try:
            advance(state, entry)
        except Refused:
            continue
        problem = impossible(study, state, entry.content)
        if problem:
            found.append((entry.number, problem))
    return found
