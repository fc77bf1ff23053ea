"""Asking: one question stuck, a connection that breaks or a chair that never stops talking lose nothing else."""

import asyncio
import contextlib
import secrets
import time
from collections.abc import AsyncIterator, Callable, Sequence
from dataclasses import dataclass, field
from threading import Event

from fresh_chair.core.chair.answers import Answer
from fresh_chair.core.errors import Refused, Unreachable
from fresh_chair.probe.questions.framing import Question, Reader, script_of
from fresh_chair.probe.transport import Transport

# Beyond what the chair's own limit allows a question, for the way there and back.
GRACE_SECONDS = 5.0
# Before the first line: a connection, and whatever the shell does first.
BEGIN_SECONDS = 20.0
_LOOK_SECONDS = 0.2
_MOST_STUCK = 4
STOPPED = "stopped before it was asked"


@dataclass(slots=True)
class Progress:
    """How far asking is; read from another thread.

    Attributes:
        since: Monotonic seconds at which the present question was asked.
        stop: Set to stop; what was answered is kept.
    """

    asked: int = 0
    of: int = 0
    current: str = ""
    since: float = field(default_factory=time.monotonic)
    stop: Event = None  # type: ignore[assignment]
    changed: Callable[[], None] | None = None

    def __post_init__(self) -> None:
        if self.stop is None:
            self.stop = Event()

    def at(self, asked: int, current: str) -> None:
        """Say how far it is."""
        if (asked, current) != (self.asked, self.current):
            self.asked, self.current, self.since = asked, current, time.monotonic()
            if self.changed is not None:
                self.changed()


async def ask_all(
    transport: Transport,
    questions: Sequence[Question],
    progress: Progress | None = None,
    *,
    grace_seconds: float = GRACE_SECONDS,
    begin_seconds: float = BEGIN_SECONDS,
) -> dict[str, Answer]:
    """Ask a chair, and say of everything that was not answered why.

    Args:
        transport: The way to it.
        questions: What to ask.
        progress: Is kept up to date, and says when to stop.
        grace_seconds: How much longer than its own limit a question may take.
        begin_seconds: How long until the first line.

    Raises:
        Unreachable: Where the chair answered nothing at all.
    """
    progress = progress or Progress()
    progress.of = len(questions)
    answers: dict[str, Answer] = {}
    left = list(questions)
    stuck = 0
    why = ""
    while left and not why:
        number = secrets.token_hex(8)
        reader = Reader(left, number=number)
        try:
            why = await _one_script(
                transport, reader, script_of(left, number=number), progress, len(answers), grace_seconds, begin_seconds
            )
        except Unreachable as problem:
            if not answers and not reader.answers:
                raise
            why = problem.title.rstrip(".")
            reader.give_up(why)
        answers.update(reader.answers)
        left = [question for question in left if question.name not in answers]
        if left and not why:
            stuck += 1
            why = "too many questions were never answered" if stuck >= _MOST_STUCK else ""
    for question in left:
        answers[question.name] = Answer(question.name, why=why)
    progress.at(progress.of, "")
    return answers


async def _one_script(
    transport: Transport,
    reader: Reader,
    script: str,
    progress: Progress,
    before: int,
    grace_seconds: float,
    begin_seconds: float,
) -> str:
    """Run one script until it is done, or a question is stuck; returns why the rest is not to be asked at all."""
    loop = asyncio.get_running_loop()
    stream = transport.stream(script)
    deadline = loop.time() + begin_seconds
    under_way: str | None = None
    following: asyncio.Task[bytes] | None = None
    try:
        while True:
            if following is None:
                following = asyncio.ensure_future(_next(stream))
            await asyncio.wait({following}, timeout=min(_LOOK_SECONDS, max(deadline - loop.time(), 0.0)))
            if progress.stop.is_set():
                reader.give_up(STOPPED)
                return STOPPED
            if following.done():
                chunk = following.result()
                following = None
                if not chunk:
                    return _ended(reader)
                _take_in(reader, chunk)
                if reader.done:
                    return ""
            name = reader.current.name if reader.current is not None else None
            if name != under_way:
                under_way = name
                seconds = reader.current.seconds if reader.current is not None else 0
                deadline = loop.time() + seconds + grace_seconds
                progress.at(before + len(reader.answers), name or "")
            if loop.time() >= deadline:
                return _overdue(reader, begin_seconds)
    finally:
        if following is not None:
            following.cancel()
            with contextlib.suppress(asyncio.CancelledError, Unreachable):
                await following
        await stream.aclose()  # type: ignore[attr-defined]


def _take_in(reader: Reader, chunk: bytes) -> None:
    reader.feed(chunk)
    if not reader.done and reader.too_much_before:
        raise Unreachable(
            "The chair talks on without answering.",
            "Its login shell prints something that never ends; see to that first.",
        )


def _overdue(reader: Reader, begin_seconds: float) -> str:
    """Give up the question under way; returns why the rest is not to be asked, empty where it is."""
    if not reader.begun:
        raise Unreachable(f"The chair did not begin to answer within {begin_seconds:.0f} s.")
    if reader.current is None:
        return "the chair fell silent"
    reader.give_up(f"took longer than {reader.current.seconds} s")
    return ""


def _ended(reader: Reader) -> str:
    if not reader.begun:
        raise Unreachable(
            "The chair printed no answer.", "It needs a POSIX shell by the name of sh, and that commands may be run."
        )
    why = "the connection broke off"
    reader.give_up(why)
    return why


async def _next(stream: AsyncIterator[bytes]) -> bytes:
    try:
        return await anext(stream)
    except StopAsyncIteration:
        return b""


def ask(transport: Transport, questions: Sequence[Question], progress: Progress | None = None) -> dict[str, Answer]:
    """As `ask_all`, for a thread of its own; the way is closed afterwards. Raises Unreachable as it does."""

    async def whole() -> dict[str, Answer]:
        try:
            return await ask_all(transport, questions, progress)
        finally:
            await transport.close()

    try:
        return asyncio.run(whole())
    except asyncio.CancelledError as problem:
        raise Refused("Stopped.") from problem
