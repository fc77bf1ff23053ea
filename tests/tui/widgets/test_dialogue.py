"""Dialogues: a question goes on in the call that answers it, and one dialogue waits at a time."""

from collections.abc import Callable

from fresh_chair.tui.widgets.dialogue import Conversation, Dialogue, Prompt, asks


class Asker:
    """Poses questions to a test, which answers them."""

    def __init__(self) -> None:
        self.open: list[tuple[str, Callable[[str | None], object]]] = []
        self.said: list[str] = []
        self.conversation = Conversation(lambda: self.said.append("ended"))

    def converse(self, dialogue: Dialogue) -> None:
        self.conversation.begin(dialogue)

    def question(self, prompt: str) -> Prompt[str | None]:
        return Prompt(lambda answered: self.open.append((prompt, answered)))

    @asks
    async def two(self) -> None:
        first = await self.question("one?")
        second = await self.question("two?")
        self.said.append(f"{first} {second}")

    @asks
    async def other(self) -> None:
        self.said.append(f"other {await self.question('other?')}")

    @asks
    async def leads_on(self) -> None:
        await self.question("first?")
        self.other()


def test_the_next_question_is_posed_in_the_call_that_answers_the_one_before() -> None:
    asker = Asker()
    asker.two()
    asker.open[0][1]("a")
    assert [prompt for prompt, _ in asker.open] == ["one?", "two?"]
    asker.open[1][1](None)
    assert asker.said == ["a None", "ended"]


def test_a_new_dialogue_ends_the_one_that_waits_and_a_late_answer_does_nothing() -> None:
    asker = Asker()
    asker.two()
    asker.other()
    asker.open[0][1]("late")
    assert (asker.said, len(asker.open)) == ([], 2)
    asker.open[1][1]("b")
    assert asker.said == ["other b", "ended"]


def test_a_dialogue_that_leads_to_another_leaves_it_waiting() -> None:
    asker = Asker()
    asker.leads_on()
    asker.open[0][1]("a")
    assert asker.said == ["ended"]
    asker.open[1][1]("c")
    assert asker.said == ["ended", "other c", "ended"]


def test_a_question_is_answered_once() -> None:
    asker = Asker()
    asker.two()
    asker.open[0][1]("a")
    asker.open[0][1]("again")
    assert asker.said == []
    asker.open[1][1]("b")
    assert asker.said == ["a b", "ended"]
