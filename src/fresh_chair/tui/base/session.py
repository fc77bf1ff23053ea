"""The state the places share while one study is open."""

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Protocol

from fresh_chair.services.study.open_study import OpenStudy
from fresh_chair.tui.widgets.signs import FULL, Signs

if TYPE_CHECKING:
    from fresh_chair.services.chair.reader import ChairReader
    from fresh_chair.services.report.writing import WritingJob
    from fresh_chair.services.sitting.live import LiveSitting
    from fresh_chair.services.sitting.player_following import PlayerFollowing
    from fresh_chair.services.sitting.witness import Witness
    from fresh_chair.tui.base.sort_in_hand import SortInHand


@dataclass(slots=True)
class Session:
    """One open study, the sitting in hand, and how things are drawn.

    Attributes:
        looking_at: The sitting whose journal is open in Sit where none is live.
        card: The card that Weigh shows.
        cell: Who and which chair are in hand on the board, so that its sheets open at them.
        task: The card in hand among the tasks, by its id.
        keys: Keys of the reviewer's own, by the id of what they do.
        witness: What the chair is being asked about an attempt.
        to_prove: Set is to prove the chair in hand fresh as soon as it is open.
        greeted: Sittings whose words before the first card were read.
        writing: The document that is being written, whatever place one is in.
        following: The player whose place in a recording is followed.
        sort: The filter, the lines and the observations in hand in Sort.
        reader: The reading of a chair that is under way, or the last one.
        drafts: Answers of questions that were left before there was enough for a record, by what they are about.
    """

    opened: OpenStudy
    signs: Signs = FULL
    live: "LiveSitting | None" = None
    looking_at: int | None = None
    card: int = 0
    cell: tuple[str, str] = ("", "")
    # Somebody got up since the board was seen: who is next is in hand there then.
    next_in_hand: bool = False
    task: str = ""
    reader: "ChairReader | None" = None
    to_prove: bool = False
    keys: dict[str, str] = field(default_factory=dict)
    witness: "Witness | None" = None
    greeted: set[int] = field(default_factory=set)
    writing: "WritingJob | None" = None
    following: "PlayerFollowing | None" = None
    sort: "SortInHand | None" = None
    drafts: dict[str, dict[str, str]] = field(default_factory=dict)

    @property
    def in_hand(self) -> "LiveSitting | None":
        """The sitting that is being logged, while it has no end."""
        if self.live is not None and self.live.state.phase.open:
            return self.live
        return None

    @property
    def is_writing(self) -> bool:
        """Whether a document is being written."""
        return self.writing is not None and self.writing.running

    @property
    def walks(self) -> bool:
        """True where the sitting in hand, or the one that is looked back at, is a walk that was begun as one."""
        number = self.in_hand.seat.number if self.in_hand is not None else self.looking_at
        sitting = self.opened.sittings.get(number) if number is not None else None
        return sitting is not None and sitting.walk is not None and not sitting.walk.declared


class Asks(Protocol):
    """A place that asks and tells."""

    session: Session

    async def ask_until(
        self, prompt: str, put: Callable[[str], bool], *, value: str = "", suggestions: tuple[str, ...] = ()
    ) -> bool:
        """As `Place.ask_until`."""

    def tell(self, words: str, *, colour: str = "$moss") -> None:
        """As `Place.tell`."""


class QuestionChain:
    """The answers of a chain of questions; where it is left, they are proposed the next time.

    Args:
        place: Asks them.
        about: Their subject.

    Attributes:
        texts: The answers so far, by the names they were asked with.
    """

    def __init__(self, place: Asks, about: str) -> None:
        self._place, self._about = place, about
        self.texts = place.session.drafts.pop(about, {})

    async def ask(
        self,
        name: str,
        prompt: str,
        fits: Callable[[str], bool] = lambda text: bool(text.strip()),
        *,
        value: str = "",
        suggestions: tuple[str, ...] = (),
    ) -> str | None:
        """Ask for words until they fit; None where the question is left, and all answers before it are kept then."""

        def taken(text: str) -> bool:
            if fits(text):
                said.append(text.strip())
            return bool(said)

        said: list[str] = []
        proposed = self.texts.pop(name, value)
        if await self._place.ask_until(prompt, taken, value=proposed, suggestions=suggestions):
            self.texts[name] = said[0]
            return said[0]
        self.left("the rest")
        return None

    async def end(self, prompt: str, put: Callable[[str], bool], *, to_come: str, value: str = "") -> bool:
        """Ask the last question, whose answer makes the record; where it is left, all before it is kept."""
        done = await self._place.ask_until(prompt, put, value=value)
        if not done:
            self.left(to_come)
        return done

    def left(self, to_come: str) -> None:
        """Keep the answers until the chain is gone through again, and say so."""
        if self.texts:
            self._place.session.drafts[self._about] = self.texts
            self._place.tell(f"What was said is kept for the next time; still to come: {to_come}.", colour="$lamp")
