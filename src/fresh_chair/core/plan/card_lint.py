"""Lint of task cards: words that give the answer away, and other faults; each remark has a reason and a remedy.

A remark is advice. The reviewer overrules it with a reason, which stays on the card.
"""

import re
from collections.abc import Callable, Iterator, Sequence

from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.cards import TaskCard, all_before
from fresh_chair.core.plan.chairs import Chair
from fresh_chair.core.plan.readability import aloud_seconds, reading_grade, stem, telling_words, words_of
from fresh_chair.core.text import with_article

LONGEST_ALOUD = 25
HIGHEST_GRADE = 8.0
# Means and places by which a goal is reached, in words that no goal needs.
_MEANS = frozenset(
    """app applet application button checkbox click clipboard command control console dash desktop dialog dialogue dock
    double-click drag dropdown folder-tree icon keyboard-shortcut launcher menu mouse-button panel preference
    right-click scroll setting shortcut sidebar slider submenu switcher tab taskbar terminal titlebar toggle toolbar
    tray widget wizard""".split()
)
_JARGON = {
    "archive": "several things packed into one",
    "bluetooth": "without a cable",
    "bootloader": "what starts the computer",
    "browser": "what you read pages on the internet with",
    "cache": "leave it out",
    "codec": "leave it out: say what is to be played",
    "config": "how it is set",
    "configuration": "how it is set",
    "configure": "make it so that",
    "daemon": "leave it out",
    "default": "by itself",
    "directory": "folder",
    "distribution": "this computer",
    "distro": "this computer",
    "driver": "what the part needs to work",
    "encrypt": "locked so that nobody else can read it",
    "ethernet": "the cable",
    "execute": "start",
    "filesystem": "leave it out",
    "firewall": "keep other computers out",
    "format": "kind",
    "hostname": "the computer's name",
    "interface": "what you see",
    "kernel": "leave it out",
    "keyring": "the place that keeps passwords",
    "login": "when you come back",
    "metadata": "what is known about it",
    "mount": "make what is on it readable",
    "package": "program",
    "partition": "part of the disk",
    "process": "what is running",
    "proxy": "leave it out",
    "reboot": "switch off and on again",
    "repository": "where programs come from",
    "resolution": "how large everything is drawn",
    "root": "the one who may change everything",
    "session": "while you are at it",
    "shell": "leave it out",
    "sudo": "leave it out",
    "theme": "how everything looks",
    "ui": "what you see",
    "usb": "the stick",
    "user": "person",
    "utility": "program",
    "vpn": "as if you sat in the office",
    "wallpaper": "the picture behind everything",
    "window-manager": "leave it out",
    "workspace": "room for more windows",
}
_ORDER = re.compile(
    r"\b(first|firstly|second(?:ly)?|then|afterwards|after that|next|finally|lastly|step \d+|as before|"
    r"like last time)\b",
    re.IGNORECASE,
)
_NOT_ORDER = re.compile(
    r"\b(next (?:hour|week|day|month|year|time|to|door)|"
    r"the (?:first|second|next|last) |(?:a|per|each|every) second\b)",
    re.IGNORECASE,
)
_DOINGS = (
    "add|bring|change|choose|close|connect|copy|create|delete|download|enter|find|get|install|join|look|make|move|name|"
    "open|pick|play|print|put|remove|rename|replace|save|search|send|set|share|start|stop|switch|take|turn|type|write"
)
_TWO_GOALS = re.compile(rf"(?:\band|\bthen|\balso|;|,)\s+(?:then\s+|also\s+|please\s+)?({_DOINGS})\b", re.IGNORECASE)
_LEADING = re.compile(rf"(?:^|[.!?]\s+)(?:please\s+|now\s+)?({_DOINGS})\b", re.IGNORECASE)
_CLICKS = re.compile(r"\b(click(?:ing|s|ed)?|press(?:ing)? (?:the )?key|tick the|drag(?:ging)?)\b", re.IGNORECASE)
_BENCH_WORDS = {
    "headset": ("headset", "headphones", "earphones"),
    "headphones": ("headset", "headphones", "earphones"),
    "printer": ("printer",),
    "scanner": ("scanner",),
    "stick": ("stick",),
    "camera": ("camera",),
    "telephone": ("telephone", "phone"),
    "phone": ("telephone", "phone"),
    "slip": ("slip",),
    "cable": ("cable",),
    "projector": ("projector", "screen"),
    "router": ("router", "network"),
    "controller": ("controller", "gamepad"),
}


