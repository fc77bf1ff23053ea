"""The first page: the chairs across, or one below the other where there is no room. Pure drawing."""

from collections.abc import Callable, Iterator, Sequence
from textwrap import wrap

from textual.content import Content

from fresh_chair.core.figures.estimate import interval_words
from fresh_chair.core.figures.overall.estimates import OverallMeasure, Turning
from fresh_chair.core.figures.thresholds import Held
from fresh_chair.core.figures.whole.study_figures import Weighing
from fresh_chair.core.text import clipped, legible
from fresh_chair.core.words.overall import measure_words
from fresh_chair.core.words.thresholds import NO_THRESHOLDS, held_figure, held_words, threshold_heading
from fresh_chair.core.words.turning import turning_sentences
from fresh_chair.services.figures.turning import main_measure
from fresh_chair.services.judgement.first_page import ChairAnswer, NamedFinding
from fresh_chair.tui.widgets.signs import SEVERITY_COLOUR, Signs, chair_colour

_LABEL, _LEAST = 20, 22
_HELD_COLOUR: dict[Held, str] = {"met": "$moss", "not met": "$clay", "open": "$lamp"}
# One cell of the table: as many lines as it takes, each cut to the column.
Lines = list[Content]


def first_words(
    weighing: Weighing, answers: Sequence[ChairAnswer], turning: Turning | None, signs: Signs, width: int
) -> list[Content]:
    """The chairs across, and how sure one can be of the main measure; whether it turns is None until it is known."""
    measure = main_measure(weighing)
    parts = [first_panel(answers, measure, signs, width), Content("")]
    late = weighing.thresholds_late
    if not weighing.study.sheet.thresholds or late:
        said = threshold_heading(weighing) if late else NO_THRESHOLDS
        parts.append(Content.styled(legible(said), "$lamp"))
    parts.append(Content.styled(f"How sure, and what it hangs on: {measure_words(measure)}", "bold $chalk"))
    if turning is None:
        return [*parts, Content.styled("  it is being worked out whether it would turn ...", "$thread")]
    for sentence in turning_sentences(weighing, turning):
        turns = turning.turned and sentence.startswith("It turns")
        parts.append(Content.styled(f"  {legible(sentence)}", "bold $clay" if turns else "$chalk"))
    return parts


def first_panel(answers: Sequence[ChairAnswer], measure: OverallMeasure, signs: Signs, width: int) -> Content:
    """Every chair with its result, thresholds, findings and the machine's share.

    Args:
        answers: What is known of each chair.
        measure: The main one.
        signs: The glyphs to draw with.
        width: Of the panel, in cells.
    """
    if not answers:
        return Content("")
    column = (width - _LABEL) // len(answers)
    if column >= _LEAST:
        return Content("\n").join(_across(answers, measure, signs, column))
    return Content("\n").join(_below(answers, measure, signs, width))


def _rows(
    answers: Sequence[ChairAnswer], measure: OverallMeasure, signs: Signs, width: int
) -> list[tuple[str, Callable[[ChairAnswer], Lines]]]:
    """The rows of the table: a label, and each chair's cell."""
    rows: list[tuple[str, Callable[[ChairAnswer], Lines]]] = [
        (measure_words(measure), lambda answer: list(_result(answer, measure, width))),
        ("completed", lambda answer: [_completed(answer)]),
    ]
    if any(answer.usability is not None and answer.usability.value is not None for answer in answers):
        rows.append(("usability scale", lambda answer: [_usability(answer)]))
    for at in range(max(len(answer.held) for answer in answers)):
        threshold = answers[0].held[at].threshold
        label = f"enough: {threshold.measure}"
        rows.append((label, lambda answer, at=at: list(_held(answer, at, width))))  # type: ignore[misc]
    rows.append(("worst findings", lambda answer: _findings(answer.worst, signs, width, answer.unjudged)))
    rows.append(("strengths", lambda answer: _findings(answer.strengths, signs, width, 0)))
    rows.append(("the machine", lambda answer: [_machine(answer)]))
    return rows


def _across(answers: Sequence[ChairAnswer], measure: OverallMeasure, signs: Signs, column: int) -> Iterator[Content]:
    head = [Content(" " * _LABEL)]
    for answer in answers:
        head.append(_fitted(_title(answer), column))
    yield Content("").join(head)
    for label, cell in _rows(answers, measure, signs, column - 1):
        cells = [cell(answer) for answer in answers]
        for line in range(max(map(len, cells))):
            said = clipped(label, _LABEL - 1) if line == 0 else ""
            parts = [Content.styled(f"{said:<{_LABEL}}", "$thread")]
            parts += [_fitted(each[line] if line < len(each) else Content(""), column) for each in cells]
            yield Content("").join(parts)


