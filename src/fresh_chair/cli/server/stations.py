"""`fresh-chair reserve` and `fresh-chair stations`: the station that holds each sitting, and how far clocks are off."""

from dataclasses import asdict
from typing import Annotated

import typer

from fresh_chair.cli.base.study import JsonOption, StudyArgument, say, say_json, study_of
from fresh_chair.core.clock import SECOND
from fresh_chair.core.errors import InputError
from fresh_chair.store.stations import StationLink

NumbersArgument = Annotated[
    list[int] | None, typer.Argument(metavar="SITTING...", help="Numbers of planned sittings.", show_default=False)
]


def reserve(
    path: StudyArgument,
    numbers: NumbersArgument = None,
    release: Annotated[
        bool, typer.Option("--release", help="Hold them no longer, be they another station's that is gone.")
    ] = False,
    json: JsonOption = False,
) -> None:
    """Keep sittings for this station, so that they can begin without the server; without numbers, list those kept."""
    with study_of(path, write=bool(numbers)) as opened:
        link = _link(opened.store.link)
        if numbers:
            for number in numbers:
                opened.study.seat(number)
            if release:
                link.release(numbers, of_others=True)
            else:
                link.reserve(numbers)
        found = link.reservations()
        if json:
            say_json([asdict(each) for each in found])
            return
        for each in found:
            seat = opened.study.seat(each.number)
            doing = "sits there now" if each.seated else "is kept for it"
            say(f"{each.number:>4}  {seat.participant} at {seat.chair} {doing}: {each.station}")
        if not found:
            say("No sitting is held by any station.")


def stations(path: StudyArgument, json: JsonOption = False) -> None:
    """List the stations that are at a study now, and how far their clocks were off when they joined."""
    with study_of(path) as opened:
        found = _link(opened.store.link).clocks()
        if json:
            say_json([asdict(each) for each in found])
            return
        for each in found:
            error = each.round_trip_ns / 2 / SECOND
            ahead = f"{each.ahead_ns / SECOND:+.3f} s against the server's clock, give or take {error:.3f}"
            say(f"{each.station:<24}{ahead}")
        if not found:
            say("No station is at it now.")


def _link(link: StationLink | None) -> StationLink:
    if link is None:
        raise InputError("That study is a file, and has no other stations.", "Studies on a server have.")
    return link
