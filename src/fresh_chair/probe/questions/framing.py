"""Questions as one POSIX shell script, and its output taken apart again.

Every line that a question prints travels with `>` before it, every complaint with `!`; only lines of the script's own
begin with `@` and a number drawn for this one script. So nothing that a chair prints can pass for the end of an answer,
and whatever a login shell says before is not heard. Nothing is written on the chair.
"""

import shlex
from collections.abc import Sequence

from fresh_chair.core.chair.answers import LONGEST_WHY, Answer
from fresh_chair.core.frozen import frozen
from fresh_chair.core.text import clipped, legible

WIRE_VERSION = 1
MOST_BEFORE_BEGIN = 1_000_000
_LONGEST_LINE = 65_536


@frozen
class Question:
    """One thing to ask a chair.

    Attributes:
        name: What it is called on its way.
        script: POSIX shell that prints the answer, and ends with 127 where what it needs is not there.
        seconds: How long it may take.
        most_bytes: How much of its output is taken.
        needs: What it needs, for the sentence that says it was not there.
    """

    name: str
    script: str
    seconds: int = 10
    most_bytes: int = 400_000
    needs: str = ""


_HEAD = r"""
PATH=${PATH:-/usr/bin:/bin}:/usr/local/bin:/usr/sbin:/sbin; export PATH
LC_ALL=C; export LC_ALL
XDG_RUNTIME_DIR=${XDG_RUNTIME_DIR:-/run/user/$(id -u)}; export XDG_RUNTIME_DIR
if [ -z "${DBUS_SESSION_BUS_ADDRESS:-}" ] && [ -S "$XDG_RUNTIME_DIR/bus" ]; then
  DBUS_SESSION_BUS_ADDRESS=unix:path=$XDG_RUNTIME_DIR/bus; export DBUS_SESSION_BUS_ADDRESS
fi
if timeout -k 1 5 true >/dev/null 2>&1; then within() { timeout -k 2 "$@"; }
elif command -v timeout >/dev/null 2>&1; then within() { timeout "$@"; }
else within() { shift; "$@"; }; fi
exec 3>&1
ask() {
  printf '\n@%s ask %s\n' "$n" "$1"
  s=$({ { { within "$2" sh -c "$4" </dev/null 2>&5 3>&- 4>&- 5>&-; echo " $?" >&5; } 5>&1 >&6 |
    tail -c 300 >&4; } 6>&1 | head -c "$3" | sed 's/^/>/' >&3; } 4>&1)
  printf '\n'
  printf '%s\n' "$s" | sed 's/^/!/'
  printf '\n@%s end\n' "$n"
}
"""


def script_of(questions: Sequence[Question], *, number: str) -> str:
    """A script that asks all of them, one after the other.

    Args:
        number: Drawn for this script, letters and digits; its own lines carry it.
    """
    if not number.isalnum():
        raise ValueError("the number of a script is letters and digits")
    lines = [f"n={number}", _HEAD.strip(), "printf '\\n@%s begin %s\\n' \"$n\" " + str(WIRE_VERSION)]
    for question in questions:
        # One byte more than is taken, so that cutting is seen.
        words = [question.name, str(question.seconds), str(question.most_bytes + 1), question.script]
        lines.append("ask " + " ".join(map(shlex.quote, words)))
    lines.append("printf '\\n@%s done\\n' \"$n\"")
    return "\n".join(lines) + "\n"


