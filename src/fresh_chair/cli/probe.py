"""`fresh-chair probe`, `drift` and `checks`: a chair's own answers."""

from collections.abc import Sequence
from dataclasses import asdict
from pathlib import Path
from typing import TYPE_CHECKING, Annotated, Any

import typer

from fresh_chair.cli.base.study import JsonOption, LetterArgument, StudyAddress, StudyArgument, say, say_json, study_of
from fresh_chair.core.errors import HostKeyUnknown, InputError

if TYPE_CHECKING:
    from fresh_chair.services.chair.enquiries import Brought

probe = typer.Typer(help="Ask a chair: this machine, over SSH, or by courier.", no_args_is_help=True)
checks = typer.Typer(help="Whether it happened, as the chair itself sees it.", no_args_is_help=True)

ViaOption = Annotated[
    str, typer.Option("--via", metavar="WAY", help="here, or ssh user@host:port; by default as chosen for the chair.")
]
IdentityOption = Annotated[
    list[Path] | None, typer.Option("--identity", metavar="KEY", help="An SSH private key besides your own ones.")
]
HostKeyOption = Annotated[
    str, typer.Option("--host-key", metavar="SHA256:...", help="Confirm this host key, compared on the chair itself.")
]


@probe.command()
def here(json: JsonOption = False) -> None:
    """Say who this machine says it is, without a study."""
    from fresh_chair.core.chair.identity import disagreements
    from fresh_chair.probe.parsing.identity import identity_of
    from fresh_chair.probe.questions import state as questions
    from fresh_chair.probe.runner import ask
    from fresh_chair.probe.transport import Local

    asked = [*questions.IDENTITY, questions.DEFAULTS, questions.PROGRAMS, questions.SOURCES]
    facts, unread = identity_of(ask(Local(), asked))
    differing = disagreements(facts)
    if json:
        say_json(
            {
                "facts": [asdict(each) for each in facts],
                "unread": [asdict(each) for each in unread],
                "disagreements": [asdict(each) for each in differing],
            }
        )
        return
    for fact in facts:
        say(f"{fact.name:<18}{fact.value}  ({fact.source})")
    for missing in unread:
        say(f"{missing.name:<18}could not be read: {missing.why}")
    for each in differing:
        say(f"{each.name:<18}{each.one_source} says {each.one}, {each.other_source} says {each.other}")


@probe.command()
def reach(
    path: StudyArgument,
    letter: LetterArgument,
    way: Annotated[str, typer.Argument(metavar="WAY", help="here, courier, or ssh user@host:port.")],
) -> None:
    """Choose how a chair is reached."""
    from fresh_chair.services.chair.asking import choose_reach

    with study_of(path, write=True) as opened:
        say(f"{letter} is reached by: {choose_reach(opened, letter, way)}")


@probe.command()
def show(path: StudyArgument, letter: LetterArgument, json: JsonOption = False) -> None:
    """Print a chair's sheet as it is on record, without asking it anything."""
    from fresh_chair.core.chair.records import KINDS
    from fresh_chair.services.chair.enquiries import chair_of
    from fresh_chair.services.chair.records import record_lines
    from fresh_chair.services.chair.sheet import chair_sheet

    with study_of(path) as opened:
        sheet = chair_sheet(opened, chair_of(opened, letter), opened.clock.now())
    if json:
        say_json(
            {
                "chair": letter,
                "reach": sheet.ledger.reach,
                "facts": [asdict(each) for each in sheet.facts],
                "unread": [asdict(each) for each in sheet.unread],
                "disagreements": [asdict(each) for each in sheet.disagreements],
                "claims": [asdict(each) for each in sheet.claims],
                "freshness": sheet.freshness,
                "why": sheet.why,
                "told": list(sheet.told),
                "moves_by_itself": sheet.ledger.noise,
                "records": {
                    kind: [{**asdict(held.record), "carried_from": held.source} for held in sheet.ledger.held(kind)]
                    for kind in KINDS
                    if kind != "claim"
                },
            }
        )
        return
    for fact in sheet.facts:
        say(f"{fact.name:<18}{fact.value}  ({fact.source})")
    for each in sheet.disagreements:
        say(f"{each.name:<18}{each.one_source} says {each.one}, {each.other_source} says {each.other}")
    for claim in sheet.claims:
        say(f"promised          {claim.promised}: {claim.answer}")
    for words in sheet.changed_since:
        say(f"changed           {words}")
    say(f"{sheet.freshness}{f': {sheet.why}' if sheet.why else ''}")
    for words in sheet.told:
        say(f"  {words}")
    for kind, title in _SHEETS.items():
        listed = sheet.ledger.held(kind)
        if listed:
            say(f"{title}:")
        for held in listed:
            text = "; ".join(f"{line.words}: {line.text}" for line in record_lines(held.record) if line.text)
            say(f"  {text}{f'  (carried from {held.source})' if held.source else ''}")


