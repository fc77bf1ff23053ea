"""`fresh-chair sitting`: one sitting as text, out and in, and its corrections."""

from pathlib import Path
from typing import Annotated

import typer

from fresh_chair.cli.base.study import JsonOption, StudyArgument, ToOption, say, say_json, say_lines, study_of
from fresh_chair.core.errors import InputError
from fresh_chair.core.sitting.journal import Entry
from fresh_chair.core.text import count_of
from fresh_chair.services.sitting.corrections import offset_of
from fresh_chair.services.study.open_study import OpenStudy

sitting = typer.Typer(help="One sitting: as plain text, out and in, and its corrections.", no_args_is_help=True)

NumberArgument = Annotated[int, typer.Argument(metavar="SITTING", min=1, help="The sitting's number.")]
FileArgument = Annotated[Path, typer.Argument(metavar="FILE", help="The text.", show_default=False)]
OffsetOption = Annotated[
    str, typer.Option("--offset", metavar="TIME", help="Where in the recording it begins: 2:31, or in seconds.")
]
ReasonOption = Annotated[str, typer.Option("--reason", help="Why.")]
EntryArgument = Annotated[int, typer.Argument(metavar="ENTRY", min=1, help="The entry's number.")]


@sitting.command("list")
def list_entries(path: StudyArgument, number: NumberArgument, json: JsonOption = False) -> None:
    """List the entries of a sitting, each with its later corrections."""
    from fresh_chair.services.sitting.corrections import entry_lines

    with study_of(path) as opened:
        lines = entry_lines(opened, opened.study.seat(number).number)
    if json:
        say_json(
            [
                {
                    "entry": line.entry.number,
                    "at": line.at,
                    "kind": line.entry.content.kind,
                    "text": line.text,
                    "author": line.entry.author,
                    "struck": line.struck,
                    "corrected": list(line.corrected),
                }
                for line in lines
            ]
        )
        return
    for line in lines:
        say(f"{line.entry.number:>4}  {line.at:>8}  {'struck: ' if line.struck else ''}{line.text}")
        for words in line.corrected:
            say(f"{'':16}{words}")


@sitting.command("text")
def text_of(path: StudyArgument, number: NumberArgument) -> None:
    """Print a sitting as text, a line an entry; `sitting take` reads it back without loss."""
    from fresh_chair.services.sitting.text.notes import sitting_lines

    with study_of(path) as opened:
        say_lines(sitting_lines(opened, number).rstrip("\n"))


@sitting.command()
def draw(path: StudyArgument, number: NumberArgument, to: ToOption) -> None:
    """Draw a sitting over time, as SVG or PDF by the file's ending."""
    from fresh_chair.services.sitting.text.notes import draw_sitting

    with study_of(path) as opened:
        say(f"{draw_sitting(opened, number, to).path}")


@sitting.command()
def take(
    path: StudyArgument,
    number: NumberArgument,
    file: FileArgument,
    began: Annotated[str, typer.Option("--began", help="When it began: 2026-11-09T10:00. Now by default.")] = "",
    recording: Annotated[str, typer.Option("--recording", help="The recording its times belong to.")] = "",
    offset: OffsetOption = "",
) -> None:
    """Make a text the journal of a sitting without one."""
    from fresh_chair.services.sitting.text.notes import take_lines

    with study_of(path, write=True) as opened:
        count = take_lines(opened, number, file, began=began, recording=recording, offset_seconds=offset_of(offset))
        say(f"{count_of(count, 'entry', 'entries')}.")


@sitting.command()
def cues(
    path: StudyArgument,
    number: NumberArgument,
    offset: OffsetOption = "",
    chapters: Annotated[bool, typer.Option("--chapters", help="Time and title of each card or step alone.")] = False,
) -> None:
    """Print a sitting's marks as WebVTT, to be laid over its recording."""
    from fresh_chair.services.sitting.text.notes import sitting_chapters, sitting_cues

    told = sitting_chapters if chapters else sitting_cues
    with study_of(path) as opened:
        say_lines(told(opened, number, offset_seconds=offset_of(offset) if offset else None).rstrip("\n"))


@sitting.command()
def notes(path: StudyArgument, number: NumberArgument, file: FileArgument, offset: OffsetOption = "") -> None:
    """Add notes from WebVTT or SRT to a sitting, as marks that were added late."""
    from fresh_chair.services.sitting.text.timed_notes import take_notes

    with study_of(path, write=True) as opened:
        say(take_notes(opened, number, file, offset_seconds=offset_of(offset) if offset else None).words)


