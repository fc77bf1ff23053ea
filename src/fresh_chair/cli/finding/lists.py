"""Findings, observations and ratings, listed."""

from dataclasses import asdict
from typing import Annotated

import typer

from fresh_chair.cli.base.study import JsonOption, StudyArgument, say, say_json, study_of
from fresh_chair.cli.finding.group import FindingArgument, RaterOption
from fresh_chair.cli.finding.group import finding as finding
from fresh_chair.core.text import count_of


@finding.command("list")
def list_findings(path: StudyArgument, json: JsonOption = False) -> None:
    """List the findings, the worst first, each with who met it."""
    from fresh_chair.services.findings.data import finding_data
    from fresh_chair.services.findings.life import life_states
    from fresh_chair.services.findings.observations import sorted_findings_of

    with study_of(path) as opened:
        found = sorted_findings_of(opened)
        states = life_states(opened, found)
    if json:
        say_json([finding_data(view, states.get(view.id, "")) for view in found.findings])
        return
    for view in found.findings:
        held = view.finding
        unknown = "?" if held.sort == "problem" else "-"
        severity = unknown if held.severity is None else str(held.severity)
        excused = f" (excused {held.excused})" if held.excused is not None else ""
        sort = "" if held.sort == "problem" else f"  [{held.sort}]"
        state = f"  {states[view.id]}" if states.get(view.id) else ""
        met = "; ".join(f"{each.chair} {each.words}" for each in view.spread if each.people or each.others)
        say(f"{held.name}  {severity}{excused}  {view.title}{sort}{state}  {met}")


@finding.command("show")
def show_finding(
    path: StudyArgument,
    name: FindingArgument,
    rater: RaterOption = "",
    pdf: Annotated[str, typer.Option("--pdf", metavar="FILE", help="Write it as a PDF of one page instead.")] = "",
    json: JsonOption = False,
) -> None:
    """Show everything about one finding, as its page does."""
    from pathlib import Path

    from fresh_chair.services.findings.data import page_data
    from fresh_chair.services.findings.page import finding_page
    from fresh_chair.services.findings.sorting import find_finding
    from fresh_chair.services.report.finding_paper import write_finding_paper

    with study_of(path) as opened:
        if pdf:
            say(str(write_finding_paper(opened, name, Path(pdf))))
            return
        page = finding_page(opened, find_finding(opened, name).id, rater=rater)
    if json:
        say_json(page_data(page))
        return
    say(f"{page.view.finding.name}  {page.view.title}  ({page.view.finding.sort})")
    for section in page.sections:
        if section.lines:
            say(f"{section.name}:")
            for line in section.lines:
                chair = f"{line.chair} " if line.chair and line.target else ""
                say(f"  {chair}{line.words}")


@finding.command("loose")
def list_observations(
    path: StudyArgument,
    words: Annotated[list[str] | None, typer.Argument(metavar="[WORDS...]", help="Words that are in it.")] = None,
    kind: Annotated[str, typer.Option("--kind", help="A kind of mark; “records of chairs”; “everything”.")] = "",
    chair: Annotated[str, typer.Option("--chair", help="The chair's letter.")] = "",
    card: Annotated[str, typer.Option("--card", help="The card's id.")] = "",
    person: Annotated[str, typer.Option("--person", help="The person's code.")] = "",
    known: Annotated[str, typer.Option("--known", help="How it is known: done, seen, heard, ...")] = "",
    every: Annotated[bool, typer.Option("--all", help="Also those that feed a finding.")] = False,
    like: Annotated[str, typer.Option("--like", metavar="TEXT", help="Those whose words look like this.")] = "",
    json: JsonOption = False,
) -> None:
    """List the observations a finding can stand on; as a rule those that feed none yet."""
    from fresh_chair.services.findings.filters import ObservationFilter
    from fresh_chair.services.findings.observations import similar_to, sorted_findings_of

    with study_of(path) as opened:
        shown = ObservationFilter(" ".join(words or ()), kind, chair, card, person, known, not every)
        found = shown.of(sorted_findings_of(opened).observations)
    if like:
        found = [each for each, _ in similar_to(like, found)]
    if json:
        say_json([asdict(each) for each in found])
        return
    for each in found:
        rated = f" {each.severity} of 4" if each.severity is not None else ""
        who = f"{each.participant} {each.at}" if each.sitting else "record"
        say(f"{each.target}  {each.chair} {who}  {each.kind}{rated}: {each.words}{each.known}")


