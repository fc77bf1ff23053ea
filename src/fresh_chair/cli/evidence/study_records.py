"""`references`, `against`, `changes`, `inventory`, `links`, `forecast`, `advice`, `disclosure`: evidence of a study."""

from dataclasses import asdict
from typing import Annotated

import typer

from fresh_chair.cli.base.study import JsonOption, LetterArgument, StudyArgument, say, say_json, study_of
from fresh_chair.core.errors import InputError

IdArgument = Annotated[str, typer.Argument(metavar="ID", help="As `list` shows it.")]
PartsArgument = Annotated[list[str], typer.Argument(metavar="FIELD=TEXT...", help="As `fields` lists them.")]
OwnOption = Annotated[bool, typer.Option("--own", help="Only what was done, seen or measured.")]


def group_of(kind: str, words: str, *, alone: bool = False) -> typer.Typer:
    """The commands about one kind of evidence record.

    Args:
        kind: The kind, as the ledger names it.
        words: What these records are.
        alone: Whether its name alone is a command, too.
    """
    group = typer.Typer(help=words, no_args_is_help=not alone)
    _add_list(group, kind)
    _add_changes(group, kind)
    _add_fields(group, kind)
    return group


def _add_list(group: typer.Typer, kind: str) -> None:
    @group.command("list")
    def list_records(path: StudyArgument, json: JsonOption = False, own: OwnOption = False) -> None:
        """List them, each with the things it speaks of."""
        from fresh_chair.core.evidence.records import evidence_of, is_own
        from fresh_chair.services.evidence.records import evidence_lines, evidence_of_kind
        from fresh_chair.services.evidence.targets import target_words, targets, targets_in

        with study_of(path) as opened:
            held = [each for each in evidence_of_kind(opened, kind) if is_own(each.record) or not own]
            known = targets(opened)
        if json:
            say_json(
                [
                    {**asdict(each.record), "known_by": evidence_of(each.record), "first_wall_ns": each.first.wall_ns}
                    for each in held
                ]
            )
            return
        for each in held:
            spoken = {target: target_words(opened, target, known) for _, target in targets_in(each.record)}
            told = [f"{label}: {spoken.get(text, text)}" for label, text in evidence_lines(each.record)]
            borrowed = "" if is_own(each.record) else f"  ({evidence_of(each.record)})"
            say(f"{each.record.id}  {'; '.join(told)}{borrowed}")


def _add_changes(group: typer.Typer, kind: str) -> None:
    @group.command("add")
    def add_record(path: StudyArgument, parts: PartsArgument) -> None:
        """Put one down; its id is printed."""
        from fresh_chair.services.evidence.records import put_evidence

        with study_of(path, write=True) as opened:
            say(put_evidence(opened, kind, parted(parts)).id)

    @group.command("set")
    def set_record(path: StudyArgument, record_id: IdArgument, parts: PartsArgument) -> None:
        """Change fields of one; its earlier values stay in the file."""
        from fresh_chair.services.evidence.records import put_evidence

        with study_of(path, write=True) as opened:
            put_evidence(opened, kind, parted(parts), record_id=record_id)

    @group.command("drop")
    def drop_record(
        path: StudyArgument, record_id: IdArgument, reason: Annotated[str, typer.Argument(help="Why.")]
    ) -> None:
        """Say that one does not hold, with why; it stays in the file, and so do the links to it."""
        from fresh_chair.services.evidence.records import drop_evidence

        with study_of(path, write=True) as opened:
            drop_evidence(opened, kind, record_id, reason)


def _add_fields(group: typer.Typer, kind: str) -> None:
    @group.command("fields")
    def list_fields() -> None:
        """List the fields that can be given, with the values of each."""
        from typing import get_type_hints

        from fresh_chair.core.evidence.labels import EVIDENCE_LABELS
        from fresh_chair.core.evidence.records import KINDS
        from fresh_chair.core.plan.field_syntax import choices_of

        hints = get_type_hints(KINDS[kind], include_extras=True)
        for label in EVIDENCE_LABELS[kind]:
            choices = ", ".join(choice or "nothing" for choice in choices_of(hints[label.field]))
            say(f"{label.field}  {label.words}. {label.note or choices}".rstrip())


def parted(parts: list[str]) -> dict[str, str]:
    """Fields and texts as they are typed. Raises InputError where one is neither."""
    found = {}
    for part in parts:
        field, sign, text = part.partition("=")
        if not sign:
            raise InputError("A field is given as FIELD=TEXT.", "Such as: what='look at the scanner again'.")
        found[field.strip().replace("-", "_")] = text
    return found


