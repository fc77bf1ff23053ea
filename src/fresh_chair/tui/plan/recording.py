"""The questions before a sitting is logged from a recording: which one, whether it is here, and when it was made."""

from fresh_chair.tui.base.place import Place
from fresh_chair.tui.base.session import QuestionChain
from fresh_chair.tui.widgets.asking import Choice


async def ask_recording(place: Place) -> tuple[str, str] | None:
    """Ask for a recording and where in it the sitting begins, and for its day and time; None where it is left."""
    from fresh_chair.services.sitting.recording import absence_of, recording_named

    draft = QuestionChain(place, "a recording")
    named = await draft.ask(
        "recording",
        "which recording, and where in it does the sitting begin? (p04.webm 2:31)",
        lambda text: place.attempt(lambda: recording_named(text)),
    )
    if named is None:
        return None
    absence = absence_of(place.session.opened, named)
    if absence:
        choices = [Choice("l", "it plays elsewhere: log from it", "$lamp")]
        if await place.ask_choice(f"{absence} (Esc: nothing begins):", choices) != "l":
            draft.left("whether it is meant")
            return None
    began = await _ask_when(place, absent=bool(absence))
    if began is None:
        draft.left("when it was made")
        return None
    return named, began


async def _ask_when(place: Place, *, absent: bool) -> str | None:
    """Ask when a recording was made; the file's own date stands for it, where there is a file."""
    if not absent:
        return await place.ask_words("recorded when? (2026-11-09T10:00; empty: the file's own date)")
    from fresh_chair.services.sitting.corrections import wall_ns_of

    began: list[str] = []

    def said(text: str) -> bool:
        if not text.strip():
            asked = "No file here tells when it was recorded; a day and time, such as 2026-11-09T10:00."
            place.tell(asked, colour="$clay")
            return False
        began[:] = [text]
        return place.attempt(lambda: wall_ns_of(text))

    return began[0] if await place.ask_until("recorded when? (2026-11-09T10:00)", said) else None
