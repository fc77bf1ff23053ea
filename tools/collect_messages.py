"""Collects every sentence of figures and documents into the catalogue's template, from which a language begins."""

from pathlib import Path

from babel.messages.catalog import Catalog
from babel.messages.extract import extract_from_dir
from babel.messages.pofile import write_po

ROOT = Path(__file__).parents[1]
TEMPLATE = ROOT / "src" / "fresh_chair" / "locale" / "fresh_chair.pot"
_METHODS = [("core/words/**.py", "python"), ("draw/**.py", "python"), ("tell/templates/**.j2", "jinja2")]
_OPTIONS = {"**.j2": {"extensions": "jinja2.ext.i18n", "newstyle_gettext": "true"}}
# Words.say and Words.count, and gettext's own names in templates.
_KEYWORDS = {"say": None, "count": (1, 2), "_": None, "gettext": None, "ngettext": (1, 2)}


def collected() -> Catalog:
    """Every message in the source, with the files it stands in."""
    catalogue = Catalog(project="Fresh Chair", charset="utf-8")
    found = extract_from_dir(ROOT / "src" / "fresh_chair", _METHODS, _OPTIONS, keywords=_KEYWORDS)
    for name, _, message, comments, context in found:
        catalogue.add(message, locations=[(name, 0)], auto_comments=comments, context=context)
    # The words of severities and outcomes stand beside their values.
    from fresh_chair.core.findings.ledger import SEVERITY_WORDS
    from fresh_chair.core.sitting.state.outcome import Outcome

    for words in SEVERITY_WORDS:
        catalogue.add(words, locations=[("core/findings/ledger.py", 0)])
    for outcome in Outcome:
        catalogue.add(outcome.words, locations=[("core/sitting/state/outcome.py", 0)])
    return catalogue


def main() -> None:
    """Write the template."""
    TEMPLATE.parent.mkdir(exist_ok=True)
    with TEMPLATE.open("wb") as file:
        write_po(file, collected(), sort_by_file=True, omit_header=True, width=120, include_lineno=False)
    print(f"{TEMPLATE.relative_to(ROOT)}: {len(collected())} messages")


if __name__ == "__main__":
    main()
