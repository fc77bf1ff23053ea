"""`fresh-chair walk` and `fresh-chair walks`: a reviewer's own way through a chair."""

from collections.abc import Sequence
from dataclasses import asdict
from typing import Annotated

import typer

from fresh_chair.cli.base.study import JsonOption, StudyArgument, say, say_json, study_of
from fresh_chair.core.errors import InputError
from fresh_chair.core.sitting.contests import ContestView
from fresh_chair.core.text import count_of
from fresh_chair.core.words.walks import better_words, contest_counts, contest_turns, list_words, step_words, turn_words
from fresh_chair.services.walk.walks import MarkLine, WalkView

SittingArgument = Annotated[int, typer.Argument(metavar="SITTING", min=1, help="The sitting's number.")]
walks = typer.Typer(help="Walks: what a reviewer alone went through at a chair.", no_args_is_help=True)


def walk(
    path: StudyArgument,
    chairs: Annotated[
        list[str], typer.Argument(metavar="CHAIR...", help="The chair's letter; two or more for a contest.")
    ],
    reviewer: Annotated[str, typer.Option("--reviewer", metavar="CODE", help="Whose walk it is.")] = "",
    recording: Annotated[
        str, typer.Option("--recording", metavar="FILE", help='Walk over a recording: "walk.webm 2:31".')
    ] = "",
    began: Annotated[str, typer.Option("--began", help="When it was recorded: 2026-11-09T10:00.")] = "",
    absent: Annotated[
        bool, typer.Option("--absent", help="The recording is not on this machine; it is logged from all the same.")
    ] = False,
    minutes: Annotated[float, typer.Option("--minutes", min=0, max=3000, help="How long it is to last.")] = 0,
    plain: Annotated[bool, typer.Option("--plain", help="Draw with ASCII signs only.")] = False,
    light: Annotated[bool, typer.Option("--light", help="Start in daylight colours.")] = False,
) -> None:
    """Walk through a chair alone, on the screen, or through several on the same steps, apart from newcomers."""
    from fresh_chair.cli.opening import walk_on_screen

    code = walk_on_screen(
        path.at,
        [chair.upper() for chair in chairs],
        reviewer=reviewer,
        recording=recording,
        began=began,
        absent=absent,
        minutes=minutes,
        plain=plain,
        light=light,
    )
    raise typer.Exit(code)


@walks.command("list")
def list_walks(
    path: StudyArgument,
    json: JsonOption = False,
    own: Annotated[bool, typer.Option("--own", help="Only what was done, seen or measured.")] = False,
) -> None:
    """List the walks of a study with their steps, how each ended, and how each is known."""
    from fresh_chair.services.walk.walks import own_evidence, walk_marks
    from fresh_chair.services.walk.walks import walks as all_walks

    with study_of(path) as opened:
        found = [own_evidence(view) if own else view for view in all_walks(opened)]
        marks = {view.number: walk_marks(opened, view.number, own=own) for view in found}
    if json:
        say_json([walk_data(view, marks[view.number]) for view in found])
        return
    if not found:
        say("Nobody has walked here yet: fresh-chair walk STUDY CHAIR begins a walk.")
    for view in found:
        for line in walk_lines(view):
            say(line)


@walks.command()
def declare(
    path: StudyArgument,
    number: SittingArgument,
    reason: Annotated[str, typer.Option("--reason", help="Why.")] = "",
) -> None:
    """Declare a sitting that was logged otherwise a walk: it leaves every newcomers' figure."""
    from fresh_chair.services.walk.walks import declare_walk

    with study_of(path, write=True) as opened:
        declare_walk(opened, number, reason)
        say(f"Sitting {number} is a walk from here on; it is in no newcomers' figure any more.")


@walks.command("contests")
def list_contests(path: StudyArgument, json: JsonOption = False) -> None:
    """List the contests of a study: each step at each chair, and which was better."""
    from fresh_chair.services.walk.contests import contests

    with study_of(path) as opened:
        found = contests(opened)
    if json:
        say_json([contest_data(view) for view in found])
        return
    if not found:
        say("There is no contest here yet: fresh-chair walk STUDY A B begins one.")
    for view in found:
        for line in contest_lines(view):
            say(line)


@walks.command()
def card(
    path: StudyArgument,
    number: SittingArgument,
    step: Annotated[int, typer.Argument(metavar="STEP", min=1, help="The step's number.")],
) -> None:
    """Make a card of the script of a step that stood on no list."""
    from fresh_chair.services.walk.chair_changes import make_card
    from fresh_chair.services.walk.walks import walk_view

    with study_of(path, write=True) as opened:
        steps = walk_view(opened, number).steps
        if step > len(steps):
            raise InputError(f"The walk has {count_of(len(steps), 'step')}.", "Nothing was changed.")
        made = make_card(opened, number, steps[step - 1].entry)
        say(f"{made.id}: {made.title}")


