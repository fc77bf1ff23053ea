"""Attaching a file to something, and showing it again: the questions, and the reading beside the keys."""

from collections.abc import Callable, Sequence

from textual.worker import get_current_worker

from fresh_chair.core.errors import FreshChairError
from fresh_chair.core.evidence.attachments import Attachment
from fresh_chair.core.text import clipped, legible
from fresh_chair.tui.base.place import Place
from fresh_chair.tui.widgets.asking import Choice

_TELL_BYTES = 64 * 1_048_576


async def attach_file(place: Place, to: str, put: Callable[[Attachment], None]) -> None:
    """Ask for a file and where it is to be kept, read it beside the keys, and attach it.

    Args:
        place: The screen in front.
        to: The mark, step or record in words.
        put: Attaches the file that was read; raises as its service does.
    """
    from fresh_chair.services.evidence import attachments

    named: list[attachments.NamedFile] = []
    prompt = f"attach to {to}: menu.png, or walk.webm 1:01-1:10"
    if not await place.ask_until(
        prompt, lambda text: place.attempt(lambda: named.append(attachments.named_file(text)))
    ):
        return
    study = place.session.opened.beside
    beside = legible(clipped(attachments.folder_beside(study).name, 32))
    choices = [Choice("c", f"a copy in {beside}", "$moss"), Choice("w", "where it lies", "$chalk")]
    key = await place.ask_choice("keep", choices)
    if key is None:
        return
    file = named[0]

    def read() -> None:
        worker = get_current_worker()

        def going_on(size: int) -> bool:
            if size % _TELL_BYTES == 0:
                place.app.call_from_thread(place.tell, legible(f"reading {file.path.name}: {size // 1_000_000} MB"))
            return not worker.is_cancelled

        try:
            found = attachments.read_attachment(file, study, copy=key == "c", going_on=going_on)
        except FreshChairError as problem:
            if not worker.is_cancelled:
                place.app.call_from_thread(place.tell_problem, problem)
            return
        place.app.call_from_thread(attached, found)

    def attached(found: Attachment) -> None:
        def put_down() -> None:
            with attachments.leaving_nothing(place.session.opened, found):
                put(found)

        if place.attempt(put_down):
            place.tell(f"Attached: {legible(clipped(found.name, 60))}.")

    # A clip may be large: the keys wait for nothing.
    place.run_worker(read, thread=True, group="attach", exit_on_error=True)


async def show_file(place: Place, found: Sequence[tuple[str, Attachment]]) -> None:
    """Show one of some files in the system's viewer, a clip at its moment.

    Args:
        place: The screen in front.
        found: Each file with what it shows, in words.
    """
    from fresh_chair.services.evidence.attachments import show

    names = [f"{legible(clipped(file.name, 24))} ({legible(clipped(words, 16))})" for words, file in found]
    at = 0 if len(found) == 1 else await place.ask_one_of("show which?", names)
    if at is None:
        return
    said: list[str] = []
    file, study = found[at][1], place.session.opened.beside
    if place.attempt(lambda: said.append(show(file, study))):
        place.tell(f"Shown beside: {legible(clipped(file.name, 60))} {said[0]}".rstrip())
