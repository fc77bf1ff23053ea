"""Questions as a script, and their answers taken apart: whatever a chair prints."""

import asyncio
import subprocess
from collections.abc import AsyncIterator

import pytest
from hypothesis import given
from hypothesis import strategies as st

from fresh_chair.core.chair.answers import Answer
from fresh_chair.core.errors import Unreachable
from fresh_chair.probe.questions.framing import MOST_BEFORE_BEGIN, Question, Reader, asked_in, script_of
from fresh_chair.probe.runner import Progress, ask_all
from fresh_chair.probe.transport import Local

NUMBER = "n1"


def asked(
    *questions: Question, environment: dict[str, str] | None = None, grace_seconds: float = 5.0
) -> dict[str, Answer]:
    return asyncio.run(ask_all(Local(environment), questions, grace_seconds=grace_seconds))


def test_a_script_is_posix_shell_and_its_answers_come_back_by_name() -> None:
    answers = asked(
        Question("plain", "printf 'two\\nlines\\n'"),
        Question("no end of line", "printf done"),
        Question("it's quoted", "echo \"a 'b' $((1 + 1)) \\$HOME\""),
        Question("nothing", "true"),
        Question("missing", "exit 127", needs="the tool"),
        Question("fails", "echo why >&2; exit 3"),
        Question("stdin is closed", "cat; echo after"),
    )
    assert answers["plain"].text == "two\nlines\n"
    assert answers["no end of line"].text == "done\n"
    assert answers["it's quoted"].text == "a 'b' 2 $HOME\n"
    assert answers["nothing"].read
    assert answers["missing"].why == "the tool is not there"
    assert answers["fails"].why == "ended with 3: why"
    assert answers["stdin is closed"].text == "after\n"


@pytest.mark.parametrize("shell", [["dash"], ["bash", "--posix"], ["busybox", "sh"]])
def test_the_script_runs_in_any_posix_shell(shell: list[str]) -> None:
    question = Question("q", "echo hello; echo oops >&2; exit 4")
    script = script_of([question, Question("r", "echo 'a b'")], number=NUMBER)
    try:
        ran = subprocess.run(shell, input=script.encode(), capture_output=True, check=False, timeout=60)
    except FileNotFoundError:
        pytest.skip(f"{shell[0]} is not on this machine")
    reader = Reader([question, Question("r", "")], number=NUMBER)
    reader.feed(ran.stdout)
    assert reader.done
    assert reader.answers["q"].why == "ended with 4: oops"
    assert reader.answers["r"].text == "a b\n"


# Whatever a chair prints, and in whatever pieces it comes.
LINES = st.lists(
    st.binary(max_size=40).filter(lambda line: b"\n" not in line and b"\0" not in line)
    | st.sampled_from([b"@n1 end", b"@n1 done", b"@n1 ask other", b">x", b"!x", b"@n1 begin 1"]),
    max_size=8,
)


@given(LINES, st.integers(1, 50))
def test_no_answer_can_pass_for_the_end_of_itself_or_for_another_one(lines: list[bytes], size: int) -> None:
    body = b"".join(b">" + line + b"\n" for line in lines)
    stream = b"welcome\n@x\n\n@n1 begin 1\n\n@n1 ask q\n" + body + b"\n! 0\n\n@n1 end\n"
    stream += b"\n@n1 ask other\n>fine\n\n! 0\n\n@n1 end\n\n@n1 done\n"
    reader = Reader([Question("q", ""), Question("other", "")], number=NUMBER)
    for at in range(0, len(stream), size):
        reader.feed(stream[at : at + size])
    assert reader.done
    assert reader.answers["q"].text == b"".join(line + b"\n" for line in lines).decode("utf-8", "replace")
    assert reader.answers["other"].text == "fine\n"


@given(st.lists(st.text(max_size=30).filter(lambda t: "\0" not in t), min_size=1, max_size=5))
def test_a_stand_in_finds_in_a_script_what_was_put_into_it(names: list[str]) -> None:
    questions = [Question(name or "x", f"echo {number}") for number, name in enumerate(names)]
    number, found = asked_in(script_of(questions, number="abc123"))
    assert number == "abc123"
    assert [each.name for each in found] == [question.name for question in questions]


def test_what_is_no_script_of_ours_is_not_answered() -> None:
    with pytest.raises(ValueError, match="no script"):
        asked_in("rm -rf /")