_SHEETS = {
    "reading": "readings",
    "install": "installation",
    "page": "first-boot pages",
    "consent": "defaults and consent",
    "warning": "warnings",
    "look": "looks",
}


@probe.command()
def noise(
    path: StudyArgument,
    letter: LetterArgument,
    leave_out: Annotated[str, typer.Option("--leave-out", metavar="NAME", help="It moves by itself.")] = "",
    count_again: Annotated[str, typer.Option("--count-again", metavar="NAME", help="It is left out no more.")] = "",
    reason: Annotated[str, typer.Option("--reason", help="Why it is left out.")] = "",
    json: JsonOption = False,
) -> None:
    """List the names that are left out of drift, leave out another one, or count one again."""
    from fresh_chair.services.chair.enquiries import chair_of
    from fresh_chair.services.chair.freshness import count_again as counted
    from fresh_chair.services.chair.freshness import leave_out as left_out

    with study_of(path, write=bool(leave_out or count_again)) as opened:
        chair_of(opened, letter)
        if leave_out:
            left_out(opened, letter, leave_out, reason)
        if count_again:
            counted(opened, letter, count_again)
        found = dict(opened.known_chairs.of(letter).noise)
    if json:
        say_json(found)
        return
    for name, why in found.items():
        say(f"{name}  ({why})")


@probe.command("ask")
def ask_chair(
    path: StudyArgument,
    letter: LetterArgument,
    enquiries: Annotated[
        list[str],
        typer.Argument(metavar="WHAT...", help="identity, baseline, noise, fresh, readings, defaults, claims."),
    ],
    via: ViaOption = "",
    identity: IdentityOption = None,
    host_key: HostKeyOption = "",
    json: JsonOption = False,
) -> None:
    """Ask a chair, and put its answers on record."""
    _ask(path, letter, enquiries, via=via, identity=identity, host_key=host_key, json=json)


@probe.command()
def courier(
    path: StudyArgument,
    letter: LetterArgument,
    enquiries: Annotated[list[str], typer.Argument(metavar="WHAT...", help="As for ask; also before and after.")],
    to: Annotated[Path, typer.Option("--to", metavar="DIR", help="Where to write the script, such as a stick.")],
) -> None:
    """Write the script that a courier carries to a chair without a network."""
    from fresh_chair.services.chair.asking import courier_for

    with study_of(path, write=True) as opened:
        written = courier_for(opened, letter, enquiries, to)
        say(f"{written.path}: run it on chair {letter} with sh, and bring back the file that it leaves.")


@probe.command()
def bring(
    path: StudyArgument,
    file: Annotated[Path, typer.Argument(metavar="FILE", help="What the courier brought.", show_default=False)],
    json: JsonOption = False,
) -> None:
    """Put a courier's answers on record."""
    from fresh_chair.services.chair.asking import brought_by_courier

    with study_of(path, write=True) as opened:
        letter, brought = brought_by_courier(opened, file)
    _tell(letter, brought, as_json=json)