def add_links_of(group: typer.Typer) -> None:
    """The command that shows a thing's links from both ends, among those about links."""

    @group.command("of")
    def list_links_of(
        path: StudyArgument,
        target: Annotated[str, typer.Argument(metavar="TARGET", help="Such as chair:A or forecast:ID.")],
        json: JsonOption = False,
    ) -> None:
        """List the links of one thing, as they read from it."""
        from fresh_chair.services.evidence.targets import links_of

        with study_of(path) as opened:
            found = links_of(opened, target)
        if json:
            say_json(
                [
                    {
                        "link": end.link.id,
                        "reads": end.words,
                        "other": end.other,
                        "words": end.other_words,
                        "gone": end.gone,
                    }
                    for end in found
                ]
            )
            return
        for end in found:
            say(f"{end.link.id}  {end.words}  {end.other_words}")

    @group.command("targets")
    def list_targets(
        path: StudyArgument,
        search: Annotated[str, typer.Argument(metavar="WORDS", help="Only those with these words.")] = "",
        json: JsonOption = False,
    ) -> None:
        """List everything that can be tied, by the name it is typed with."""
        from fresh_chair.services.evidence.targets import targets

        with study_of(path) as opened:
            known = targets(opened)
        wanted = search.casefold()
        found = {name: words for name, words in known.items() if wanted in f"{name} {words}".casefold()}
        if json:
            say_json([{"target": name, "words": words} for name, words in found.items()])
            return
        for name, words in found.items():
            say(f"{name}  {words}")


def add_grid(group: typer.Typer) -> None:
    """The commands that show the inventory across chairs and fill it in, among those about its records."""

    @group.command("grid")
    def show_grid(path: StudyArgument, json: JsonOption = False) -> None:
        """Show every purpose across the chairs; a question mark where it was not looked for."""
        from fresh_chair.services.evidence.inventory import inventory_rows

        with study_of(path) as opened:
            rows, letters = inventory_rows(opened), list(opened.study.chair_by_letter)
        if json:
            say_json([asdict(row) for row in rows])
            return
        for row in rows:
            cells = []
            for letter in letters:
                item = row.at[letter]
                there = "?" if item is None else item.presence
                cells.append(f"{letter} {item.shown if item is not None and item.shown else there}")
            say(f"{row.purpose}: {'; '.join(cells)}")

    @group.command("fill")
    def fill(path: StudyArgument, letter: LetterArgument) -> None:
        """Fill in the default programs that were read off a chair; entries made by hand stay."""
        from fresh_chair.services.evidence.inventory import fill_inventory

        with study_of(path, write=True) as opened:
            say(f"{fill_inventory(opened, letter.upper())} filled in.")


def add_succession(group: typer.Typer) -> None:
    """The command that shows releases in succession, among those about changes."""

    @group.command("succession")
    def show_succession(path: StudyArgument, json: JsonOption = False) -> None:
        """Show the comings and goings along each succession of releases, oldest first."""
        from fresh_chair.services.evidence.succession import successions_of

        with study_of(path) as opened:
            found = successions_of(opened)
        if json:
            say_json([asdict(each) for each in found])
            return
        for each in found:
            say(" -> ".join(f"{release.letter} {release.title}".strip() for release in each.releases))
            for line in each.lines:
                stands = [cell.words or _THERE[cell.there] for cell in line.cells]
                coming = f"; still to come: {line.to_come}" if line.to_come else ""
                say(f"  {line.what}: {' -> '.join(stands)}{coming}")


_THERE = {True: "there", False: "not there", None: "not known"}


def add_predictions(group: typer.Typer) -> None:
    """The command that lists forecasts with the hunches among them, among those about forecasts."""

    @group.command("all")
    def list_predictions(path: StudyArgument, json: JsonOption = False) -> None:
        """List all predictions, hunches too, each with its outcome."""
        from fresh_chair.services.findings.forecasts import forecast_lines

        with study_of(path) as opened:
            found = forecast_lines(opened)
        if json:
            say_json([asdict(line) for line in found])
            return
        for line in found:
            state = "late" if line.late else "sealed" if line.sealed else "open"
            told = "; ".join(filter(None, (line.about, line.by, line.sure, state, line.note)))
            say(f"{line.id}  {line.sort}: {line.what}  ({told})  {line.outcome}")
