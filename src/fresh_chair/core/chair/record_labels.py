"""Labels of the fields of a chair's records, and the values that belong into each."""

from fresh_chair.core.frozen import frozen


@frozen
class RecordLabel:
    """One field of a record.

    Attributes:
        field: Its name there.
        words: What it is called.
        note: What belongs into it.
    """

    field: str
    words: str
    note: str = ""


_AT = RecordLabel("at", "when", "2026-11-09T10:00, 2:31 of the recording, or not known; empty: when it was put down.")
_EVIDENCE = RecordLabel("evidence", "known by", "Done, seen, measured, read about, ...; empty: the usual of its kind.")
RECORD_LABELS: dict[str, tuple[RecordLabel, ...]] = {
    "claim": (
        RecordLabel("promised", "promised", "What is promised, in the words of whoever promises it."),
        RecordLabel("by", "by", "Who promises it."),
        RecordLabel("where", "where", "In which text: release notes, the site, an announcement."),
        RecordLabel("day", "of", "The day of that text, such as 2026-11-01."),
        RecordLabel("answer", "found", "Newer through an update is an answer of its own; so is taken on trust."),
        RecordLabel("note", "what was found", "In words; a check writes its evidence here."),
        RecordLabel("check", "check", "A check that answers it, in the language of the cards' checks."),
        _AT,
        _EVIDENCE,
    ),
    "reading": (
        RecordLabel("what", "what", "Such as: time until the writing program's window is there."),
        RecordLabel("unit", "unit"),
        RecordLabel("precision", "kind of value", "Measured, a range, a bound, about, a share, a version, or felt."),
        RecordLabel("low", "value"),
        RecordLabel("high", "upper end", "Of a range."),
        RecordLabel("of", "of how many", "Of a share."),
        RecordLabel("version", "version"),
        RecordLabel("felt", "how it felt", "Where nothing was measured."),
        _AT,
        _EVIDENCE,
        RecordLabel("method", "method", "How it was taken, with what."),
        RecordLabel("minutes_up", "minutes since boot"),
        RecordLabel("open_now", "open besides", "What else was open or running; “nothing” where nothing was."),
        RecordLabel("network", "network"),
        RecordLabel("power", "power"),
        RecordLabel("medium", "installed or live"),
        RecordLabel("trust", "trust", "A doubted value never enters a line or a comparison."),
        RecordLabel("why", "because", "Why it is doubted: it may be the instrument, not the value."),
    ),
    "install": (
        RecordLabel("step", "kind"),
        RecordLabel("words", "what", "What was done, asked, or went wrong."),
        RecordLabel("chosen", "chosen", "The answer chosen; or what was decided without asking."),
        _AT,
        _EVIDENCE,
    ),
    "page": (
        RecordLabel("page", "page", "What it asks or says, shortly."),
        RecordLabel("preset", "preset", "What is chosen where nobody chooses."),
        RecordLabel("plain_next", "a plain next", "What going on without reading leads to."),
        RecordLabel("refuse", "to refuse", "How to say no."),
        RecordLabel("later", "later", "Where it can be changed afterwards."),
        RecordLabel("once", "seen once only"),
        _AT,
        _EVIDENCE,
    ),
    "consent": (
        RecordLabel("item", "item"),
        RecordLabel("asked", "asked or silent"),
        RecordLabel("switch", "stands at"),
        RecordLabel("wording", "wording"),
        RecordLabel("refuse", "to refuse", "How to say no."),
        RecordLabel("later", "later", "Where it can be changed afterwards."),
        RecordLabel("source", "read in", "Where it was read; empty where you saw it yourself."),
        RecordLabel("note", "note"),
        _AT,
        _EVIDENCE,
    ),
    "warning": (
        RecordLabel("words", "it said", "In its own words; or what it should have said."),
        RecordLabel("about", "about"),
        RecordLabel("effect", "effect"),
        RecordLabel("note", "note"),
        _AT,
        _EVIDENCE,
    ),
    "look": (
        RecordLabel("program", "program"),
        RecordLabel("toolkit", "toolkit", "What it is drawn with, as far as known."),
        RecordLabel("theme", "theme"),
        RecordLabel("dark", "dark and light"),
        RecordLabel("icons", "icons"),
        RecordLabel("letters", "letters"),
        RecordLabel("window_buttons", "window buttons"),
        RecordLabel("note", "note"),
        _AT,
        _EVIDENCE,
    ),
}
