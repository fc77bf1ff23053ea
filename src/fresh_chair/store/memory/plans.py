"""The plan of a study in memory."""

from collections.abc import Sequence

from fresh_chair.core.clock import Moment
from fresh_chair.core.errors import FileProblem, Overtaken
from fresh_chair.core.ledger import Signatures
from fresh_chair.core.plan.chair_states import ChairState, first_states
from fresh_chair.core.plan.changes import Change, Difference
from fresh_chair.core.plan.study import Study
from fresh_chair.store.gate import require_plain, require_text
from fresh_chair.store.memory.kept import Kept


class MemoryPlans:
    """The plan in memory."""

    def __init__(self, kept: Kept) -> None:
        self._kept = kept
        self._revision = 0

    def write(self, study: Study, made: Moment, *, script: str | None = None, author: str = "") -> None:
        """Keep the plan of a new study. Raises InputError."""
        self._keep(study, script)
        self._keep_states(first_states(study))
        self._revision = self._kept.revision = 1

    def read(self) -> Study:
        """The plan as it is. Raises FileProblem where there is none."""
        if self._kept.study is None:
            raise FileProblem("There is no study here.", "It was never finished.")
        self._revision = self._kept.revision
        return self._kept.study

    def amend(
        self,
        old: Study,
        new: Study,
        changes: Sequence[Difference],
        *,
        moment: Moment,
        author: str,
        sittings: int,
        script: str | None = None,
        states: Sequence[ChairState] = (),
    ) -> None:
        """Replace the plan, and put the differences on record, all or nothing. Raises InputError, Overtaken."""
        stayed = {seat.number for seat in set(old.seats) & set(new.seats)}
        begun = {seat.number for seat in old.seats if seat.number not in stayed and self._kept.entries.get(seat.number)}
        if begun or self.overtaken():
            raise Overtaken("The plan was changed meanwhile.", "It is read on.")
        self._keep(new, script)
        self._revision = self._kept.revision = self._kept.revision + 1
        for letter in self._kept.chair_states.keys() - new.chair_by_letter.keys():
            del self._kept.chair_states[letter]
        self._keep_states(states)
        first = len(self._kept.changes) + 1
        self._kept.changes += [
            Change(
                number=first + step,
                wall_ns=moment.wall_ns,
                author=author,
                path=each.path,
                before=each.before,
                after=each.after,
                sittings=sittings,
            )
            for step, each in enumerate(changes)
        ]

    def overtaken(self) -> bool:
        """True where the plan was changed since it was read here."""
        return self._revision != self._kept.revision

    def script(self) -> str | None:
        """The script as it was last written; None where its cards came from elsewhere."""
        return self._kept.scripts[-1] if self._kept.scripts else None

    def signatures(self) -> Signatures:
        """None are put under entries in memory."""
        return Signatures(signed=False)

    def changes(self) -> list[Change]:
        """The dated changes, in their order."""
        return list(self._kept.changes)

    def chair_states(self) -> dict[str, list[ChairState]]:
        """The states of every chair of the plan, oldest first, by its letter."""
        return {letter: list(listed) for letter, listed in self._kept.chair_states.items()}

    def states_of_sittings(self) -> dict[int, int]:
        """The number of the state each sitting that has begun was held in, by its number."""
        return dict(self._kept.held)

    def _keep_states(self, states: Sequence[ChairState]) -> None:
        for state in states:
            listed = self._kept.chair_states.setdefault(state.chair.letter, [])
            listed[state.number - 1 :] = [state]

    def _keep(self, study: Study, script: str | None) -> None:
        require_plain(study, "The plan")
        if script is not None:
            require_text("The script", script)
            self._kept.scripts.append(script)
        self._kept.study = study
