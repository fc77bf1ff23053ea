"""Every chair beside the others: people, tasks done, ease, and the machine's share."""

from fresh_chair.services.report.telling.told import ToldStudy
from fresh_chair.tell.document.model import Run, Table, Text


def chair_columns(told: ToldStudy) -> tuple[float, ...]:
    """The widths of a table with a column a chair, alike in each table of the page."""
    return (1.15, *(1.0 for _ in told.titles))


def row_table(told: ToldStudy) -> Table:
    """Every chair beside the others: people, tasks done, ease, and how long the machine kept them waiting."""
    say, answers = told.words.say, told.answers
    cells = told.weighing.cells
    rows: list[tuple[Text, ...]] = [
        (
            (Run(say("people who sat there")),),
            *((Run(str(each.people), id=f"people/{each.chair.letter}"),) for each in answers),
        )
    ]
    for name, figure, alone in (
        (say("tasks done, alone or with help"), "completed", False),
        (say("tasks done alone"), "unaided", True),
    ):
        row: list[Text] = [(Run(name),)]
        for each in answers:
            letter = each.chair.letter
            rates = [cell.strict if alone else cell.lenient for key, cell in cells.items() if key[1] == letter]
            done, tried = sum(rate.x for rate in rates), sum(rate.n for rate in rates)
            reach = () if alone or not tried else (Run(f" ({told.of_100(each.completed.low, each.completed.high)})"),)
            row.append((told.rate(done, tried, f"{figure}/{letter}"), *reach))
        rows.append(tuple(row))
    ease = [(Run(say("how easy people found a task (1 to 7)")),)]
    ease += [(told.number(_ease(told, e.chair.letter), ".1f", f"ease/{e.chair.letter}"),) for e in answers]
    waits: list[Text] = [(Run(say("minutes of 100 in which the machine kept them waiting")),)]
    for each in answers:
        share = each.machine.share if each.machine is not None else None
        waits.append((told.number(None if share is None else 100 * share, ".0f", f"waits/{each.chair.letter}"),))
    rows += [tuple(ease), tuple(waits)]
    return Table(((Run(""),), *((Run(t),) for t in told.titles.values())), tuple(rows), wide=chair_columns(told))


def _ease(told: ToldStudy, letter: str) -> float | None:
    given = [fact.ease for fact in told.weighing.facts if fact.chair == letter and fact.ease is not None]
    return sum(given) / len(given) if given else None
