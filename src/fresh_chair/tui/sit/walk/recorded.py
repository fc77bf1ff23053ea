"""A walk over a recording: where it is cut, whether it is whole, and notes with times gone through once."""

from collections.abc import Callable

from fresh_chair.core.clock import SECOND, clock_text
from fresh_chair.core.sitting import journal as j
from fresh_chair.core.sitting.entries.walks.walk import MEANINGS
from fresh_chair.core.sitting.journal import Content
from fresh_chair.core.text import clipped, legible
from fresh_chair.services.sitting.recording import RecordedSitting
from fresh_chair.services.system.files import typed_path
from fresh_chair.services.walk.notes_pass import NotesPass
from fresh_chair.tui.sit.live.part import SitPart
from fresh_chair.tui.widgets.asking import Choice
from fresh_chair.tui.widgets.dialogue import asks

_KINDS: dict[str, Callable[[str], Content]] = {
    "snag": j.SnagSeen,
    "delight": j.DelightSeen,
    "note": j.NoteTaken,
    "quote": j.QuoteTaken,
    "warning": j.WarningSeen,
    "question": j.QuestionLeft,
}
_KIND_KEYS = dict(zip("sdnqyk", MEANINGS, strict=True))


class Recorded(SitPart):
    """Keys of a walk that is logged from a recording."""

    def may(self, act: str, *arguments: object) -> bool:
        """A recording has cuts and notes."""
        return isinstance(self.live, RecordedSitting)

    def cut(self) -> None:
        """The recording is cut here."""
        now = self.sit.now()
        self.sit.record(lambda sitting: sitting.log(j.RecordingCut(), now))

    def uncut(self) -> None:
        """The recording is whole."""
        now = self.sit.now()
        self.sit.record(lambda sitting: sitting.log(j.RecordingUncut(), now))

    @asks
    async def notes(self) -> None:
        """Go through the notes of a file, from here on: each becomes a mark or a step, or is left out."""
        begun: list[NotesPass] = []

        def opened(text: str) -> bool:
            live = self.live
            return live is not None and self.sit.attempt(lambda: begun.append(NotesPass(live, typed_path(text))))

        if not await self.sit.ask_until("notes with times, WebVTT or SRT: a path", opened) or not begun:
            return
        notes, kept = begun[0], 0
        colours = {"snag": "$clay", "delight": "$moss", "quote": "$plum", "warning": "$clay"}
        choices = [Choice(key, kind, colours.get(kind, "$chalk")) for key, kind in _KIND_KEYS.items()]
        choices += [Choice("l", "line", "$chalk"), Choice("o", "a step", "$lamp"), Choice("x", "leave out", "$thread")]
        while (cue := notes.cue) is not None:
            now = notes.moment()
            self.sit.tick()
            at = clock_text(round(cue.at_seconds * SECOND))
            key = await self.sit.ask_choice(
                f"{at} “{legible(clipped(cue.words, 60))}” ({len(notes.left)} left):", choices
            )
            if key is None:
                break
            content = self._content(key, cue.words)
            if content is not None:
                if not self.sit.record(lambda sitting, content=content, now=now: sitting.log(content, now)):  # type: ignore[misc]
                    return
                kept += 1
            notes.next()
        left = f"; {len(notes.left)} left, from where the recording stands" if notes.left else ""
        self.sit.tell(f"{kept} of the notes kept{left}.")

    @staticmethod
    def _content(key: str, words: str) -> Content | None:
        """The entry a note becomes; None where it is left out."""
        if key == "x":
            return None
        if key == "o":
            return j.StepOpened(clipped(words.strip(), 200))
        if key == "l":
            return j.LineTyped(clipped(words, j.MAX_WORDS))
        return _KINDS[_KIND_KEYS[key]](clipped(words, j.MAX_WORDS))
