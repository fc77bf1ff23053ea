"""Next time: findings to test again, the later list and the open questions, which close each document."""

from fresh_chair.core.words.reasons import reason_words
from fresh_chair.services.evidence.later import later_of
from fresh_chair.services.findings.life import again_list
from fresh_chair.services.report.telling.told import ToldStudy
from fresh_chair.tell.document.model import Block, Listing, Paragraph, Run, Section, Text

_MOST = 12


def next_time(told: ToldStudy, *, chair: str = "", most: int = _MOST) -> Section:
    """The things to look at again, and when.

    Args:
        told: The study.
        chair: Of one chair alone; empty for all.
        most: So many of each are named.
    """
    said = told.prose.say
    blocks: list[Block] = []
    lines = [line for line in again_list(told.opened, told.found) if not chair or chair in line.chairs]
    again = list({line.name: line for line in sorted(lines, key=lambda each: bool(each.waits_for))}.values())
    if again:
        blocks.append(Paragraph(said("To be tested again:")))
        blocks.append(Listing(tuple(_again(told, each.name, each.title, each.waits_for) for each in again[:most])))
    later = [line for line in later_of(told.opened) if not chair or line.chair == chair]
    if later:
        blocks.append(Paragraph(said("Put off, promised, or without an answer:")))
        blocks.append(Listing(tuple(_later(told, line.what, line.due, line.when, line.chair) for line in later[:most])))
        if len(later) > most:
            blocks.append(Paragraph(said("And {count} more.", count=len(later) - most), "quiet"))
    if not blocks:
        blocks.append(Paragraph(said("Nothing was put off, and nothing waits to be tested again.")))
    else:
        blocks.append(Paragraph(said("The next study begins with these: it takes them over."), "quiet"))
    return Section("next-time", told.words.say("Next time"), tuple(blocks))


def _again(told: ToldStudy, name: str, title: str, waits_for: str) -> Text:
    waits = told.prose.say("; waits for {release}", release=waits_for) if waits_for else ()
    return (Run(f"{name} {title}"), *waits)


def _later(told: ToldStudy, what: str, due: str, when: str, letter: str) -> Text:
    parts: list[Run] = [Run(reason_words(what, told.words))]
    if due:
        parts += told.prose.say("; due {day}", day=told.words.day(due))
    if when:
        parts += told.prose.say("; when: {event}", event=when)
    if letter:
        parts += told.prose.say("; at {chair}", chair=told.titles.get(letter, letter))
    return tuple(parts)
