"""`fresh-chair plan`: the whole plan, field by field, its orders, numbers, minutes and changes."""

from dataclasses import asdict
from typing import TYPE_CHECKING, Annotated, Any

import typer

from fresh_chair.cli.base.study import JsonOption, StudyArgument, ToOption, say, say_json, study_of
from fresh_chair.core.errors import InputError
from fresh_chair.core.text import count_of, legible

if TYPE_CHECKING:
    from fresh_chair.services.figures.rule_chances import Assumed, RuleChances

plan = typer.Typer(help="What is decided before anyone sits down.", no_args_is_help=True)

PlaceArgument = Annotated[str, typer.Argument(metavar="PLACE", help="Such as chair.B.kernel or sheet.paid_by.")]


@plan.command()
def show(path: StudyArgument, json: JsonOption = False) -> None:
    """Print the readiness of each part of the plan."""
    from fresh_chair.services.plan.readiness import readiness

    with study_of(path) as opened:
        parts = readiness(opened).parts
    if json:
        say_json([asdict(part) for part in parts])
        return
    for part in parts:
        say(f"{part.state:<7}{part.title:<14}{part.words}")


@plan.command()
def fields(
    path: StudyArgument,
    kind: Annotated[str, typer.Argument(help="study, chair, card or person.")],
    name: Annotated[str, typer.Argument(help="Which one.")] = "",
    json: JsonOption = False,
) -> None:
    """List every field of one thing of the plan, with its path."""
    from fresh_chair.services.plan.editing import field_lines, require_kind

    with study_of(path) as opened:
        require_kind(opened.study, kind, name)
        lines = field_lines(opened.study, kind, name)
    if json:
        say_json([{"place": line.path, "text": line.text, "lacking": line.lacking} for line in lines])
        return
    for line in lines:
        say(f"{line.path:<40}{line.text}")


@plan.command()
def get(path: StudyArgument, place: PlaceArgument, json: JsonOption = False) -> None:
    """Print one field."""
    from fresh_chair.services.plan.editing import get_field

    with study_of(path) as opened:
        text = get_field(opened.study, place)
    if json:
        say_json({"place": place, "text": text})
    else:
        say(text)


@plan.command("set")
def set_one(
    path: StudyArgument,
    place: PlaceArgument,
    text: Annotated[str, typer.Argument(help="Its value, as it is typed on the sheet.")],
) -> None:
    """Change one field."""
    from fresh_chair.services.plan.editing import set_field

    with study_of(path, write=True) as opened:
        set_field(opened, place, text)


@plan.command()
def again(path: StudyArgument, number: Annotated[int, typer.Argument(help="A sitting that has ended.")]) -> None:
    """Plan one more sitting of the same person at the same chair."""
    from fresh_chair.services.plan.plan_changes import sit_again

    with study_of(path, write=True) as opened:
        seat = sit_again(opened, number)
    say(f"Sitting {seat.number} is planned: {seat.participant} at {seat.chair} once more.")


@plan.command()
def order(
    path: StudyArgument,
    seed: Annotated[int | None, typer.Option("--seed", min=0, help="Draw what has not begun anew from this.")] = None,
    again: Annotated[bool, typer.Option("--again", help="Draw what has not begun anew, from the same seed.")] = False,
    json: JsonOption = False,
) -> None:
    """Print the orders of cards and chairs, and how balanced they are."""
    from fresh_chair.core.plan.balance import balance_of
    from fresh_chair.services.plan.plan_changes import plan_again

    with study_of(path, write=again or seed is not None) as opened:
        if again or seed is not None:
            plan_again(opened, seed=seed)
        study = opened.study
    balance = balance_of(study, study.seats)
    if json:
        say_json(_orders(study, balance))
        return
    for seat in study.seats:
        say(f"{seat.number:>4}  {seat.participant:<10}{seat.chair}  {seat.position}  {' '.join(seat.cards)}")
    for sentence in balance.uneven:
        say(f"not balanced: {sentence}")
    for sentence in balance.sentences:
        say(f"balanced: {sentence}")