def _below(answers: Sequence[ChairAnswer], measure: OverallMeasure, signs: Signs, width: int) -> Iterator[Content]:
    for answer in answers:
        yield _title(answer)
        for label, cell in _rows(answers, measure, signs, width - _LABEL - 1):
            for number, line in enumerate(cell(answer)):
                said = clipped(label, _LABEL - 1) if number == 0 else ""
                yield Content("").join([Content.styled(f"{said:<{_LABEL}}", "$thread"), line])
        yield Content("")


def _fitted(line: Content, width: int) -> Content:
    cut = line.truncate(width - 1, ellipsis=False)
    return Content("").join([cut, Content(" " * (width - cut.cell_length))])


def _title(answer: ChairAnswer) -> Content:
    chair = answer.chair
    return Content.styled(f"{chair.letter} {legible(chair.title)}", f"bold {chair_colour(chair)}")


def _result(answer: ChairAnswer, measure: OverallMeasure, width: int) -> Iterator[Content]:
    if not answer.against:
        yield Content.styled("not compared", "$thread")
    alike = f"alike in {measure_words(measure)} with" if measure in ("ease", "satisfaction") else "alike with"
    named = {"alike": alike, "open": "open against", "mixed": "mixed with"}
    for said in ("better than", "alike", "mixed", "behind", "open"):
        others = [each for each in answer.against if each.said == said]
        if not others:
            continue
        letters = ", ".join(each.other for each in others)
        colour = _SIDE_COLOUR[said]
        yield Content.styled(f"{named.get(said, said)} {letters}", colour)
        for each in others:
            for line in wrap(legible(each.beside), max(width - 2, 12)):
                yield Content.styled(f" {line}", "$thread")


_SIDE_COLOUR = {
    "better than": "bold $moss", "alike": "$tide", "mixed": "bold $lamp", "behind": "$clay", "open": "$thread",
}  # fmt: skip


def _completed(answer: ChairAnswer) -> Content:
    estimate = answer.completed
    if estimate.value is None:
        return Content.styled("nobody yet", "$thread")
    spread = "no interval"
    if estimate.low is not None and estimate.high is not None:
        spread = interval_words(estimate.low, estimate.high, of=100)
    return Content.assemble((f"{100 * estimate.value:.0f} %", "$chalk"), (f" ({spread}), n {estimate.n}", "$thread"))


def _usability(answer: ChairAnswer) -> Content:
    estimate = answer.usability
    if estimate is None or estimate.value is None:
        return Content.styled("no scores yet", "$thread")
    spread = "no interval" if estimate.low is None else interval_words(estimate.low, estimate.high)
    return Content.assemble((f"{estimate.value:.0f} of 100", "$chalk"), (f" ({spread}), n {estimate.n}", "$thread"))


def _held(answer: ChairAnswer, at: int, width: int) -> Iterator[Content]:
    held = answer.held[at]
    state = Content.styled(held_words(held.held), f"bold {_HELD_COLOUR[held.held]}")
    figure = legible(held_figure(held))
    if state.cell_length + len(figure) < width:
        yield Content.assemble(state, (f" {figure}", "$thread"))
    else:
        yield state
        yield from (Content.styled(f" {line}", "$thread") for line in wrap(figure, max(width - 2, 12)))


def _findings(found: Sequence[NamedFinding], signs: Signs, width: int, unjudged: int) -> Lines:
    lines = []
    for each in found:
        met = f" {each.met} of {each.tried}" if each.tried else ""
        severity = each.severity
        sign = (signs.severities[severity] + " ", SEVERITY_COLOUR[severity]) if severity is not None else ("", "")
        title = clipped(legible(each.title), max(width - len(met) - len(f"F{each.number} ") - len(sign[0]), 6))
        lines.append(Content.assemble(sign, (f"F{each.number} ", "$thread"), (title, "$chalk"), (met, "$thread")))
    if unjudged:
        lines.append(Content.styled(f"{unjudged} not judged yet", "$thread"))
    return lines or [Content.styled("none", "$thread")]


def _machine(answer: ChairAnswer) -> Content:
    machine = answer.machine
    if machine is None or machine.share is None:
        return Content.styled("not timed", "$thread")
    silent = machine.longest_silent_seconds
    longest = f", {silent:.0f} s silent at most" if silent else ""
    return Content.assemble((f"{100 * machine.share:.0f} % waiting", "$chalk"), (longest, "$thread"))