def _entry(opened: OpenStudy, number: int, entry: int) -> Entry:
    """An entry of a sitting by its number. Raises InputError where there is none."""
    found = next((e for e in opened.entries.get(number, []) if e.number == entry), None)
    if found is None:
        raise InputError(f"Sitting {number} has no entry {entry}.", "See: fresh-chair sitting list")
    return found


@sitting.command()
def strike(path: StudyArgument, number: NumberArgument, entry: EntryArgument, reason: ReasonOption = "") -> None:
    """Say that an entry does not hold; it stays where it is."""
    from fresh_chair.services.sitting import corrections as correcting
    from fresh_chair.services.sitting.recording import taken_up

    with study_of(path, write=True) as opened:
        correcting.strike(taken_up(opened, number), _entry(opened, number, entry), reason)


@sitting.command()
def known(
    path: StudyArgument,
    number: NumberArgument,
    entry: EntryArgument,
    evidence: Annotated[str, typer.Argument(metavar="EVIDENCE", help="done, seen, measured, read about, heard, ...")],
) -> None:
    """Say how a mark, a step or an outcome is known; it stands beside it wherever it is told."""
    from fresh_chair.services.sitting import corrections as correcting
    from fresh_chair.services.sitting.recording import taken_up

    with study_of(path, write=True) as opened:
        correcting.tell_evidence(taken_up(opened, number), _entry(opened, number, entry), evidence)


@sitting.command()
def move(
    path: StudyArgument,
    number: NumberArgument,
    entry: EntryArgument,
    seconds: Annotated[str, typer.Option("--by", help="Such as -10 or +5.")],
    reason: ReasonOption = "",
) -> None:
    """Say that a mark belongs earlier or later."""
    from fresh_chair.services.sitting import corrections as correcting
    from fresh_chair.services.sitting.recording import taken_up

    with study_of(path, write=True) as opened:
        correcting.move(taken_up(opened, number), _entry(opened, number, entry), f"{seconds} {reason}")


@sitting.command("add")
def add_late(
    path: StudyArgument,
    number: NumberArgument,
    mark: Annotated[
        str, typer.Argument(help="snag, delight, note, quote, warning, question, helped, wrong_place, hesitates...")
    ],
    at: Annotated[str, typer.Argument(help="When, since the sitting began: 2:31.")],
    words: Annotated[str, typer.Argument(help="In words.")] = "",
    reason: ReasonOption = "",
) -> None:
    """Add a mark that was missed at the time."""
    from fresh_chair.services.sitting import corrections as correcting
    from fresh_chair.services.sitting.recording import taken_up

    with study_of(path, write=True) as opened:
        correcting.add_late(taken_up(opened, number), mark, at, words, reason)


AttemptArgument = Annotated[int, typer.Argument(metavar="ATTEMPT", min=1, help="Its number in the sitting.")]
OutcomeOption = Annotated[str, typer.Option("--ended", help="How it ended: unaided, helped, partly, gave_up, ...")]


@sitting.command()
def judge(
    path: StudyArgument,
    number: NumberArgument,
    attempt: AttemptArgument,
    ended: OutcomeOption,
    reason: ReasonOption = "",
) -> None:
    """Say that an attempt ended otherwise; void takes it out of the counts."""
    from fresh_chair.services.sitting import corrections as correcting
    from fresh_chair.services.sitting.recording import taken_up

    with study_of(path, write=True) as opened:
        correcting.judge_again(taken_up(opened, number), attempt, correcting.outcome_of(ended), reason)


@sitting.command()
def split(
    path: StudyArgument,
    number: NumberArgument,
    attempt: AttemptArgument,
    at: Annotated[str, typer.Option("--at", help="Where the first part ended, since the sitting began: 2:31.")],
    ended: OutcomeOption,
    card: Annotated[str, typer.Option("--card", help="What the second part was a go at; the same by default.")] = "",
    reason: ReasonOption = "",
) -> None:
    """Say that one attempt was two."""
    from fresh_chair.services.sitting import corrections as correcting
    from fresh_chair.services.sitting.recording import taken_up

    with study_of(path, write=True) as opened:
        live = taken_up(opened, number)
        own = [each.card for each in live.state.attempts if each.number == attempt]
        outcome = correcting.outcome_of(ended)
        correcting.split(live, attempt, at, outcome, card or (own[0] if own else ""), reason)


