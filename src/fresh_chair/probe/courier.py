"""By courier: a script that is carried to a chair without a network, and the file that it brings back."""

import re
from collections.abc import Sequence

from fresh_chair.core.chair.answers import Answer
from fresh_chair.core.errors import InputError
from fresh_chair.probe.questions.framing import Question, Reader, script_of

MOST_BYTES = 64_000_000
_STAMP = re.compile(rb"^# fresh-chair courier 1 ([A-Za-z0-9]{1,40}) (.{0,200})$", re.MULTILINE)


def courier_script(questions: Sequence[Question], *, number: str, enquiry: str, result: str) -> str:
    """A POSIX sh file that asks, and leaves one file with the answers beside itself.

    Args:
        number: Drawn for this enquiry.
        enquiry: What it is about, in one line of letters, digits and spaces; comes back with the answers.
        result: Name of the file it leaves, letters, digits, dots and hyphens.
    """
    if not re.fullmatch(r"[\w.-]+", result) or not re.fullmatch(r"[\w ,.-]*", enquiry):
        raise ValueError("an enquiry and its file are called by plain letters")
    return (
        "#!/bin/sh\n"
        "# Run this on the chair:  sh THIS-FILE\n"
        f"# It only asks, and writes its answers into {result} beside itself. Bring that file back.\n"
        'here=$(dirname "$0")\n'
        f"to=$here/{result}\n"
        f'if ! (: >"$to") 2>/dev/null; then to=$PWD/{result}; fi\n'
        f'if ! (: >"$to") 2>/dev/null; then to=${{TMPDIR:-/tmp}}/{result}; fi\n'
        'if ! (: >"$to") 2>/dev/null; then echo "Nothing can be written here; nothing was asked."; exit 1; fi\n'
        'echo "Asking; this takes up to a minute."\n'
        "(\n"
        f"printf '%s\\n' '# fresh-chair courier 1 {number} {enquiry}'\n"
        f"{script_of(questions, number=number)}"
        ') >"$to" 2>/dev/null\n'
        'echo "Done. Bring back: $to"\n'
    )


def enquiry_in(data: bytes, name: str) -> str:
    """The enquiry a courier was sent for. Raises as `read_courier`."""
    return _stamp(data, name)[1]


def read_courier(data: bytes, name: str, questions: Sequence[Question]) -> dict[str, Answer]:
    """The answers that a courier brought.

    Args:
        data: What the file holds, at most `MOST_BYTES`.
        name: What to call it in an error.
        questions: What was asked.

    Raises:
        InputError: Where it is not what a courier brings.
    """
    number, _ = _stamp(data, name)
    reader = Reader(questions, number=number)
    reader.feed(data)
    reader.give_up("the courier's file breaks off here")
    answers = dict(reader.answers)
    for question in questions:
        answers.setdefault(question.name, Answer(question.name, why="is not in the courier's file"))
    return answers


def _stamp(data: bytes, name: str) -> tuple[str, str]:
    """Number and enquiry that a courier's file says."""
    stamp = _STAMP.search(data[:2_000])
    if stamp is None:
        raise InputError(
            f"{name} is not what a courier brings.",
            "Run the courier's script on the chair, and bring the file it leaves.",
        )
    return stamp.group(1).decode("ascii"), stamp.group(2).decode("utf-8", "replace")