class Reader:
    """Takes the output of such a script apart as it comes; holds no more than the answers may hold.

    Args:
        questions: What was asked.
        number: The script's number.
    """

    def __init__(self, questions: Sequence[Question], *, number: str) -> None:
        self._questions = {question.name: question for question in questions}
        self._mark = f"@{number} ".encode()
        self._tail = b""
        self._inside = b""
        self._before = 0
        self._body = bytearray()
        self._complaint = bytearray()
        self._cut = False
        self.answers: dict[str, Answer] = {}
        self.begun = False
        self.done = False
        self.current: Question | None = None

    @property
    def too_much_before(self) -> bool:
        """True where the chair talks on and on and never begins to answer."""
        return not self.begun and self._before > MOST_BEFORE_BEGIN

    def feed(self, data: bytes) -> None:
        """Take in a piece of output."""
        if not self.begun:
            self._before += len(data)
        lines = (self._tail + data).split(b"\n")
        self._tail = lines.pop()
        for line in lines:
            self._line(line, ended=True)
        if len(self._tail) > _LONGEST_LINE:
            self._line(self._tail, ended=False)
            self._tail = b""

    def _line(self, line: bytes, *, ended: bool) -> None:
        if self._inside:
            self._keep(self._inside, line, ended=ended)
        elif line.startswith((b">", b"!")):
            self._keep(line[:1], line[1:], ended=ended)
        elif line.startswith(self._mark) and ended:
            self._own(line[len(self._mark) :].decode("ascii", "replace"))

    def _keep(self, mark: bytes, part: bytes, *, ended: bool) -> None:
        self._inside = b"" if ended else mark
        if self.current is None:
            return
        if mark == b"!":
            if len(self._complaint) < 600:
                self._complaint += part + b"\n"
            return
        room = self.current.most_bytes - len(self._body)
        # The line's own end is not counted: `head` has cut at one byte more than is taken.
        if len(part) > room:
            self._cut = True
        self._body += part[: max(room, 0)]
        if ended and len(self._body) < self.current.most_bytes:
            self._body += b"\n"

    def _own(self, words: str) -> None:
        verb, _, rest = words.partition(" ")
        if verb == "begin":
            self.begun = True
        elif verb == "done":
            self.done = True
        elif verb == "ask":
            self.current = self._questions.get(rest)
            self._body, self._complaint, self._cut = bytearray(), bytearray(), False
        elif verb == "end" and self.current is not None:
            self._close(self.current)

    def _close(self, question: Question) -> None:
        complaint = self._complaint.decode("utf-8", "replace").strip()
        last = complaint.rsplit(None, 1)
        code = last[-1] if last and last[-1].isdigit() else ""
        said = complaint[: len(complaint) - len(code)].strip()
        text = self._body.decode("utf-8", "replace").replace("\0", "")
        why = "" if code in ("0", "141") or (self._cut and text) else _why(question, code, said)
        self.answers[question.name] = Answer(question.name, "" if why else text, why, self._cut)
        self.current = None

    def give_up(self, why: str) -> None:
        """The question under way gets no answer."""
        if self.current is not None:
            self.answers[self.current.name] = Answer(self.current.name, why=why)
            self.current = None


def _why(question: Question, code: str, said: str) -> str:
    if code == "127":
        return f"{question.needs or 'what it needs'} is not there"
    if code in ("124", "137"):
        return f"took longer than {question.seconds} s"
    last = next((line for line in reversed(said.splitlines()) if line.strip()), "")
    reason = f"{clipped(legible(last.strip()), LONGEST_WHY - 20)}" if last else "said nothing"
    return f"ended with {code}: {reason}" if code else f"broke off: {reason}"


@frozen
class Asked:
    """One question as it stands in a script."""

    name: str
    seconds: int
    script: str


def asked_in(script: str) -> tuple[str, list[Asked]]:
    """The number of a script and its questions, for a stand-in that answers without running it.

    Raises:
        ValueError: Where it is no script of ours.
    """
    first, _, rest = script.partition("\n")
    begin = rest.find("printf '\\n@%s begin")
    if not first.startswith("n=") or begin < 0:
        raise ValueError("no script of ours")
    words = shlex.split(rest[begin:])
    places = [place for place, word in enumerate(words) if word == "ask" and place + 4 < len(words)]
    questions = [
        Asked(words[place + 1], int(words[place + 2]), words[place + 4])
        for place in places
        if words[place + 2].isdigit() and words[place + 3].isdigit()
    ]
    return first[2:], questions