def drift(
    path: StudyArgument,
    letter: LetterArgument,
    via: ViaOption = "",
    identity: IdentityOption = None,
    host_key: HostKeyOption = "",
    json: JsonOption = False,
) -> None:
    """Hold a chair against its baseline now: fresh, not fresh, or not checked."""
    _ask(path, letter, ["fresh"], via=via, identity=identity, host_key=host_key, json=json)


@checks.command("run")
def run_checks(
    path: StudyArgument,
    letter: LetterArgument,
    cards: Annotated[list[str] | None, typer.Argument(metavar="CARD...", help="Ids of cards; all if none.")] = None,
    before: Annotated[bool, typer.Option("--before", help="Before an attempt: is it so already?")] = False,
    via: ViaOption = "",
    identity: IdentityOption = None,
    host_key: HostKeyOption = "",
    json: JsonOption = False,
) -> None:
    """Ask a chair whether it happened: confirmed, contradicted, cannot tell, was so before."""
    enquiry = "before" if before else "after"
    _ask(path, letter, [enquiry], via=via, identity=identity, host_key=host_key, json=json, cards=cards or ())


@checks.command("commands")
def list_commands(path: StudyArgument, json: JsonOption = False) -> None:
    """Show every command of the script's own that its checks would run, and whether it is approved."""
    from fresh_chair.services.chair.approvals import approved, commands_in, is_approved

    with study_of(path) as opened:
        known = approved(opened.study)
        found = [(where, command, is_approved(command, known)) for where, command in commands_in(opened)]
    if json:
        say_json([{"where": where, "command": command, "approved": ok} for where, command, ok in found])
        return
    for where, command, ok in found:
        say(f"{'approved' if ok else 'not approved':<14}{command}  ({where})")
    if not found:
        say("No check of this study runs a command of its own.")


@checks.command("approve")
def approve_commands(
    path: StudyArgument,
    commands: Annotated[list[str] | None, typer.Argument(metavar="COMMAND...", help="Word for word.")] = None,
    every: Annotated[bool, typer.Option("--all", help="All that `checks commands` shows.")] = False,
) -> None:
    """Approve commands for this study, on this computer. Read them first."""
    from fresh_chair.services.chair.approvals import approve, commands_in

    with study_of(path) as opened:
        there = [command for _, command in commands_in(opened)]
        wanted = there if every else list(commands or [])
        strange = [command for command in wanted if command not in there]
        if strange or not wanted:
            raise InputError(
                "No check of this study runs that." if strange else "Say which commands, or --all.",
                "See them with: fresh-chair checks commands STUDY",
            )
        say(f"{approve(opened.study, wanted)} approved.")


def _ask(
    path: StudyAddress,
    letter: str,
    enquiries: Sequence[str],
    *,
    via: str,
    identity: list[Path] | None,
    host_key: str,
    json: bool,
    cards: Sequence[str] = (),
) -> None:
    from fresh_chair.services.chair.asking import run_enquiry, trust_host
    from fresh_chair.services.chair.enquiries import with_second_look

    brought = []
    with study_of(path, write=True) as opened:
        for enquiry in with_second_look(enquiries):
            for last in (False, True):
                try:
                    brought.append(
                        run_enquiry(opened, letter, enquiry, way=via, cards=cards, identity=tuple(identity or ()))
                    )
                    break
                except HostKeyUnknown as problem:
                    if last or host_key != problem.fingerprint:
                        hint = f"Compare it on the chair, then say: --host-key {problem.fingerprint}"
                        raise InputError(problem.title, hint) from problem
                    trust_host(problem)
    _tell(letter, brought, as_json=json)


def _tell(letter: str, brought: "Sequence[Brought]", *, as_json: bool) -> None:
    if as_json:
        parts: dict[str, Any] = {
            each.enquiry: {**each.data, "unread": {u.name: u.why for u in each.unread}} for each in brought
        }
        say_json({"chair": letter, **parts})
        return
    for each in brought:
        for line in each.said:
            say(line)
        for missing in each.unread:
            say(f"{missing.name}: could not be read, {missing.why}")