@frozen
class LintRemark:
    """One thing that is wrong with a card.

    Attributes:
        rule: Its name, by which it is overruled.
        path: The field it is about.
        why: What is wrong, and why that matters.
        advice: What to do.
        grave: True where the card cannot work as it is; it should not be overruled lightly.
        overruled: The reviewer's reason why it does not hold here; empty where it stands.
    """

    rule: str
    card: str
    path: str
    why: str
    advice: str
    grave: bool = False
    overruled: str = ""


_Found = Iterator[tuple[str, str, str, str, bool]]


def card_remarks(card: TaskCard, cards: Sequence[TaskCard] = (), chairs: Sequence[Chair] = ()) -> list[LintRemark]:
    """All remarks on one card, overruled ones included and marked.

    Args:
        card: The card.
        cards: The script it stands in.
        chairs: The chairs it is for, where they are known.
    """
    found: list[LintRemark] = []
    for check in _CHECKS:
        for rule, path, why, advice, grave in check(card, cards, chairs):
            found.append(LintRemark(rule, card.id, path, why, advice, grave, card.overruled.get(rule, "")))
    return sorted(found, key=lambda remark: (bool(remark.overruled), not remark.grave))


def script_remarks(cards: Sequence[TaskCard], chairs: Sequence[Chair] = ()) -> list[LintRemark]:
    """The remarks on every card that is still planned."""
    return [remark for card in cards if not card.dropped for remark in card_remarks(card, cards, chairs)]


def _on_the_way(card: TaskCard, cards: Sequence[TaskCard], chairs: Sequence[Chair]) -> _Found:
    said = {stem(word): word for word in words_of(card.goal)}
    # What lies on the bench has to be named; a slip of paper tells nobody where to look.
    telling = telling_words(card.goal) - telling_words(" ".join(card.fixtures))
    seen: set[str] = set()
    by_letter = {chair.letter: chair for chair in chairs}
    for letter, steps in card.routes.items():
        where = by_letter[letter].title if letter in by_letter else f"chair {letter}"
        for step in steps:
            for word in sorted(telling & telling_words(step) - seen):
                seen.add(word)
                yield (
                    "on-the-way",
                    "goal",
                    f"“{said[word]}” stands on the expected route at {where}: “{step}”; whoever hears it looks for it.",
                    "Say what it is good for, in a word that stands nowhere on the screen.",
                    False,
                )
    for chair in chairs:
        for label in chair.labels:
            for word in sorted(telling & telling_words(label) - seen):
                seen.add(word)
                yield (
                    "on-the-way",
                    "goal",
                    f"“{said[word]}” is what {chair.title} calls a place or program: “{label}”.",
                    "Say what it is good for, in a word that stands nowhere on the screen.",
                    False,
                )


def _means(card: TaskCard, cards: Sequence[TaskCard], chairs: Sequence[Chair]) -> _Found:
    named = [word for word in dict.fromkeys(words_of(card.goal)) if word in _MEANS or _singular(word) in _MEANS]
    named += [match.group(1).lower() for match in _CLICKS.finditer(card.goal) if match.group(1).lower() not in named]
    if named:
        yield (
            "names-means",
            "goal",
            f"{_quoted(named)} names the means instead of the goal: the person is told where to look or what to do.",
            "Say what is to be so in the end, and why somebody would want it.",
            False,
        )


def _jargon(card: TaskCard, cards: Sequence[TaskCard], chairs: Sequence[Chair]) -> _Found:
    for word in dict.fromkeys(words_of(card.goal)):
        plain = _JARGON.get(word) or _JARGON.get(_singular(word))
        if plain:
            yield (
                "jargon",
                "goal",
                f"“{word}” is a word of the trade: who does not know it fails at the card, not at the chair.",
                f"Plainer: {plain}.",
                False,
            )


def _two_goals(card: TaskCard, cards: Sequence[TaskCard], chairs: Sequence[Chair]) -> _Found:
    leads = list(_LEADING.finditer(card.goal))
    seconds = [
        found
        for found in _TWO_GOALS.finditer(card.goal)
        # After a mere comma it is a second goal only where a first one came: “Before you go, find ...” is one.
        if found.group(0)[0] != "," or any(lead.start() < found.start() for lead in leads)
    ]
    if seconds or len(leads) > 1:
        verb = (seconds[0] if seconds else leads[1]).group(1).lower()
        yield (
            "two-goals",
            "goal",
            f"“… {verb} …” makes it two goals in one: nobody can tell later which of them took the time or failed.",
            "Make two cards of it, the second needing the first; or overrule where the second only shows the first.",
            False,
        )


