"""A new study that begins as a walk: a reviewer, one chair and its machine, and a list to start from."""

from collections.abc import Callable, Mapping
from dataclasses import replace
from importlib.resources import as_file, files

from fresh_chair.core.errors import InputError
from fresh_chair.core.plan.cards import TaskCard
from fresh_chair.core.plan.chairs import Chair, Machine, chair_parts
from fresh_chair.core.plan.people import Participant, participant_code
from fresh_chair.core.plan.study import Seat, Study
from fresh_chair.core.text import legible
from fresh_chair.services.evidence.attachments import NamedFile, attach_to, read_attachment
from fresh_chair.services.evidence.records import put_evidence
from fresh_chair.services.plan.library import shipped_cards
from fresh_chair.services.plan.plan_changes import made
from fresh_chair.services.sitting.text.notes import take_lines
from fresh_chair.services.study.open_study import OpenStudy, create_study, new_id, open_study
from fresh_chair.services.walk.walks import walk_marks
from fresh_chair.store.address import Address

# Cards of the library by their ids; in the study they are a script like any other, to be changed at will.
TEMPLATES: Mapping[str, tuple[str, ...]] = {
    "tour": (
        *("first-pages", "what-you-agree-to", "where-am-i", "picture-behind", "dark-screen", "other-layout"),
        *("always-at-hand", "by-its-purpose", "two-side-by-side", "room-for-more", "too-loud", "peace-and-quiet"),
        *("get-online", "painting-program", "all-fixes", "boiler-letter", "sharp-picture", "own-key", "leave-it-safe"),
    ),
    "battery": (
        *("which-download", "start-from-stick", "whole-disk", "first-pages", "what-is-this", "what-makes-it-slow"),
        *("room-left", "headset", "print-it", "scan-it", "share-folder", "strange-stick", "seen-in-the-talk"),
        *("send-as-one", "play-the-song", "short-film", "which-version", "from-a-file", "single-file-program"),
        *("store-warning", "a-game-of-cards", "prettier-game", "how-smooth"),
    ),
    "first look": (
        *("which-download", "first-pages", "how-it-updates", "dark-screen", "larger-letters", "other-layout"),
        *("does-it-stay", "by-its-purpose", "painting-program", "which-of-two", "own-copy", "all-fixes"),
        *("picture-of-the-screen", "what-is-this"),
    ),
    "contest": (
        *("first-pages", "what-you-agree-to", "dark-screen", "picture-behind", "get-online", "painting-program"),
        *("all-fixes", "boiler-letter", "newest-on-top", "play-the-song", "print-it", "two-side-by-side"),
        *("back-on-the-bar", "leave-it-safe"),
    ),
}


def new_walk(path: Address, *, reviewer: str, through: str, machine: str, template: str = "tour") -> Study:
    """Make a study file for a walk through one chair.

    Args:
        path: The file.
        reviewer: The reviewer's code.
        through: What is walked through: `distribution | release | desktop`; parts left out are not known.
        machine: On which machine.
        template: The list to start from.

    Raises:
        InputError: Where the code is none, nothing is named, or there is no such list.
        FileProblem, NotSaved: Where the file cannot be made.
    """
    person = Participant(code=participant_code(reviewer.strip()), role="reviewer")
    name, release, desktop = chair_parts(through)
    computer = made(Machine, {"id": "machine-1", "name": machine.strip() or "not known"}, "The machine")
    values = {"letter": "A", "name": name, "release": release or "not known", "machine": "machine-1"}
    chair = made(Chair, {**values, "desktop": desktop or "not known"}, "The chair")
    title = legible(f"{name} {release}".strip())[:180] + ": a walk"
    study = Study(
        id=new_id(), title=title, people=(person,), machines=(computer,), chairs=(chair,), cards=cards_of(template)
    )
    create_study(path, study)
    return study


def new_walk_demo(path: Address) -> Study:
    """Make the demo of a walk: the tool library's volunteer goes through one of its chairs, over a recording.

    Raises:
        FileProblem, NotSaved: Where the file cannot be made.
    """
    from fresh_chair.demo.journals import demo_study

    plan = demo_study()
    chair = plan.chairs[0]
    person = Participant(code="R1", role="reviewer")
    cards = tuple(card.id for card in plan.cards)
    # The walk at the first chair; then a contest between the first two.
    at = (chair, *plan.chairs[:2])
    seats = tuple(
        Seat(number=number, participant="R1", chair=each.letter, position=number, cards=cards)
        for number, each in enumerate(at, start=1)
    )
    title = f"Tern Harbour tool library: a walk through {chair.title}"
    study = replace(plan, title=title, people=(person,), seats=seats)
    create_study(path, study)
    opened = open_study(path)
    try:
        _fill_walk_demo(opened)
    finally:
        opened.close()
    return opened.study


