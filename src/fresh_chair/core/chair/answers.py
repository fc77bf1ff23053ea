"""A chair's answer to one question, or the reason there is none."""

from collections.abc import Mapping

from fresh_chair.core.frozen import frozen

LONGEST_WHY = 200


@frozen
class Answer:
    """One answer.

    Attributes:
        question: Its name.
        text: What the chair printed; empty where it could not be read.
        why: Why it could not be read, in a few words; empty where it was.
        cut: True where the chair printed more than was taken.
    """

    question: str
    text: str = ""
    why: str = ""
    cut: bool = False

    @property
    def read(self) -> bool:
        """True where the chair answered."""
        return not self.why


Answers = Mapping[str, Answer]


def text_of(answers: Answers, question: str) -> str:
    """The text of an answer; empty where it was not asked or could not be read."""
    answer = answers.get(question)
    return answer.text if answer is not None and answer.read else ""


def why_not(answers: Answers, question: str) -> str:
    """Why an answer is not there; empty where it is."""
    answer = answers.get(question)
    return "was not asked" if answer is None else answer.why