def _orders(study: Any, balance: Any) -> dict[str, Any]:
    return {
        "seed": study.seed,
        "sittings": [asdict(seat) for seat in study.seats],
        "chairs": [
            {
                "group": each.group,
                "people": each.people,
                "positions": {letter: list(row) for letter, row in each.positions.items()},
                "neighbours": {f"{one}>{other}": count for (one, other), count in each.neighbours.items()},
                "people_missing": each.missing,
            }
            for each in balance.chairs
        ],
        "cards": {
            "positions": {name: list(row) for name, row in balance.cards.positions.items()},
            "bound": list(balance.cards.bound),
            "unevenness": balance.cards.unevenness,
        },
        "balanced": list(balance.sentences),
        "not_balanced": list(balance.uneven),
    }


@plan.command("numbers")
def how_many(
    path: StudyArgument,
    people: Annotated[int | None, typer.Option("--people", min=2, max=500, help="Instead of the planned.")] = None,
    simulate: Annotated[bool, typer.Option("--simulate", help="Draw studies of this plan by the rule.")] = False,
    studies: Annotated[int, typer.Option("--studies", min=100, max=10_000, help="How many of each.")] = 400,
    size: Annotated[int, typer.Option("--size", min=1, max=3, help="Of the difference: small to large.")] = 2,
    json: JsonOption = False,
) -> None:
    """Print the numbers of people and the differences they can show."""
    from fresh_chair.services.figures.rule_chances import assumed
    from fresh_chair.services.plan.sample_sizes import numbers

    with study_of(path) as opened:
        found, plan = numbers(opened), assumed(opened, size=size - 1)
    count = people or max(found.planned, 2)
    drawn = _drawn_chances(plan, studies) if simulate and plan is not None else []
    if json:
        needed = {aim.id: found.needed(aim) for aim in found.aims}
        curves = {aim.id: found.points(aim, 60) for aim in found.aims}
        rule = None if plan is None else _rule_json(plan, drawn)
        say_json({"people": count, "planned": found.planned, "needed": needed, "curves": curves, "rule": rule})
        return
    for sentence in (f"{count_of(count, 'person', 'people')} at each chair.", *found.said(count)):
        say(sentence)
    if plan is not None:
        _say_rule(plan, drawn)


def _drawn_chances(plan: "Assumed", studies: int) -> "list[RuleChances]":
    """Each number of people with all its studies."""
    from fresh_chair.services.figures.rule_chances import rule_chances

    return sorted((row for row in rule_chances(plan, studies=studies) if row.settled), key=lambda row: row.people)


def _rule_json(plan: "Assumed", drawn: "list[RuleChances]") -> dict[str, object]:
    return {
        "at_both": plan.planned,
        "measure": plan.measure,
        "difference": plan.difference,
        "completing": plan.completing,
        "attempts": plan.attempts,
        "spread_of_log_ratio": plan.spread,
        "pairs_of_times": plan.times,
        "chances": [asdict(row) for row in drawn],
    }


def _say_rule(plan: "Assumed", drawn: "list[RuleChances]") -> None:
    """The rule's chances in lines, with all that is taken for granted."""
    from fresh_chair.core.words.planning.sample_sizes import advice_sentence, apart_words, assumption_sentences

    say(f"{count_of(plan.planned, 'person', 'people')} at both chairs of a pair, measure: {plan.measure}.")
    for sentence in assumption_sentences(plan.completing, plan.attempts, plan.spread, plan.times):
        say(sentence)
    say(advice_sentence())
    if drawn:
        say(f"One chair {apart_words(plan.measure, plan.difference)}; in % of drawn studies:")
    for row in drawn:
        apart, alike = row.apart, row.alike
        shares = (100 * apart.share(each)[0] for each in (apart.right, apart.wrong, apart.alike, apart.open))
        right, wrong, same, left_open = shares
        people = "person" if row.people == 1 else "people"
        error = 100 * apart.share(apart.right)[1]
        say(
            f"  {row.people:>3} {people}: right {right:.0f} (error {error:.1f}), "
            f"wrong {wrong:.1f}, alike {same:.0f}, cannot tell {left_open:.0f}; "
            f"all equal: one named {100 * alike.share(alike.wrong)[0]:.1f}"
        )