def _fill_walk_demo(opened: OpenStudy) -> None:
    """The walk, the two sides of the contest, and a picture of a trouble."""
    demo = files("fresh_chair.demo")
    with as_file(demo / "walk.txt") as lines:
        take_lines(opened, 1, lines, began="2026-10-30T19:30", recording="recordings/saltmarsh.webm")
    for number, name in ((2, "contest_a.txt"), (3, "contest_b.txt")):
        with as_file(demo / name) as lines:
            take_lines(opened, number, lines, began="2026-11-02T19:30")
    with as_file(demo / "late-clock.svg") as picture:
        found = read_attachment(NamedFile(picture), opened.beside, copy=True)
    marks = walk_marks(opened, 1)
    shown = next(mark.entry for mark in marks if "an hour late" in mark.words)
    attach_to(opened, 1, shown, found)
    _fill_evidence(opened)


def _fill_evidence(opened: OpenStudy) -> None:
    """One evidence record of every kind, of the walk's own marks, tied to each other."""
    marks = {mark.words: f"mark:{mark.entry}" for mark in walk_marks(opened, 1)}

    def mark(words: str) -> str:
        return next(target for said, target in marks.items() if words in said)

    def put(kind: str, **texts: str) -> str:
        return f"{kind}:{put_evidence(opened, kind, texts).id}"

    before = put("reference", name="Saltmarsh 8", sort="earlier release", earlier_of="chair:A")
    put("reference", name="what most systems do", sort="what most systems do")
    put("against", of=mark("the list jumps back"), than=before, says="as it was", differs="an older machine then")
    put("change", chair="A", what="the shop", sort="renamed", was="Store", now="Market", known="found")
    put("change", chair="A", what="sizes in the shop", known="announced", comes="release 10", evidence="read about")
    put("inventory", chair="A", purpose="a map", presence="nowhere", looked="the menu, the shop")
    put("inventory", chair="A", purpose="a painting program", presence="in the store", shown="Grebe", evidence="done")
    sizes = put("forecast", what="the size of a download stands before it", release="10", sure="likely")
    put("link", first=mark("is to tell the size"), relation="speaks for", second=sizes)
    project = mark("tells no size")
    advice = put("advice", what="tell the size before the download", to="makers", of=project)
    put("link", first=advice, relation="because of", second=project)
    put("later", what="the share, once the other computer can be woken", sort="put off", due="2027-01-15", chair="A")
    put("later", what="the list in the larger letters", sort="promised", when="release 10", whom="the reading group")
    put("disclosure", chair="A", terms="none", price="nothing", edition="Home", meant_for="people at home")
    first = "I went through it in one evening, for the reading group; it is one reviewer's opinion, and says so."
    put("paragraph", text=first)
    _judge(put, mark("the list jumps back"))


def _judge(put: Callable[..., str], rests_on: str) -> None:
    """A tour's own scorecard, and a verdict on each side of the contest."""
    told = (("finding one's way", "3", "4"), ("getting programs", "2", "4"), ("what it says when it fails", "2", "2"))
    for name, first, second in told:
        criterion = put("criterion", name=name, scorecard="tour", high="5")
        for chair, value in (("A", first), ("B", second)):
            score = put("score", criterion=criterion, chair=chair, value=value, why="after the tour")
            if (name, chair) == (told[-1][0], "B"):
                about = score.replace(":", " ")
                put("answer", about=about, answer="stands", because="the tour was cut short there")
            else:
                put("link", first=score, relation="because of", second=rests_on)
    why = "each does one thing the other does not"
    put("verdict", says="no clear winner", audience="", why=why, on="2026-11-03")
    put("verdict", chair="A", says="recommended if", condition="somebody sets it up", why="it keeps still then")


def cards_of(template: str) -> tuple[TaskCard, ...]:
    """The cards of a list to start from, in its order. Raises InputError where there is no such list."""
    if template not in TEMPLATES:
        raise InputError(f"There is no list “{template[:30]}”.", f"It is one of: {', '.join(TEMPLATES)}.")
    wanted = TEMPLATES[template]
    shipped = {card.id: card for card in shipped_cards()}

    def alone(card: TaskCard) -> TaskCard:
        """The card without cards that are not on the list."""
        needs = tuple(each for each in card.needs if each in wanted)
        return replace(card, needs=needs, uses_up=tuple(each for each in card.uses_up if each in wanted))

    return tuple(alone(shipped[name]) for name in wanted)
