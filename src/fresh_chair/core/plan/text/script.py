"""The script: task cards as an open text, `script = 1` on TOML; docs/formats.md describes it field by field."""

from typing import ClassVar

from fresh_chair.core.frozen import frozen
from fresh_chair.core.plan.cards import TaskCard, card_problems
from fresh_chair.core.plan.fields import FORBID
from fresh_chair.core.plan.text.toml import checked, require_version, toml_of
from fresh_chair.core.text import legible

SCRIPT_VERSION = 1


@frozen(kw_only=True)
class Script:
    """A script as it stands in its text."""

    __pydantic_config__: ClassVar[dict[str, str]] = FORBID

    script: int
    cards: tuple[TaskCard, ...] = ()

    def __post_init__(self) -> None:
        problems = card_problems(self.cards)
        if problems:
            raise ValueError("\n  ".join(map(legible, problems)))


def cards_of(text: str, *, name: str, kept: str = "Nothing was changed.") -> tuple[TaskCard, ...]:
    """The cards that a script holds.

    Args:
        text: The script, TOML 1.0.
        name: What to call the text in an error, usually its file name.
        kept: What an error says was kept or not done.

    Raises:
        InputError: All problems at once, each as reason @ field.
    """
    raw = toml_of(text, name=name, kept=kept)
    require_version(raw, "script", (SCRIPT_VERSION,), name=name)
    script: Script = checked(Script, raw, name=name, kept=kept)
    return script.cards