@sitting.command()
def join(
    path: StudyArgument,
    number: NumberArgument,
    attempt: AttemptArgument,
    later: Annotated[int, typer.Argument(metavar="LATER", min=1, help="The one that belongs to it.")],
    reason: ReasonOption = "",
) -> None:
    """Say that two attempts were one; the time between them is aside."""
    from fresh_chair.services.sitting import corrections as correcting
    from fresh_chair.services.sitting.recording import taken_up

    with study_of(path, write=True) as opened:
        correcting.join(taken_up(opened, number), attempt, later, reason)


@sitting.command("no-benchmark")
def no_benchmark(
    path: StudyArgument, number: NumberArgument, attempt: AttemptArgument, reason: ReasonOption = ""
) -> None:
    """Say that an expert's attempt does not count for the benchmark."""
    from fresh_chair.services.sitting import corrections as correcting
    from fresh_chair.services.sitting.recording import taken_up

    with study_of(path, write=True) as opened:
        correcting.refuse_benchmark(taken_up(opened, number), attempt, reason)


@sitting.command()
def unbegin(path: StudyArgument, number: NumberArgument, reason: ReasonOption = "") -> None:
    """Take a beginning back where nothing was started; it stays on record, and the sitting is to come again."""
    from fresh_chair.services.sitting.recording import taken_up

    with study_of(path, write=True) as opened:
        live = taken_up(opened, number)
        live.unbegin(reason, live.now())


@sitting.command()
def ease(
    path: StudyArgument,
    number: NumberArgument,
    attempt: AttemptArgument,
    score: Annotated[str, typer.Argument(metavar="SCORE", help="1 to 7, or none.")],
    reason: ReasonOption = "",
) -> None:
    """Say that the ease of an attempt was put down wrong."""
    from fresh_chair.services.sitting import corrections as correcting
    from fresh_chair.services.sitting.recording import taken_up

    with study_of(path, write=True) as opened:
        correcting.correct_ease(taken_up(opened, number), attempt, correcting.score_of(score), reason)


@sitting.command()
def statement(
    path: StudyArgument,
    number: NumberArgument,
    item: Annotated[int, typer.Argument(metavar="STATEMENT", min=1, max=10, help="Which of the ten.")],
    score: Annotated[str, typer.Argument(metavar="SCORE", help="1 to 5, or none.")],
    reason: ReasonOption = "",
) -> None:
    """Say that an answer of the usability scale was put down wrong."""
    from fresh_chair.services.sitting import corrections as correcting
    from fresh_chair.services.sitting.recording import taken_up

    with study_of(path, write=True) as opened:
        correcting.correct_usability(taken_up(opened, number), item, correcting.score_of(score), reason)


@sitting.command()
def answer(
    path: StudyArgument,
    number: NumberArgument,
    question: Annotated[str, typer.Argument(metavar="QUESTION", help="Its id on the study sheet.")],
    given: Annotated[str, typer.Argument(metavar="ANSWER", help="A number, a choice, words, or none.")],
    attempt: Annotated[int, typer.Option("--attempt", help="Which attempt it is of; 0 for the sitting.")] = 0,
    reason: ReasonOption = "",
) -> None:
    """Say that an answer to a question of the study's own was put down wrong."""
    from fresh_chair.services.sitting import corrections as correcting
    from fresh_chair.services.sitting.recording import taken_up

    with study_of(path, write=True) as opened:
        correcting.correct_answer(
            taken_up(opened, number), question, attempt, "-" if given == "none" else given, reason
        )


@sitting.command("stopped-late")
def stopped_late(
    path: StudyArgument,
    number: NumberArgument,
    attempt: AttemptArgument,
    seconds: Annotated[float, typer.Option("--by", min=0.001, max=3600, help="How many seconds too late.")],
    reason: ReasonOption = "",
) -> None:
    """Say that an attempt's clock was stopped too late."""
    from fresh_chair.services.sitting import corrections as correcting
    from fresh_chair.services.sitting.recording import taken_up

    with study_of(path, write=True) as opened:
        correcting.move_stop(taken_up(opened, number), attempt, seconds, reason)
