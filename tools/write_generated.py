"""Writes the documents that are made from the code: the manual page, the schema of the export, the catalogue."""

import json
from pathlib import Path

from fresh_chair.cli.manual import manual
from fresh_chair.cli.program import program
from fresh_chair.tell.figure_schema import figures_schema
from fresh_chair.tell.open_data import schema
from tools import collect_messages

DOCS = Path(__file__).parents[1] / "docs"


def main() -> None:
    """Write all of them; tests say when one is behind."""
    (DOCS / "fresh-chair.1").write_text(manual(program()), encoding="utf-8")
    documented = json.dumps(schema(), indent=1, ensure_ascii=False) + "\n"
    (DOCS / "study-export.schema.json").write_text(documented, encoding="utf-8")
    documented = json.dumps(figures_schema(), indent=1, ensure_ascii=False) + "\n"
    (DOCS / "figures.schema.json").write_text(documented, encoding="utf-8")
    collect_messages.main()


if __name__ == "__main__":
    main()
