"""The three bands of a chair's sheet, and the panel beside them. Pure drawing."""

from collections.abc import Sequence
from textwrap import wrap

from textual.content import Content

from fresh_chair.core.chair.readings import Series, creep
from fresh_chair.core.chair.record_time import when_text
from fresh_chair.core.chair.records import borrowed_words, reading_text
from fresh_chair.core.clock import SECOND
from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.services.chair.sheet import ChairView
from fresh_chair.services.system.clock import day_and_time
from fresh_chair.tui.widgets.signs import Signs, chair_colour

_NAME = 17
_LEAST_COLUMN = 37
ANSWER_SIGNS = {
    "as promised": ("ready", "$moss"),
    "partly": ("open", "$lamp"),
    "not so": ("wrong", "$clay"),
    "newer through an update": ("ready", "$tide"),
    "cannot be tested here": ("open", "$thread"),
    "not looked at": ("open", "$lamp"),
    "taken on trust": ("open", "$thread"),
}
_FRESHNESS = {"fresh": ("ready", "$moss"), "not fresh": ("wrong", "$clay"), "not checked": ("open", "$lamp")}
_MOST_TOLD = 12


def head(sheet: ChairView, signs: Signs, width: int, *, place: int, of: int) -> Content:
    """Which chair it is, whether it is fresh, and how it is reached."""
    reach = sheet.ledger.reach or "no way to it chosen"
    state, colour = _FRESHNESS[sheet.freshness]
    room = max(width - len(sheet.chair.title) - len(sheet.freshness) - 11, 12)
    return Content.assemble(
        (f"{sheet.chair.letter}  {legible(sheet.chair.title)}", f"bold {chair_colour(sheet.chair)}"),
        (f"   {signs.states[state]} {sheet.freshness}", colour),
        (f"   {clipped(f'{place} of {of}, {legible(reach)}', room)}", "$thread"),
    )


def band(words: str, more: str, width: int, signs: Signs) -> Content:
    """The line above a band."""
    rest = max(width - len(words) - len(more) - 2, 0)
    return Content.assemble((words, "bold $chalk"), (f" {signs.line * rest} {more}", "$thread"))


def identity(sheet: ChairView, width: int, signs: Signs) -> Content:
    """Who it says it is: as read, or as planned where nothing was."""
    read = sheet.ledger.identity
    if read is None:
        return Content("\n").join([band("who it says it is", "as planned", width, signs), *_planned(sheet, width)])
    when = f"read {day_and_time(read[0].wall_ns / SECOND)}, {legible(read[1].way)}"
    lines = [band("who it says it is", clipped(when, max(width - 20, 10)), width, signs)]
    lines += _columns(_merged(sheet), width)
    for each in sheet.disagreements:
        words = f"{each.name}: {each.one_source} says {each.one}, {each.other_source} says {each.other}"
        lines += _hung(signs.states["wrong"], words, width, "$clay")
    for words in sheet.changed_since:
        lines += _hung(signs.states["open"], f"changed after somebody had sat here, {words}", width, "$lamp")
    if sheet.unread:
        names = ", ".join(each.name for each in sheet.unread)
        lines += _hung(signs.states["open"], f"could not be read: {names}; e says why", width, "$thread")
    return Content("\n").join(lines)


def _merged(sheet: ChairView) -> list[tuple[str, str, str]]:
    """Name, value and colour of each fact: equal answers of several sources once, default programs in one line."""
    disputed = {each.name for each in sheet.disagreements}
    found: dict[str, tuple[str, str, str]] = {}
    defaults = []
    for fact in sheet.facts:
        if fact.name.startswith("default "):
            defaults.append(f"{fact.name.removeprefix('default ')} {fact.value.removesuffix('.desktop')}")
        elif fact.name not in found:
            found[fact.name] = (fact.name, legible(fact.value), "$clay" if fact.name in disputed else "$chalk")
    version = found.pop("desktop version", None)
    if version is not None and "desktop" in found:
        name, value, colour = found["desktop"]
        found["desktop"] = (name, f"{value} {version[1]}", colour)
    if defaults:
        found["opens with"] = ("opens with", legible(", ".join(defaults)), "$chalk")
    return list(found.values())


