"""Which sheets there are, and asking for one; each is imported when it is first opened."""

from importlib import import_module
from typing import TYPE_CHECKING, Any

from textual.message import Message

if TYPE_CHECKING:
    from fresh_chair.tui.leaf import Leaf

# Module and class of each sheet.
LEAVES = {
    "study": ("plan_study", "StudySheet"),
    "tasks": ("plan_tasks", "Tasks"),
    "card": ("plan_card", "CardSheet"),
    "library": ("plan_library", "Library"),
    "chair": ("plan_chair", "ChairSheet"),
    "person": ("plan_person", "PersonSheet"),
    "import": ("plan_import", "ImportPeople"),
    "orders": ("plan_orders", "Orders"),
    "hunches": ("plan_hunches", "Hunches"),
    "bench": ("plan_bench", "Bench"),
    "many": ("plan_many", "HowMany"),
    "time": ("plan_time", "HowLong"),
    "paper": ("plan_paper", "OnPaper"),
    "journal": ("sit_journal", "Journal"),
    "look_back": ("sit_look_back", "LookBack"),
    "facts": ("set_facts", "Facts"),
    "claims": ("set_claims", "Claims"),
    "readings": ("set_readings", "Readings"),
    "install": ("set_install", "InstallLog"),
    "pages": ("set_records", "Pages"),
    "warnings": ("set_records", "Warnings"),
    "consents": ("set_consents", "Consents"),
    "looks": ("set_looks", "Looks"),
    "checks": ("set_checks", "Checks"),
    "drift": ("set_drift", "DriftSheet"),
    "parts": ("plan_parts", "PartSheet"),
    "check": ("plan_check", "CheckSheet"),
    "record": ("set_record", "RecordSheet"),
}


class OpenLeaf(Message):
    """Somebody wants to see a sheet."""

    def __init__(self, leaf: str, argument: Any = None) -> None:
        super().__init__()
        self.leaf = leaf
        self.argument = argument


def leaf_class(name: str) -> "type[Leaf]":
    """The screen of a sheet."""
    module, kind = LEAVES[name]
    found: type[Leaf] = getattr(import_module(f"fresh_chair.tui.screens.{module}"), kind)
    return found
