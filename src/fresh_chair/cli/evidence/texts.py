"""`fresh-chair evidence`: all evidence records of a study as text, and the courses of things over time."""

from dataclasses import asdict
from pathlib import Path
from typing import Annotated

import typer

from fresh_chair.cli.base.study import JsonOption, StudyArgument, say, say_json, say_lines, study_of

evidence = typer.Typer(help="Evidence records of a study as text, and things over time.", no_args_is_help=True)


@evidence.command("text")
def write_text(path: StudyArgument) -> None:
    """Print all evidence records as a text in words; `evidence read` takes it in."""
    from fresh_chair.services.evidence.text import evidence_text

    with study_of(path) as opened:
        say_lines(evidence_text(opened))


@evidence.command("read")
def read_in(path: StudyArgument, file: Annotated[Path, typer.Argument(metavar="FILE", help="The text.")]) -> None:
    """Take evidence records in from a text: all of them, or none; one whose id is there is changed."""
    from fresh_chair.services.evidence.text import take_evidence
    from fresh_chair.services.system.files import name_of, read_text

    text = read_text(file, 2_000_000, kept="Nothing was read in.", what="a text of evidence")
    with study_of(path, write=True) as opened:
        taken = take_evidence(opened, text, name=name_of(file))
    say(f"{taken.new} new, {taken.changed} changed, {taken.same} as they were.")


@evidence.command("over-time")
def show_over_time(path: StudyArgument, json: JsonOption = False) -> None:
    """Show readings, opinions and findings at a chair over time, and along each succession of releases."""
    from fresh_chair.services.figures.over_time import courses_of

    with study_of(path) as opened:
        found = courses_of(opened)
    if json:
        say_json([asdict(course) for course in found])
        return
    for course in found:
        say(f"{course.sort}: {course.what}")
        for point in course.points:
            beside = "" if point.counts else f"  ({point.note or 'stands beside'})"
            say(f"  {point.chair}  {point.when}  {point.words}{beside}")
        for told in course.told:
            say(f"  {told}")
