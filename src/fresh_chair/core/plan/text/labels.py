"""Labels of a plan's fields on a sheet, in their order there, and the values that belong into each."""

from fresh_chair.core.frozen import frozen


@frozen
class Label:
    """One field on a sheet.

    Attributes:
        part: Which thing of the plan it belongs to: study, sheet, comparing, timetable, machine, chair, card or person.
        field: Its name there.
        words: What it is called.
        note: What belongs into it.
        head: Stands above the first field of a group; empty for all others.
        wanted: Whether a plan is not ready while it is empty.
    """

    part: str
    field: str
    words: str
    note: str = ""
    head: str = ""
    wanted: bool = False


STUDY = (
    Label("study", "title", "title", "What the study is called.", "what is asked", wanted=True),
    Label("study", "question", "question", "What the study is to answer, in one sentence.", wanted=True),
    Label(
        "sheet",
        "audiences",
        "audiences",
        "Several, parted by semicolons; each as: name | what matters to them. + adds one of the usual ones.",
        wanted=True,
    ),
    Label("sheet", "paid_by", "paid for by", "Who pays, and who lent what; every report says so.", wanted=True),
    Label(
        "sheet",
        "thresholds",
        "good enough",
        "Decided beforehand; each as: completion, time, ease, satisfaction or severity | value | why.",
        wanted=True,
    ),
    Label(
        "comparing",
        "primary",
        "primary measure",
        "The one that answers the question; the others are secondary. Usually: who fared better.",
        "how chairs are compared over all tasks",
        wanted=True,
    ),
    Label("comparing", "pairs", "pairs that matter", "Such as A-B; A-C. Empty for every pair; fewer pairs show more."),
    Label("comparing", "margin_fared", "margin, fared better", "The smallest net share of people that matters: 0.2."),
    Label("comparing", "margin_time", "margin, times", "The smallest ratio of times that matters: 1.25."),
    Label("comparing", "margin_completion", "margin, completion", "In points of 100: 15."),
    Label("comparing", "margin_ease", "margin, ease", "In points of 7: 0.5."),
    Label("comparing", "margin_satisfaction", "margin, satisfaction", "In points of 100: 8."),
    Label("comparing", "times", "times compared", "hands, without the machine's share; or elapsed, with it."),
    Label("comparing", "by_group", "groups are the question", "Whether groups of people differ was asked beforehand."),
    Label("comparing", "interval", "interval of rates", "adjusted Wald; or the exact, wider Clopper-Pearson."),
    Label("sheet", "minutes_per_sitting", "minutes a sitting", "What a participant is told it takes.", "time"),
    Label("sheet", "minutes_apart", "of these without cards", "Welcome, consent, questionnaire."),
    Label("timetable", "first_day", "first day", "Such as 2026-11-09; empty for as soon as possible."),
    Label("timetable", "days", "weekdays", "mon; tue; wed; thu; fri; sat; sun"),
    Label("timetable", "starts", "sittings start at", "Such as 09:30; 11:00; 14:00"),
    Label("timetable", "place", "where", "The room, for the calendar."),
    Label(
        "sheet",
        "screener",
        "screener",
        "Asked before somebody is invited; each as: id | question | answers that let them in (by commas).",
        "people",
        wanted=True,
    ),
    Label("sheet", "consents", "consent", "What they agree to; each as: id | words | needed (yes or no).", wanted=True),
    Label("sheet", "greeting", "greeting", "What you read aloud when somebody sits down."),
    Label("sheet", "groups", "groups", "Only where not everyone sits everywhere; each as: name | chairs (by commas)."),
    Label(
        "sheet",
        "ask_expectation",
        "expected ease",
        "yes to ask before each card how easy it will be.",
        "what is asked besides",
    ),
    Label(
        "sheet",
        "questions",
        "questions",
        "Each as: id | question | after each card or after the sitting | scale, choice or words | low end | high end | "
        "choices (by commas).",
    ),
    Label("sheet", "ask_preference", "preferred chair", "yes to ask after the last chair which they would have."),
    Label("study", "seed", "seed", "What the orders are drawn with; the same seed gives the same orders.", "orders"),
)
MACHINE = (
    Label("machine", "name", "machine", "As people tell it from others.", "the machine it stands on", wanted=True),
    Label("machine", "virtual", "virtual", "yes for a virtual machine."),
    Label("machine", "processor", "processor"),
    Label("machine", "memory", "memory", wanted=True),
    Label("machine", "disk", "disk"),
    Label("machine", "display", "display"),
    Label("machine", "faults", "standing faults", "Each as: what | what it may excuse, never more than it can cause."),
)
CHAIR = (
    Label("chair", "name", "distribution", "", "who it is", wanted=True),
    Label("chair", "release", "release", "", wanted=True),
    Label("chair", "edition", "edition", "", wanted=True),
    Label("chair", "stage", "stage"),
    Label("chair", "snapshot", "snapshot of", "The date of a rolling snapshot, such as 2026-11-01."),
    Label("chair", "base", "base", "The distribution it is built on.", wanted=True),
    Label("chair", "desktop", "desktop", "Name and version.", wanted=True),
    Label("chair", "kernel", "kernel", "", wanted=True),
    Label("chair", "package_formats", "package formats", "Parted by semicolons."),
    Label("chair", "medium", "install medium", "What it was installed from.", "how it came to be", wanted=True),
    Label("chair", "state", "state", "Run from the medium, freshly installed, upgraded, or in use."),
    Label("chair", "in_use_for", "in use for", "How long, where it is in use."),
    Label("chair", "installed", "chosen at installation", "Every choice that was made.", wanted=True),
    Label("chair", "put_back", "put back", "A fresh copy for everyone, or put back by hand."),
    Label("chair", "alterations", "altered", "What you changed to be able to look at it at all; parted by semicolons."),
    Label("chair", "letter", "letter", "One of A to Z; stays once somebody has sat there.", "on the board"),
    Label("chair", "hue", "hue", "1 to 8; 0 for the one of its letter."),
    Label(
        "chair", "labels", "what it calls things", "Places and programs as labelled there: for the check of the cards."
    ),
    Label("chair", "machine", "stands on", "The id of a machine; a new id makes a new one."),
)
CARD = (
    Label("card", "title", "title", "For you; it is never read aloud.", "what is asked", wanted=True),
    Label("card", "area", "area", "", wanted=True),
    Label("card", "goal", "goal", "Read aloud: what is to be so, never the means.", wanted=True),
    Label("card", "question", "question", "Asked at the end of a read-and-understood card."),
    Label("card", "start", "start state", "What must be so when the card is handed over.", wanted=True),
    Label("card", "success", "done means", "What must be so in the end.", "what counts", wanted=True),
    Label("card", "partly", "partly done", "Grades on the way, least first, parted by semicolons."),
    Label("card", "limit_seconds", "limit, seconds", "When the moderator may end the attempt."),
    Label("card", "benchmark_seconds", "expert, seconds", "The expert's time on this chair."),
    Label("card", "routes", "route", "Steps expected on this chair, parted by semicolons.", "on each chair"),
    Label("card", "notes", "note", "What the moderator must know at this chair."),
    Label("card", "fixtures", "fixtures", "What must be on the bench, parted by semicolons.", "around it"),
    Label("card", "put_back", "put back", "Steps afterwards, parted by semicolons."),
    Label("card", "checks", "asked of the chair", "Did it happen; checks as docs/formats.md has them, by semicolons."),
    Label("card", "needs", "needs", "Ids of cards that come before it, parted by semicolons."),
    Label("card", "once", "once per installation", "yes for what can be seen only once."),
    Label("card", "uses_up", "uses up", "Ids of once-only cards that it makes impossible."),
    Label("card", "priority", "priority", "1 stays in any case, 3 goes first."),
    Label("card", "dropped", "dropped", "yes: on record, given to nobody any more."),
)
PERSON = (
    Label("person", "code", "code", "Letters and digits, nothing that says who it is.", "who"),
    Label("person", "role", "role", "Pilots and experts are never counted as participants."),
    Label("person", "group", "group"),
    Label("person", "profile", "profile", "In a few words, nothing that identifies anybody.", wanted=True),
    Label("person", "uses", "uses daily", "What they use every day.", "what they bring along", wanted=True),
    Label("person", "uses_for", "for how long", "Such as: 6 years."),
    Label("person", "comfort", "comfort, 1 to 5", "How much at ease with computers.", wanted=True),
    Label("person", "linux", "Linux before"),
    Label("person", "language", "language"),
    Label("person", "aids", "aids needed", "Glasses, large type, one hand, a reader."),
    Label("person", "answers", "asked", "", "screener"),
    Label("person", "consents", "agreed to", "The date; empty where they have not.", "consent"),
    Label("person", "left", "left, because", "", "taking part"),
    Label("person", "replaces", "replaces"),
)
LABELS = {"study": STUDY, "machine": MACHINE, "chair": CHAIR, "card": CARD, "person": PERSON}