def _order(card: TaskCard, cards: Sequence[TaskCard], chairs: Sequence[Chair]) -> _Found:
    blank = _NOT_ORDER.sub(" ", card.goal)
    hint = _ORDER.search(blank)
    if hint:
        yield (
            "order-hint",
            "goal",
            f"“{hint.group(1)}” hints at the order of the steps.",
            "Leave the order to the person.",
            False,
        )


def _aloud(card: TaskCard, cards: Sequence[TaskCard], chairs: Sequence[Chair]) -> _Found:
    seconds, grade = aloud_seconds(card.goal), reading_grade(card.goal)
    if seconds > LONGEST_ALOUD:
        yield (
            "too-long",
            "goal",
            f"It takes {seconds:.0f} s to read aloud; more than {LONGEST_ALOUD} s is not kept in mind.",
            "Shorten it, or give the details on a slip of paper (a fixture).",
            False,
        )
    if grade > HIGHEST_GRADE:
        yield (
            "hard-to-follow",
            "goal",
            f"Its reading grade is {grade:.0f}; above {HIGHEST_GRADE:.0f} many adults must hear it twice.",
            "Shorter sentences, shorter words.",
            False,
        )


def _complete(card: TaskCard, cards: Sequence[TaskCard], chairs: Sequence[Chair]) -> _Found:
    if not card.success.strip():
        yield (
            "no-success",
            "success",
            "Nothing says when it is done: every judgement will be another one.",
            "Write down what must be so on the screen.",
            True,
        )
    if not card.start.strip():
        yield (
            "no-start",
            "start",
            "Nothing says how things stand before it: the end state may be there already.",
            "Write down what must be so when the card is handed over.",
            False,
        )
    slow = sorted(letter for letter, seconds in card.benchmark_seconds.items() if card.limit_seconds <= seconds)
    if slow:
        yield (
            "limit-below-benchmark",
            "limit_seconds",
            f"The limit of {card.limit_seconds} s is no longer than the expert's time at {', '.join(slow)}.",
            "Give newcomers several times the expert's time.",
            True,
        )


def _fixtures(card: TaskCard, cards: Sequence[TaskCard], chairs: Sequence[Chair]) -> _Found:
    listed = {word for fixture in card.fixtures for word in words_of(fixture)}
    spoken = dict.fromkeys([*words_of(card.goal), *words_of(card.start)])
    for word in spoken:
        covering = _BENCH_WORDS.get(word) or _BENCH_WORDS.get(_singular(word))
        if covering and not listed & {*covering, *(f"{each}s" for each in covering)}:
            yield (
                "fixture-unlisted",
                "fixtures",
                f"It speaks of {with_article(word)}, and no fixture of the card is one: "
                "nobody will put it on the bench.",
                "List it among the fixtures.",
                False,
            )


def _prerequisites(card: TaskCard, cards: Sequence[TaskCard], chairs: Sequence[Chair]) -> _Found:
    known = {each.id: each for each in cards}
    for name in card.needs:
        needed = known.get(name)
        if needed is None:
            continue
        why = ""
        if needed.dropped:
            why = f"It needs “{needed.title}”, which is given to nobody any more"
        elif needed.once and not card.once and any(chair.put_back == "by hand" for chair in chairs):
            why = f"It needs “{needed.title}”, which only the first person at a chair put back by hand can see"
        if why:
            yield (
                "never-met",
                "needs",
                f"{why}: the prerequisite can never be met.",
                "Take the prerequisite away, or put what it leaves behind into the start state.",
                True,
            )
    if card.once:
        spoilers = [other for other in cards if card.id in other.uses_up and not other.dropped]
        for other in spoilers:
            if other.id in all_before(card.id, {each.id: each.needs for each in cards}):
                yield (
                    "used-up-before",
                    "needs",
                    f"“{other.title}” uses it up, and has to come before it.",
                    "Turn the prerequisite round.",
                    True,
                )


_CHECKS: tuple[Callable[[TaskCard, Sequence[TaskCard], Sequence[Chair]], _Found], ...] = (
    _on_the_way,
    _means,
    _jargon,
    _two_goals,
    _order,
    _aloud,
    _complete,
    _fixtures,
    _prerequisites,
)
RULES = (
    "on-the-way",
    "names-means",
    "jargon",
    "two-goals",
    "order-hint",
    "too-long",
    "hard-to-follow",
    "no-success",
    "no-start",
    "limit-below-benchmark",
    "fixture-unlisted",
    "never-met",
    "used-up-before",
)


def _singular(word: str) -> str:
    return word[:-1] if word.endswith("s") and len(word) > 3 else word


def _quoted(words: Sequence[str]) -> str:
    return ", ".join(f"“{word}”" for word in words)
