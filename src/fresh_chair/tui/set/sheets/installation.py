"""The installation log: one key an entry, with the keys of Sit; the moment is that of the key."""

from itertools import pairwise
from typing import ClassVar

from textual.binding import Binding, BindingType
from textual.content import Content

from fresh_chair.core.chair.ledger import Held, install_times
from fresh_chair.core.chair.records import InstallStep
from fresh_chair.core.clock import clock_text
from fresh_chair.core.text import clipped, count_of, legible
from fresh_chair.services.chair import records
from fresh_chair.tui.set.sheets.records import Records
from fresh_chair.tui.widgets.dialogue import asks

_COLOURS = {
    "machine at work": "$tide",
    "error": "$clay",
    "repair": "$lamp",
    "restart": "$tide",
    "decided without asking": "$lamp",
}
# Entries from which time is the machine's, until another one says otherwise.
_MACHINE = ("machine at work", "restart")
_ASKED = {
    "on the disk before": "what was on the disk before?",
    "step": "what is done now?",
    "machine at work": "what does it say it does? (may stay empty)",
    "question": "what does it ask?",
    "decided without asking": "what was decided?",
    "error": "what went wrong?",
    "repair": "how was it mended?",
    "restart": "into what? (may stay empty)",
    "note": "note:",
}


class InstallLog(Records):
    """The installation of the chair in hand."""

    sheet_name = "install"
    title_words = "installation"
    kind = "install"
    empty_words = "Enter puts a step down at the moment of the key; w while the machine works, q for what it asks."
    about = (
        "How the chair was installed: what was on the disk, each step, every question with the answer chosen, what was "
        "decided without asking. The moment is that of the key; the words follow."
    )
    BINDINGS: ClassVar[list[BindingType]] = [
        Binding("enter", "log('step')", "step", id="install.step", tooltip="A person does something, from now on"),
        Binding("w", "log('machine at work')", "waiting", id="install.wait", tooltip="The machine works, from now on"),
        Binding("q", "log('question')", "it asks", id="install.question", tooltip="A question, and the answer chosen"),
        Binding("d", "log('decided without asking')", "it decides", id="install.decided", tooltip="Without asking"),
        Binding("s", "log('error')", "error", id="install.error", tooltip="Something goes wrong"),
        Binding("r", "log('repair')", "mended", id="install.repair", tooltip="How it was mended"),
        Binding("b", "log('restart')", "restart", id="install.restart", tooltip="The machine starts again"),
        Binding("p", "log('on the disk before')", "disk before", id="install.before", tooltip="What the disk held"),
        Binding("n", "log('note')", "note", id="install.note", tooltip="Anything else"),
        Binding("e", "open_entry", "all of it", id="install.open", tooltip="Every field of the entry in hand"),
    ]

    def line(self, held: Held) -> Content:
        """An entry with the time since the first."""
        step = held.record
        assert isinstance(step, InstallStep)
        times = install_times([each for each in self.held() if isinstance(each.record, InstallStep)])
        since = times.get(held.record.id)
        chosen = f" > {step.chosen}" if step.chosen else ""
        words = step.words or "(words to come)"
        room = max(self.pile.size.width - 34, 16)
        return Content.assemble(
            (f"{'?' if since is None else clock_text(since):>8}  ", "$thread"),
            (f"{step.step:<23}", _COLOURS.get(step.step, "$thread")),
            (clipped(legible(f"{words}{chosen}"), room), "$chalk"),
        )

    def more(self, held: list[Held]) -> str:
        """How long it took, person and machine apart."""
        if len(held) < 2:
            return f"{len(held)} put down" if held else "nothing put down"
        times = install_times(held)
        if any(times[each.record.id] is None for each in held):
            return f"{count_of(len(held), 'entry', 'entries')}; when is not known of all, so no time is said"
        spent = {True: 0, False: 0}
        machine = False
        for one, other in pairwise(sorted(held, key=lambda each: times[each.record.id] or 0)):
            kind = self.value(one, "step")
            if kind in ("step", *_MACHINE):
                machine = kind in _MACHINE
            spent[machine] += (times[other.record.id] or 0) - (times[one.record.id] or 0)
        count = count_of(len(held), "entry", "entries")
        return f"person {clock_text(spent[False])}, machine {clock_text(spent[True])}, {count}"

    @asks
    async def action_log(self, step: str) -> None:
        """Put an entry down now; the words follow."""
        opened, letter = self.session.opened, self.letter
        entries = []
        if not self.attempt(lambda: entries.append(records.put_record(opened, letter, self.kind, step=step))):
            return
        self.draw()
        self.pile.highlighted = self.pile.option_count - 1
        record = entries[0].id

        def put(field: str, text: str) -> bool:
            done = not text.strip() or self.attempt(
                lambda: records.change_record(opened, letter, self.kind, record, field, text)
            )
            self.draw()
            return done

        worded = await self.ask_until(_ASKED[step], lambda text: put("words", text))
        if worded and step in ("question", "decided without asking"):
            asked = "which answer was chosen?" if step == "question" else "how?"
            await self.ask_until(asked, lambda text: put("chosen", text))

    def entered(self) -> None:
        """Enter is a step here, as it starts the clock in Sit."""
        self.action_log("step")

    def action_open_entry(self) -> None:
        """Every field of the entry in hand."""
        self.open_record()

    def check_action(self, action: str, parameters: tuple[object, ...]) -> bool | None:
        """Entries come with the keys above, and in no other way."""
        return action not in ("open", "add") and super().check_action(action, parameters)
