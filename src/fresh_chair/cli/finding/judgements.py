"""Severities, ratings, factors, causes, trials, ways round, excuses, and whether a finding comes and goes."""

from pathlib import Path
from typing import Annotated

import typer

from fresh_chair.cli.base.study import StudyArgument, say, study_of
from fresh_chair.cli.evidence.study_records import parted
from fresh_chair.cli.finding.group import DropOption, FindingArgument, PartOption, RaterOption, ReasonOption
from fresh_chair.cli.finding.members import finding as finding

SeverityArgument = Annotated[int, typer.Argument(metavar="SEVERITY", help="0 to 4.")]
FieldsArgument = Annotated[
    list[str] | None, typer.Argument(metavar="[FIELD=TEXT...]", help="As `finding fields` lists them.")
]


@finding.command("severity")
def judge_severity(
    path: StudyArgument,
    name: FindingArgument,
    severity: Annotated[int, typer.Argument(metavar="[SEVERITY]", help="0 to 4.", min=-1, max=4)] = -1,
    reason: ReasonOption = "",
    chair: Annotated[str, typer.Option("--chair", help="At this chair alone.")] = "",
    audience: Annotated[str, typer.Option("--audience", help="For this audience alone.")] = "",
    known: Annotated[bool, typer.Option("--known", help="Once the workaround is known.")] = False,
    rater: RaterOption = "",
    suggested: Annotated[bool, typer.Option("--suggested", help="Take the severity that the marks suggest.")] = False,
    withdraw: Annotated[bool, typer.Option("--withdraw", help="The narrower one holds no more.")] = False,
) -> None:
    """Say how bad a finding is, for whom, and why; or rate it as one of several raters."""
    from fresh_chair.core.errors import InputError
    from fresh_chair.core.findings.state.finding import Scope
    from fresh_chair.services.findings import judging, ratings, sorting
    from fresh_chair.services.findings.observations import sorted_findings_of

    scope = Scope(chair, audience, known)
    with study_of(path, write=True) as opened:
        of = sorting.find_finding(opened, name).id
        if withdraw:
            judging.withdraw_severity(opened, of, scope, reason)
            return
        if suggested:
            proposal = sorted_findings_of(opened).by_id[of].suggestion
            if proposal.severity is None:
                raise InputError("The marks suggest none: no newcomer met it.", "Say how bad it is, with --reason.")
            severity, reason = proposal.severity, reason or "; ".join(proposal.steps)
        if rater:
            ratings.rate(opened, of, severity, reason, rater)
        else:
            judging.judge_severity(opened, of, severity, reason, scope=scope)


@finding.command("rate")
def take_form(
    path: StudyArgument,
    form: Annotated[Path, typer.Argument(metavar="FORM", help="The filled form.")],
    rater: RaterOption,
) -> None:
    """Take a rater's filled form in: all of its severities, or none."""
    from fresh_chair.services.findings.ratings import take_form as taken_in
    from fresh_chair.services.system.files import name_of, read_text

    text = read_text(form, 2_000_000, kept="Nothing was taken in.", what="a form")
    with study_of(path, write=True) as opened:
        say(f"{taken_in(opened, text, rater, name=name_of(form))} taken in.")


@finding.command("settle")
def settle(
    path: StudyArgument,
    name: Annotated[str, typer.Argument(metavar="[FINDING]", help="Its number, such as F3.")] = "",
    severity: Annotated[int, typer.Argument(metavar="[SEVERITY]", help="0 to 4.")] = -1,
    reason: ReasonOption = "",
    open_view: Annotated[bool, typer.Option("--open", help="Let all ratings be seen from here on.")] = False,
) -> None:
    """Open the settling view, or settle the raters' severities of a finding into one."""
    from fresh_chair.core.errors import InputError
    from fresh_chair.services.findings import ratings, sorting

    with study_of(path, write=True) as opened:
        if open_view:
            ratings.open_settling(opened)
        elif not name:
            raise InputError("Say which finding is settled, or --open.", "Nothing was changed.")
        else:
            ratings.settle(opened, sorting.find_finding(opened, name).id, severity, reason)


@finding.command("factor")
def correct_factor(
    path: StudyArgument,
    name: FindingArgument,
    factor: Annotated[str, typer.Argument(help="Impact, met by most, met by one alone, comes back, got round.")],
    value: Annotated[str, typer.Argument(help="Such as 3, yes, every time.")],
    reason: ReasonOption = "",
) -> None:
    """Correct a factor of the suggested severity."""
    from fresh_chair.services.findings import judging, sorting

    with study_of(path, write=True) as opened:
        judging.correct_factor(opened, sorting.find_finding(opened, name).id, factor, value, reason)


@finding.command("comes")
def say_occurrence(
    path: StudyArgument,
    name: FindingArgument,
    how: Annotated[str, typer.Argument(help="Once, every time, sometimes, could not be had again, ...")],
    met: Annotated[int | None, typer.Option("--met", help="In so many tries.")] = None,
    tries: Annotated[int | None, typer.Option("--tries", help="Of so many.")] = None,
    count: Annotated[int | None, typer.Option("--count", help="How often a recurring notice came.")] = None,
    note: Annotated[str, typer.Option("--note", help="A note.")] = "",
) -> None:
    """Say whether a finding comes and goes."""
    from fresh_chair.services.findings import judging, sorting

    with study_of(path, write=True) as opened:
        of = sorting.find_finding(opened, name).id
        judging.say_occurrence(opened, of, how=how, met=met, tries=tries, count=count, note=note)


def _add_part(kind: str, words: str) -> None:
    @finding.command(kind, help=words)
    def put(
        path: StudyArgument,
        name: FindingArgument,
        fields: FieldsArgument = None,
        change: PartOption = "",
        drop: DropOption = "",
        reason: ReasonOption = "",
    ) -> None:
        from fresh_chair.services.findings import judging, sorting

        texts = parted(fields or [])
        if reason and not drop:
            texts["reason"] = reason
        with study_of(path, write=True) as opened:
            of = sorting.find_finding(opened, name).id
            if drop:
                judging.drop_part(opened, of, kind, drop, reason)
                return
            part = judging.find_part(opened.findings.by_id[of], kind, change).id if change else ""
            say(judging.put_part(opened, of, kind, texts, part=part).id)


for _kind, _words in (
    ("cause", "Put a hypothesis of the cause down, revise it with a reason, or drop it; its id is printed."),
    ("trial", "Put down what was tried and whether it helped; its id is printed."),
    ("workaround", "Put a way round down, change it, or drop it; its id is printed."),
    ("excuse", "Excuse a finding, with the reason and when to look again; its id is printed."),
):
    _add_part(_kind, _words)


@finding.command("fields")
def list_fields(kind: Annotated[str, typer.Argument(help="Cause, trial, workaround or excuse.")]) -> None:
    """List the fields of a cause, trial, workaround or excuse, with the values of each."""
    from typing import get_type_hints

    from fresh_chair.core.findings.part_labels import PART_LABELS
    from fresh_chair.core.findings.state.parts import PARTS
    from fresh_chair.core.plan.field_syntax import choices_of
    from fresh_chair.services.findings.judging import require_kind

    require_kind(kind)
    hints = get_type_hints(PARTS[kind], include_extras=True)
    for label in PART_LABELS[kind]:
        choices = ", ".join(choice or "nothing" for choice in choices_of(hints[label.field]))
        say(f"{label.field}  {label.words}. {label.note or choices}".rstrip())