@walks.command()
def attach(
    path: StudyArgument,
    number: SittingArgument,
    about: Annotated[
        str, typer.Argument(metavar="ABOUT", help="Step 3, or the id of a mark as `walks list --json` shows it.")
    ],
    file: Annotated[str, typer.Argument(metavar="FILE", help='"menu.png", or "walk.webm 1:01-1:10".')],
    copy: Annotated[bool, typer.Option("--copy", help="Keep a copy in the folder beside the study.")] = False,
) -> None:
    """Attach a picture, a file or a stretch of a clip to a mark or a step."""
    from fresh_chair.services.evidence.attachments import attach_to, entry_shown, named_file, read_attachment

    with study_of(path, write=True) as opened:
        entry_shown(opened, number, about)
        found = read_attachment(named_file(file), opened.beside, copy=copy)
        attach_to(opened, number, about, found)
        say(f"{found.name}: {count_of(found.size, 'byte')}, {found.sha256}")


@walks.command("files")
def list_files(path: StudyArgument, json: JsonOption = False) -> None:
    """List the files attached in all sittings: the mark or step each shows, and where it lies."""
    from fresh_chair.services.evidence.attachments import attachments_of, path_of

    with study_of(path) as opened:
        found = [(number, each) for number in sorted(opened.sittings) for each in attachments_of(opened, number)]
        study = opened.beside
    if json:
        say_json([{"sitting": number, **asdict(each), "copied": each.attachment.copied} for number, each in found])
        return
    for number, each in found:
        file = each.attachment
        say(f"{number:>3}  {file.name}, {count_of(file.size, 'byte')}, shows {each.words}: {path_of(file, study)}")


def contest_lines(view: ContestView) -> list[str]:
    """A contest as text, a line a step."""
    lines = [f"{view.name}: {view.reviewer} at {', '.join(view.chairs)}"]
    for row in view.rows:
        cells = [
            f"{letter} {step_words(cell) if cell is not None else 'not gone through'}"
            for letter, cell in zip(view.chairs, row.cells, strict=True)
        ]
        lines.append(f"  {row.title} | {' | '.join(cells)} | {better_words(row.judgement)}")
    return [*lines, f"  better: {contest_counts(view)}", *(f"  {said}" for said in contest_turns(view))]


def contest_data(view: ContestView) -> dict[str, object]:
    """A contest as data."""
    return {
        "contest": view.name,
        "reviewer": view.reviewer,
        "sittings": dict(zip(view.chairs, view.sittings, strict=True)),
        "steps": [
            {
                "title": row.title,
                "card": row.card,
                "at": {
                    letter: None if cell is None else asdict(cell)
                    for letter, cell in zip(view.chairs, row.cells, strict=True)
                },
                "better": None if row.judgement is None else asdict(row.judgement),
            }
            for row in view.rows
        ],
        "better": {answer: view.count(answer) for answer in (*view.chairs, "neither", "cannot say")},
        "not_said": view.undecided,
        "not_gone_through": view.empty,
    }


def walk_lines(view: WalkView) -> list[str]:
    """A walk as text, a line a step."""
    part = f", part {view.part}" if view.part > 1 else ""
    state = "" if not view.phase.open else ", not ended yet"
    lines = [f"Sitting {view.number}: {view.seat.participant} walks through {view.seat.chair}{part}{state}"]
    if view.declared:
        lines.append(f"  declared a walk: {view.declared}")
    for step in view.steps:
        turned = f" ({turn_words(view.turns[step.turn - 1])})" if step.turn else ""
        lines.append(f"  {step.number:>3}  {step.title}, {step_words(step)}{turned}")
    if view.untold:
        lines.append(f"  {count_of(len(view.untold), 'line')} whose kind is still to be told")
    if view.untouched:
        lines.append(f"  not looked at: {'; '.join(card.title for card in view.untouched)}")
    return lines


def walk_data(view: WalkView, marks: Sequence[MarkLine]) -> dict[str, object]:
    """A walk as data."""
    return {
        "sitting": view.number,
        "reviewer": view.seat.participant,
        "chair": view.seat.chair,
        "part": view.part,
        "phase": view.phase.value,
        "declared": view.declared,
        "steps": [{**asdict(step), "list": list_words(step.items)} for step in view.steps],
        "marks": [asdict(mark) for mark in marks],
        "not_looked_at": [card.id for card in view.untouched],
        "before": list(view.before),
        "chair_changes": [asdict(turn) for turn in view.turns],
        "contest": None if view.contest is None else view.contest.name,
        "promised_seconds": view.promised_seconds,
    }