def _columns(rows: Sequence[tuple[str, str, str]], width: int) -> list[Content]:
    """Rows in two columns where there is room for two; a long one gets a line of its own."""
    if width < 2 * _LEAST_COLUMN:
        return [line for row in rows for line in [_row(row, width)]]
    column = width // 2
    short = [row for row in rows if len(row[1]) <= column - _NAME - 1]
    half = (len(short) + 1) // 2
    lines = []
    for index in range(half):
        left = _row(short[index], column)
        right = _row(short[index + half], column) if index + half < len(short) else Content("")
        lines.append(Content.assemble(left, " " * (column - left.cell_length), right))
    return lines + [_row(row, width) for row in rows if row not in short]


def _row(row: tuple[str, str, str], width: int) -> Content:
    name, value, colour = row
    return Content.assemble((f"{name:<{_NAME}}", "$thread"), (clipped(value, max(width - _NAME - 1, 8)), colour))


def _planned(sheet: ChairView, width: int) -> list[Content]:
    chair, machine = sheet.chair, sheet.machine
    rows = (
        ("edition", chair.edition),
        ("stage", chair.stage),
        ("desktop", chair.desktop),
        ("kernel", chair.kernel),
        ("machine", machine.name + (", virtual" if machine.virtual else "")),
        ("installed", chair.installed),
        *(("known fault", fault.what) for fault in machine.faults),
        *(("altered", alteration) for alteration in chair.alterations),
    )
    return [
        Content.assemble(
            (f"{name:<{_NAME}}", "$thread"),
            (
                f"\n{' ' * _NAME}".join(wrap(legible(value), max(width - _NAME, 20))),
                "$clay" if name in ("known fault", "altered") else "$chalk",
            ),
        )
        for name, value in rows
        if value
    ]


def promised(sheet: ChairView, width: int, signs: Signs) -> Content:
    """Claims and their answers."""
    open_ones = sum(claim.answer == "not looked at" for claim in sheet.claims)
    more = f"{count_of(len(sheet.claims), 'claim')}, {open_ones} not looked at" if sheet.claims else "no claim put down"
    lines = [band("promised, and found", more, width, signs)]
    if not sheet.claims:
        lines.append(Content.styled("What the release notes promise belongs here; c opens the sheet.", "$thread"))
    for claim in sheet.claims:
        state, colour = ANSWER_SIGNS[claim.answer]
        room = max(width - 28, 20)
        lines.append(
            Content.assemble(
                (f"{signs.states[state]} ", colour),
                (clipped(legible(claim.promised), room).ljust(room), "$chalk"),
                (f"  {claim.answer}{borrowed_words(claim)}", colour),
            )
        )
    return Content("\n").join(lines)


def freshness(sheet: ChairView, width: int, signs: Signs) -> Content:
    """Is it still fresh: the answer large, the differences in words, and the way to put it back."""
    state, colour = _FRESHNESS[sheet.freshness]
    proof = sheet.ledger.proof
    more = ""
    if sheet.ledger.baseline is not None:
        moment, taken = sheet.ledger.baseline
        more = f"baseline of {day_and_time(moment.wall_ns / SECOND)}, {taken.keys} names"
    lines = [band("is it fresh", more, width, signs)]
    said = sheet.freshness + (f": {sheet.why}" if sheet.why else "")
    lines.append(Content.assemble((f"{signs.states[state]} ", colour), (said, f"bold {colour}")))
    if proof is not None:
        moment, read = proof
        counts = f"compared {day_and_time(moment.wall_ns / SECOND)}: {read.compared} names, {read.count} differ"
        counts += f", {read.hidden} left out" if read.hidden else ""
        lines.append(Content.styled(f"  {counts}", "$thread"))
        lines += [
            Content.styled(f"  {signs.dot} {legible(clipped(words, max(width - 6, 20)))}", "$chalk")
            for words in sheet.told[:_MOST_TOLD]
        ]
        if len(sheet.told) > _MOST_TOLD:
            lines.append(Content.styled(f"  and {len(sheet.told) - _MOST_TOLD} more; k shows all", "$thread"))
        if read.unread:
            names = ", ".join(f"{each.name} ({each.why})" for each in read.unread)
            lines += _hung(signs.states["open"], f"not compared: {names}", width, "$thread")
    for back in sheet.put_back:
        lead = "put back" if back.sure else "perhaps"
        words = (
            f"{lead}, {legible(back.card.title)}: {'; '.join(legible(step).rstrip('.') for step in back.card.put_back)}"
        )
        lines += _hung(signs.states["wrong" if back.sure else "open"], words, width, "$lamp")
    return Content("\n").join(lines)