@plan.command("time")
def how_long(path: StudyArgument, json: JsonOption = False) -> None:
    """Print how long each coming sitting takes, and which do not fit."""
    from fresh_chair.services.plan.schedule import timing

    with study_of(path) as opened:
        found = timing(opened)
    if json:
        sittings = [
            {
                "sitting": seat.seat.number,
                "participant": seat.seat.participant,
                "chair": seat.seat.chair,
                "low_minutes": round(seat.low, 2),
                "likely_minutes": round(seat.likely, 2),
                "high_minutes": round(seat.high, 2),
                "over": seat.over(found.minutes),
                "drop": list(seat.drop),
            }
            for seat in found.seats
        ]
        say_json({"planned_minutes": found.minutes, "sittings": sittings, "remarks": list(found.remarks)})
        return
    for seat in found.seats:
        drop = f"  over; drop {' '.join(seat.drop)}" if seat.over(found.minutes) else ""
        say(
            f"{seat.seat.number:>4}  {seat.seat.participant:<10}{seat.seat.chair}  "
            f"{seat.low:.0f} to {seat.high:.0f} min, likely {seat.likely:.0f} of {found.minutes}{drop}"
        )
    for sentence in found.remarks:
        say(sentence)


@plan.command()
def calendar(path: StudyArgument, to: ToOption) -> None:
    """Write the timetable of the sittings to come as iCalendar."""
    from fresh_chair.services.plan.schedule import write_timetable

    with study_of(path) as opened:
        written = write_timetable(opened, to)
    say(f"{written.path}  {written.what}")


@plan.command()
def changes(
    path: StudyArgument,
    every: Annotated[bool, typer.Option("--all", help="Those before the first sitting too.")] = False,
    json: JsonOption = False,
) -> None:
    """List the dated changes since the first sitting."""
    from datetime import UTC, datetime

    with study_of(path) as opened:
        found = [change for change in opened.plans.changes() if every or change.sittings]
    if json:
        say_json(
            [{"place" if name == "path" else name: value for name, value in asdict(each).items()} for each in found]
        )
        return
    for change in found:
        when = datetime.fromtimestamp(change.wall_ns / 1e9, UTC).strftime("%Y-%m-%d %H:%M")
        if change.before or change.after:
            what = f"{change.before or 'nothing'} became {change.after or 'nothing'}"
        else:
            what = "changed; what is said of people is not kept twice"
        say(f"{when} UTC  {change.author}  {change.path}: {what}")
    if not found:
        say("Nothing was changed.")


def print_command(
    path: StudyArgument,
    to: ToOption,
    what: Annotated[
        list[str] | None,
        typer.Option("--what", help="cards, cards-4, running, consent, ratings, fixtures; all but cards-4 by default."),
    ] = None,
    paper: Annotated[str, typer.Option("--paper", help="a4 or letter.")] = "a4",
    sitting: Annotated[list[int] | None, typer.Option("--sitting", help="Running sheets of these only.")] = None,
    language: Annotated[str, typer.Option("--language", metavar="CODE", help="Whose sentences to write.")] = "en",
) -> None:
    """Write task cards, running sheets, consent and rating forms and the list for the bench as one PDF."""
    from fresh_chair.services.report.printing import PAPERS, PARTS, print_plan
    from fresh_chair.services.system.language import words_in

    parts = [part for part in PARTS if part in (what or [each for each in PARTS if each != "cards-4"])]
    strange = [part for part in what or () if part not in PARTS]
    size = next((each for each in PAPERS if each == paper.lower()), None)
    if strange:
        known = ", ".join(PARTS)
        raise InputError(f"{legible(strange[0])} is no part; there are {known}.", "Nothing was written.")
    if size is None:
        known = " and ".join(PAPERS)
        raise InputError(f"{legible(paper)} is no paper; there are {known}.", "Nothing was written.")
    with study_of(path) as opened:
        written = print_plan(opened, to, parts, paper=size, sittings=sitting or (), words=words_in(language))
    say(f"{written.path}  {written.what}")
