"""Which sheets there are, and asking for one; each is imported when it is first opened."""

from importlib import import_module
from typing import Any

from textual.message import Message
from textual.screen import Screen

# Module and class of each sheet.
SHEET_CLASSES = {
    "study": ("plan.sheets.study", "StudySheet"),
    "tasks": ("plan.sheets.tasks", "Tasks"),
    "card": ("plan.sheets.card", "CardSheet"),
    "library": ("plan.sheets.library", "Library"),
    "chair": ("plan.sheets.chair", "ChairSheet"),
    "person": ("plan.sheets.person", "PersonSheet"),
    "import": ("plan.sheets.people_import", "ImportPeople"),
    "orders": ("plan.sheets.orders", "Orders"),
    "hunches": ("plan.sheets.hunches", "Hunches"),
    "bench": ("plan.sheets.bench", "Bench"),
    "many": ("plan.sheets.sample_size", "HowMany"),
    "time": ("plan.sheets.schedule", "HowLong"),
    "paper": ("plan.sheets.paper", "OnPaper"),
    "journal": ("sit.journal", "Journal"),
    "look_back": ("sit.look_back", "LookBack"),
    "facts": ("set.sheets.facts", "Facts"),
    "claims": ("set.sheets.claims", "Claims"),
    "readings": ("set.sheets.readings", "Readings"),
    "install": ("set.sheets.installation", "InstallLog"),
    "pages": ("set.sheets.records", "Pages"),
    "warnings": ("set.sheets.records", "Warnings"),
    "consents": ("set.sheets.consents", "Consents"),
    "looks": ("set.sheets.looks", "Looks"),
    "checks": ("set.sheets.checks", "Checks"),
    "drift": ("set.sheets.drift", "DriftSheet"),
    "parts": ("plan.sheets.field_parts", "PartSheet"),
    "check": ("plan.sheets.file_check", "CheckSheet"),
    "record": ("set.sheets.record", "RecordSheet"),
    "evidence": ("evidence.records", "EvidenceSheet"),
    "inventory": ("evidence.inventory", "Inventory"),
    "later": ("evidence.later", "Later"),
    "releases": ("evidence.releases", "Releases"),
    "over_time": ("evidence.over_time", "OverTime"),
    "machine": ("weigh.sheets.machine", "MachineSheet"),
    "routes": ("weigh.sheets.routes", "RoutesSheet"),
    "comparisons": ("weigh.sheets.comparisons", "ComparisonsSheet"),
    "across": ("weigh.sheets.across", "AcrossSheet"),
    "verdicts": ("weigh.sheets.verdicts", "VerdictsSheet"),
    "criteria": ("weigh.sheets.criteria", "CriteriaSheet"),
    "scorecard": ("weigh.sheets.scorecard", "ScorecardSheet"),
    "contradictions": ("weigh.sheets.contradictions", "ContradictionsSheet"),
    "finding": ("sort.page", "FindingSheet"),
    "raters": ("sort.sheets.raters", "RatersSheet"),
    "discovery": ("sort.sheets.discovery", "DiscoverySheet"),
    "again": ("sort.sheets.again", "AgainSheet"),
    "quotes": ("tell.sheets.quotes", "QuotesSheet"),
    "observers": ("sort.sheets.observers", "ObserversSheet"),
}


class OpenSheet(Message):
    """A request for a sheet."""

    def __init__(self, sheet_name: str, argument: Any = None) -> None:
        super().__init__()
        self.sheet_name = sheet_name
        self.argument = argument


def sheet_class(name: str) -> type[Screen[None]]:
    """The screen of a sheet."""
    module, kind = SHEET_CLASSES[name]
    found: type[Screen[None]] = getattr(import_module(f"fresh_chair.tui.{module}"), kind)
    return found