def beside(sheet: ChairView, sheets: Sequence[tuple[str, str, str]], width: int, signs: Signs) -> Content:
    """Readings with their line over time, and the sheets that belong to the chair, each with its key.

    Args:
        sheets: Key, words and state of each sheet.
    """
    lines = [Content.styled("readings", "$thread")]
    if not sheet.series:
        lines.append(Content("none yet"))
    for series in sheet.series:
        newest = series.taken[-1].reading
        doubt = " doubted" if newest.trust == "doubted" else ""
        text = f"{reading_text(newest)}{doubt}{borrowed_words(newest)}"
        room = max(width - len(text) - 1, 8)
        colour = "$thread" if doubt else "$chalk"
        lines.append(
            Content.assemble((clipped(legible(series.what), room).ljust(room), "$thread"), (f" {text}", colour))
        )
        if len(series.values) > 1:
            told = clipped(creep(series), max(width - len(series.values) - 4, 10))
            lines.append(Content.assemble((f"  {spark(series.values, signs)} ", "$tide"), (told, "$thread")))
    lines += [Content(""), Content.styled("sheets of this chair", "$thread")]
    for key, words, state in sheets:
        lines.append(Content.assemble((f"{key} ", "bold $lamp"), (f"{words:<22}", "$chalk"), (state, "$thread")))
    return Content("\n").join(lines)


def spark(values: Sequence[float], signs: Signs, most: int = 16) -> str:
    """Values as a line of steps, the newest last; the lowest step is the lowest value."""
    shown = list(values)[-most:]
    low, high = min(shown), max(shown)
    if high == low:
        return signs.steps[0] * len(shown)
    return "".join(signs.steps[round((value - low) / (high - low) * (len(signs.steps) - 1))] for value in shown)


def series_lines(series: Series, width: int, signs: Signs) -> list[Content]:
    """One thing at one chair over time: each reading with its conditions, and whether it creeps."""
    lines = []
    for taken in series.taken:
        reading = taken.reading
        minutes = f"{reading.minutes_up:.0f} min up" if reading.minutes_up is not None else "minutes up not known"
        conditions = ", ".join(
            part
            for part in (minutes, reading.network, reading.power, reading.medium, reading.open_now)
            if part and part != "not known"
        )
        trust = "" if reading.trust != "doubted" else f" doubted: {reading.why}"
        trust += borrowed_words(reading)
        trust += f" carried from {taken.source}" if taken.source else ""
        lines.append(Content.assemble((f"{reading_text(reading)}", "$chalk"), (legible(trust), "$clay")))
        lines += [
            Content.styled(f"  {part}", "$thread")
            for part in wrap(legible(f"{when_text(taken.when)}, {conditions}"), max(width - 2, 16))
        ]
    told = creep(series)
    if told:
        lines.append(Content.assemble((f"{spark(series.values, signs)} ", "$tide")))
        lines += [Content.styled(part, "$lamp") for part in wrap(told, max(width, 16))]
    return lines


def _hung(sign: str, words: str, width: int, colour: str) -> list[Content]:
    parts = wrap(legible(words), max(width - 2, 20)) or [""]
    return [Content.styled(f"{sign if number == 0 else ' '} {part}", colour) for number, part in enumerate(parts)]
