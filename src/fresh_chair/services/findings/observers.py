"""Two observers of a sitting: their marks side by side, their agreement, and marks of one alone, taken or left."""

from collections.abc import Iterator, Sequence
from itertools import groupby

from fresh_chair.core.clock import SECOND, clock_text
from fresh_chair.core.errors import InputError, Refused
from fresh_chair.core.figures.agreement import any_two_agreement, cohens_kappa
from fresh_chair.core.findings.observed import SeenMark, matched
from fresh_chair.core.frozen import frozen
from fresh_chair.core.sitting.authors import MODERATOR
from fresh_chair.core.sitting.journal import ObservedTaken, OutcomeSeen
from fresh_chair.core.sitting.rules import OBSERVABLE
from fresh_chair.core.sitting.state.outcome import Outcome
from fresh_chair.core.sitting.state.sitting import Sitting
from fresh_chair.services.sitting.live import LiveSitting
from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.services.study.snapshot import StudyReading

WINDOW_SECONDS = 5.0


@frozen
class ObservedRow:
    """One thing that one observer or more marked.

    Attributes:
        decided: Whether an observer's own mark was taken or left; empty where nobody said.
        entry: The observer's entry, where only one saw it and it is not the moderator.
    """

    at: str
    kind: str
    seen_by: tuple[str, ...]
    words: str
    entry: str = ""
    decided: str = ""


@frozen
class OutcomePair:
    """An attempt as the moderator and an observer judged it."""

    card: str
    observer: str
    moderator: str
    seen: str


@frozen
class ObserversSeen:
    """The marks and outcomes of a sitting's observers.

    Attributes:
        agreement: Any-two agreement over all marks, 0 to 1; None where there is none to be had.
        kappa: Cohen's kappa over the outcomes of this sitting that both judged; None where chance alone would agree.
        study_kappa: The same over all sittings of the study, with how many attempts it stands on.
    """

    sitting: int
    window_seconds: float
    observers: tuple[str, ...]
    rows: tuple[ObservedRow, ...]
    outcomes: tuple[OutcomePair, ...]
    agreement: float | None
    kappa: float | None
    study_kappa: float | None
    study_attempts: int


def observed_sittings(opened: StudyReading) -> list[int]:
    """The sittings with an observer beside the moderator."""
    return sorted(number for number, sitting in opened.sittings.items() if sitting.observers)


def observers_of(opened: StudyReading, number: int, *, window_seconds: float = WINDOW_SECONDS) -> ObserversSeen:
    """The marks of a sitting's observers side by side.

    Args:
        opened: The study.
        number: The sitting's number.
        window_seconds: How far apart two marks of one thing may be.

    Raises:
        InputError: Where there is no such sitting, or nobody watched beside the moderator.
    """
    sitting = opened.sittings.get(number)
    if sitting is None or not sitting.observers:
        watched = ", ".join(map(str, observed_sittings(opened))) or "none yet"
        raise InputError(f"Nobody watched sitting {number} beside the moderator.", f"Watched are: {watched}.")
    groups = matched(list(_marks(sitting)), window_seconds=window_seconds)
    names = (MODERATOR, *sorted(sitting.observers))
    seen: list[frozenset[object]] = [
        frozenset(index for index, group in enumerate(groups) if name in {mark.observer for mark in group})
        for name in names
    ]
    outcomes = tuple(_outcomes(sitting))
    everywhere = [pair for each in opened.sittings.values() for pair in _outcomes(each)]
    return ObserversSeen(
        sitting=number,
        window_seconds=window_seconds,
        observers=tuple(sorted(sitting.observers)),
        rows=tuple(_row(sitting, group) for group in groups),
        outcomes=outcomes,
        agreement=any_two_agreement(seen),
        kappa=cohens_kappa([(pair.moderator, pair.seen) for pair in outcomes]),
        study_kappa=cohens_kappa([(pair.moderator, pair.seen) for pair in everywhere]),
        study_attempts=len(everywhere),
    )


