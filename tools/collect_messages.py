"""Collects every sentence of figures and documents into the catalogue's template, from which a language begins."""

from collections.abc import Sequence
from pathlib import Path
from typing import get_args
from warnings import catch_warnings, simplefilter

from babel.messages.catalog import Catalog
from babel.messages.extract import extract_from_dir
from babel.messages.pofile import write_po

ROOT = Path(__file__).parents[1]
TEMPLATE = ROOT / "src" / "fresh_chair" / "locale" / "fresh_chair.pot"
_METHODS = [
    ("core/words/**.py", "python"),
    ("draw/**.py", "python"),
    ("tell/paper/**.py", "python"),
    ("services/report/**.py", "python"),
    ("services/judgement/contradictions.py", "python"),
    ("tell/templates/**.j2", "jinja2"),
]
_OPTIONS = {"**.j2": {"extensions": "jinja2.ext.i18n", "newstyle_gettext": "true"}}
# Words.say and Words.count, and gettext's own names in templates.
_KEYWORDS = {"say": None, "said": None, "count": (1, 2), "_": None, "gettext": None, "ngettext": (1, 2)}


def collected() -> Catalog:
    """Every message in the source, with the files it stands in."""
    catalogue = Catalog(project="Fresh Chair", charset="utf-8")
    with catch_warnings():
        # Values that are written into a sentence are no messages, and that is said of each.
        simplefilter("ignore")
        found = list(extract_from_dir(ROOT / "src" / "fresh_chair", _METHODS, _OPTIONS, keywords=_KEYWORDS))
    for name, _, message, comments, context in found:
        catalogue.add(message, locations=[(name, 0)], auto_comments=comments, context=context)
    for place, messages in _beside_their_values().items():
        for message in messages:
            catalogue.add(message, locations=[(place, 0)])
    return catalogue


def _beside_their_values() -> dict[str, Sequence[str]]:
    """Messages that are values elsewhere in the core, by the file they stand in."""
    from fresh_chair.core.chair.records import Asked, ClaimAnswer, Effect, Fit, Switch
    from fresh_chair.core.evidence.judged import CriterionFigure, VerdictSays
    from fresh_chair.core.evidence.kinds import KINDS
    from fresh_chair.core.evidence.records import Presence
    from fresh_chair.core.findings.ledger import SEVERITY_WORDS
    from fresh_chair.core.findings.state.parts import (
        CauseSure,
        ExcuseSort,
        FindingSort,
        Helped,
        How,
        Lies,
        Skill,
        TrialResult,
    )
    from fresh_chair.core.plan.aims import AIMS
    from fresh_chair.core.plan.chairs import Stage, State
    from fresh_chair.core.plan.people import Linux, Role
    from fresh_chair.core.sitting.entries import ratings
    from fresh_chair.core.sitting.entries.base import WORDABLE
    from fresh_chair.core.sitting.entries.walks.contest import UNDECIDED
    from fresh_chair.core.sitting.state.outcome import Outcome
    from fresh_chair.core.sitting.state.walk import ItemResult, StepEnding, Trust
    from fresh_chair.core.words.overall import SEEN
    from fresh_chair.core.words.reasons import LABELS, REASONS
    from fresh_chair.core.words.walks import SIDE_WORDS
    from fresh_chair.tell.paper.document import PRINTED

    judged = (*get_args(VerdictSays), *get_args(CriterionFigure), "provisional", "final", "changed")
    records = (ClaimAnswer, Asked, Switch, Effect, Fit)
    parts = (CauseSure, ExcuseSort, FindingSort, Helped, How, Lies, Skill, TrialResult)
    asked = (*ratings.USABILITY_ITEMS, ratings.EASE, ratings.EXPECTATION, ratings.PREFERENCE)
    return {
        "core/findings/ledger.py": SEVERITY_WORDS,
        "core/plan/aims.py": [aim.words for aim in AIMS],
        "core/plan/people.py": [each for each in (*get_args(Role), *get_args(Linux)) if each],
        "core/plan/chairs.py": (*get_args(Stage), *get_args(State)),
        "core/evidence/judged.py": [*filter(None, judged)],
        "core/evidence/records.py": get_args(Presence),
        "core/chair/records.py": [each for kind in records for each in get_args(kind)],
        "core/findings/state/parts.py": [each for kind in parts for each in get_args(kind)],
        "core/words/reasons.py": (*REASONS, *LABELS),
        "core/sitting/entries/ratings.py": (*asked, *ratings.EASE_ENDS, *ratings.AGREEMENT_ENDS),
        "core/sitting/state/outcome.py": [outcome.words for outcome in Outcome],
        "core/evidence/kinds.py": KINDS,
        "core/words/overall.py": list(SEEN.values()),
        "core/words/walks.py": list(SIDE_WORDS.values()),
        "core/sitting/entries/walks/contest.py": UNDECIDED,
        "core/sitting/entries/base.py": WORDABLE,
        "core/sitting/state/walk.py": (
            *(ending.words for ending in StepEnding if ending.outcome is None),
            *get_args(ItemResult),
            *get_args(Trust),
        ),
        "tell/paper/document.py": list(PRINTED.values()),
    }


def main() -> None:
    """Write the template."""
    TEMPLATE.parent.mkdir(exist_ok=True)
    with TEMPLATE.open("wb") as file:
        write_po(file, collected(), sort_by_file=True, omit_header=True, width=120, include_lineno=False)
    print(f"{TEMPLATE.relative_to(ROOT)}: {len(collected())} messages")


if __name__ == "__main__":
    main()