@finding.command("ratings")
def list_ratings(path: StudyArgument, rater: RaterOption = "", json: JsonOption = False) -> None:
    """List the raters' severities: all of them once the settling view is open, else one's own."""
    from fresh_chair.services.findings.ratings import rating_rows, ratings_of

    with study_of(path) as opened:
        ratings = ratings_of(opened, rater=rater)
    rows = list(rating_rows(ratings.findings))
    if json:
        names = ("finding", "title", "rater", "severity", "reason", "unseen")
        alpha = asdict(ratings.alpha)
        said = {"seen": ratings.seen, "raters": ratings.raters, "alpha": alpha if ratings.seen else None}
        say_json({**said, "ratings": [dict(zip(names, row, strict=True)) for row in rows]})
        return
    for name, title, who, severity, reason, unseen in rows:
        say(f"{name}  {who} {severity}{'' if unseen else ' (having seen the others)'}: {reason}  ({title})")
    if not ratings.seen:
        raters = ", ".join(ratings.raters) or "nobody yet"
        say(f"Rated by {raters}; all are seen once the settling view is open (finding settle STUDY --open).")
    elif ratings.alpha.value is None:
        say(f"No alpha: {ratings.alpha.why}.")
    else:
        say(
            f"Krippendorff's alpha (ordinal) {ratings.alpha.value:.3f} over {count_of(ratings.alpha.units, 'finding')}."
        )


@finding.command("form")
def print_form(path: StudyArgument, rater: RaterOption) -> None:
    """Print a form for a rater as CSV: the observations of each finding, and no other rater's severity."""
    from fresh_chair.services.findings.ratings import rating_form

    with study_of(path) as opened:
        typer.echo(rating_form(opened, rater), nl=False)


@finding.command("discovery")
def show_discovery(path: StudyArgument, json: JsonOption = False) -> None:
    """Show how many problems newcomers met, and how many are likely still unseen."""
    from fresh_chair.core.words.findings import discovery_words
    from fresh_chair.services.findings.observations import sorted_findings_of
    from fresh_chair.services.findings.page import discovery_of

    with study_of(path) as opened:
        found = discovery_of(opened, sorted_findings_of(opened))
    if json:
        say_json(asdict(found))
        return
    for people, problems in enumerate(found.curve, start=1):
        say(f"{people:>3}  {problems:.2f} problems")
    for line in discovery_words(found):
        say(line)


@finding.command("again")
def list_again(path: StudyArgument, json: JsonOption = False) -> None:
    """List the findings to be tested again: forgiven, said to be mended, waiting for a release."""
    from fresh_chair.services.findings.life import again_list, carried_lives
    from fresh_chair.services.findings.observations import sorted_findings_of

    with study_of(path) as opened:
        found = sorted_findings_of(opened)
        lines, lives = again_list(opened, found), carried_lives(opened, found)
    if json:
        say_json({"again": [asdict(line) for line in lines], "carried": [asdict(each) for each in lives]})
        return
    for line in lines:
        waits = f"; waits for {line.waits_for}" if line.waits_for else ""
        say(f"{line.name}  {line.title}  {line.why}{waits}  (at {', '.join(line.chairs) or 'no chair'})")
    for each in lives:
        say(f"carried, at {each.carried.chair}: {each.carried.title}  {each.state or 'as it came'} ({each.words})")


@finding.command("observers")
def show_observers(
    path: StudyArgument,
    number: Annotated[int, typer.Argument(metavar="SITTING", help="The sitting's number.")],
    window: Annotated[float, typer.Option("--window", help="Seconds within which two marks are one.")] = 5.0,
    json: JsonOption = False,
) -> None:
    """Show the marks of two observers side by side, matched by kind and time, and how far they agree."""
    from fresh_chair.services.findings.observers import observers_of, observers_words

    with study_of(path) as opened:
        seen = observers_of(opened, number, window_seconds=window)
    if json:
        say_json(asdict(seen))
        return
    for row in seen.rows:
        say(f"{row.at}  {row.kind:<10} {', '.join(row.seen_by)}  {row.words}")
    for line in observers_words(seen):
        say(line)