def _marks(sitting: Sitting) -> Iterator[SeenMark]:
    """Every mark and remark of a sitting, by the moderator and by others."""
    words = {remark.entry: remark.words for remark in sitting.remarks.values()}
    on_line = set()
    for attempt in sitting.attempts:
        for tick in attempt.ticks:
            on_line.add(tick.entry)
            # Waits and talk are the moderator's alone to log.
            if tick.kind not in OBSERVABLE:
                continue
            who = tick.observer or _author(sitting, tick.entry)
            kind = str(tick.what) if tick.kind == "marked" else tick.kind.replace("_", " ")
            yield SeenMark(kind, tick.at_ns / SECOND, who, tick.entry, words.get(tick.entry, ""))
    for remark in sitting.remarks.values():
        if remark.entry not in on_line:
            who = remark.author if remark.author in sitting.observers else MODERATOR
            yield SeenMark(remark.kind, remark.at_ns / SECOND, who, remark.entry, remark.words)


def _author(sitting: Sitting, entry: str) -> str:
    """Whose a mark was: one that was taken counts as the moderator's, and is still the observer's here."""
    if entry in sitting.observed_taken:
        return sitting.observed_taken[entry][1]
    remark = sitting.remarks.get(entry)
    return remark.author if remark is not None and remark.author in sitting.observers else MODERATOR


def _row(sitting: Sitting, group: Sequence[SeenMark]) -> ObservedRow:
    names = tuple(mark.observer for mark in group)
    alone = group[0].entry if len(group) == 1 and names[0] != MODERATOR else ""
    told = sitting.observed_taken.get(alone) if alone else None
    decided = "" if told is None else "taken" if told[0] else "left"
    words = "; ".join(dict.fromkeys(mark.words for mark in group if mark.words))
    at = clock_text(round(group[0].seconds * SECOND))
    return ObservedRow(at, group[0].kind, names, words, alone, decided)


def _outcomes(sitting: Sitting) -> Iterator[OutcomePair]:
    for attempt in sitting.tried:
        for name, seen in attempt.seen_as.items():
            if attempt.outcome is not None:
                yield OutcomePair(attempt.card, name, attempt.outcome.words, seen.outcome.words)


def see_outcome(opened: OpenStudy, number: int, attempt: int, outcome: Outcome, reason: str = "") -> None:
    """Judge an attempt as a second observer; it is counted nowhere.

    Raises:
        Refused: Where the moderator does it, there is no such attempt, or the outcome needs a reason.
        NotSaved: Where the disk refuses.
    """
    if opened.author == MODERATOR:
        raise Refused("The moderator's outcome is the one that counts.", "An observer opens the study with --observer.")
    live = LiveSitting(opened, opened.study.seat(number))
    live.log(OutcomeSeen(attempt, outcome, reason.strip()), opened.clock.now())


def decide(opened: OpenStudy, number: int, entry: str, *, taken: bool, reason: str) -> None:
    """Take a mark that an observer alone made, so that it counts, or leave it out. Raises InputError, Refused."""
    if not reason.strip():
        raise InputError("It needs a reason.", "Nothing was changed.")
    live = LiveSitting(opened, opened.study.seat(number))
    live.log(ObservedTaken(entry, taken, reason.strip()), opened.clock.now())


def observers_words(seen: ObserversSeen) -> list[str]:
    """How far the observers agree, a sentence each, with the window it stands on."""
    told = []
    if seen.agreement is not None:
        told.append(
            f"Any-two agreement {seen.agreement:.0%}: of the marks of any two, those both made, within "
            f"{seen.window_seconds:g} s."
        )
    by_observer = groupby(sorted(seen.outcomes, key=lambda pair: pair.observer), key=lambda pair: pair.observer)
    for name, pairs in by_observer:
        listed = list(pairs)
        agreed = sum(pair.moderator == pair.seen for pair in listed)
        told.append(f"{name} judged {len(listed)} outcomes, {agreed} of them as the moderator did.")
    if seen.study_attempts:
        value = "undefined, chance alone would agree" if seen.study_kappa is None else f"{seen.study_kappa:.2f}"
        told.append(f"Cohen's kappa over {seen.study_attempts} outcomes of the whole study: {value}.")
    else:
        told.append("No outcome was judged by an observer.")
    return told