def test_output_without_end_is_cut_and_loses_nothing_else() -> None:
    answers = asked(Question("endless", "yes", most_bytes=1000), Question("after", "echo here"))
    assert answers["endless"].cut
    assert answers["endless"].text == "y\n" * 500
    assert answers["after"].text == "here\n"


def test_a_hundred_megabytes_in_one_line_are_bounded_in_memory() -> None:
    import tracemalloc

    reader = Reader([Question("q", "", most_bytes=5000)], number=NUMBER)
    reader.feed(b"\n@n1 begin 1\n\n@n1 ask q\n>")
    chunk = b"x" * 65_536
    tracemalloc.start()
    for _ in range(1600):
        reader.feed(chunk)
    reader.feed(b"\n\n! 0\n\n@n1 end\n")
    _, most = tracemalloc.get_traced_memory()
    tracemalloc.stop()
    assert reader.answers["q"].cut
    assert len(reader.answers["q"].text) == 5000
    assert most < 2_000_000


def test_a_question_that_hangs_is_left_and_the_others_are_answered() -> None:
    answers = asked(
        Question("before", "echo 1"),
        Question("hangs", "trap '' TERM; while :; do sleep 1; done", seconds=1),
        Question("after", "echo 2"),
        grace_seconds=1.0,
    )
    assert answers["before"].text == "1\n"
    assert answers["after"].text == "2\n"
    assert answers["hangs"].why == "took longer than 1 s"


def test_bytes_that_are_no_utf_8_and_zeros_become_text() -> None:
    answers = asked(Question("odd", "printf 'a\\377b\\000c\\n'"))
    assert answers["odd"].text == "a�bc\n"


class Scripted:
    """A way to a chair that says what it was told to say."""

    way = "scripted"

    def __init__(self, *chunks: bytes, broken: bool = False, endless: bytes = b"") -> None:
        self._chunks = chunks
        self._broken = broken
        self._endless = endless
        self.closed = False

    async def stream(self, script: str) -> AsyncIterator[bytes]:
        number = script.split("\n", 1)[0].removeprefix("n=").encode()
        try:
            for chunk in self._chunks:
                yield chunk.replace(b"NUMBER", number)
            while self._endless:
                yield self._endless
                await asyncio.sleep(0)
            if self._broken:
                raise Unreachable("The connection to x broke off.")
            await asyncio.sleep(3600)
        finally:
            self.closed = True

    async def close(self) -> None:
        """Nothing to let go of."""


START = b"\n@NUMBER begin 1\n\n@NUMBER ask a\n>one\n\n! 0\n\n@NUMBER end\n\n@NUMBER ask b\n>ha"
QUESTIONS = (Question("a", ""), Question("b", "", seconds=1), Question("c", ""))


def test_a_connection_that_drops_half_way_keeps_what_was_answered() -> None:
    answers = asyncio.run(ask_all(Scripted(START, broken=True), QUESTIONS))
    assert answers["a"].text == "one\n"
    assert "broke off" in answers["b"].why
    assert "broke off" in answers["c"].why


def test_a_chair_that_never_begins_is_said_not_to() -> None:
    with pytest.raises(Unreachable, match="did not begin to answer"):
        asyncio.run(ask_all(Scripted(b"welcome\n"), QUESTIONS, begin_seconds=0.3))
    with pytest.raises(Unreachable, match="talks on without answering"):
        asyncio.run(ask_all(Scripted(endless=b"motd " * 2000), QUESTIONS))
    assert MOST_BEFORE_BEGIN <= 1_000_000


def test_a_chair_that_falls_silent_too_often_is_not_asked_for_ever() -> None:
    many = [Question(str(n), "", seconds=0) for n in range(12)]
    silent = Scripted(b"\n@NUMBER begin 1\n")
    answers = asyncio.run(ask_all(silent, many, grace_seconds=0.1, begin_seconds=0.2))
    assert len(answers) == 12
    assert all(answer.why for answer in answers.values())
    assert silent.closed


def test_reading_can_be_stopped_and_says_what_was_not_asked() -> None:
    progress = Progress()
    seen = []

    def look() -> None:
        seen.append((progress.asked, progress.of, progress.current))
        if progress.current == "slow":
            progress.stop.set()

    progress.changed = look
    questions = [Question("quick", "echo 1"), Question("slow", "sleep 60", seconds=90), Question("never", "echo 3")]
    answers = asyncio.run(ask_all(Local(), questions, progress))
    assert answers["quick"].text == "1\n"
    assert answers["never"].why == answers["slow"].why == "stopped before it was asked"
    assert (1, 3, "slow") in seen
