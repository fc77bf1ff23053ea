"""Observations joined and parted, findings opened, merged, split, named, tagged; the ledger they are entries of."""

from typing import Annotated

import typer

from fresh_chair.cli.base.ledger import listed
from fresh_chair.cli.base.study import JsonOption, StudyArgument, say, study_of
from fresh_chair.cli.finding.group import FindingArgument, ReasonOption, TargetsArgument
from fresh_chair.cli.finding.lists import finding as finding

TitleOption = Annotated[str, typer.Option("--title", help="Its name.", show_default=False)]


@finding.command("open")
def open_finding(
    path: StudyArgument,
    targets: TargetsArgument,
    title: TitleOption,
    sort: Annotated[
        str, typer.Option("--sort", help="Problem, strength, oddity, matter of taste, request.")
    ] = "problem",
) -> None:
    """Make a finding of observations; its number is printed."""
    from fresh_chair.services.findings import sorting

    with study_of(path, write=True) as opened:
        sorting.require_sort(sort)
        sorting.require_observed(opened, targets)
        made = sorting.open_finding(opened, title, targets)
        if sort != "problem":
            sorting.sort_finding(opened, made, sort)
        say(f"F{opened.findings.numbers[made]}")


@finding.command("join")
def join(path: StudyArgument, name: FindingArgument, targets: TargetsArgument) -> None:
    """Let observations be evidence of a finding, besides others they feed."""
    from fresh_chair.services.findings import sorting

    with study_of(path, write=True) as opened:
        sorting.require_observed(opened, targets)
        sorting.join(opened, sorting.find_finding(opened, name).id, targets)


@finding.command("part")
def part(path: StudyArgument, name: FindingArgument, targets: TargetsArgument) -> None:
    """Take observations out of a finding."""
    from fresh_chair.services.findings import sorting

    with study_of(path, write=True) as opened:
        sorting.part(opened, sorting.find_finding(opened, name).id, targets)


@finding.command("merge")
def merge(
    path: StudyArgument,
    name: FindingArgument,
    into: Annotated[str, typer.Argument(metavar="INTO", help="The finding that it is.")],
) -> None:
    """Let a finding be another one; its number leads there from now on."""
    from fresh_chair.services.findings import sorting

    with study_of(path, write=True) as opened:
        sorting.merge(opened, name, into)


@finding.command("split")
def split(path: StudyArgument, name: FindingArgument, targets: TargetsArgument, title: TitleOption) -> None:
    """Make a finding of its own of some observations of another one; its number is printed."""
    from fresh_chair.services.findings import sorting

    with study_of(path, write=True) as opened:
        made = sorting.split(opened, name, targets, title)
        say(f"F{opened.findings.numbers[made]}")


@finding.command("rename")
def rename(
    path: StudyArgument, name: FindingArgument, title: Annotated[str, typer.Argument(help="Its better name.")]
) -> None:
    """Give a finding a better name."""
    from fresh_chair.services.findings import sorting

    with study_of(path, write=True) as opened:
        sorting.retitle(opened, sorting.find_finding(opened, name).id, title)


@finding.command("sort")
def sort_finding(
    path: StudyArgument,
    name: FindingArgument,
    sort: Annotated[str, typer.Argument(help="Problem, strength, oddity, matter of taste, request.")],
) -> None:
    """Say which sort a finding is of."""
    from fresh_chair.services.findings import sorting

    with study_of(path, write=True) as opened:
        sorting.sort_finding(opened, sorting.find_finding(opened, name).id, sort)


@finding.command("tag")
def tag(
    path: StudyArgument,
    name: FindingArgument,
    words: Annotated[str, typer.Argument(metavar="TAG", help="A tag of your own.")],
    off: Annotated[bool, typer.Option("--off", help="Take it off.")] = False,
) -> None:
    """Put a tag on a finding, or take it off."""
    from fresh_chair.services.findings import sorting

    with study_of(path, write=True) as opened:
        sorting.tag(opened, sorting.find_finding(opened, name).id, words, on=not off)


@finding.command("under")
def under(
    path: StudyArgument,
    name: FindingArgument,
    head: Annotated[str, typer.Argument(help="The finding at the head; nothing for none.")] = "",
) -> None:
    """Put a finding under a head, with its siblings."""
    from fresh_chair.services.findings import sorting

    with study_of(path, write=True) as opened:
        sorting.place_under(opened, sorting.find_finding(opened, name).id, head)


@finding.command("earlier")
def earlier(
    path: StudyArgument,
    name: FindingArgument,
    carried: Annotated[str, typer.Argument(help="The id of the one that was carried over; nothing for none.")] = "",
) -> None:
    """Say which finding of an earlier study this one is."""
    from fresh_chair.services.findings import sorting

    with study_of(path, write=True) as opened:
        sorting.name_earlier(opened, sorting.find_finding(opened, name).id, carried)


@finding.command("back")
def take_back(path: StudyArgument) -> None:
    """Strike your own last change, with all entries it consisted of."""
    from fresh_chair.services.findings import sorting

    with study_of(path, write=True) as opened:
        say(f"Taken back: {sorting.take_back(opened).words}.")


@finding.command("log")
def list_entries(path: StudyArgument, json: JsonOption = False) -> None:
    """List every entry of the sorting ledger, struck ones too."""
    from dataclasses import replace

    from fresh_chair.core.findings.entries.judgements import SeverityRated

    with study_of(path) as opened:
        unseen = replace(SeverityRated("", "", 0, "not to be seen before the settling view is open"))
        entries = [
            entry
            if opened.findings.settling or not isinstance(entry.content, SeverityRated)
            else replace(entry, content=replace(unseen, finding=entry.content.finding, rater=entry.content.rater))
            for entry in opened.sorting.entries
        ]
        listed(entries, opened.findings.left_out, as_json=json)


@finding.command("strike")
def strike(
    path: StudyArgument,
    entry: Annotated[int, typer.Argument(metavar="ENTRY", help="The entry's number in the log.")],
    reason: ReasonOption = "",
) -> None:
    """Say that an entry of the sorting ledger does not hold; it stays where it is."""
    from fresh_chair.services.findings import sorting

    with study_of(path, write=True) as opened:
        sorting.strike(opened, entry, reason)
